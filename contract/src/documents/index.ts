export { billSchema } from './bill.ts';
export { catalogueSchema, values as catalogueValues } from './catalogue.ts';
export { carryGestures, firstClash, lastReadable, notAsExpected, readStored } from './carry.ts';
export type { CarriedOrder, CarryOrder, StepText, ReversibleEdit, StoredEdit, StoredText } from './carry.ts';
export { id } from './shared.ts';
export { intentionSchema } from './intentions.ts';
export { componentsSchema } from './components.ts';
export { houseStyleSchema, parseHouseStyle, parseRecipeFile } from './recipe.ts';
export type { HouseStyle } from './recipe.ts';
export {
  cuts as cutsSchema,
  panes as panesSchema,
  direction as directionSchema,
  moves as movesSchema,
  parts as partsSchema,
  sheetSchema,
  sheetSetSchema,
} from './sheet.ts';
export { refuseNewer } from './versions.ts';
export { parseJson, wellFormed } from './json.ts';
export { holds, listOf, pathKey as pathSchema } from './shared.ts';
export type { Same } from './shared.ts';
export { parseCommand, parseDocument, parseStoredCommand } from './parse.ts';
