import { createHash } from 'node:crypto';
import * as v from 'valibot';
import { api, type LookOrder } from '../../contract/src/index.ts';
import { Refusal } from '../../core/src/assembly/index.ts';
import { projectLooks } from '../../core/src/documents/index.ts';
import { directionName, type Look } from '../../core/src/views/index.ts';
import { makeView, viewKeys, type MadeView } from '../../engine/src/index.ts';
import type { Services } from './http.ts';
import { makeProjectShapes } from './imports.ts';
import { openInputs } from './openedStructure.ts';
import { shapesComplete } from './questions.ts';
import type { JobContext } from './jobs.ts';
import { askedOf, keepPicture, loadAssembly } from './projects.ts';

const viewPayload = v.object({ project: v.string(), looks: v.array(api.lookSchema) });
type ViewPayload = v.InferOutput<typeof viewPayload>;

/** What orders come to in a project as it stands now. @throws NotFound */
export async function looksOf(
  { database, blobs }: Pick<Services, 'database' | 'blobs'>,
  project: string,
  orders: readonly LookOrder[],
): Promise<Look[]> {
  const { assemblyBlob, edits } = await askedOf(database, project);
  return projectLooks(await openInputs(assemblyBlob, edits, blobs), orders);
}

/** Whether lines and spots of a look are stored. */
export const isDrawn = async ({ blobs }: Pick<Services, 'blobs'>, key: string): Promise<boolean> => {
  const { lines, spots } = viewKeys(key);
  return (await blobs.has(lines)) && (await blobs.has(spots));
};

/** The keys of the views, and the job that draws those that are not there. */
export async function orderViews(
  services: Services,
  project: string,
  orders: readonly LookOrder[],
): Promise<api.ViewsAnswer> {
  const { database, blobs, desk } = services;
  const keys = await desk.question(await askedOf(database, project), { what: 'looks', orders }, blobs);
  const missing: string[] = [];
  for (const key of new Set(keys)) if (!(await isDrawn(services, key))) missing.push(key);
  if (missing.length === 0) return { keys: [...keys], job: null };
  const about = createHash('sha256').update(missing.sort().join()).digest('hex');
  const payload: ViewPayload = { project, looks: orders.filter((_, at) => missing.includes(keys[at])) };
  return { keys: [...keys], job: await services.jobs.add('view', payload, about, { once: true }) };
}

/** The job: draws what was ordered, of the project as it stands when the job comes to it. */
export async function drawViews(
  payload: unknown,
  { signal, report }: Pick<JobContext, 'signal' | 'report'>,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<void> {
  const { project, looks: orders } = v.parse(viewPayload, payload);
  await allShapes(project, { signal, report }, services);
  const looks = await looksOf(services, project, orders);
  await drawLooks(looks, project, { signal, report }, services);
  // The whole machine as it is usually looked at stands for the project in the list of projects.
  const at = orders.findIndex(isPicture);
  if (at >= 0) await keepPicture(services.database, project, looks[at].key);
}

const picture: LookOrder = { direction: 'isometric', variant: null };
const isPicture = ({ direction, variant, ...rest }: LookOrder): boolean =>
  direction === picture.direction && variant === null && Object.values(rest).every((value) => value === undefined);

/** Draws a project's picture for the list of projects, unless nothing of it can be drawn. */
export async function drawPicture(
  project: string,
  context: Pick<JobContext, 'signal' | 'report'>,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<void> {
  try {
    await drawViews({ project, looks: [picture] } satisfies ViewPayload, context, services);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
  }
}

/** Makes the shapes that are missing. */
export async function allShapes(
  project: string,
  { signal, report }: Pick<JobContext, 'signal' | 'report'>,
  { database, blobs, pool }: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<void> {
  // A view drawn before all shapes are there would lack parts, and would be kept so. What another job has made is there
  // already.
  if (!(await shapesComplete(await loadAssembly(database, blobs, project), blobs)))
    await makeProjectShapes({ project }, { signal, report }, { database, blobs, pool });
}

/** Draws looks of a project that are not drawn; lines and spots of all of them. */
export async function drawLooks(
  looks: readonly Look[],
  project: string,
  { signal, report }: Pick<JobContext, 'signal' | 'report'>,
  { blobs, pool }: Pick<Services, 'blobs' | 'pool'>,
): Promise<MadeView[]> {
  const made: MadeView[] = [];
  for (const [at, look] of looks.entries()) {
    report({ step: `Drawing the ${directionName(look.direction)} view`, done: at, of: looks.length });
    made.push(await makeView(look, { pool, store: blobs.forProject(project), signal }));
  }
  return made;
}
