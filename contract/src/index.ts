export * as api from './api/index.ts';
export * as buying from './buying.ts';
export * as forms from './forms.ts';
export { parseFormMap } from './forms.ts';
export type { Form, FormCheck } from './forms.ts';
export { lookOrder, MAX_FILE, MOST_LABEL } from './api/index.ts';
export type {
  Accepted,
  CataloguePreview,
  CatalogueSummary,
  TableChanges,
  Gesture,
  History,
  Job,
  ListPreview,
  Offer,
  LookOrder,
  Project,
  ProjectSummary,
  Revision,
  Shapes,
  Stale,
  StoredDocument,
  Styles,
  UnsurePart,
  ViewsAnswer,
} from './api/index.ts';
export {
  billSchema,
  catalogueSchema,
  carryGestures,
  componentsSchema,
  firstClash,
  houseStyleSchema,
  intentionSchema,
  lastReadable,
  notAsExpected,
  parseCommand,
  parseDocument,
  parseHouseStyle,
  parseJson,
  parseRecipeFile,
  parseStoredCommand,
  readStored,
  refuseNewer,
  sheetSchema,
  sheetSetSchema,
} from './documents/index.ts';
export type {
  CarriedOrder,
  CarryOrder,
  HouseStyle,
  StepText,
  ReversibleEdit,
  StoredEdit,
  StoredText,
} from './documents/index.ts';
export * from './routes/index.ts';
