export * as api from './api.ts';
export type {
  Accepted,
  Gesture,
  History,
  Job,
  ListPreview,
  Project,
  ProjectSummary,
  Shapes,
  Stale,
  StoredDocument,
  Styles,
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
