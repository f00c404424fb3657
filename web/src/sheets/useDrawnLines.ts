import { useEffect, useState } from 'react';
import { ownLines, viewPen, type Sheet } from '../../../core/src/sheets/index.ts';
import { visibleLines, type ViewLines } from '../../../core/src/views/index.ts';
import { solver } from '../data/made/solver.ts';

/** What was worked out, by pen; the last few of each view. */
const known = new WeakMap<ViewLines, Map<number, ViewLines>>();
const asked = new WeakMap<ViewLines, Set<number>>();
const KEPT = 4;
/** Whole lines while the first thinning of a view is on its way. */
const whole = new WeakMap<ViewLines, ViewLines>();

function latest(lines: ViewLines, pen: number): ViewLines {
  const made = known.get(lines);
  const found = made?.get(pen) ?? (made && [...made.values()].at(-1));
  if (found) return found;
  let all = whole.get(lines);
  if (!all) whole.set(lines, (all = visibleLines(lines)));
  return all;
}

/**
 * What of each view is drawn at its scale with the pens of the paper. Which lines would clot is worked out in a worker;
 * until it is known the lines are those of the scale before, or all of them.
 */
export function useDrawnLines(
  { views, paper }: Pick<Sheet, 'views' | 'paper'>,
  lines: ReadonlyMap<string, ViewLines>,
): ReadonlyMap<string, ViewLines> {
  const [, setMade] = useState(0);
  const wanted = views.flatMap((view) => {
    const own = ownLines(view, lines);
    return own ? [{ id: view.id, own, pen: viewPen(view, paper) }] : [];
  });
  useEffect(() => {
    for (const { own, pen } of wanted) {
      const before = asked.get(own) ?? new Set();
      if (known.get(own)?.has(pen) || before.has(pen)) continue;
      asked.set(own, before.add(pen));
      void solver()
        .thin(own, pen)
        .then((thinned) => {
          const made = known.get(own) ?? new Map<number, ViewLines>();
          known.set(own, made.set(pen, thinned));
          for (const old of [...made.keys()].slice(0, -KEPT)) made.delete(old);
          setMade((count) => count + 1);
        })
        .finally(() => before.delete(pen));
    }
  });
  return new Map(wanted.map(({ id, own, pen }) => [id, latest(own, pen)]));
}
