export { startPool } from './pool/pool.ts';
export type { Pool } from './pool/pool.ts';
export type { PackedModel, Source } from './pool/tasks.ts';
export { readWorkbook } from './tables/workbook.ts';
export { withoutClock, writeBillWorkbook } from './tables/billWorkbook.ts';
export { folderStore, memoryStore } from './derived.ts';
export type { DerivedStore } from './derived.ts';
export { cutFacesOf, makeMeshes, explodeLook, makeView, meshKey, viewKeys } from './pool/model.ts';
export type { MadeView, Tools } from './pool/model.ts';
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
} from './pool/shapes.ts';
export { makePrints } from './pool/prints.ts';
export { drawThumbnail } from './paper/thumbnail.ts';
export { scenesToPdf } from './paper/pdf.ts';
export type { PdfFacts } from './paper/pdf.ts';
export { sceneToPng, FEWEST_DOTS } from './paper/png.ts';
export { embeddedFonts } from './paper/svgFonts.ts';
export { MOST_LOGO_BYTES, pictureKey, readLogo } from './paper/logo.ts';
export type { Logo } from './paper/logo.ts';
export { zipFiles } from './tables/zipFiles.ts';
export { linearSolver } from './pool/linearSolver.ts';
