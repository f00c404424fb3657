import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useLocation, useParams } from 'react-router';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { drawSheet, type Sheet, type SheetThing, type SheetView } from '../../../core/src/sheets/index.ts';
import { InRevision } from '../data/InRevision.tsx';
import { OpenedBill } from '../data/bills/OpenedBill.tsx';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { useWaiting } from '../data/made/useWaiting.ts';
import { CoverageStrip } from '../shell/CoverageStrip.tsx';
import type { PlaceThere } from '../data/links.ts';
import { PaperSurface } from './surface/PaperSurface.tsx';
import type { Measuring } from './surface/tools/useMeasuring.ts';
import { SheetInspector } from './inspector/SheetInspector.tsx';
import { SheetList, useSheetList } from './SheetList.tsx';
import { useSheetInputs } from './useSheetInputs.ts';
import { Verbs } from './Verbs.tsx';

/** Paper in the middle, verbs above it, the sheets of the set at the left, what is picked at the right. */
export function SheetsStation() {
  const { sheets, bills } = useDocuments();
  const { sheet: wanted } = useParams();
  const { add } = useSheetList();
  const sheet = sheets.find(({ id }) => id === wanted) ?? sheets[0];
  if (!sheet)
    return (
      <main className="main">
        <div className="centre">
          <p>This project has no sheet.</p>
          <Button onClick={() => void add('Assembly')}>New sheet</Button>
        </div>
      </main>
    );
  return (
    <InRevision revision={sheet.content.revision}>
      <OpenedBill open={billShownBy(bills, sheet.content)}>
        <OpenSheet key={sheet.id} id={sheet.id} stored={sheet.content} />
      </OpenedBill>
    </InRevision>
  );
}

function OpenSheet({ id, stored }: { id: string; stored: Sheet }) {
  const { bills, sheets } = useDocuments();
  const { bill } = useMachine();
  /** What the sheet reads while something is dragged; null otherwise. */
  const [draft, setDraft] = useState<Sheet | null>(null);
  const [things, setThings] = useState<readonly SheetThing[]>([]);
  // Another sheet may have sent a line here, to be ballooned where it is seen best.
  const sent = (useLocation().state as Partial<PlaceThere> | null)?.place;
  const [measuring, setMeasuring] = useState<Measuring | null>(
    sent === undefined ? null : { kind: 'balloon', row: sent },
  );
  const setThing = (thing: SheetThing | null) => setThings(thing ? [thing] : []);
  const [ghost, setGhost] = useState<SheetView | null>(null);
  const { inputs, waiting, failed } = useSheetInputs(id, draft ?? stored);
  const place = { sheet: sheets.findIndex((sheet) => sheet.id === id) + 1, of: sheets.length };
  const drawn = useMemo(
    () => drawSheet(inputs, { sheet: place.sheet, of: place.of, viewLines: false }),
    [inputs, place.sheet, place.of],
  );
  const later = useWaiting(billShownBy(bills, stored).id, stored.revision);
  return (
    <>
      <main className="main">
        <section className="sheets" aria-label="Sheet">
          <Verbs id={id} sheet={stored} inputs={inputs} onGhost={setGhost} onThing={setThing} />
          <SheetList open={id} drawn={drawn} onSheet={() => setThing(null)} />
          <PaperSurface
            id={id}
            sheet={stored}
            drawn={drawn}
            inputs={inputs}
            onDraft={setDraft}
            things={things}
            onThings={setThings}
            measuring={measuring}
            onMeasuring={setMeasuring}
            ghost={ghost}
            onGhost={setGhost}
            waiting={waiting}
            failed={failed}
          />
        </section>
        <SheetInspector
          id={id}
          place={place}
          sheet={stored}
          inputs={inputs}
          drawn={drawn}
          thing={things.length === 1 ? things[0] : null}
          things={things}
          onThing={setThing}
          onMeasuring={setMeasuring}
        />
      </main>
      <CoverageStrip
        bill={bill}
        coverage={drawn.layout.coverage}
        later={later}
        onMissing={(row) => setMeasuring({ kind: 'balloon', row })}
      />
    </>
  );
}
