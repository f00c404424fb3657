import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import type { Coverage } from '../../../core/src/balloons/index.ts';
import type { Bill } from '../../../core/src/bill/index.ts';
import { count } from '../count.ts';
import { useProject } from '../data/ProjectContext.tsx';

const GAP = 4; // px between tiles

export interface CoverageStripProps {
  /** The list as it reads. */ readonly bill: Bill;
  /** What is ballooned, or null where there is no sheet to look at. */ readonly coverage: Coverage | null;
  /** A line without a balloon was picked: one may be placed. */ readonly onMissing?: (row: number) => void;
}

/** One tile per line of the list: is it ballooned once, never, twice? */
export function CoverageStrip({ bill, coverage, onMissing }: CoverageStripProps) {
  const { picked, pick } = useProject();
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
            const isPicked = picked !== null && row.components.includes(picked);
            return (
              <button
                key={row.key}
                style={{ position: 'absolute', left: start, width: size - GAP }}
                className={`tile ${state}${isPicked ? ' picked' : ''}`}
                title={`${row.item}: ${words[state]}${onMissing ? (placeWords[state] ?? '') : ''}`}
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
      </span>
    </footer>
  );
}

/** In plain words, as in the strip. */
export function coverageWords({ rows, ballooned, missing, doubled, hanging, excused, elsewhere }: Coverage): string {
  const here = rows - excused.length - elsewhere.length;
  const list = (items: readonly string[]) =>
    items.length > 4 ? `${items.slice(0, 3).join(', ')} and ${items.length - 3} more` : items.join(', ');
  return [
    here > 0 && `${ballooned} of ${here} ballooned once`,
    missing.length > 0 && `${list(missing)} missing`,
    doubled.length > 0 && `${list(doubled)} doubled`,
    hanging.length > 0 && `${hanging.length} hanging`,
    elsewhere.length > 0 && `${elsewhere.length} on other sheets`,
    excused.length > 0 && `${excused.length} need none`,
  ]
    .filter(Boolean)
    .join(' · ');
}
