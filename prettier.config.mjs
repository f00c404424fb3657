/** Formatting is the machine's business: one width, one quote, for code, pages and stylesheets. */
export default {
  printWidth: 120,
  singleQuote: true,
};
