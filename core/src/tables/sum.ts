export const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
