import { notifications } from '@mantine/notifications';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Revision, UnsurePart } from '../../../contract/src/index.ts';
import type { ComponentKey } from '../../../core/src/assembly/index.ts';
import { answerUnsure, followJob, loadRecognised } from '../data/api.ts';
import { useDocuments } from '../data/openProject.ts';

/** How the parts of a revision were recognised, and what the drafter says about that. */
export interface Recognised {
  /** Those that are not certain. */
  readonly parts: readonly UnsurePart[];
  /** The key that a component was read with, by the one that it has in the project. */
  readonly readAs: (key: ComponentKey) => string;
  /** Recognises the revision anew with what is said; true when that is done. */
  readonly say: (answers: readonly { was: string; is: string; same: boolean }[]) => Promise<boolean>;
  /** Whether it is being recognised. */
  readonly busy: boolean;
}

export function useRecognised(revision: Revision): Recognised {
  const { id } = useDocuments();
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const { data } = useQuery({
    queryKey: ['unsure', id, revision.id, revision.unsure],
    queryFn: () => loadRecognised(id, revision.id),
  });
  return {
    parts: data?.parts ?? [],
    readAs: (key) => Object.entries(data?.keys ?? {}).find(([, now]) => now === key)?.[0] ?? key,
    busy,
    say: async (answers) => {
      setBusy(true);
      try {
        await followJob(await answerUnsure(id, revision.id, answers), () => {});
        for (const key of ['project', 'effect', 'unsure', 'assembly'])
          await queries.invalidateQueries({ queryKey: [key, id] });
        return true;
      } catch (error) {
        notifications.show({ message: (error as Error).message, color: 'orange' });
        return false;
      } finally {
        setBusy(false);
      }
    },
  };
}
