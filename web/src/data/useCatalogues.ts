import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Catalogue } from '../../../core/src/catalogues/index.ts';
import type { BillDocument } from '../../../core/src/documents/index.ts';
import { catalogueVersions, loadCatalogue } from './api.ts';

/** Between two looks at whether somebody changed a catalogue; ms. */
const LOOK = 800;

/** Ids of the catalogues that these bills take values from. */
export const cataloguesOf = (bills: readonly Pick<BillDocument, 'catalogues' | 'lines'>[]): string[] => [
  ...new Set(
    bills.flatMap(({ catalogues = [], lines }) => [
      ...catalogues.map(({ catalogue }) => catalogue),
      ...lines.flatMap(({ from }) => (from ? [from.catalogue] : [])),
    ]),
  ),
];

const none: ReadonlyMap<string, Catalogue> = new Map();

/** Catalogues as they read now, by id, also while others change them. Those that are gone, or not there yet, are left out. */
export function useCatalogues(ids: readonly string[]): ReadonlyMap<string, Catalogue> {
  const versions = useQuery({
    queryKey: ['catalogue versions', ...ids],
    queryFn: () => catalogueVersions(ids),
    enabled: ids.length > 0,
    refetchInterval: LOOK,
    placeholderData: keepPreviousData,
  });
  const known = ids.length > 0 ? (versions.data ?? []) : [];
  const contents = useQueries({
    queries: known.map(({ id, version }) => ({
      queryKey: ['catalogue', id, version],
      queryFn: async () => (await loadCatalogue(id)).documents[0].content as Catalogue,
      staleTime: Infinity,
      // Until the newer one has arrived the one before stands.
      placeholderData: (before: Catalogue | undefined) => before,
    })),
  });
  const arrived = contents.map(({ data }) => data);
  return useMemo(() => {
    const found = new Map(known.flatMap(({ id }, at) => (arrived[at] ? [[id, arrived[at]] as const] : [])));
    return found.size === 0 ? none : found;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the lists are new each time, these say what is in them
  }, [known.map(({ id }) => id).join(), ...arrived]);
}
