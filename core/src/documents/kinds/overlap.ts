/** Whether two sets of names have one in common; `view 3` takes in `view 3 scale`. Linear in their letters. */
export const overlap = (one: readonly string[], two: readonly string[]): boolean => overlapping(two)(one);

/** The same for many sets beside one. */
export function overlapping(two: readonly string[]): (one: readonly string[]) => boolean {
  const whole = new Set(two);
  const beginnings = new Set(two.flatMap(beginningsOf));
  return (one) =>
    one.some((name) => beginnings.has(name) || beginningsOf(name).some((beginning) => whole.has(beginning)));
}

/** `view 3 scale`: itself, `view 3` and `view`. */
function beginningsOf(name: string): string[] {
  const all = [name];
  for (let at = name.lastIndexOf(' '); at > 0; at = name.lastIndexOf(' ', at - 1)) all.push(name.slice(0, at));
  return all;
}
