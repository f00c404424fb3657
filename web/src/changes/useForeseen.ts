import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { followJob, loadForeseen, orderForeseen, type ForeseenSheets } from '../data/api.ts';
import { useDocuments } from '../data/openProject.ts';

/** What would become of the sheets if a revision were taken over. */
interface ForeseenState {
  /** Under what its pictures are, and what it says; null until it is worked out. */
  readonly known: { readonly name: string; readonly sheets: ForeseenSheets['sheets'] } | null;
  /** The job that works it out, and how far it is; null where none does. */
  readonly running: { readonly job: string; readonly step: string } | null;
  /** Why it is not known, and how to try again. */
  readonly stopped: { readonly reason: string; readonly again: () => void } | null;
}

/** So often it is asked for anew where something was changed while it was worked out. */
const TRIES = 5;

/** Works it out anew whenever a document is changed; what was known stays until then. */
export function useForeseen(revision: string, wanted: boolean): ForeseenState {
  const { id, summary } = useDocuments();
  const [running, setRunning] = useState<ForeseenState['running']>(null);
  const { data, error, refetch } = useQuery<NonNullable<ForeseenState['known']>>({
    queryKey: ['foreseen', id, revision, summary.changed],
    enabled: wanted,
    staleTime: Infinity,
    retry: false,
    placeholderData: (earlier) => earlier,
    queryFn: async ({ signal }) => {
      try {
        for (let attempt = 1; ; attempt++) {
          const { name, job } = await orderForeseen(id, revision);
          if (!job) return { name, sheets: (await loadForeseen(id, name)).sheets };
          if (attempt > TRIES) throw new Error('The project is being changed; try again once that is over.');
          await followJob(
            job,
            ({ progress: { step, done, of } }) =>
              setRunning({ job, step: of > 1 ? `${step}: ${done} of ${of}` : step }),
            signal,
          );
        }
      } finally {
        setRunning(null);
      }
    },
  });
  return {
    known: data ?? null,
    running,
    stopped: error ? { reason: error.message, again: () => void refetch() } : null,
  };
}
