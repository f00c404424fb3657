import { useQueries, type UseQueryResult } from '@tanstack/react-query';
import { unpackSpots, unpackViewLines } from '../../../core/src/formats/index.ts';
import type { DirectionName, Spots, ViewLines } from '../../../core/src/views/index.ts';
import { loadDerived } from './api.ts';

export const fetchLines = async (project: string, direction: DirectionName): Promise<ViewLines> =>
  unpackViewLines(await loadDerived(`/api/projects/${project}/views/${direction}/lines`));
export const fetchSpots = async (project: string, direction: DirectionName): Promise<Spots> =>
  unpackSpots(await loadDerived(`/api/projects/${project}/views/${direction}/spots`));

const linesQuery = (project: string, standing: string, direction: DirectionName) => ({
  queryKey: ['lines', project, standing, direction],
  queryFn: () => fetchLines(project, direction),
  staleTime: Infinity,
  retry: false,
});

/**
 * Lines of several directions (`standing` tells apart how the machine is turned); made by the server when they are
 * not there yet.
 */
export function useViewLines(
  project: string,
  standing: string,
  directions: readonly DirectionName[],
): { lines: ReadonlyMap<DirectionName, ViewLines>; failed: string | null; waiting: boolean } {
  const wanted = [...new Set(directions)];
  const results: UseQueryResult<ViewLines>[] = useQueries({
    queries: wanted.map((direction) => linesQuery(project, standing, direction)),
  });
  return {
    lines: new Map(
      wanted.flatMap((direction, at) => (results[at].data ? [[direction, results[at].data] as const] : [])),
    ),
    failed: results.find(({ error }) => error)?.error?.message ?? null,
    waiting: results.some(({ isLoading }) => isLoading),
  };
}
