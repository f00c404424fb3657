import { Button } from '@mantine/core';
import { Fragment, useRef, useState, type KeyboardEvent } from 'react';
import { groupBy } from '../../../core/src/assembly/index.ts';
import type { OrderLine } from '../../../core/src/buying/index.ts';
import { mixWords } from '../../../core/src/formats/index.ts';
import { lineOf } from './lineOf.ts';
import type { PaneProps } from './paneProps.ts';
import { amount, money, price } from './words.ts';
import { LineHeads } from './LineHeads.tsx';

/** What to order, by supplier with a sum for each, and what is made at the end. */
/** Rows that are drawn at first, and more with each wish: thousands at once would hold up the page. */
const ROWS = 400;

export function OrderTable({ open, buying, picked, hovered, onPick, onHover }: PaneProps) {
  const [shown, setShown] = useState(ROWS);
  const { currency } = open.content;
  const body = useRef<HTMLTableElement>(null);
  const groups = [
    ...groupBy(buying.order.slice(0, shown), (line) => (line.kind === 'make' ? '\u0000made' : line.supplier)),
  ];
  const move = (event: KeyboardEvent, by: number) => {
    event.preventDefault();
    const rows = [...(body.current?.querySelectorAll<HTMLElement>('tr[tabindex]') ?? [])];
    rows[rows.indexOf(event.currentTarget as HTMLElement) + by]?.focus();
  };
  if (buying.order.length === 0)
    return <p className="quiet padded">Nothing has to be ordered: everything is there, or the list is empty.</p>;
  return (
    <>
      <table className="order" ref={body}>
        <thead>
          <tr>
            <LineHeads />
            <th>Bought as</th>
            <th className="number">Each [{currency}]</th>
            <th className="number">Cost [{currency}]</th>
            <th className="number">Days</th>
          </tr>
        </thead>
        <tbody>
          {groups.map(([supplier, lines]) => (
            <Fragment key={supplier}>
              <tr className="supplier">
                <th colSpan={6} scope="rowgroup">
                  {supplier === '\u0000made' ? 'Made' : supplier || 'Supplier not said'}
                </th>
                <td className="number">{sumOf(lines)}</td>
                <td />
              </tr>
              {lines.map((line) => {
                const key = lineOf(buying, line);
                return (
                  <tr
                    key={line.key}
                    tabIndex={0}
                    aria-selected={key !== null && key === picked}
                    className={key === null ? '' : key === picked ? 'picked' : key === hovered ? 'hovered' : ''}
                    onMouseEnter={() => onHover(key)}
                    onMouseLeave={() => onHover(null)}
                    onClick={() => onPick(key)}
                    onKeyDown={(event) => {
                      if (event.key === 'Enter' || event.key === ' ') {
                        event.preventDefault();
                        onPick(key);
                      }
                      if (event.key === 'ArrowDown') move(event, 1);
                      if (event.key === 'ArrowUp') move(event, -1);
                    }}
                  >
                    <td className="item">{line.items.join(', ')}</td>
                    <td>{line.partNumber}</td>
                    <td>{line.name}</td>
                    <td className="number">{amount(line)}</td>
                    <td className="quiet">
                      {mixWords(line) || (line.kind === 'bar' ? 'bar' : '')}
                      <Saving line={line} currency={currency} />
                    </td>
                    <td className="number">{line.unitPrice === null ? '' : price(line.unitPrice)}</td>
                    <td className="number">
                      {line.cost === null ? <span className="unknown">not known</span> : money(line.cost)}
                    </td>
                    <td className="number">{line.leadDays ?? ''}</td>
                  </tr>
                );
              })}
            </Fragment>
          ))}
        </tbody>
      </table>
      {buying.order.length > shown && (
        <Button size="compact-xs" variant="default" m="sm" onClick={() => setShown(shown + ROWS)}>
          Show more of {buying.order.length - shown}
        </Button>
      )}
    </>
  );
}

/** More is bought than needed, since that costs less. */
function Saving({ line: { mix }, currency }: { line: OrderLine; currency: string }) {
  if (!mix || mix.over === 0) return null;
  return (
    <span className="saving">
      {' '}
      {mix.over} over
      {mix.exactly !== null && `, ${money(mix.exactly - mix.cost)} ${currency} less than the exact number`}
    </span>
  );
}

function sumOf(lines: readonly OrderLine[]): string {
  const known = lines.filter(({ cost }) => cost !== null);
  return known.length === 0 ? '' : money(known.reduce((sum, { cost }) => sum + cost!, 0));
}
