import { useCallback, useState } from 'react';
import { numbersToKeep, type BillData } from '../../../core/src/bill/index.ts';
import {
  after,
  billShownBy,
  editedFor,
  projectBill,
  relists,
  type BillCommand,
  type BillDocument,
  type Command,
} from '../../../core/src/documents/index.ts';
import { billMaker } from '../data/billMaker.ts';
import { isLarge } from '../data/useBill.ts';
import { useProject, type OpenProject } from '../data/ProjectContext.tsx';
import { useRearrange } from '../sheets/useRearrange.ts';

/** A bill of this project with another document in place of the open one. */
export const billAfter = (project: OpenProject, document: BillDocument) =>
  projectBill({
    original: project.original,
    edits: project.components.content,
    facts: project.facts,
    bill: document,
    fileName: project.summary.fileName,
  }).bill;

export interface BillEdit {
  /**
   * Carries out commands on the open bill as one gesture. New lines get their numbers with it, and balloons of the
   * drawing's list follow.
   */
  readonly change: (label: string, ...commands: BillCommand[]) => void;
  /** True while balloons are being arranged for a choice. */
  readonly following: boolean;
}

export function useBillEdit(): BillEdit {
  const project = useProject();
  const rearrange = useRearrange();
  const [following, setFollowing] = useState(false);
  const change = useCallback(
    (label: string, ...commands: BillCommand[]) => {
      const { billDocument, bills, sheets, perform, original, components, facts, summary } = project;
      const steps: { document: string; command: Command }[] = commands.map((command) => ({
        document: billDocument.id,
        command,
      }));
      const next = commands.some(relists) ? after(billDocument.content, commands) : null;
      if (!next) return void perform(label, ...steps);
      const drawn = sheets.some(
        ({ content }) =>
          billShownBy(bills, content).id === billDocument.id && content.balloons.some(({ byHand }) => !byHand),
      );
      const finish = (made: BillData, ahead: boolean): void | Promise<void> => {
        const numbers = numbersToKeep(made);
        if (ahead) billMaker().foresee(components.content, { ...next, ledger: { ...next.ledger, ...numbers } }, made);
        if (Object.keys(numbers).length > 0)
          steps.push({ document: billDocument.id, command: { kind: 'setNumbers', numbers } });
        if (!drawn) return void perform(label, ...steps);
        return rearrange({ ...next, ledger: { ...next.ledger, ...numbers } }).then(
          (more) => void perform(label, ...steps, ...more),
        );
      };
      if (isLarge(original)) {
        setFollowing(true);
        const variant = next.recipe.variant ?? null;
        const edited =
          variant === (billDocument.content.recipe.variant ?? null)
            ? project.assembly
            : editedFor({ original, edits: components.content, facts }, variant).assembly;
        void billMaker()
          .make({ original, edits: components.content, facts, bill: next, fileName: summary.fileName }, edited)
          .then((made) => finish(made, true))
          .finally(() => setFollowing(false));
        return;
      }
      const waits = finish(billAfter(project, next), false);
      if (!waits) return;
      setFollowing(true);
      void waits.finally(() => setFollowing(false));
    },
    [project, rearrange],
  );
  return { change, following };
}
