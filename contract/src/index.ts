export * as api from './api.ts';
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
  parseCommand,
  parseDocument,
  parseRecipeFile,
  billSchema,
  houseStyleSchema,
  sheetSchema,
  componentsSchema,
} from './documents.ts';
export type { HouseStyle } from './documents.ts';
