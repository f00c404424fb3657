export { startPool } from './pool.ts';
export type { Pool } from './pool.ts';
export { folderStore, memoryStore } from './derived.ts';
export type { DerivedStore } from './derived.ts';
export { makeMeshes, makeView, meshKey, shownOccurrences, viewKeys } from './model.ts';
export type { MadeView, Tools } from './model.ts';
export { tessellateSlice } from './tessellate.ts';
export { sceneToPdf } from './pdf.ts';
export { embeddedFonts } from './svgFonts.ts';
