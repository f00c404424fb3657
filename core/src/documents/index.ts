export type { Applied, Refused } from './applied.ts';
export { newBill } from './bill.ts';
export type { BillCommand, BillDocument } from './bill.ts';
export { newComponentEdits, upgradeComponentEdits } from './edits.ts';
export type { ComponentCommand, ComponentEdits, Decision, OwnProperty } from './edits.ts';
export type { SheetCommand } from './sheet.ts';
export { applyCommand, touches, overlap, documentKinds } from './documents.ts';
export type { Command, DocumentKind, ProjectDocument } from './documents.ts';
