import { Button, SegmentedControl } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useMemo, useState } from 'react';
import type { Buying } from '../../../core/src/buying/index.ts';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { addPlan } from '../data/buying.ts';
import { InRevision } from '../data/InRevision.tsx';
import { useDocuments, useMachine, usePicking, usePicks } from '../data/openProject.ts';
import { Machine3D } from '../model/Machine3D.tsx';
import { count } from '../count.ts';
import { BarsView } from './BarsView.tsx';
import { IssuedOrders } from './IssuedOrders.tsx';
import { lineAt } from './lineOf.ts';
import { LinePanel } from './LinePanel.tsx';
import { OrderTable } from './OrderTable.tsx';
import type { PaneProps } from './paneProps.ts';
import { PlansBar } from './PlansBar.tsx';
import { PlanSentence } from './PlanSentence.tsx';
import { UnknownList } from './UnknownList.tsx';
import { useBuying } from './useBuying.ts';
import type { StoredPlan } from './usePlanEdit.ts';
import { days, money } from './words.ts';

/** Charts are large. */
const DriversChart = lazy(() => import('./DriversChart.tsx'));

/** What to order, how to cut it, what it costs: the order list, bars drawn with their cuts, charts, what is not known. */
export function BuyingStation() {
  const { plans, bills } = useDocuments();
  const [wanted, setWanted] = useState<string | null>(null);
  const open = plans.find(({ id }) => id === wanted) ?? plans[0];
  if (!open) return <NoPlan onMade={setWanted} />;
  const { content: bill } = billShownBy(bills, { bill: open.content.bill });
  return (
    <InRevision revision={bill.revision}>
      <OpenPlan key={open.id} open={open} onOpen={setWanted} />
    </InRevision>
  );
}

function NoPlan({ onMade }: { onMade: (id: string) => void }) {
  const { id } = useDocuments();
  const queries = useQueryClient();
  const make = async () => {
    try {
      const made = await addPlan(id, 'Buying');
      await queries.invalidateQueries({ queryKey: ['project', id] });
      onMade(made);
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  return (
    <main className="main centre">
      <div className="nothing">
        <h2>What is there to buy?</h2>
        <p>
          A plan counts what so many machines need, orders it from suppliers in the cheapest packs, and cuts tubes and
          bars from stock.
        </p>
        <Button onClick={() => void make()}>Plan buying</Button>
      </div>
    </main>
  );
}

type Pane = 'order' | 'bars' | 'drivers' | 'unknown' | 'issued';

function OpenPlan({ open, onOpen }: { open: StoredPlan; onOpen: (id: string | null) => void }) {
  const { content: plan } = open;
  const { orders } = useDocuments();
  const { assembly } = useMachine();
  const { picked } = usePicks();
  const { pick } = usePicking();
  const { buying, job, stop, again, error } = useBuying(plan);
  const [pane, setPane] = useState<Pane>('order');
  /** Key of the line of the requirement that was picked here: a part may stand in several. */
  const [lineKey, setLineKey] = useState<string | null>(null);
  const indexOf = useMemo(
    () => new Map(assembly.components.map(({ key }, index) => [key as string, index])),
    [assembly],
  );
  const lines = buying?.requirement.lines ?? [];
  const pickedKey = picked === null ? null : (assembly.components[picked].key as string);
  const [hovered, setHovered] = useState<string | null>(null);
  const own = buying ? lineAt(buying, lineKey) : undefined;
  const line =
    (own && (own.components.length === 0 || has(own.components, pickedKey)) ? own : undefined) ??
    (pickedKey === null ? undefined : lines.find(({ components }) => has(components, pickedKey)));
  const pickLine = (key: string | null) => {
    setLineKey(key);
    const found = buying ? lineAt(buying, key) : undefined;
    const index = found?.components.map((component) => indexOf.get(component)).find((one) => one !== undefined);
    pick(index ?? null);
  };
  const also = useMemo(() => {
    const lit = buying && hovered !== null ? lineAt(buying, hovered) : undefined;
    const keys = [...(line?.components ?? []), ...(lit?.components ?? [])];
    const indices = keys.flatMap((key) => indexOf.get(key) ?? []);
    return indices.length > 0 ? new Set(indices) : null;
  }, [buying, hovered, line, indexOf]);
  const unknown = buying?.cost.unknown.length ?? 0;
  const cut = buying?.planned.length ?? 0;
  const of: PaneProps | null = buying && {
    open,
    buying,
    picked: line?.key ?? null,
    hovered,
    onPick: pickLine,
    onHover: setHovered,
  };
  return (
    <main className="main">
      <section className="bill buying" aria-label="Buying">
        <PlansBar open={open} buying={buying} onOpen={onOpen} onIssued={() => setPane('issued')} />
        <PlanSentence open={open} />
        <div className="buyinghead">
          <SegmentedControl
            size="xs"
            aria-label="What is shown"
            value={pane}
            onChange={(value) => setPane(value as Pane)}
            data={[
              { value: 'order', label: 'To order' },
              { value: 'bars', label: `Bars and cuts${cut > 0 ? ` (${cut})` : ''}` },
              { value: 'drivers', label: 'What drives it' },
              { value: 'unknown', label: `Not known (${unknown})` },
              { value: 'issued', label: `Issued (${orders.length})` },
            ]}
          />
          {job && (
            <span className="working" role="status">
              {job.progress.step} …{' '}
              <Button size="compact-xs" variant="default" onClick={stop}>
                Stop, keep the best
              </Button>
            </span>
          )}
        </div>
        {error && <p className="problem">{error}</p>}
        {!of && !error && <div className="centre quiet">Working out what is needed …</div>}
        {of && (
          <div className="buyingpane">
            {pane === 'order' && <OrderTable {...of} />}
            {pane === 'bars' && <BarsView {...of} onAgain={again} />}
            {pane === 'drivers' && (
              <Suspense fallback={null}>
                <DriversChart {...of} />
              </Suspense>
            )}
            {pane === 'unknown' && <UnknownList {...of} />}
            {pane === 'issued' && <IssuedOrders {...of} />}
          </div>
        )}
        {buying && <Foot buying={buying} currency={plan.currency} onUnknown={() => setPane('unknown')} />}
      </section>
      <aside className="side" aria-label="Where the picked line is">
        <Machine3D {...(also ? { also, exact: true } : {})} />
        {of && <LinePanel {...of} line={line ?? null} />}
      </aside>
    </main>
  );
}
const has = (components: readonly string[], key: string | null): boolean => key !== null && components.includes(key);

/** What it comes to, in one line. */
function Foot({ buying, currency, onUnknown }: { buying: Buying; currency: string; onUnknown: () => void }) {
  const { cost, lead, planned } = buying;
  const bars = planned.reduce((sum, { plan }) => sum + (plan?.bars.reduce((all, bar) => all + bar.count, 0) ?? 0), 0);
  return (
    <div className="billfoot" role="status">
      <strong>
        {money(cost.known)} {currency}
      </strong>
      {cost.unknown.length > 0 && (
        <button className="linklike" onClick={onUnknown}>
          and {count(cost.unknown.length, 'line')} whose cost is not known
        </button>
      )}
      {bars > 0 && <span>{count(bars, 'bar')}</span>}
      <span className="ellipsis" title={lead.because.map(({ name, days: own }) => `${name}: ${days(own)}`).join('\n')}>
        {lead.days === null
          ? 'no lead time is known'
          : `${days(lead.days)}, because of ${lead.because.map(({ name, days: own }) => `${name} (${days(own)})`).join(' after ') || 'nothing'}`}
      </span>
    </div>
  );
}
