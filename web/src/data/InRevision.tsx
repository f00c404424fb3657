import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, type ReactNode } from 'react';
import { editAssembly, occurrenceCounts, withShapeFindings, type Assembly } from '../../../core/src/assembly/index.ts';
import { billOn } from '../../../core/src/documents/index.ts';
import { DocumentsContext, useDocuments, useMachine, type OpenDocuments, type OpenMachine } from './openProject.ts';
import { assemblyQuery, ShownMachine, useOwnPicks } from './ProjectContext.tsx';
import { useShapes } from './made/shapes.ts';
import { useBill } from './bills/useBill.ts';

/**
 * Shows the project to everything below it as it is with another revision of its model: machine, lists and pictures
 * together, so that nothing mixes two.
 * @param revision id; what is the project's own where it names none but the first
 */
export function InRevision({ revision, children }: { revision: string | undefined; children: ReactNode }) {
  const { id } = useDocuments();
  const { first, shown } = useMachine().revision;
  const wanted = revision ?? first;
  const isShown = wanted === shown;
  const loaded = useQuery({ ...assemblyQuery(id, wanted), enabled: !isShown });
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
  const documents = useDocuments();
  const { revision: of, catalogues } = useMachine();
  const { id, summary, components, sheets, bills, revisions } = documents;
  const shapes = useShapes(id, shown, original);
  const { facts } = shapes;
  const edited = useMemo(
    () => editAssembly(original, components.content, facts),
    [original, components.content, facts],
  );
  const revision = useMemo(() => ({ ...of, shown }), [of, shown]);
  const content = useMemo(() => billOn(bills[0].content, revision), [bills, revision]);
  const contents = useMemo(() => sheets.map((sheet) => sheet.content), [sheets]);
  const { fileName = '', label = '' } = revisions.find((one) => one.id === shown) ?? {};
  const made = useBill(
    { original, edits: components.content, facts, bill: content, fileName, catalogues },
    edited,
    contents,
  );
  // What is picked elsewhere is another thing here: indices belong to one revision.
  const { picks, picking } = useOwnPicks(made?.edited.assembly ?? edited.assembly);
  const named = useMemo<OpenDocuments>(
    () => ({ ...documents, summary: { ...summary, fileName, revision: label } }),
    [documents, summary, fileName, label],
  );
  const machine = useMemo<OpenMachine | null>(
    () =>
      made && {
        findings: withShapeFindings(original.findings, shapes.findings),
        assembly: made.edited.assembly,
        edited,
        original,
        revision,
        treatments: edited.treatments,
        originals: edited.originals,
        facts,
        shapes,
        variant: null,
        counts: occurrenceCounts(edited.assembly),
        billDocument: { id: bills[0].id, content },
        bill: made.bill,
        decisions: made.decisions,
        catalogues,
      },
    [made, original, shapes, edited, revision, facts, bills, content, catalogues],
  );
  if (!machine) return <main className="main centre quiet">Working the list out …</main>;
  return (
    <DocumentsContext.Provider value={named}>
      <ShownMachine machine={machine} picks={picks} picking={picking}>
        {children}
      </ShownMachine>
    </DocumentsContext.Provider>
  );
}
