import { useEffect, useMemo, useState } from 'react';
import { openBill } from '../../../../core/src/bill/index.ts';
import { linkedOf, withCatalogues } from '../../../../core/src/catalogues/index.ts';
import {
  billDecisions,
  billOn,
  cataloguesOn,
  editedFor,
  projectBill,
  withLiveLines,
} from '../../../../core/src/documents/index.ts';
import type { ShownBill } from '../../../../core/src/sheets/index.ts';
import { billMaker } from './billMaker.ts';
import { type OpenProject } from '../openProject.ts';
import { useStable } from '../ProjectContext.tsx';
import { isLarge, useFormulas } from './useBill.ts';
import { cataloguesOf } from '../useCatalogues.ts';

const NONE: ReadonlyMap<string, ShownBill> = new Map();

/** Bills by their document ids, as they read now; in a large machine each comes when the worker has made it. */
export function useOtherBills(project: OpenProject, ids: readonly string[]): ReadonlyMap<string, ShownBill> {
  const { original, components, facts, summary, bills, catalogues: all } = project;
  const { shown, first } = project.revision;
  const wanted = useStable(bills.filter(({ id }) => ids.includes(id)));
  const large = useMemo(() => isLarge(original), [original]);
  const formulas = useFormulas({
    ...project.billDocument.content,
    columns: wanted.flatMap((one) => one.content.columns),
  });
  const inputs = useMemo(
    () =>
      wanted.map(({ id, content: stored }) => {
        const content = billOn(stored, { shown, first });
        const catalogues = cataloguesOn(content, cataloguesOf([content]).length > 0 ? all : undefined);
        const edits = components.content;
        const edited = editedFor({ original, edits, facts }, content.recipe.variant ?? null);
        return {
          id,
          plain: edited,
          edited: withCatalogues(edited, linkedOf(content.catalogues, catalogues)),
          input: {
            original,
            edits,
            facts,
            bill: withLiveLines(content, catalogues),
            fileName: summary.fileName,
            catalogues,
          },
        };
      }),
    [wanted, shown, first, original, components.content, facts, summary.fileName, all],
  );
  const direct = useMemo(
    () =>
      large
        ? NONE
        : new Map(
            inputs.map(({ id, plain, edited, input }) => [
              id,
              { bill: projectBill(input, plain).bill, columns: input.bill.columns, assembly: edited.assembly },
            ]),
          ),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- formulas have values once they can be read
    [large, inputs, formulas],
  );
  const [made, setMade] = useState(NONE);
  useEffect(() => {
    if (!large) return;
    let gone = false;
    for (const { id, edited, input } of inputs)
      void billMaker()
        .make(input, edited.assembly)
        .then((data) => {
          if (gone) return;
          const decisions = billDecisions(input.bill, edited.treatments);
          const { columns } = input.bill;
          const bill = openBill(edited.assembly, data, decisions, { columns, fileName: input.fileName });
          setMade((before) => new Map([...before, [id, { bill, columns, assembly: edited.assembly }]]));
        });
    return () => {
      gone = true;
    };
  }, [large, inputs]);
  return large ? made : direct;
}
