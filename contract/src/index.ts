export * as api from './api.ts';
export { lookOrder } from './api.ts';
export type {
  Accepted,
  Gesture,
  History,
  Job,
  ListPreview,
  LookOrder,
  Project,
  ProjectSummary,
  Shapes,
  Stale,
  StoredDocument,
  Styles,
  ViewsAnswer,
} from './api.ts';
export {
  billSchema,
  componentsSchema,
  houseStyleSchema,
  intentionSchema,
  parseCommand,
  parseDocument,
  parseHouseStyle,
  parseRecipeFile,
  parseStoredCommand,
  refuseNewer,
  sheetSchema,
  sheetSetSchema,
} from './documents/index.ts';
export type { HouseStyle } from './documents/index.ts';
