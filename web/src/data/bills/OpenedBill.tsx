import { useMemo, type ReactNode } from 'react';
import { componentsAlong, pathOf } from '../../../../core/src/assembly/index.ts';
import { billOn } from '../../../../core/src/documents/index.ts';
import { ProjectContext, useProject, type OpenProject } from '../ProjectContext.tsx';
import { useBill } from './useBill.ts';

/** Shows another bill than the drawing's list to everything below it. */
export function OpenedBill({ open, children }: { open: OpenProject['bills'][number]; children: ReactNode }) {
  const project = useProject();
  const { original, components, facts, summary, sheets, bills, edited, catalogues } = project;
  const { shown, first } = project.revision;
  const content = useMemo(() => billOn(open.content, { shown, first }), [open.content, shown, first]);
  const isDrawings = open.id === bills[0].id && !open.content.recipe.variant;
  const contents = useMemo(() => sheets.map(({ content }) => content), [sheets]);
  const made = useBill(
    { original, edits: components.content, facts, bill: content, fileName: summary.fileName, catalogues },
    edited,
    contents,
    { wanted: !isDrawings },
  );
  const value = useMemo<OpenProject | null>(() => {
    if (isDrawings) return project;
    if (!made) return null;
    const { assembly: own, originals: ownOriginals } = made.edited;
    // Places that are edited have components of their own, in another order in every variant: a pick travels by its
    // path, or as the file's component.
    const along = project.pickedPath ? componentsAlong(own, pathOf(project.pickedPath)) : null;
    const picked = along?.at(-1) ?? (project.picked === null ? null : project.originals[project.picked]);
    return {
      ...project,
      picked,
      pick: (component, path = null) => project.pick(component === null ? null : ownOriginals[component], path),
      billDocument: { id: open.id, content },
      bill: made.bill,
      decisions: made.decisions,
      assembly: made.edited.assembly,
      edited: made.plain,
      variant: open.content.recipe.variant ?? null,
      treatments: made.edited.treatments,
      originals: made.edited.originals,
    };
  }, [isDrawings, project, made, open, content]);
  if (!value) return <div className="centre quiet">Working the list out …</div>;
  return <ProjectContext.Provider value={value}>{children}</ProjectContext.Provider>;
}
