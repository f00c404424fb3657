import { readStored, type StoredText } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { newBuyingPlan, nextOrderNumber, type BuyingPlan, type IssuedOrder } from '../../../core/src/buying/index.ts';
import { withJson } from '../jobs/jobs.ts';
import { hashOfNames, type OpenGesture, type Read } from '../desk/readings.ts';
import { NotFound } from '../errors.ts';
import { bringDocument, Claimed } from '../log/gestureLog.ts';
import { isStopped, keptPlanText } from '../opened/keptPlan.ts';
import type { Services } from '../http/http.ts';
import { storedProject } from './projects.ts';

type GestureMeta = Pick<OpenGesture, 'gesture' | 'session'>;

/** Plans of these problems (JSON of each) as far as they are kept, and the job that makes the others. */
export async function orderCutPlans(
  { blobs, jobs }: Pick<Services, 'blobs' | 'jobs'>,
  project: string,
  problems: Read<'cutPlans'>['problems'],
  again = false,
): Promise<{ plans: (string | null)[]; job: string | null }> {
  const plans = await Promise.all(problems.map(({ key }) => keptPlanText(blobs, key)));
  const missing: (typeof problems)[number][] = [];
  for (const [at, problem] of problems.entries()) {
    if (again && plans[at] && isStopped(plans[at])) {
      await blobs.remove(problem.key);
      plans[at] = null;
    }
    if (!plans[at]) missing.push(problem);
  }
  if (missing.length === 0) return { plans, job: null };
  const payload = withJson({ project }, `{"problems":[${missing.map(({ text }) => text).join()}]}`);
  const about = hashOfNames(missing.map(({ key }) => key));
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

/** So often the next free number is taken, where others take them at the same moment. */
const MOST_TRIES = 20;
/** What an order has alone in its project. */
const orderClaim = (number: string): string => `order ${number.trim()}`;

/**
 * Issues what a plan comes to now as an order of today, under this number or the next free one.
 * @throws Refusal `not-ready` where cut plans are missing, `taken` where another order has the number
 */
export async function issueOrder(
  services: Pick<Services, 'database' | 'blobs' | 'desk'>,
  project: string,
  plan: string,
  { number, ...meta }: { readonly number?: string | undefined } & GestureMeta,
): Promise<{ document: string }> {
  const today = new Date().toISOString().slice(0, 10);
  for (let tries = 1; ; tries++) {
    const inputs = await storedProject(services.database, project);
    const next = nextOrderNumber(numbersOf(inputs.documents), Number(today.slice(0, 4)));
    try {
      return await issueAs(services, project, inputs, plan, { today, number: number ?? next }, meta);
    } catch (error) {
      if (!(error instanceof Claimed)) throw error;
      if (number === undefined && tries < MOST_TRIES) continue;
      const free = nextOrderNumber([...numbersOf(inputs.documents), number ?? next], Number(today.slice(0, 4)));
      throw new Refusal(
        'taken',
        `There is an order ${number ?? next} already (“${error.by.label}”, ${error.by.made.toISOString().slice(0, 10)}). Issue this one under another number; ${free} is free.`,
      );
    }
  }
}

async function issueAs(
  { database, blobs, desk }: Pick<Services, 'database' | 'blobs' | 'desk'>,
  project: string,
  inputs: Awaited<ReturnType<typeof storedProject>>,
  plan: string,
  issue: { readonly today: string; readonly number: string },
  meta: GestureMeta,
): Promise<{ document: string }> {
  const { bytes } = await desk.output({ ...inputs, format: 'json', document: plan, issue }, blobs);
  const content = new TextDecoder().decode(bytes);
  // What is stored has to open again.
  await desk.read('order', bytes).catch((error: unknown) => {
    if (!(error instanceof Refusal) || error.code !== 'not-as-expected') throw error;
    throw new Refusal(
      'order',
      `This order cannot be kept, since something in it is too long or no number. Correct that part, then issue it again. (${error.message})`,
    );
  });
  const label = `issue the order ${issue.number}`.slice(0, 200);
  const claim = orderClaim(issue.number);
  return {
    document: await bringDocument({ database, desk }, project, 'order', content, { ...meta, label }, { claim }),
  };
}

const numbersOf = (documents: readonly StoredText[]): string[] =>
  documents.filter(({ kind }) => kind === 'order').map((stored) => (readStored(stored) as IssuedOrder).number);
