import { useMemo, useRef, useState } from 'react';
import type { Balloon } from '../../../../../core/src/balloons/index.ts';
import type { Vec2 } from '../../../../../core/src/geometry/index.ts';
import {
  keepOnPaper,
  leaderEndAt,
  leaderPlaces,
  type LeaderPlace,
  type SheetView,
} from '../../../../../core/src/sheets/index.ts';
import { useProject } from '../../../data/openProject.ts';
import { useSpots } from '../../../data/made/views.ts';
import type { OnPaper, PaperTool } from './paperTool.ts';
import type { Measuring } from './useMeasuring.ts';

/** Shown as dots at most; the nearest one to the pointer is found among all. */
const MOST_SHOWN = 300;

const NONE: readonly SheetView[] = [];

/**
 * One balloon put by hand: a place on the part is touched, then the balloon is pulled out to where it stands. Keys move the
 * same point as the pointer does.
 */
export function usePlacing(
  { id, sheet, layout, inputs, onDraft, choose }: OnPaper,
  measuring: Measuring | null,
  onMeasuring: (measuring: Measuring | null) => void,
) {
  const project = useProject();
  const { assembly, perform } = project;
  const wanted = measuring?.kind === 'balloon' ? measuring : null;
  const { spots: seen, waiting } = useSpots(project, wanted ? sheet.views : NONE);
  const arrived = seen.map((one) => (one ? 1 : 0)).join('');
  const { bill } = inputs;
  const row = wanted?.row ?? -1;
  /** Places of the line in all views, each with its view. */
  const places = useMemo(
    () =>
      sheet.views.flatMap((view, at) => {
        const laid = layout.views.find((one) => one.view.id === view.id);
        const spots = seen[at];
        if (!wanted || !laid || !spots) return [];
        return leaderPlaces(laid, spots, { assembly, bill })
          .filter((place) => place.row === row)
          .map((place) => ({ ...place, view: view.id, middle: laid.view.centre }));
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `arrived` says what is seen; views as they are stored
    [wanted !== null, row, arrived, sheet.views, assembly, bill],
  );
  const [hit, setHit] = useState<(typeof places)[number] | null>(null);
  const spot = useRef<Vec2 | null>(null);
  const first = wanted?.place ?? null;
  const balloonAt = (place: LeaderPlace & { view: string; middle: Vec2 }, at: Vec2, name: string): Balloon => {
    const [x, y] = keepOnPaper(sheet.paper, at);
    return {
      id: name,
      view: place.view,
      path: place.path,
      anchor: place.anchor,
      end: place.end,
      offset: [x - place.middle[0], y - place.middle[1]],
      byHand: true,
    };
  };
  const chosen = first ? places.find(({ view, point }) => view === first.view && point === first.point) : undefined;
  const nearest = (at: Vec2) => (leaderEndAt(places, at)?.place ?? null) as (typeof places)[number] | null;
  const lookAt = (at: Vec2) => {
    spot.current = at;
    if (chosen) onDraft({ ...sheet, balloons: [...sheet.balloons, balloonAt(chosen, at, 'placing')] });
    else setHit(nearest(at));
  };
  const takeAt = (at: Vec2) => {
    if (!wanted) return;
    const found = chosen ? null : nearest(at);
    if (!chosen) {
      if (found) onMeasuring({ ...wanted, place: { view: found.view, point: found.point } });
      return;
    }
    onDraft(null);
    const made = balloonAt(chosen, at, crypto.randomUUID());
    perform('place a balloon', { document: id, command: { kind: 'changeBalloons', remove: [], put: [made] } });
    onMeasuring(null);
    setHit(null);
    spot.current = null;
    choose([{ kind: 'balloon', id: made.id }]);
  };
  const tool: PaperTool = {
    cursor: 'crosshair',
    steps: [2, 10, 0.2],
    lookAt,
    takeAt,
    step: (by) => {
      const [x, y] = spot.current ?? chosen?.point ?? places[0]?.point ?? [0, 0];
      lookAt([x + by[0], y + by[1]]);
    },
    takeHere: () => takeAt(spot.current ?? chosen?.point ?? places[0]?.point ?? [0, 0]),
    leave: () => onMeasuring(null),
  };
  return {
    tool: wanted && tool,
    /** While the views are looked through. */
    waits: wanted !== null && waiting,
    /** Whether the line can be seen anywhere on the sheet. */
    hasPlaces: places.length > 0,
    isPulled: chosen !== undefined,
    shown: wanted && !chosen ? places.slice(0, MOST_SHOWN) : [],
    hit: wanted && !chosen && hit?.row === row ? hit : null,
  };
}
