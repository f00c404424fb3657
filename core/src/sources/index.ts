export { readModel, kindOfSource, sourceKinds } from './readModel.ts';
export type { ModelOptions, SourceKind } from './readModel.ts';
export { readGltf } from './gltf.ts';
export { read3mf } from './threeMf.ts';
export { proposeMapping, readStructureList, parseTable, mappingProblem } from './structureList.ts';
export type { ListMapping, Table } from './structureList.ts';
export { unzipBounded } from './zip.ts';
export { columnRoles } from './columnRoles.ts';
export type { ColumnRole } from './columnRoles.ts';
