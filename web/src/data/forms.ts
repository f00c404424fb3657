import { urlOf, routes, type Form, type FormCheck } from '../../../contract/src/index.ts';
import type { FormLook, FormMap, FoundHeading } from '../../../core/src/forms/index.ts';
import { ask } from './api.ts';

/** Workbooks of the company that lists are filled into. */
export const listForms = (): Promise<Form[]> => ask(routes.forms.list, {});
/** Keeps a workbook under a name; what it looks like. */
export const keepForm = (name: string, file: File): Promise<FormLook> =>
  ask(routes.forms.keep, { query: { name, fileName: file.name } }, file);
export const lookAtForm = (name: string): Promise<FormLook> => ask(routes.forms.look, { params: { name } });
/** Headings above a cell of a form. */
export const headingsAbove = (name: string, sheet: string, cell: string): Promise<FoundHeading[]> =>
  ask(routes.forms.headings, { params: { name }, query: { sheet, cell } }) as Promise<FoundHeading[]>;
export const mapForm = (name: string, map: FormMap): Promise<Form[]> =>
  ask(routes.forms.map, { params: { name }, body: map });
export const dropForm = (name: string): Promise<Form[]> => ask(routes.forms.drop, { params: { name } });

/** What is handed over: ids of bills, and keys of subassemblies of which the first one is made too. */
export interface HandedOver {
  readonly bills: readonly string[];
  readonly assemblies: readonly string[];
}
/** Where the filled workbook is, or several as an archive. */
export const filledForm = (id: string, name: string, query: HandedOver): string =>
  urlOf(routes.forms.filled, { params: { id, name }, query: { ...query } });
/** What there is to know before it is written. */
export const checkForm = (id: string, name: string, query: HandedOver): Promise<FormCheck> =>
  ask(routes.forms.check, { params: { id, name }, query: { ...query } });
