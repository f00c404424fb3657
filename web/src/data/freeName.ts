/** The name, with a number where it is taken. */
export function freeName(name: string, taken: readonly string[]): string {
  for (let number = 1; ; number++) {
    const candidate = number === 1 ? name : `${name} ${number}`;
    if (!taken.includes(candidate)) return candidate;
  }
}
