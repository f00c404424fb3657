import { Button, Menu } from '@mantine/core';
import { IconDownload } from '@tabler/icons-react';
import { useMemo } from 'react';
import { partLabel } from '../../../core/src/assembly/index.ts';
import { numbersToKeep } from '../../../core/src/bill/index.ts';
import { layOutSheet } from '../../../core/src/sheets/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { Machine3D } from '../model/Machine3D.tsx';
import { Thumb } from '../shell/Thumb.tsx';
import { CoverageStrip } from '../shell/CoverageStrip.tsx';
import { useSheetInputs } from '../sheets/useSheetInputs.ts';
import { BillGrid } from './BillGrid.tsx';
import { RecipeSentence } from './RecipeSentence.tsx';

/** The recipe as a sentence, the list as it will read, and the machine with the picked line lit. */
export function BillStation() {
  const { bill, sheets } = useProject();
  return (
    <>
      <main className="main">
        <section className="bill" aria-label="Bill of materials">
          <RecipeSentence />
          {bill.findings.map(({ message }) => <p key={message} className="problem" style={{ margin: '8px 20px 0' }}>{message}</p>)}
          <BillGrid />
          <BillFoot />
        </section>
        <aside className="side" aria-label="Where the picked line is">
          <Machine3D />
          <Why />
        </aside>
      </main>
      {sheets.length > 0 ? <SheetCoverage sheet={sheets[0]} /> : <CoverageStrip bill={bill} coverage={null} />}
    </>
  );
}

function SheetCoverage({ sheet }: { sheet: ReturnType<typeof useProject>['sheets'][number] }) {
  const { bill } = useProject();
  const { inputs, waiting } = useSheetInputs(sheet.content);
  const coverage = useMemo(() => layOutSheet(inputs).coverage, [inputs]);
  return <CoverageStrip bill={bill} coverage={waiting || sheet.content.balloons.length === 0 ? null : coverage} />;
}

function BillFoot() {
  const { id, bill, billDocument, perform } = useProject();
  const pieces = bill.rows.filter((row) => !row.opened).reduce((sum, row) => sum + row.totalQuantity, 0);
  const open = bill.rows.filter((row) => row.provisional).length;
  const keep = () => perform('take over new numbers', { document: billDocument.id, command: { kind: 'setNumbers', numbers: numbersToKeep(bill) } });
  return (
    <div className="billfoot">
      <span>{bill.rows.length} lines, {pieces} pieces</span>
      {open > 0 && <><span>{open} numbers are proposed</span><Button size="compact-xs" variant="default" onClick={keep}>Take them over</Button></>}
      <span className="wide" />
      <Menu position="top-end">
        <Menu.Target><Button size="compact-sm" variant="default" leftSection={<IconDownload size={15} />}>Hand over</Button></Menu.Target>
        <Menu.Dropdown>
          <Menu.Item component="a" href={`/api/projects/${id}/bills/${billDocument.id}/csv`} download>List as CSV</Menu.Item>
          <Menu.Item component="a" href={`/api/projects/${id}/bills/${billDocument.id}/tsv`} download>List as TSV</Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </div>
  );
}

/** Where the pieces of the picked line are. */
function Why() {
  const { assembly, bill, picked, counts } = useProject();
  const row = picked === null ? undefined : bill.rows.find(({ components }) => components.includes(picked));
  const places = useMemo(() => assembly.components.flatMap((parent, index) => {
    const own = parent.usages.filter(({ child }) => row?.components.includes(child)).reduce((sum, { quantity }) => sum + quantity, 0);
    return own > 0 ? [{ key: parent.key, name: parent.name || partLabel(parent), each: own, times: counts[index] }] : [];
  }), [assembly, counts, row]);
  if (!row) return <div className="why quiet">Pick a line to see where its pieces are.</div>;
  const first = assembly.components[row.components[0]];
  return (
    <div className="why">
      <div className="inspector-head"><Thumb component={first} size={44} /><span className="quiet">Item {row.item}</span></div>
      <h2>Why {places.reduce((sum, { each, times }) => sum + each * times, 0) || row.totalQuantity} × {first.name || partLabel(first)}?</h2>
      {places.map(({ key, name, each, times }) => <div key={key}><span>{name}{times > 1 ? `, ${times} times` : ''}</span><span className="number">{times > 1 ? `${times} × ${each}` : each}</span></div>)}
    </div>
  );
}
