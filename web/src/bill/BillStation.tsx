import { Button, Menu } from '@mantine/core';
import { IconChartBar, IconDownload, IconPlus } from '@tabler/icons-react';
import { lazy, memo, Suspense, useMemo, useState } from 'react';
import { urlOf, routes } from '../../../contract/src/index.ts';
import {
  billTotals,
  columnFindings,
  idleColumns,
  numbersToKeep,
  type BillFinding,
  type LineWithoutShape,
} from '../../../core/src/bill/index.ts';
import { billShownBy, overtakenFindings, settlingsOf } from '../../../core/src/documents/index.ts';
import { coverageOn } from '../../../core/src/sheets/index.ts';
import { InRevision } from '../data/InRevision.tsx';
import { OpenedBill } from '../data/bills/OpenedBill.tsx';
import { count } from '../count.ts';
import { useDocuments, useMachine, usePicks } from '../data/openProject.ts';
import { useWaiting } from '../data/made/useWaiting.ts';
import type { Flight } from '../model/solid/Fly.tsx';
import { Machine3D } from '../model/Machine3D.tsx';
import { CoverageStrip } from '../shell/CoverageStrip.tsx';
import { BillGrid } from './BillGrid.tsx';
import { BillsBar } from './BillsBar.tsx';
import { RecipeSentence } from './RecipeSentence.tsx';
import { pickedRowOf } from './gridSelection.ts';
import { useBillEdit } from '../lines/useBillEdit.ts';
import { Why } from './Why.tsx';

/** Charts are large and asked for now and then. */
const FormDialog = lazy(() => import('./FormDialog.tsx'));
const ChartDialog = lazy(() => import('./ChartDialog.tsx'));
const CatalogueItemDialog = lazy(() => import('./CatalogueItemDialog.tsx'));

/** The recipe as a sentence, the list as it will read, and the machine with the picked line lit. */
export function BillStation() {
  const { bills } = useDocuments();
  const [wanted, setWanted] = useState<string | null>(null);
  /** Key of the row that was picked in the list: a component may stand in several. */
  const [rowKey, setRowKey] = useState<string | null>(null);
  const [flight, setFlight] = useState<Flight | null>(null);
  const open = bills.find(({ id }) => id === wanted) ?? bills[0];
  return (
    <InRevision revision={open.content.revision}>
      <OpenedBill open={open}>
        <main className="main">
          <section className="bill" aria-label="Bill of materials">
            <BillsBar open={open.id} onOpen={setWanted} />
            <RecipeSentence />
            <Findings />
            <BillGrid key={open.id} rowKey={rowKey} onRow={setRowKey} />
            <BillFoot rowKey={rowKey} />
          </section>
          <aside className="side" aria-label="Where the picked line is">
            <WherePicked rowKey={rowKey} flight={flight} />
            <Why rowKey={rowKey} onFly={(path) => setFlight((before) => ({ path, count: (before?.count ?? 0) + 1 }))} />
          </aside>
        </main>
        <SetCoverage />
      </OpenedBill>
    </InRevision>
  );
}

/** The machine with every part of the picked line lit: a line may be of several components, or of some uses of a symbol. */
function WherePicked({ rowKey, flight }: { readonly rowKey: string | null; readonly flight: Flight | null }) {
  const { bill } = useMachine();
  const { picked, pickedPath } = usePicks();
  const row = bill.rows[pickedRowOf(bill, picked, rowKey)];
  const isWhole = picked !== null && pickedPath === null && row?.components.includes(picked);
  const parts = isWhole && row.components.length > 1 ? row.components : null;
  const also = useMemo(() => (parts ? new Set(parts) : null), [parts]);
  return <Machine3D flight={flight} {...(also ? { also, exact: true } : {})} />;
}

/** What is ballooned on any of the sheets that show the open bill. */
const SetCoverage = memo(function SetCoverage() {
  const { bills, sheets } = useDocuments();
  const { bill, billDocument, assembly } = useMachine();
  const coverage = useMemo(() => {
    const own = sheets.filter(({ content }) => billShownBy(bills, content).id === billDocument.id);
    return own.some(({ content }) => content.balloons.length > 0)
      ? coverageOn(
          bill,
          assembly,
          own.map(({ content }) => content),
        )
      : null;
  }, [bill, billDocument.id, bills, assembly, sheets]);
  const later = useWaiting(billDocument.id, billDocument.content.revision);
  return <CoverageStrip bill={bill} coverage={coverage} later={later} />;
});

const SHOWN = 3;

