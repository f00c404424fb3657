import { useEffect, useMemo, useRef, useState } from 'react';
import type { Assembly, EditedAssembly } from '../../../../core/src/assembly/index.ts';
import { linkedOf, withCatalogues } from '../../../../core/src/catalogues/index.ts';
import { openBill, type Bill, type BillData, type BillDecisions } from '../../../../core/src/bill/index.ts';
import { formulasAreReady, readyForFormulas } from '../../../../core/src/columns/index.ts';
import {
  billDecisions,
  cataloguesOn,
  editedFor,
  projectBill,
  withLiveLines,
  type BillDocument,
  type ProjectBillInput,
} from '../../../../core/src/documents/index.ts';
import { withPlaces, type Sheet } from '../../../../core/src/sheets/index.ts';
import { cataloguesOf } from '../useCatalogues.ts';
import { billMaker } from './billMaker.ts';

/** Up to so many usages a bill is worked out while the page draws; beyond, a worker does it and the list follows. */
const AT_ONCE = 2500;
export const isLarge = ({ components }: Assembly): boolean =>
  components.reduce((sum, { usages }) => sum + usages.length, 0) > AT_ONCE;

interface OpenBill {
  readonly bill: Bill;
  readonly edited: EditedAssembly;
  /** The same without what catalogues say. */
  readonly plain: EditedAssembly;
  readonly decisions: BillDecisions;
}

/** Whether formulas can be read; asking loads their reader when one of the columns has one. */
export function useFormulas({ columns }: BillDocument): boolean {
  const wanted = columns.some(({ source }) => source === 'formula');
  const [ready, setReady] = useState(formulasAreReady);
  useEffect(() => {
    if (wanted && !ready) void readyForFormulas().then(() => setReady(true));
  }, [wanted, ready]);
  return ready;
}

/**
 * A stored bill as it reads now. In a large machine it stays the one before until the worker has made the next; null
 * before the first.
 * @param edited the whole machine as the drafter has it
 * @param sheets where balloons stand, for the columns that tell it
 * @param options.wanted false where nobody asks: null then, and nothing is worked out
 */
export function useBill(
  { original, edits, facts, bill: document, fileName, catalogues: all }: ProjectBillInput,
  edited: EditedAssembly,
  sheets: readonly Sheet[],
  { wanted = true } = {},
): OpenBill | null {
  const formulas = useFormulas(document);
  const large = useMemo(() => isLarge(original), [original]);
  const variant = document.recipe.variant ?? null;
  const own = useMemo(
    () => (variant === null ? edited : editedFor({ original, edits, facts }, variant)),
    [edited, original, edits, facts, variant],
  );
  // A bill that takes nothing from catalogues is not made anew when one of them changes.
  const catalogues = cataloguesOn(document, cataloguesOf([document]).length > 0 ? all : undefined);
  const input = useMemo<ProjectBillInput>(
    () => ({ original, edits, facts, bill: document, fileName, catalogues }),
    [original, edits, facts, document, fileName, catalogues],
  );
  const direct = useMemo(() => {
    if (large || !wanted) return null;
    const { bill, decisions, edited: whole } = projectBill(input, own);
    return { bill, edited: whole, plain: own, decisions };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- formulas have values once they can be read
  }, [large, wanted, input, own, formulas]);
  const [made, setMade] = useState<(OpenBill & { data: BillData; own: EditedAssembly }) | null>(null);
  const runs = useRef({ started: 0, shown: 0 });
  useEffect(() => {
    if (!large || !wanted) return;
    const run = ++runs.current.started;
    const { bill: stored, catalogues: linked } = input;
    const whole = withCatalogues(own, linkedOf(stored.catalogues, linked));
    void billMaker()
      .make(input, whole.assembly)
      .then((data: BillData) => {
        if (run < runs.current.shown) return; // a later one is there already
        runs.current.shown = run;
        const decisions = billDecisions(withLiveLines(stored, linked), own.treatments);
        // The same data stands for the same document: what is shown may stay, and nothing is drawn anew.
        setMade((shown) =>
          shown && shown.data === data && shown.own === own
            ? shown
            : {
                data,
                own,
                bill: openBill(whole.assembly, data, decisions, {
                  columns: input.bill.columns,
                  fileName: input.fileName,
                }),
                edited: whole,
                plain: own,
                decisions,
              },
        );
      });
  }, [large, wanted, input, own]);
  const open = direct ?? made;
  const placed = document.columns.some(({ source, hidden }) => !hidden && (source === 'sheet' || source === 'zone'));
  return useMemo(() => {
    if (!open || !placed) return open;
    return {
      ...open,
      bill: withPlaces(
        open.bill,
        open.edited.assembly,
        open.decisions,
        { columns: document.columns, fileName },
        sheets,
      ),
    };
  }, [open, placed, document.columns, fileName, sheets]);
}
