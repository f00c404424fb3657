export { fillForm } from './fillForm.ts';
export type { FilledForm } from './fillForm.ts';
export { formList, proposeColumns, proposedMap, columnNamed } from './formList.ts';
export { formFields } from './formFields.ts';
export { lookAtForm, headingsAbove } from './look.ts';
export type { FormLook, FoundHeading, LookCell, SheetLook } from './look.ts';
export { placeText } from './records.ts';
export type { FormColumn, FormField, FormFields, FormLine, FormList, FormMap, FormProblem } from './records.ts';
export { cellName, columnLetters, columnNumber, readCellName } from './references.ts';
