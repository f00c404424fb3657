import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import {
  after,
  carryOut,
  cataloguesOn,
  editedFor,
  looksFor,
  relists,
  type CarriedOut,
  type DrawnLook,
  type PlainIntention,
  type Means,
  type ProjectState,
} from '../../../../core/src/documents/index.ts';
import type { BillData, LedgerEntry } from '../../../../core/src/bill/index.ts';
import { billMaker } from '../bills/billMaker.ts';
import { type OpenProject, useProject } from '../openProject.ts';
import { solver } from '../made/solver.ts';
import { isLarge } from '../bills/useBill.ts';
import { cataloguesOf } from '../useCatalogues.ts';
import { fetchLines, fetchSpots } from '../made/views.ts';

const stateOf = (project: OpenProject): ProjectState => ({
  original: project.original,
  edits: project.components.content,
  facts: project.facts,
  fileName: project.summary.fileName,
  components: project.components.id,
  set: project.set,
  bills: project.bills,
  sheets: project.sheets,
  revision: project.revision,
  catalogues: project.catalogues,
});

interface Intend {
  /**
   * Carries an intention out as one gesture: at once where it can be, else away from the page. Answers with what there
   * is to say about it; rejects with a sentence.
   * @param label what Undo will say
   */
  readonly intend: (label: string, intention: PlainIntention) => CarriedOut | Promise<CarriedOut>;
  /** True while one is worked out. */
  readonly busy: boolean;
}

/** Gestures from which more follows than one command says. */
export function useIntend(): Intend {
  const project = useProject();
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const intend = useCallback(
    (label: string, intention: PlainIntention) => {
      const { id, perform } = project;
      const state = stateOf(project);
      const means: Pick<Means, 'machine'> = {
        machine: (variant) => (variant === project.variant ? project.edited : editedFor(state, variant)),
      };
      const here = (made?: BillData) =>
        carryOut(state, intention, { ...means, made, views: new Map(), newId: () => crypto.randomUUID() });
      const performed = (carried: CarriedOut) => {
        perform(label, ...carried.steps);
        return carried;
      };
      const looks = looksFor(state, intention, means);
      const list = isLarge(project.original) ? nextList(project, intention, means) : null;
      if (looks.length === 0 && !list) return performed(here());
      const work = async (): Promise<CarriedOut> => {
        const made = list && (await list.make());
        const carried =
          looks.length === 0
            ? here(made ?? undefined)
            : await solver().carryOut(
                state,
                intention,
                new Map(
                  await Promise.all(
                    looks.map(async ({ look, ...wanted }): Promise<[string, DrawnLook]> => {
                      const named = { key: look.key, revision: project.revision.shown, ...wanted };
                      return [
                        look.key,
                        { lines: await fetchLines(queries, id, named), spots: await fetchSpots(queries, id, named) },
                      ];
                    }),
                  ),
                ),
              );
        if (made) list.foresee(made, carried);
        return performed(carried);
      };
      setBusy(true);
      return work().finally(() => setBusy(false));
    },
    [project, queries],
  );
  return { intend, busy };
}

/** In a large machine: how the list after a change is made in a worker, and kept for when it is asked for next. */
function nextList(project: OpenProject, intention: PlainIntention, { machine }: Pick<Means, 'machine'>) {
  const before = intention.kind === 'changeBill' && project.bills.find(({ id }) => id === intention.bill);
  const next = before && intention.commands.some(relists) ? after(before.content, intention.commands) : null;
  if (!next) return null;
  const { original, components, facts, summary } = project;
  const catalogues = cataloguesOn(next, cataloguesOf([next]).length > 0 ? project.catalogues : undefined);
  return {
    make: () =>
      billMaker().make(
        { original, edits: components.content, facts, bill: next, fileName: summary.fileName, catalogues },
        machine!(next.recipe.variant ?? null).assembly,
      ),
    foresee: (made: BillData, { steps }: CarriedOut) => {
      const numbers = steps.flatMap(({ command }) =>
        command.kind === 'setNumbers' ? [command.numbers as Record<string, LedgerEntry>] : [],
      );
      const ledger = Object.assign({}, next.ledger, ...numbers) as typeof next.ledger;
      billMaker().foresee({ edits: components.content, catalogues }, { ...next, ledger }, made);
    },
  };
}
