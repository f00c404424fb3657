import type { RowIndex } from '../../../core/src/assembly/index.ts';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import type { Coverage } from '../../../core/src/balloons/index.ts';
import type { Bill } from '../../../core/src/bill/index.ts';
import { count } from '../count.ts';
import { usePicking, usePicks } from '../data/openProject.ts';
import { lineChange, type Waiting } from '../data/made/useWaiting.ts';

const GAP = 4; // px between tiles

interface CoverageStripProps {
  /** The list as it reads. */ readonly bill: Bill;
  /** What is ballooned, or null where there is no sheet to look at. */ readonly coverage: Coverage | null;
  /** What taking the newest revision over would do to the lines; null where nothing waits. */ readonly later: Waiting | null;
  /** A line without a balloon was picked: one may be placed. */ readonly onMissing?: (row: RowIndex) => void;
}

/** One tile per line of the list: is it ballooned once, never, twice? */
export function CoverageStrip({ bill, coverage, later, onMissing }: CoverageStripProps) {
  const { picked } = usePicks();
  const { pick } = usePicking();
  const { missing, doubled, excused, elsewhere } = useMemo(
    () => ({
      missing: new Set(coverage?.missing),
      doubled: new Set(coverage?.doubled),
      excused: new Set(coverage?.excused),
      elsewhere: new Set(coverage?.elsewhere),
    }),
    [coverage],
  );
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    horizontal: true,
    count: bill.rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => Math.max(24, bill.rows[index].item.length * 7 + 11) + GAP,
    overscan: 20,
  });
  const { rows } = bill;
  useEffect(() => virtual.measure(), [rows]); // eslint-disable-line react-hooks/exhaustive-deps -- other lines have other widths
  const stateOf = (item: string) =>
    !coverage
      ? 'plain'
      : missing.has(item)
        ? 'missing'
        : doubled.has(item)
          ? 'doubled'
          : excused.has(item)
            ? 'excused'
            : elsewhere.has(item)
              ? 'elsewhere'
              : 'once';
  const words = {
    missing: 'no balloon',
    doubled: 'more than one balloon',
    excused: 'needs no balloon',
    elsewhere: 'ballooned on another sheet',
    once: 'ballooned once',
    plain: 'no sheet yet',
  };
  const placeWords: Readonly<Partial<Record<keyof typeof words, string>>> = {
    missing: '; click to place it',
    elsewhere: '; double-click to place it here too',
  };
  return (
    <footer className="strip" aria-label="Which items are ballooned">
      <div className="tiles" ref={scroller}>
        <div style={{ position: 'relative', flex: 'none', height: 24, width: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start, size }) => {
            const row = bill.rows[index];
            const state = stateOf(row.item);
            const change = later?.lines.get(row.item);
            const isPicked = picked !== null && row.components.includes(picked);
            return (
              <button
                key={row.key}
                style={{ position: 'absolute', left: start, width: size - GAP }}
                className={`tile ${state}${isPicked ? ' picked' : ''}${change ? ' waits' : ''}`}
                title={`${row.item}: ${words[state]}${onMissing ? (placeWords[state] ?? '') : ''}${change ? `; ${lineChange(change)} in ${later!.name}` : ''}`}
                onClick={() => {
                  if (state === 'missing' && onMissing) {
                    pick(row.components[0] ?? null);
                    return onMissing(index);
                  }
                  pick(isPicked ? null : (row.components[0] ?? null));
                }}
                // Once more for what another sheet shows: it may have one here too.
                onDoubleClick={() => state === 'elsewhere' && onMissing?.(index)}
              >
                {row.item}
              </button>
            );
          })}
        </div>
      </div>
      <span className="words">
        {coverage ? coverageWords(coverage) : `${count(bill.rows.length, 'line')}, no sheet yet`}
        {later && <span className="later">{laterWords(later)}</span>}
      </span>
    </footer>
  );
}

/** "revision B: 17, 20 change · 61 goes · 62 comes". */
function laterWords({ name, lines, comes }: Waiting): string {
  const of = (kind: 'changed' | 'removed') =>
    [...lines.values()].filter((line) => line.kind === kind).map(({ item }) => item);
  const part = (items: readonly string[], one: string, several: string) =>
    items.length > 0 && `${few(items)} ${items.length === 1 ? one : several}`;
  const parts = [
    part(of('changed'), 'changes', 'change'),
    part(of('removed'), 'goes', 'go'),
    part(comes, 'comes', 'come'),
  ].filter(Boolean);
  return `${name}: ${parts.join(' · ')}`;
}
const few = (items: readonly string[]): string =>
  items.length > 4 ? `${items.slice(0, 3).join(', ')} and ${items.length - 3} more` : items.join(', ');

/** In plain words, as in the strip. */
function coverageWords({ rows, ballooned, missing, doubled, hanging, excused, elsewhere }: Coverage): string {
  const here = rows - excused.length - elsewhere.length;
  return [
    here > 0 && `${ballooned} of ${here} ballooned once`,
    missing.length > 0 && `${few(missing)} missing`,
    doubled.length > 0 && `${few(doubled)} doubled`,
    hanging.length > 0 && `${hanging.length} hanging`,
    elsewhere.length > 0 && `${elsewhere.length} on other sheets`,
    excused.length > 0 && `${excused.length} need none`,
  ]
    .filter(Boolean)
    .join(' · ');
}
