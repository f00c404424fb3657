import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { ComparedLine, Effect } from '../../../../core/src/formats/index.ts';
import { loadEffect } from '../api.ts';
import { useDocuments, useMachine } from '../openProject.ts';
import { revisionName } from '../revisionName.ts';

/** What taking the newest revision over would do to the lines of a list, where something shows an earlier one. */
export interface Waiting {
  /** What the newest revision is called. */
  readonly name: string;
  /** By item number as the list has it now. */
  readonly lines: ReadonlyMap<string, ComparedLine>;
  /** Item numbers that come. */
  readonly comes: readonly string[];
}

/** What taking the later one over does to bills and sheets; worked out anew whenever one of these is changed. */
export function useEffectOf(was: string, is: string, settled = 0): { effect: Effect | null; failed: string | null } {
  const { id, summary } = useDocuments();
  const [changed] = useDebouncedValue(summary.changed, settled);
  const { data, error } = useQuery({
    queryKey: ['effect', id, was, is, changed],
    queryFn: () => loadEffect(id, was, is),
    enabled: was !== is,
    staleTime: Infinity,
    placeholderData: (earlier) => earlier,
  });
  return { effect: data ?? null, failed: error?.message ?? null };
}

/** Between a change and working out anew what waits, where that is beside what one does; ms. */
const SETTLED = 3000;

/**
 * @param bill id of the list whose lines are meant
 * @param shown revision that is looked at; the project's first where absent
 */
export function useWaiting(bill: string, shown: string | undefined): Waiting | null {
  const { revisions } = useDocuments();
  const { revision } = useMachine();
  const newest = revisions[revisions.length - 1];
  const { effect } = useEffectOf(shown ?? revision.first, newest.id, SETTLED);
  const isBehind = (shown ?? revision.first) !== newest.id;
  return useMemo(() => {
    const lines = isBehind ? effect?.bills.find(({ id }) => id === bill)?.lines : undefined;
    if (!lines || lines.length === 0) return null;
    return {
      name: revisionName(newest, revisions),
      lines: new Map(lines.filter(({ kind }) => kind !== 'added').map((line) => [line.item, line])),
      comes: lines.filter(({ kind }) => kind === 'added').map(({ item }) => item),
    };
  }, [effect, bill, isBehind, newest, revisions]);
}

/** What becomes of a line, in a few words. */
export const lineChange = ({ kind, quantityWas, quantityIs, cells }: ComparedLine): string =>
  kind === 'removed'
    ? 'gone'
    : kind === 'added'
      ? `new, ${quantityIs}`
      : [
          ...(quantityWas === quantityIs ? [] : [`${quantityWas} → ${quantityIs}`]),
          ...Object.entries(cells).map(([heading, { was, is }]) => `${heading} ${was || '–'} → ${is || '–'}`),
        ].join(', ');
