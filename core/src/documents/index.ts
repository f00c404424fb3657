export type { Applied, Refused } from './kinds/applied.ts';
export { newBill } from './kinds/bill.ts';
export type { BillCommand, BillDocument, CellTexts, ColumnChange } from './kinds/bill.ts';
export {
  after,
  beyondList,
  isTypable,
  joinRows,
  mergeAsUsual,
  partRow,
  relists,
  sourceWords,
  spread,
  typeInto,
} from './intended/cellEdits.ts';
export type { CellInput } from './intended/cellEdits.ts';
export { newComponentEdits } from './kinds/components.ts';
export type { ComponentCommand, ComponentEdits, Decision } from './kinds/components.ts';
export type { SheetCommand, ViewChange } from './kinds/sheet.ts';
export { addItems, catalogueFault } from './kinds/catalogue.ts';
export { heldSentences } from './intended/lockedProblem.ts';
export { sayInCatalogue } from './intended/sayInCatalogue.ts';
export { itemsOfBill } from './project/catalogueOfBill.ts';
export type { CatalogueCommand } from './kinds/catalogue.ts';
export { MOST_MACHINES } from './kinds/buying.ts';
export type { BuyingCommand, OrderCommand } from './kinds/buying.ts';
export { buildsOf, needOf } from './project/projectBuying.ts';
export type { ProjectBuyingInput } from './project/projectBuying.ts';
export { carryOut, looksFor } from './intended/intentions.ts';
export { showsRevision } from './project/projectState.ts';
export type { CarriedOut, GestureStep, ProjectState, Stored } from './project/projectState.ts';
export type { DrawnLook, Intention, Means, PlainIntention } from './intended/intentions.ts';
export { billOfList } from './project/listBill.ts';
export { newSheetSet } from './kinds/sheetSet.ts';
export type { SheetSetCommand } from './kinds/sheetSet.ts';
export { longListSteps, partSheetSteps, setSteps } from './intended/setSteps.ts';
export type { SetMeans, SetSteps } from './intended/setSteps.ts';
export { removeSteps, sheetSteps } from './intended/sheetSteps.ts';
export {
  applyCommand,
  COMMAND_VERSION,
  documentKinds,
  kindOf,
  namesIn,
  touches,
  upgradeCommand,
  upgradeDocument,
  wordsFor,
} from './kinds/kinds.ts';
export type { Command, DocumentKind, DocumentKinds, ProjectDocument, Reference } from './kinds/kinds.ts';
export { overlap, overlapping } from './kinds/overlap.ts';
export { openRecipe, recipeFileOf, RECIPE_KIND } from './project/recipeFile.ts';
export type { OpenedRecipe, RecipeFile } from './project/recipeFile.ts';
export {
  withFirstNumbers,
  withLiveLines,
  cataloguesOn,
  billDecisions,
  billShownBy,
  editedFor,
  projectBill,
} from './project/projectBill.ts';
export type { ProjectBillInput } from './project/projectBill.ts';

export { projectLookKeys, projectLooks } from './project/projectLooks.ts';
export { asPrinted, billOn, changedPlaces, posesWithNew } from './intended/takeOver.ts';
export type { TakeOver } from './intended/takeOver.ts';
export { billAfter, billFollowing } from './intended/following.ts';
export { overtaken, overtakenFindings, type Overtaken } from './intended/overtaken.ts';
export { settlingsOf } from './intended/settlings.ts';
export { styleSteps } from './intended/styleSteps.ts';
