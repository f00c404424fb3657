import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState, type ReactNode } from 'react';
import {
  componentsAlong,
  editAssembly,
  occurrenceCounts,
  pathOf,
  withShapeFindings,
  type Assembly,
  type PathKey,
} from '../../../core/src/assembly/index.ts';
import { billOn } from '../../../core/src/documents/index.ts';
import { assemblyQuery, ProjectContext, useProject, type OpenProject } from './ProjectContext.tsx';
import { useShapes } from './made/shapes.ts';
import { useBill } from './bills/useBill.ts';

/**
 * Shows the project to everything below it as it is with another revision of its model: machine, lists and pictures
 * together, so that nothing mixes two.
 * @param revision id; what is the project's own where it names none but the first
 */
export function InRevision({ revision, children }: { revision: string | undefined; children: ReactNode }) {
  const project = useProject();
  const wanted = revision ?? project.revision.first;
  const isShown = wanted === project.revision.shown;
  const loaded = useQuery({ ...assemblyQuery(project.id, wanted), enabled: !isShown });
  if (isShown) return children;
  if (loaded.error)
    return (
      <main className="main centre">
        <p>{loaded.error.message}</p>
        <Button onClick={() => void loaded.refetch()}>Try again</Button>
      </main>
    );
  if (!loaded.data) return <main className="main centre quiet">Opening the revision that this shows …</main>;
  return (
    <Other key={wanted} revision={wanted} original={loaded.data.assembly}>
      {children}
    </Other>
  );
}

function Other({ revision: shown, original, children }: { revision: string; original: Assembly; children: ReactNode }) {
  const project = useProject();
  const { components, sheets, bills, revisions, catalogues } = project;
  const shapes = useShapes(project.id, shown, original);
  const { facts } = shapes;
  const edited = useMemo(
    () => editAssembly(original, components.content, facts),
    [original, components.content, facts],
  );
  const revision = useMemo(() => ({ ...project.revision, shown }), [project.revision, shown]);
  const content = useMemo(() => billOn(bills[0].content, revision), [bills, revision]);
  const contents = useMemo(() => sheets.map((sheet) => sheet.content), [sheets]);
  const { fileName = '', label = '' } = revisions.find(({ id }) => id === shown) ?? {};
  const made = useBill(
    { original, edits: components.content, facts, bill: content, fileName, catalogues },
    edited,
    contents,
  );
  // What is picked elsewhere is another thing here: indices belong to one revision.
  const [picking, setPicking] = useState<{ component: number; path: PathKey | null } | null>(null);
  const value = useMemo<OpenProject | null>(() => {
    if (!made) return null;
    const { assembly } = edited;
    const along = picking?.path ? componentsAlong(assembly, pathOf(picking.path)) : null;
    const { component = -1 } = picking ?? {};
    return {
      ...project,
      revision,
      summary: { ...project.summary, fileName, revision: label },
      original,
      assembly: made.edited.assembly,
      edited,
      treatments: edited.treatments,
      originals: edited.originals,
      facts,
      shapes,
      findings: withShapeFindings(original.findings, shapes.findings),
      counts: occurrenceCounts(edited.assembly),
      billDocument: { id: bills[0].id, content },
      bill: made.bill,
      decisions: made.decisions,
      picked: along?.at(-1) ?? (component >= 0 && component < assembly.components.length ? component : null),
      pickedPath: along ? picking!.path : null,
      pick: (picked, path = null) => setPicking(picked === null ? null : { component: picked, path }),
    };
  }, [project, revision, fileName, label, original, edited, facts, shapes, bills, content, made, picking]);
  if (!value) return <main className="main centre quiet">Working the list out …</main>;
  return <ProjectContext.Provider value={value}>{children}</ProjectContext.Provider>;
}
