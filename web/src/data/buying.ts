import { buying as schemas } from '../../../contract/src/index.ts';
import type { CutPlan, CutProblem } from '../../../core/src/cutting/index.ts';
import * as v from 'valibot';
import { post, session } from './api.ts';

const made = v.object({ document: v.string() });
const at = (project: string): string => `/api/projects/${project}`;

/** A new plan of buying: a copy of `from`, or a new one. Its document's id. */
export const addPlan = async (project: string, name: string, from?: string): Promise<string> =>
  (
    await post(
      `${at(project)}/buying`,
      { name, ...(from === undefined ? {} : { from }), gesture: crypto.randomUUID(), session },
      made,
    )
  ).document;
/** Issues what a plan comes to now. Its document's id. */
export const issueOrder = async (project: string, plan: string, number: string): Promise<string> =>
  (await post(`${at(project)}/buying/${plan}/orders`, { number, gesture: crypto.randomUUID(), session }, made))
    .document;
/** Cut plans as far as they are made, and the job that makes the others. */
export const orderCutPlans = (
  project: string,
  problems: readonly CutProblem[],
  again = false,
): Promise<{ plans: (CutPlan | null)[]; job: string | null }> =>
  post(`${at(project)}/cut-plans`, { problems, again }, schemas.cutPlansSchema) as never;

/** Where a file of a plan or of an issued order is. */
export const buyingFile = (
  project: string,
  kind: 'buying' | 'orders',
  document: string,
  format: string,
  supplier?: string,
): string =>
  `${at(project)}/${kind}/${document}/${format}${supplier === undefined ? '' : `?${new URLSearchParams({ supplier })}`}`;
/** Where an issued order in the company's form is. */
export const orderInForm = (project: string, form: string, order: string, supplier?: string): string =>
  `${at(project)}/forms/${encodeURIComponent(form)}/file?${new URLSearchParams({ order, ...(supplier === undefined ? {} : { supplier }) })}`;
