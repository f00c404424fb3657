import { useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { ShapeKey } from '../../../../core/src/assembly/index.ts';
import { unpackMesh } from '../../../../core/src/formats/index.ts';
import type { Mesh } from '../../../../core/src/geometry/index.ts';
import { loadMesh } from '../../data/api.ts';

const RETRY = 2500; // ms between two looks for shapes that are still being made

/**
 * The meshes of shapes, as they arrive.
 * @param bodies the same object for as long as the same shapes are meant
 * @param makes whether shapes are still being made, so that what is not there may come
 */
export function useMeshes(
  bodies: ReadonlyMap<ShapeKey, unknown>,
  makes: boolean,
): {
  readonly ready: readonly (readonly [ShapeKey, Mesh])[];
  /** Whether every one has come or does not come for now. */
  readonly settled: boolean;
  /** Count of all. */
  readonly wanted: number;
} {
  const keys = [...bodies.keys()];
  const meshes = useQueries({
    queries: keys.map((shape) => ({
      queryKey: ['mesh', shape],
      queryFn: async () => unpackMesh(await loadMesh(shape)),
      staleTime: Infinity,
      retry: false,
      refetchInterval: (query: { state: { data?: unknown } }) =>
        makes && !query.state.data ? RETRY : (false as const),
    })),
  });
  const arrived = meshes.map(({ data }) => (data ? 1 : 0)).join('');
  const ready = useMemo(
    () => keys.flatMap((shape, at) => (meshes[at].data ? [[shape, meshes[at].data] as const] : [])),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `arrived` says what is in the lists
    [bodies, arrived],
  );
  return { ready, settled: meshes.every(({ isLoading }) => !isLoading), wanted: keys.length };
}
