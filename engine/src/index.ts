export { startPool } from './pool.ts';
export type { Pool } from './pool.ts';
export type { PackedModel, Source } from './tasks.ts';
export { readWorkbook } from './workbook.ts';
export { withoutClock, writeBillWorkbook } from './billWorkbook.ts';
export { folderStore, memoryStore } from './derived.ts';
export type { DerivedStore } from './derived.ts';
export { makeMeshes, explodeLook, makeView, meshKey, viewKeys } from './model.ts';
export type { MadeView, Tools } from './model.ts';
export {
  makeShapes,
  loadMeasures,
  loadThumbnails,
  measureShapes,
  loadShapeFindings,
  keysOfAssembly,
  keysOfShape,
  shapeFindingsKey,
  makePictures,
  thumbnailKey,
} from './shapes.ts';
export { makePrints } from './prints.ts';
export { drawThumbnail } from './thumbnail.ts';
export { scenesToPdf } from './pdf.ts';
export type { PdfFacts } from './pdf.ts';
export { sceneToPng, FEWEST_DOTS, MOST_DOTS } from './png.ts';
export { embeddedFonts } from './svgFonts.ts';
export { MOST_LOGO_BYTES, pictureKey, readLogo } from './logo.ts';
export type { Logo } from './logo.ts';
export { zipFiles } from './zipFiles.ts';
export { linearSolver } from './linearSolver.ts';
