import { createHash } from 'node:crypto';
import * as v from 'valibot';
import { parseDocument, readStored, type StoredText } from '../../contract/src/index.ts';
import { Refusal } from '../../core/src/assembly/index.ts';
import {
  cutPlanKey,
  newBuyingPlan,
  nextOrderNumber,
  type BuyingPlan,
  type IssuedOrder,
} from '../../core/src/buying/index.ts';
import type { CutPlan, CutProblem } from '../../core/src/cutting/index.ts';
import type { OpenGesture } from './desk.ts';
import { NotFound } from './errors.ts';
import { bringDocument } from './gestureLog.ts';
import { keptPlan } from './keptPlan.ts';
import type { Services } from './http.ts';
import { storedProject } from './projects.ts';

type GestureMeta = Pick<OpenGesture, 'gesture' | 'session'>;

/** Plans of these problems as far as they are kept, and the job that makes the others. */
export async function orderCutPlans(
  { blobs, jobs }: Pick<Services, 'blobs' | 'jobs'>,
  project: string,
  problems: readonly CutProblem[],
  again = false,
): Promise<{ plans: (CutPlan | null)[]; job: string | null }> {
  const plans = await Promise.all(problems.map((problem) => keptPlan(blobs, problem)));
  const missing: CutProblem[] = [];
  for (const [at, problem] of problems.entries()) {
    if (again && plans[at]?.stopped) {
      await blobs.remove(cutPlanKey(problem));
      plans[at] = null;
    }
    if (!plans[at]) missing.push(problem);
  }
  if (missing.length === 0) return { plans, job: null };
  const about = createHash('sha256').update(missing.map(cutPlanKey).sort().join()).digest('hex');
  const payload = { project, problems: missing as never };
  return { plans, job: await jobs.add('cutPlans', payload, about, { once: true }) };
}

/** Adds a plan of buying: a copy of another one, or a new one. */
export async function addPlan(
  { database, desk }: Pick<Services, 'database' | 'desk'>,
  project: string,
  { name, from, ...meta }: { readonly name: string; readonly from?: string | undefined } & GestureMeta,
): Promise<{ document: string }> {
  const content = from === undefined ? newBuyingPlan : await storedPlan({ database }, project, from);
  const label = `make the plan ${name}`.slice(0, 200);
  return {
    document: await bringDocument({ database, desk }, project, 'buying', JSON.stringify({ ...content, name }), {
      ...meta,
      label,
    }),
  };
}

async function storedPlan({ database }: Pick<Services, 'database'>, project: string, id: string): Promise<BuyingPlan> {
  const [stored] = (await database.query(
    "SELECT id, kind, version, content FROM document WHERE project = ? AND id = ? AND kind = 'buying'",
    [project, id],
  )) as StoredText[];
  if (!stored) throw new NotFound('That plan of buying is no longer in the project.');
  return readStored(stored) as BuyingPlan;
}

/** Issues what a plan comes to now as an order of today. @throws Refusal `not-ready` where cut plans are missing */
export async function issueOrder(
  { database, blobs, desk }: Pick<Services, 'database' | 'blobs' | 'desk'>,
  project: string,
  plan: string,
  { number, ...meta }: { readonly number?: string | undefined } & GestureMeta,
): Promise<{ document: string }> {
  const inputs = await storedProject(database, project);
  const today = new Date().toISOString().slice(0, 10);
  const issue = { today, number: number ?? nextOrderNumber(numbersOf(inputs.documents), Number(today.slice(0, 4))) };
  const { bytes } = await desk.output({ ...inputs, format: 'json', document: plan, issue }, blobs);
  const content = new TextDecoder().decode(bytes);
  // What is stored has to open again.
  try {
    parseDocument('order', JSON.parse(content));
  } catch (error) {
    if (!(error instanceof v.ValiError)) throw error;
    const [fault] = error.issues as v.BaseIssue<unknown>[];
    throw new Refusal(
      'order',
      `This order cannot be kept: ${v.getDotPath(fault) ?? 'something in it'} is too long or no number. Correct that part, then issue it again.`,
    );
  }
  const label = `issue the order ${issue.number}`.slice(0, 200);
  return { document: await bringDocument({ database, desk }, project, 'order', content, { ...meta, label }) };
}

const numbersOf = (documents: readonly StoredText[]): string[] =>
  documents.filter(({ kind }) => kind === 'order').map((stored) => (readStored(stored) as IssuedOrder).number);
