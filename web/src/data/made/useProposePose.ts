import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { cancelJob, Dropped, followJob, orderIntention } from '../api.ts';
import type { Intention } from '../../../../core/src/documents/index.ts';
import { freeName } from '../freeName.ts';
import { useProject } from '../openProject.ts';

/** Lets the server work out how the machine comes apart, since all shapes take part in it. */
export function useProposePose() {
  const project = useProject();
  const queries = useQueryClient();
  const [working, setWorking] = useState<{ readonly job: string | null; readonly words: string } | null>(null);
  /**
   * @param view that is to show it
   * @returns its id; null where it was stopped or could not be made
   */
  const propose = async (
    depth: Pick<Extract<Intention, { kind: 'proposePose' }>, 'levels' | 'every'>,
    name: string,
    view?: { readonly sheet: string; readonly view: string },
  ): Promise<string | null> => {
    setWorking({ job: null, words: 'Asking for the pose …' });
    const pose = crypto.randomUUID();
    const taken = (project.set.content.poses ?? []).map((one) => one.name);
    try {
      const job = await orderIntention(project.id, 'take the machine apart', {
        kind: 'proposePose',
        pose,
        name: freeName(name, taken),
        ...depth,
        ...(view ? { view } : {}),
      });
      const { reason } = await followJob(job, ({ progress: { step, done, of } }) =>
        setWorking({ job, words: of > 1 ? `${step}: ${Math.round((100 * done) / of)} %` : `${step} …` }),
      );
      await queries.invalidateQueries({ queryKey: ['project', project.id] });
      if (reason) notifications.show({ message: reason, color: 'orange', autoClose: 9000 });
      return pose;
    } catch (error) {
      if (!(error instanceof Dropped)) notifications.show({ message: (error as Error).message, color: 'orange' });
      return null;
    } finally {
      setWorking(null);
    }
  };
  return {
    /** What is being done; null where nothing is. */
    working: working?.words ?? null,
    propose,
    /** Absent until there is something to stop. */
    stop: working?.job ? () => void cancelJob(working.job!) : undefined,
  };
}
