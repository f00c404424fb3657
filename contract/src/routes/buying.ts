import * as v from 'valibot';
import { workSchema } from '../api/index.ts';
import { cutPlansSchema, cutProblemsSchema, issueSchema, newPlanSchema } from '../buying.ts';
import { id } from '../documents/index.ts';
import { buyingFormats, orderFormats } from './fileFormats.ts';
import { route } from './route.ts';

const made = v.object({ document: id });
const file = { id: v.string(), document: v.string() };
/** Only what this supplier delivers. */
const ofSupplier = v.object({ supplier: v.optional(v.pipe(v.string(), v.maxLength(10_000))) });

/** Plans of buying, how pieces are cut from bars, and issued orders. */
export const buying = {
  add: route('POST', '/api/projects/:id/buying', {
    does: 'a new plan of buying, or a copy of one',
    needs: 'change',
    body: newPlanSchema,
    answer: made,
  }),
  cutPlans: route('POST', '/api/projects/:id/cut-plans', {
    does: 'cut plans as far as they are made, and the job that makes the others',
    needs: 'see',
    body: cutProblemsSchema,
    size: 'large',
    answer: cutPlansSchema,
  }),
  orderPlans: route('POST', '/api/projects/:id/buying/:document/plans', {
    does: 'has the cut plans of a plan of buying made that are not; the job that does it',
    needs: 'see',
    answer: workSchema,
  }),
  file: route('GET', '/api/projects/:id/buying/:document/:format', {
    does: 'a plan of buying as a file',
    needs: 'see',
    params: v.object({ ...file, format: v.picklist(buyingFormats) }),
    query: ofSupplier,
    answer: 'file',
  }),
  issue: route('POST', '/api/projects/:id/buying/:document/orders', {
    does: 'issues what a plan comes to now as an order',
    needs: 'change',
    body: issueSchema,
    answer: made,
  }),
  orderFile: route('GET', '/api/projects/:id/orders/:document/:format', {
    does: 'an issued order as a file',
    needs: 'see',
    params: v.object({ ...file, format: v.picklist(orderFormats) }),
    query: ofSupplier,
    answer: 'file',
  }),
};
