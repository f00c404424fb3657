import { useMemo, useState } from 'react';
import type { Vec2 } from '../../../../../core/src/geometry/index.ts';
import {
  leaderEndAt,
  leaderPlaces,
  nextLeaderEnd,
  withLeaderEnd,
  type LeaderPlace,
  type Sheet,
  type SheetView,
} from '../../../../../core/src/sheets/index.ts';
import { useProject } from '../../../data/openProject.ts';
import { useSpots } from '../../../data/made/views.ts';
import type { OnPaper } from './paperTool.ts';

const NONE: readonly SheetView[] = [];

/** The end of the picked balloon's leader: dragged over its part, or taken from place to place by arrow keys. */
export function useLeaderEnds({ id, sheet, layout, inputs, thing }: OnPaper) {
  const project = useProject();
  const { assembly, perform } = project;
  const isOf = thing?.kind === 'balloon' || thing?.kind === 'leaderEnd';
  const stored = isOf ? sheet.balloons.find((one) => one.id === thing.id) : undefined;
  const view = sheet.views.find((one) => one.id === stored?.view);
  const laid = layout.views.find((one) => one.view.id === stored?.view);
  const row = layout.balloons.find(({ balloon }) => balloon.id === stored?.id)?.row ?? -1;
  const [spots] = useSpots(project, view ? [view] : NONE).spots;
  const { bill } = inputs;
  const places = useMemo(
    () => (laid && spots ? leaderPlaces(laid, spots, { assembly, bill }) : []),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the view as it is stored; it is laid out anew at every move of the pointer
    [view, laid === undefined, spots, assembly, bill],
  );
  /** What is said beside the pointer while it is dragged. */
  const [said, setSaid] = useState<{ readonly at: Vec2; readonly text: string; readonly warns: boolean } | null>(null);
  const nameOf = (of: number) => {
    const { item, components } = bill.rows[of];
    const component = components.length > 0 ? assembly.components[components[0]] : undefined;
    return [item, component?.name || component?.partNumber].filter(Boolean).join(' ');
  };
  const draftAt = (point: Vec2): { readonly draft: Sheet; readonly place: LeaderPlace } | null => {
    const found = stored && row >= 0 ? leaderEndAt(places, point, row) : null;
    if (!found || !stored) return null;
    const { place, over } = found;
    const clear = `${place.end === 'dot' ? 'face' : 'edge'}, ${place.room.toFixed(1)} mm free`;
    setSaid({
      at: point,
      text: over === null ? `${nameOf(row)}: ${clear}` : `That is ${nameOf(over)}; the leader stays on ${nameOf(row)}`,
      warns: over !== null || !place.isClear,
    });
    const moved = withLeaderEnd(stored, place);
    return { place, draft: { ...sheet, balloons: sheet.balloons.map((one) => (one.id === moved.id ? moved : one)) } };
  };
  const keep = (place: LeaderPlace) => {
    if (!stored) return;
    perform('end of a leader', {
      document: id,
      command: { kind: 'changeBalloons', remove: [], put: [withLeaderEnd(stored, place)] },
    });
  };
  return {
    said,
    clearSaid: () => setSaid(null),
    draftAt,
    keep,
    /** To the next place that way. */
    step: (way: Vec2) => {
      const from = layout.balloons.find(({ balloon }) => balloon.id === stored?.id)?.anchor;
      const next = from && row >= 0 ? nextLeaderEnd(places, from, way, row) : null;
      if (next) keep(next);
    },
  };
}
