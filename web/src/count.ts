/** A number with its noun: `1 line`, `3 lines`. */
export const count = (number: number, one: string, many = `${one}s`): string =>
  `${number} ${number === 1 ? one : many}`;
