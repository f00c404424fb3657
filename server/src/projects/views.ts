import type { api } from '../../../contract/src/index.ts';
import { viewKeys } from '../../../engine/src/index.ts';
import type { Services } from '../http/http.ts';
import { withJson } from '../jobs/jobs.ts';
import { askedOf } from './projects.ts';
import { hashOfNames } from '../desk/readings.ts';

/** Whether lines and spots of a look are stored. */
export const isDrawn = async ({ blobs }: Pick<Services, 'blobs'>, key: string): Promise<boolean> =>
  (await notDrawn({ blobs }, [key])).size === 0;

/** Of these looks those of which lines or spots are not stored; one look at the database for all of them. */
async function notDrawn({ blobs }: Pick<Services, 'blobs'>, keys: readonly string[]): Promise<Set<string>> {
  const there = await blobs.those(keys.flatMap((key) => Object.values(viewKeys(key))));
  return new Set(keys.filter((key) => Object.values(viewKeys(key)).some((name) => !there.has(name))));
}

/**
 * The keys of the views, and the job that draws those that are not there.
 * @param orders see LookOrder, each as JSON
 */
export async function orderViews(
  services: Services,
  project: string,
  orders: readonly string[],
  revision: string | null = null,
  signal?: AbortSignal,
): Promise<api.ViewsAnswer> {
  const { database, blobs, desk } = services;
  const asked = await askedOf(database, project, revision);
  const keys = await desk.question(asked, { what: 'looks', orders }, blobs, signal);
  const missing = await notDrawn(services, [...new Set(keys)]);
  if (missing.size === 0) return { keys: [...keys], job: null };
  const looks = orders.filter((_, at) => missing.has(keys[at]));
  const payload = withJson({ project, ...(revision === null ? {} : { revision }) }, `{"looks":[${looks.join()}]}`);
  const about = hashOfNames([...missing]);
  return { keys: [...keys], job: await services.jobs.add('view', payload, about, { once: true }) };
}
