export type { Applied, Refused } from './applied.ts';
export { newBill } from './bill.ts';
export type { BillCommand, BillDocument, CellTexts, ColumnChange, RecipeChange } from './bill.ts';
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
} from './cellEdits.ts';
export type { CellInput } from './cellEdits.ts';
export { newComponentEdits } from './components.ts';
export type { ComponentCommand, ComponentEdits, Decision, OwnProperty } from './components.ts';
export type { SheetCommand, ViewChange } from './sheet.ts';
export { addItems, catalogueFault } from './catalogue.ts';
export { heldSentences } from './lockedProblem.ts';
export { sayInCatalogue } from './sayInCatalogue.ts';
export { itemsOfBill } from './catalogueOfBill.ts';
export type { CatalogueCommand } from './catalogue.ts';
export { MOST_MACHINES } from './buying.ts';
export type { BuyingCommand, OrderCommand, PlanChange, PlanEntries } from './buying.ts';
export { buildsOf, needOf } from './projectBuying.ts';
export type { ProjectBuyingInput } from './projectBuying.ts';
export { carryOut, looksFor } from './intentions.ts';
export { showsRevision } from './projectState.ts';
export type { CarriedOut, GestureStep, ProjectState, Stored } from './projectState.ts';
export type { DrawnLook, Intention, Means, PlainIntention, TypedCell } from './intentions.ts';
export { billOfList } from './listBill.ts';
export { newSheetSet } from './sheetSet.ts';
export type { SheetSetCommand } from './sheetSet.ts';
export { longListSteps, partSheetSteps, setSteps } from './setSteps.ts';
export type { SetMeans, SetSteps } from './setSteps.ts';
export { removeSteps, sheetSteps } from './sheetSteps.ts';
export {
  applyCommand,
  COMMAND_VERSION,
  documentKinds,
  kindOf,
  touches,
  upgradeCommand,
  upgradeDocument,
} from './kinds.ts';
export type { Command, DocumentKind, DocumentKinds, ProjectDocument } from './kinds.ts';
export { overlap, overlapping } from './overlap.ts';
export { openRecipe, recipeFileOf, RECIPE_KIND } from './recipeFile.ts';
export type { OpenedRecipe, RecipeFile } from './recipeFile.ts';
export {
  withFirstNumbers,
  withLiveLines,
  cataloguesOn,
  billDecisions,
  billShownBy,
  editedFor,
  projectBill,
  variantIdsOf,
} from './projectBill.ts';
export type { ProjectBillInput } from './projectBill.ts';

export { projectLookKeys, projectLooks } from './projectLooks.ts';
export type { VariantLook } from './projectLooks.ts';
export { asPrinted, billOn, changedPlaces, posesWithNew } from './takeOver.ts';
export type { TakeOver } from './takeOver.ts';
export { billAfter, billFollowing } from './following.ts';
export { overtaken, overtakenFindings, type Overtaken } from './overtaken.ts';
export { styleSteps } from './styleSteps.ts';
