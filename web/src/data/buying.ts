import { urlOf, routes } from '../../../contract/src/index.ts';
import type { CutPlan, CutProblem } from '../../../core/src/cutting/index.ts';
import { ask, ofWindow } from './api.ts';

/** A new plan of buying: a copy of `from`, or a new one. Its document's id. */
export const addPlan = async (id: string, name: string, from?: string): Promise<string> =>
  (await ask(routes.buying.add, { params: { id }, body: { name, from, ...ofWindow() } })).document;
/** Issues what a plan comes to now. Its document's id. */
export const issueOrder = async (id: string, document: string, number: string): Promise<string> =>
  (await ask(routes.buying.issue, { params: { id, document }, body: { number, ...ofWindow() } })).document;
/** Cut plans as far as they are made, and the job that makes the others. */
export const orderCutPlans = (
  id: string,
  problems: readonly CutProblem[],
  again = false,
): Promise<{ plans: (CutPlan | null)[]; job: string | null }> =>
  ask(routes.buying.cutPlans, { params: { id }, body: { problems, again } });

/** Where a file of a plan or of an issued order is. */
export const buyingFile = (
  id: string,
  kind: 'buying' | 'orders',
  document: string,
  format: string,
  supplier?: string,
): string =>
  urlOf(kind === 'buying' ? routes.buying.file : routes.buying.orderFile, {
    params: { id, document, format },
    query: { supplier },
  });
/** Where an issued order in the company's form is. */
export const orderInForm = (id: string, name: string, order: string, supplier?: string): string =>
  urlOf(routes.forms.filled, { params: { id, name }, query: { order, supplier } });
