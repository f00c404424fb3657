import { forms, type Form, type FormCheck } from '../../../contract/src/index.ts';
import type { FormLook, FormMap, FoundHeading } from '../../../core/src/forms/index.ts';
import { answer, fit, get, refuseTooLarge } from './api.ts';

const at = (name: string): string => `/api/forms/${encodeURIComponent(name)}`;

/** Workbooks of the company that lists are filled into. */
export const listForms = (): Promise<Form[]> => get('/api/forms', forms.formsSchema);
/** Keeps a workbook under a name; what it looks like. */
export async function keepForm(name: string, file: File): Promise<FormLook> {
  refuseTooLarge(file);
  const query = new URLSearchParams({ name, fileName: file.name });
  return fit(forms.formLookSchema, await answer(await fetch(`/api/forms?${query}`, { method: 'POST', body: file })));
}
export const lookAtForm = (name: string): Promise<FormLook> => get(`${at(name)}/look`, forms.formLookSchema);
/** Headings above a cell of a form. */
export const headingsAbove = (name: string, sheet: string, cell: string): Promise<FoundHeading[]> =>
  get(`${at(name)}/headings?${new URLSearchParams({ sheet, cell })}`, forms.headingsSchema) as Promise<FoundHeading[]>;
export const mapForm = async (name: string, map: FormMap): Promise<Form[]> =>
  fit(
    forms.formsSchema,
    await answer(
      await fetch(at(name), {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(map),
      }),
    ),
  );
export const dropForm = async (name: string): Promise<Form[]> =>
  fit(forms.formsSchema, await answer(await fetch(at(name), { method: 'DELETE' })));

/** What is handed over: ids of bills, and keys of subassemblies of which the first one is made too. */
export interface HandedOver {
  readonly bills: readonly string[];
  readonly assemblies: readonly string[];
}
const filled = (project: string, name: string, what: 'check' | 'file', { bills, assemblies }: HandedOver): string =>
  `/api/projects/${project}/forms/${encodeURIComponent(name)}/${what}?${new URLSearchParams({ bills: bills.join(), assemblies: assemblies.join() })}`;
/** Where the filled workbook is, or several as an archive. */
export const filledForm = (project: string, name: string, over: HandedOver): string =>
  filled(project, name, 'file', over);
/** What there is to know before it is written. */
export const checkForm = (project: string, name: string, over: HandedOver): Promise<FormCheck> =>
  get(filled(project, name, 'check', over), forms.formCheckSchema);
