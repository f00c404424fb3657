import { notifications } from '@mantine/notifications';
import { useCallback } from 'react';
import {
  projectBill,
  type BillCommand,
  type BillDocument,
  type PlainIntention,
} from '../../../core/src/documents/index.ts';
import { type OpenProject, useMachine } from '../data/openProject.ts';
import { useIntend } from '../data/editing/useIntend.ts';

/** A bill of this project with another document in place of the open one. */
export const billAfter = (project: OpenProject, document: BillDocument) =>
  projectBill({
    original: project.original,
    edits: project.components.content,
    facts: project.facts,
    bill: document,
    fileName: project.summary.fileName,
  }).bill;

interface BillEdit {
  /**
   * Carries out commands on the open bill as one gesture. New lines get their numbers with it, and balloons of the
   * sheets that show the bill follow.
   */
  readonly change: (label: string, ...commands: BillCommand[]) => void;
  /** Carries out what is meant by a gesture on this bill; what could not be done is said. */
  readonly intend: (label: string, intention: PlainIntention) => void;
  /** True while balloons are being arranged for a choice. */
  readonly following: boolean;
}

export function useBillEdit(): BillEdit {
  const { billDocument } = useMachine();
  const { intend: carry, busy } = useIntend();
  const intend = useCallback(
    (label: string, intention: PlainIntention) => {
      const say = (message: string) => notifications.show({ message, color: 'orange' });
      void (async () => carry(label, intention))().catch((error: Error) => say(error.message));
    },
    [carry],
  );
  const change = useCallback(
    (label: string, ...commands: BillCommand[]) =>
      intend(label, { kind: 'changeBill', bill: billDocument.id, commands }),
    [intend, billDocument.id],
  );
  return { change, intend, following: busy };
}
