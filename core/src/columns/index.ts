export {
  alignmentOf,
  componentValue,
  defaultColumns,
  headingOf,
  isPerPiece,
  isNumberColumn,
  knownColumns,
  newColumn,
  plainSources,
  propertyNameOf,
  propertyText,
  referenceOf,
  sourceName,
} from './columns.ts';
export type { Cell, Column, ColumnSource } from './columns.ts';
export {
  MOST_LETTERS,
  fillPattern,
  findCircle,
  referencesOf,
  spanOf,
  splitExpression,
  toShown,
  toStored,
} from './expressions.ts';
export type { Checked } from './expressions.ts';
export { evaluateFormula, FormulaMismatch, formulasAreReady, readFormula, readyForFormulas } from './formulas.ts';
export type { Formula } from './formulas.ts';
export { dateForms, denominators, formatValue, pictureIn, spreadsheetValue } from './format.ts';
export type { Format, SpreadsheetValue } from './format.ts';
export { compareValues, naturalOrder } from './order.ts';
export { propertyNames, sourceFinder } from './names.ts';
export { readColumns, readKeys, readRules } from './written.ts';
export type { FindSource } from './written.ts';
export { comparisons, needsOperand, rulesHold, rulesText, sourcesIn } from './rules.ts';
export type { Comparison, Rule, RuleGroup } from './rules.ts';
export { convert, currencies, unitOf } from './units.ts';
export {
  asNumber,
  isEmptyValue,
  numberValue,
  readNumber,
  textValue,
  typedValue,
  valueKey,
  valueOfProperty,
} from './values.ts';
export type { Value } from './values.ts';
