import { createHash } from 'node:crypto';
import type { api, LookOrder } from '../../contract/src/index.ts';
import { viewKeys } from '../../engine/src/index.ts';
import type { Services } from './http.ts';
import { askedOf } from './projects.ts';

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
  revision: string | null = null,
): Promise<api.ViewsAnswer> {
  const { database, blobs, desk } = services;
  const keys = await desk.question(await askedOf(database, project, revision), { what: 'looks', orders }, blobs);
  const missing: string[] = [];
  for (const key of new Set(keys)) if (!(await isDrawn(services, key))) missing.push(key);
  if (missing.length === 0) return { keys: [...keys], job: null };
  const about = createHash('sha256').update(missing.sort().join()).digest('hex');
  const looks = orders.filter((_, at) => missing.includes(keys[at]));
  const payload = { project, looks, ...(revision === null ? {} : { revision }) };
  return { keys: [...keys], job: await services.jobs.add('view', payload, about, { once: true }) };
}
