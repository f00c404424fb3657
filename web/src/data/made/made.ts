import { useQuery } from '@tanstack/react-query';
import { unpackViewLines } from '../../../../core/src/formats/index.ts';
import { directionName, type LookRequest, type ViewLines } from '../../../../core/src/views/index.ts';
import { urlOf, lookOrder, routes } from '../../../../contract/src/index.ts';
import { drawnAt } from '../addresses.ts';
import { Dropped, followJob, loadBytes, orderViews, Refused } from '../api.ts';

export type Made = 'lines' | 'spots';
/** The server may be behind by edits that are still on their way: it is asked again so often, after so many ms. */
const TRIES = 20,
  PAUSE = 400;

/**
 * Lines or spots of a view, drawn by the server where it does not have them.
 * @param key what they are called
 * @param signal aborted when nobody waits any more: the server then need not draw it
 */
export async function loadMade(
  what: Made,
  { id, variant, revision }: { readonly id: string; readonly variant: string | null; readonly revision: string },
  request: LookRequest,
  key: string,
  signal?: AbortSignal,
): Promise<Uint8Array> {
  for (let attempt = 0; attempt < TRIES; attempt++) {
    const known = await loadBytes(drawnAt(key, what));
    if (known) return known;
    const {
      keys: [found],
      job,
    } = await orderViews(id, revision, [lookOrder(request, variant)]);
    try {
      if (job) await followJob(job, () => {}, signal);
    } catch (error) {
      if (!(error instanceof Dropped)) throw error; // else it is ordered again
    }
    const made = found === key ? await loadBytes(drawnAt(found, what)) : null;
    if (made) return made;
    await new Promise((resolve) => setTimeout(resolve, PAUSE));
  }
  throw new Refused(
    409,
    `The ${directionName(request.direction)} view could not be drawn as the machine stands now; reload the page.`,
  );
}

/** The machine of a project that is not open, as it was drawn last. */
export function usePicture(project: string, changed: string): ViewLines | undefined {
  return (
    useQuery({
      queryKey: ['picture', project, changed],
      queryFn: async () => {
        const lines = await loadBytes(urlOf(routes.projects.picture, { params: { id: project } }));
        return lines ? unpackViewLines(lines) : null;
      },
      staleTime: Infinity,
      retry: false,
    }).data ?? undefined
  );
}
