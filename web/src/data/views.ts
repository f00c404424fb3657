import { useQueries, useQuery, type QueryClient } from '@tanstack/react-query';
import type { Assembly } from '../../../core/src/assembly/index.ts';
import { unpackSpots, unpackViewLines } from '../../../core/src/formats/index.ts';
import { lookAt, type DirectionName, type Spots, type ViewLines } from '../../../core/src/views/index.ts';
import { followJob, loadBytes, orderViews, Refused } from './api.ts';

/** A machine that views are asked of. */
export interface Machine {
  /** Project. */
  readonly id: string;
  readonly assembly: Assembly;
  /** Variant that the assembly is in. */
  readonly variant: string | null;
}

type Made = 'lines' | 'spots';
/** The server may be behind by edits that are still on their way: it is asked again so often, after so many ms. */
const TRIES = 20,
  PAUSE = 400;

/**
 * Lines or spots of a view, drawn by the server where it does not have them.
 * @param key what they are called; null takes the machine as the server has it
 */
async function loadMade(
  what: Made,
  { id, variant }: Omit<Machine, 'assembly'>,
  direction: DirectionName,
  key: string | null,
): Promise<Uint8Array> {
  for (let attempt = 0; attempt < TRIES; attempt++) {
    const known = key && (await loadBytes(`/api/views/${key}/${what}`));
    if (known) return known;
    const {
      keys: [found],
      job,
    } = await orderViews(id, [{ direction, without: [], variant }]);
    if (job) await followJob(job, () => {});
    const made = key === null || found === key ? await loadBytes(`/api/views/${found}/${what}`) : null;
    if (made) return made;
    await new Promise((resolve) => setTimeout(resolve, PAUSE));
  }
  throw new Refused(409, `The ${direction} view could not be drawn as the machine stands now; reload the page.`);
}

const query = <Content>(what: Made, unpack: (bytes: Uint8Array) => Content, of: Machine, direction: DirectionName) => {
  const { key } = lookAt(of.assembly, { direction });
  return {
    queryKey: [what, key],
    queryFn: async () => unpack(await loadMade(what, of, direction, key)),
    staleTime: Infinity,
    retry: false,
  };
};
const linesQuery = (of: Machine, direction: DirectionName) => query('lines', unpackViewLines, of, direction);
const spotsQuery = (of: Machine, direction: DirectionName) => query('spots', unpackSpots, of, direction);

export const fetchLines = (queries: QueryClient, of: Machine, direction: DirectionName): Promise<ViewLines> =>
  queries.ensureQueryData(linesQuery(of, direction));
export const fetchSpots = (queries: QueryClient, of: Machine, direction: DirectionName): Promise<Spots> =>
  queries.ensureQueryData(spotsQuery(of, direction));

/** Lines of several directions; made by the server when they are not there yet. */
export function useViewLines(
  of: Machine,
  directions: readonly DirectionName[],
): { lines: ReadonlyMap<DirectionName, ViewLines>; failed: string | null; waiting: boolean } {
  const wanted = [...new Set(directions)];
  const results = useQueries({ queries: wanted.map((direction) => linesQuery(of, direction)) });
  return {
    lines: new Map(
      wanted.flatMap((direction, at) => (results[at].data ? [[direction, results[at].data] as const] : [])),
    ),
    failed: results.find(({ error }) => error)?.error?.message ?? null,
    waiting: results.some(({ isLoading }) => isLoading),
  };
}

/** The machine of a project that is not open, as it stood when the project was changed last. */
export function usePicture(project: string, changed: string): ViewLines | undefined {
  return useQuery({
    queryKey: ['picture', project, changed],
    queryFn: async () => unpackViewLines(await loadMade('lines', { id: project, variant: null }, 'isometric', null)),
    staleTime: Infinity,
    retry: false,
  }).data;
}
