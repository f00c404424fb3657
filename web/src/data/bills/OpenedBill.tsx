import { useMemo, type ReactNode } from 'react';
import { componentsAlong, pathOf } from '../../../../core/src/assembly/index.ts';
import { billOn } from '../../../../core/src/documents/index.ts';
import {
  useDocuments,
  useMachine,
  usePicking,
  usePicks,
  type OpenMachine,
  type OpenProject,
  type Picking,
  type PickedPart,
} from '../openProject.ts';
import { ShownMachine } from '../ProjectContext.tsx';
import { useBill } from './useBill.ts';

/** Shows another bill than the drawing's list to everything below it. */
export function OpenedBill({ open, children }: { open: OpenProject['bills'][number]; children: ReactNode }) {
  const { components, summary, sheets, bills } = useDocuments();
  const machine = useMachine();
  const { original, facts, catalogues, revision } = machine;
  const { shown, first } = revision;
  const content = useMemo(() => billOn(open.content, { shown, first }), [open.content, shown, first]);
  const isDrawings = open.id === bills[0].id && !open.content.recipe.variant;
  const contents = useMemo(() => sheets.map((sheet) => sheet.content), [sheets]);
  const made = useBill(
    { original, edits: components.content, facts, bill: content, fileName: summary.fileName, catalogues },
    machine.edited,
    contents,
    { wanted: !isDrawings },
  );
  const own = useMemo<OpenMachine | null>(
    () =>
      made && {
        ...machine,
        billDocument: { id: open.id, content },
        bill: made.bill,
        decisions: made.decisions,
        assembly: made.edited.assembly,
        edited: made.plain,
        variant: open.content.recipe.variant ?? null,
        treatments: made.edited.treatments,
        originals: made.edited.originals,
      },
    [machine, made, open, content],
  );
  const picked = usePickedIn(own ?? machine, machine);
  if (isDrawings) return children;
  if (!own) return <div className="centre quiet">Working the list out …</div>;
  return (
    <ShownMachine machine={own} {...picked}>
      {children}
    </ShownMachine>
  );
}

/**
 * What is picked, in a variant of the machine. Places that are edited have components of their own, in another order in every
 * variant: a pick travels by its path, or as the file's component.
 */
function usePickedIn(
  { assembly, originals }: OpenMachine,
  whole: OpenMachine,
): { readonly picks: PickedPart; readonly picking: Picking } {
  const { picked, pickedPath } = usePicks();
  const { pick } = usePicking();
  const picks = useMemo<PickedPart>(() => {
    const along = pickedPath ? componentsAlong(assembly, pathOf(pickedPath)) : null;
    return { picked: along?.at(-1) ?? (picked === null ? null : whole.originals[picked]), pickedPath };
  }, [picked, pickedPath, assembly, whole.originals]);
  const picking = useMemo<Picking>(
    () => ({ pick: (component, path = null) => pick(component === null ? null : originals[component], path) }),
    [pick, originals],
  );
  return { picks, picking };
}
