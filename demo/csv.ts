/** A cell of a CSV file (RFC 4180). */
export const quoted = (cell: string | number): string => {
  const text = String(cell);
  return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};