/** What was noticed while the bill was made, each with what settles it. */
const Findings = memo(function Findings() {
  const {
    bill,
    billDocument: { content: document },
  } = useMachine();
  const { columns } = document;
  const { change } = useBillEdit();
  const [all, setAll] = useState(false);
  const findings = useMemo<readonly BillFinding[]>(
    () => [
      ...overtakenFindings(bill, document),
      ...bill.findings,
      ...columnFindings(bill, columns),
      ...idleColumns(bill, columns),
    ],
    [bill, columns, document],
  );
  if (findings.length === 0) return null;
  return (
    <div className="billfindings" role="region" aria-label="What was noticed in this list">
      {findings.slice(0, all ? undefined : SHOWN).map((finding) => (
        <p key={finding.key ?? finding.message} className="problem">
          <span>{finding.message}</span>
          {settlingsOf(finding, document).map(({ label, undo, command, needsMessage }) => (
            <Button
              key={label}
              size="compact-xs"
              variant="default"
              {...(needsMessage ? { 'aria-label': `${label}: ${finding.message}` } : {})}
              onClick={() => change(undo, command)}
            >
              {label}
            </Button>
          ))}
        </p>
      ))}
      {findings.length > SHOWN && (
        <button className="more" onClick={() => setAll(!all)}>
          {all ? 'Show fewer' : `${findings.length - SHOWN} more`}
        </button>
      )}
    </div>
  );
});

const handedOver = [
  ['xlsx', 'List as XLSX workbook'],
  ['csv', 'List as CSV'],
  ['tsv', 'List as TSV'],
  ['json', 'List as JSON'],
  ['recipe', 'Recipe as JSON, for another project or the command line'],
] as const;

function BillFoot({ rowKey }: { rowKey: string | null }) {
  const { id } = useDocuments();
  const { assembly, bill, billDocument } = useMachine();
  const { picked } = usePicks();
  const { change } = useBillEdit();
  const { columns } = billDocument.content;
  const { pieces, mass, withoutMass, empty } = useMemo(() => bill.totals ?? billTotals(bill, columns), [bill, columns]);
  const open = bill.rows.filter((row) => row.provisional).length;
  const [asking, setAsking] = useState<'chart' | 'item' | 'form' | null>(null);
  const addLine = (more: Pick<LineWithoutShape, 'properties' | 'from'>, label = 'add a line') => {
    const after = bill.rows[pickedRowOf(bill, picked, rowKey)] ?? bill.rows.at(-1);
    const above = after && after.parent >= 0 ? bill.rows[after.parent] : null;
    const line = {
      id: crypto.randomUUID(),
      parent: above ? assembly.components[above.components[0]].key : null,
      after: after?.addresses[0] ?? null,
      quantity: { kind: 'as required' as const },
      ...more,
    };
    change(label, { kind: 'changeLines', remove: [], put: [{ line, at: billDocument.content.lines.length }] });
  };
  return (
    <div className="billfoot">
      <span>
        {count(bill.rows.length, 'line')}, {count(pieces, 'piece')}
        {mass !== null && `, ${mass.toLocaleString('en', { maximumSignificantDigits: 5 })} kg`}
      </span>
      {withoutMass > 0 && <span className="quiet">{withoutMass} without mass</span>}
      {empty.slice(0, 3).map(({ heading, lines }) => (
        <span key={heading} className="quiet">
          {lines} without {heading.toLowerCase()}
        </span>
      ))}
      {open > 0 && (
        <>
          <span>{open} numbers are proposed</span>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => change('take over new numbers', { kind: 'setNumbers', numbers: numbersToKeep(bill) })}
          >
            Take them over
          </Button>
        </>
      )}
      <span className="wide" />
      <Button
        size="compact-sm"
        variant="default"
        leftSection={<IconChartBar size={15} />}
        onClick={() => setAsking('chart')}
      >
        Chart
      </Button>
      <Suspense fallback={null}>
        {asking === 'chart' && <ChartDialog onClose={() => setAsking(null)} />}
        {asking === 'form' && <FormDialog onClose={() => setAsking(null)} />}
        {asking === 'item' && (
          <CatalogueItemDialog
            first={billDocument.content.catalogues?.[0]?.catalogue ?? null}
            onClose={() => setAsking(null)}
            onPick={(catalogue, item, words) => {
              addLine({ properties: {}, from: { catalogue, item: item.id } }, `add ${words}`);
              setAsking(null);
            }}
          />
        )}
      </Suspense>
      <Menu position="top-end">
        <Menu.Target>
          <Button
            size="compact-sm"
            variant="default"
            leftSection={<IconPlus size={15} />}
            title="Grease, paint, a document: a line that no component stands behind, after the picked one"
          >
            Line without a shape
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => addLine({ properties: { Name: { value: 'New line' } } })}>To be typed</Menu.Item>
          <Menu.Item onClick={() => setAsking('item')}>From a catalogue …</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <Menu position="top-end">
        <Menu.Target>
          <Button size="compact-sm" variant="default" leftSection={<IconDownload size={15} />}>
            Hand over
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {handedOver.map(([format, words]) => (
            <Menu.Item
              key={format}
              component="a"
              href={urlOf(routes.outputs.bill, { params: { id, document: billDocument.id, format } })}
              download
            >
              {words}
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Item onClick={() => setAsking('form')}>In the company’s own form …</Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </div>
  );
}
