export * as api from './api.ts';
export type { Accepted, Gesture, History, Job, ListPreview, Project, ProjectSummary, Shapes, Stale, StoredDocument } from './api.ts';
export { parseCommand, parseDocument, billSchema, sheetSchema, componentsSchema } from './documents.ts';
