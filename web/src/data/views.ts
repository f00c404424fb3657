import { useQueries, type QueryClient } from '@tanstack/react-query';
import type { Assembly } from '../../../core/src/assembly/index.ts';
import { unpackSpots, unpackViewLines } from '../../../core/src/formats/index.ts';
import { lookAt, type DirectionName, type Spots, type ViewLines } from '../../../core/src/views/index.ts';
import { loadMade, type Made } from './made.ts';

/** A machine that views are asked of. */
export interface Machine {
  /** Project. */
  readonly id: string;
  readonly assembly: Assembly;
  /** Variant that the assembly is in. */
  readonly variant: string | null;
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
