export * as api from './api.ts';
export { lookOrder, MAX_FILE } from './api.ts';
export type {
  Accepted,
  Gesture,
  History,
  Job,
  ListPreview,
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
} from './api.ts';
export {
  billSchema,
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
  parseRecipeFile,
  parseStoredCommand,
  readStored,
  refuseNewer,
  sheetSchema,
  sheetSetSchema,
} from './documents/index.ts';
export type { CarriedOrder, CarryOrder, HouseStyle, StepText, StoredEdit, StoredText } from './documents/index.ts';
