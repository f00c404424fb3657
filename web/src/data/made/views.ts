import { useQueries, type QueryClient } from '@tanstack/react-query';
import type { Assembly } from '../../../../core/src/assembly/index.ts';
import { unpackSpots, unpackViewLines } from '../../../../core/src/formats/index.ts';
import { viewRequest, type SheetSet, type ViewLook } from '../../../../core/src/sheets/index.ts';
import { lookAt, type LookRequest, type Spots, type ViewLines } from '../../../../core/src/views/index.ts';
import { loadMade, type Made } from './made.ts';

/** A machine that views are asked of. */
export interface Machine {
  /** Project. */
  readonly id: string;
  readonly assembly: Assembly;
  /** Variant that the assembly is in. */
  readonly variant: string | null;
  /** Revision that it is. */
  readonly revision: { readonly shown: string };
  /** What all sheets share: the poses that views name. */
  readonly set: { readonly content: Pick<SheetSet, 'poses'> };
}

/** What a drawn view is asked for with: its name, and what the server needs where it has to draw it. */
interface Wanted {
  readonly key: string;
  readonly request: LookRequest;
  readonly variant: string | null;
  /** Of the machine, by its id. */
  readonly revision: string;
}

const query = <Content>(what: Made, unpack: (bytes: Uint8Array) => Content, id: string, wanted: Wanted) => ({
  queryKey: [what, wanted.key],
  queryFn: async ({ signal }: { signal: AbortSignal }) =>
    unpack(await loadMade(what, { id, ...wanted }, wanted.request, wanted.key, signal)),
  staleTime: Infinity,
  retry: false,
});
const wantedOf = ({ assembly, variant, revision, set }: Machine, view: ViewLook): Wanted => {
  const request = viewRequest(view, set.content.poses);
  return { key: lookAt(assembly, request).key, request, variant, revision: revision.shown };
};

export const fetchLines = (queries: QueryClient, id: string, wanted: Wanted): Promise<ViewLines> =>
  queries.ensureQueryData(query('lines', unpackViewLines, id, wanted));
export const fetchSpots = (queries: QueryClient, id: string, wanted: Wanted): Promise<Spots> =>
  queries.ensureQueryData(query('spots', unpackSpots, id, wanted));
/** Lines of a view of a machine that is open. */
export const linesOf = (queries: QueryClient, of: Machine, view: ViewLook): Promise<ViewLines> =>
  fetchLines(queries, of.id, wantedOf(of, view));

/** Spots of views, in their order; nothing where they are not there yet. */
export function useSpots(
  of: Machine,
  views: readonly ViewLook[],
): { spots: readonly (Spots | undefined)[]; waiting: boolean } {
  const results = useQueries({ queries: views.map((view) => query('spots', unpackSpots, of.id, wantedOf(of, view))) });
  return { spots: results.map(({ data }) => data), waiting: results.some(({ isLoading }) => isLoading) };
}

/** Lines of placed views, by view id; made by the server where they are not there yet. */
export function useViewLines(
  of: Machine,
  views: readonly (ViewLook & { readonly id: string })[],
): { lines: ReadonlyMap<string, ViewLines>; failed: string | null; waiting: boolean } {
  const wanted = views.map((view) => wantedOf(of, view));
  const unique = [...new Map(wanted.map((one) => [one.key, one])).values()];
  const results = useQueries({ queries: unique.map((one) => query('lines', unpackViewLines, of.id, one)) });
  const byKey = new Map(unique.map(({ key }, at) => [key, results[at].data]));
  return {
    lines: new Map(
      views.flatMap(({ id }, at) => {
        const lines = byKey.get(wanted[at].key);
        return lines ? [[id, lines] as const] : [];
      }),
    ),
    failed: results.find(({ error }) => error)?.error?.message ?? null,
    waiting: results.some(({ isLoading }) => isLoading),
  };
}
