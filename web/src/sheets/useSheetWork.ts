import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { urlOf, routes } from '../../../contract/src/index.ts';
import type { Intention, PlainIntention } from '../../../core/src/documents/index.ts';
import { Dropped, followJob, orderIntention, orderSetViews, orderSheetViews } from '../data/api.ts';
import { useDocuments } from '../data/openProject.ts';
import { useIntend } from '../data/editing/useIntend.ts';

/** Files that a sheet, or the whole set, is handed over as. */
export type HandedOver = 'pdf' | 'svg' | 'png' | 'set' | 'check/pdf' | 'check/json';

function fileAt(id: string, document: string, format: HandedOver): string {
  if (format === 'set') return urlOf(routes.outputs.set, { params: { id } });
  if (format === 'check/pdf' || format === 'check/json')
    return urlOf(routes.outputs.check, { params: { id, format: format.slice(6) } });
  return urlOf(routes.outputs.sheet, { params: { id, document, format } });
}

/** Work for a sheet that takes a while: what is going on is said, it can be stopped, and a failure is a sentence. */
export function useSheetWork(sheet: string) {
  const { id: project } = useDocuments();
  const queries = useQueryClient();
  const { intend } = useIntend();
  const [busy, setBusy] = useState<string | null>(null);
  /** The job that can be stopped while it is waited for. */
  const [stoppable, setStoppable] = useState<string | null>(null);
  const during = async (words: string, work: () => Promise<void>) => {
    setBusy(words);
    try {
      await work();
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    setBusy(null);
  };
  const following = async (job: string, ...rest: Tail<typeof followJob>) => {
    setStoppable(job);
    try {
      return await followJob(job, ...rest);
    } finally {
      setStoppable(null);
    }
  };
  /** Carries out what takes views and time; says what is not as it should be. */
  const carry = (words: string, label: string, intention: PlainIntention) =>
    during(words, async () => {
      const { problems } = await intend(label, intention);
      if (problems.length === 0) return;
      const message = problems.map((problem) => problem.message).join(' ');
      notifications.show({ message, color: 'orange', autoClose: 9000 });
    });
  const order = (label: string, words: string, intention: Intention) =>
    during(words, async () => {
      const job = await orderIntention(project, label, intention);
      try {
        const { reason } = await following(job, ({ progress: { step, done, of } }) =>
          setBusy(of > 1 ? `${step}: ${done} of ${of} …` : `${step} …`),
        );
        await queries.invalidateQueries({ queryKey: ['project', project] });
        if (reason) notifications.show({ message: reason, autoClose: 12_000 });
      } catch (error) {
        if (!(error instanceof Dropped)) throw error;
      }
    });
  /** The file comes once all views are drawn; until then it is said how far they are. */
  const handOver = (format: HandedOver) =>
    during('Asking for the views …', async () => {
      const ofAll = format === 'set' || format.startsWith('check/');
      // Sheets that show several revisions take a job for each.
      for (;;) {
        const job = await (ofAll ? orderSetViews(project) : orderSheetViews(project, sheet));
        if (!job) break;
        await following(job, ({ progress }) => setBusy(`${progress.step} …`));
      }
      const link = document.createElement('a');
      link.href = fileAt(project, sheet, format);
      link.download = '';
      link.click();
    });
  return { sheet, busy, stoppable, during, carry, order, handOver };
}
type Tail<Of extends (...all: never[]) => unknown> = Parameters<Of> extends [unknown, ...infer Rest] ? Rest : never;
