import { isLayout } from '../../../core/src/layouts/index.ts';
import * as v from 'valibot';
import type { LookOrder } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { projectLooks } from '../../../core/src/documents/index.ts';
import { directionName, type Look } from '../../../core/src/views/index.ts';
import { makeView, type MadeView } from '../../../engine/src/index.ts';
import type { Services } from '../http/http.ts';
import { makeProjectShapes } from './shapes.ts';
import { openInputs, openStructure } from '../opened/openedStructure.ts';
import { shapesComplete } from '../desk/questions.ts';
import { jobPayloads } from '../jobs/jobs.ts';
import type { JobContext } from './jobRunner.ts';
import { askedOf, keepPicture, structureOf } from '../projects/projects.ts';

/** What orders come to in a project as it stands now. @throws NotFound */
async function looksOf(
  { database, blobs }: Pick<Services, 'database' | 'blobs'>,
  project: string,
  orders: readonly LookOrder[],
  revision: string | null,
): Promise<Look[]> {
  const { assemblyBlob, edits } = await askedOf(database, project, revision);
  return projectLooks(await openInputs(assemblyBlob, edits, blobs), orders);
}

/** The job: draws what was ordered, of the project as it stands when the job comes to it. */
export async function drawViews(
  payload: unknown,
  { signal, report, sized }: Pick<JobContext, 'signal' | 'report'> & Partial<Pick<JobContext, 'sized'>>,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<void> {
  const { project, looks: orders, revision = null } = v.parse(jobPayloads.view, payload);
  sized?.(orders.length);
  await allShapes(project, { signal, report }, services, revision);
  const looks = await looksOf(services, project, orders, revision);
  await drawLooks(looks, project, { signal, report }, services);
  // The whole machine as it is usually looked at stands for the project in the list of projects.
  const picture = revision === null && orders.some(isWhole) ? await pictureOf(project, services) : null;
  const at = orders.findIndex((order) => isWhole(order) && order.direction === picture?.direction);
  if (at >= 0) await keepPicture(services.database, project, looks[at].key);
}

/** A layout is looked at as it is drawn. */
const pictureOf = async (
  project: string,
  { database, blobs }: Pick<Services, 'database' | 'blobs'>,
): Promise<LookOrder> => ({
  direction: isLayout(await openStructure(await structureOf(database, project), blobs)) ? 'top' : 'isometric',
  variant: null,
});
const isWhole = ({ direction: _, variant, ...rest }: LookOrder): boolean =>
  variant === null && Object.values(rest).every((value) => value === undefined);

/** Draws a project's picture for the list of projects, unless nothing of it can be drawn. */
export async function drawPicture(
  project: string,
  context: Pick<JobContext, 'signal' | 'report'>,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<void> {
  try {
    await drawViews({ project, looks: [await pictureOf(project, services)] }, context, services);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
  }
}

/** Makes the shapes that are missing. */
export async function allShapes(
  project: string,
  { signal, report }: Pick<JobContext, 'signal' | 'report'>,
  { database, blobs, pool }: Pick<Services, 'database' | 'blobs' | 'pool'>,
  revision: string | null = null,
): Promise<void> {
  // A view drawn before all shapes are there would lack parts, and would be kept so. What another job has made is there
  // already.
  if (!(await shapesComplete(await openStructure(await structureOf(database, project, revision), blobs), blobs)))
    await makeProjectShapes(
      { project, ...(revision === null ? {} : { revision }) },
      { signal, report },
      { database, blobs, pool },
    );
}

/** Draws looks of a project that are not drawn; lines and spots of all of them. */
export async function drawLooks(
  looks: readonly Look[],
  project: string,
  { signal, report }: Pick<JobContext, 'signal' | 'report'>,
  { blobs, pool }: Pick<Services, 'blobs' | 'pool'>,
): Promise<MadeView[]> {
  let done = 0;
  const tell = () => {
    const next = looks[Math.min(done, looks.length - 1)];
    if (next) report({ step: `Drawing the ${directionName(next.direction)} view`, done, of: looks.length });
  };
  tell();
  // As many at once as there are workers; the pool lets the others wait.
  return Promise.all(
    looks.map(async (look) => {
      const view = await makeView(look, { pool, store: blobs.forProject(project), signal });
      done++;
      tell();
      return view;
    }),
  );
}
