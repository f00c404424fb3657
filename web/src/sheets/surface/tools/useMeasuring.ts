import { useRef, useState } from 'react';
import type { Vec2 } from '../../../../../core/src/geometry/index.ts';
import { dimensionFacts, measurableAt, roundNear, type Measurable } from '../../../../../core/src/sheets/index.ts';
import { useDoing } from '../../../data/openProject.ts';
import type { OnPaper, PaperTool } from './paperTool.ts';
import { measuredCommand, type Measuring } from './measuredCommand.ts';

export type { Measuring } from './measuredCommand.ts';

/** On screen: what can be measured from is found from so far. */
const REACH_PX = 14;

/** Points picked on paper: what a dimension measures, or a leader points at. */
export function useMeasuring(
  { id, sheet, layout, inputs, zoom, choose }: OnPaper,
  measuring: Measuring | null,
  onMeasuring: (measuring: Measuring | null) => void,
) {
  const { perform } = useDoing();
  /** What would be measured from where the pointer is. */
  const [hit, setHit] = useState<Measurable | null>(null);
  /** Where the pointer is, or where arrow keys have brought it. */
  const spot = useRef<Vec2 | null>(null);
  const [cross, setCross] = useState<Vec2 | null>(null);
  const facts = dimensionFacts(inputs);
  const measured = (spot: Vec2): Measurable | null => {
    if (!measuring || measuring.kind === 'balloon' || measuring.kind === 'cut') return null;
    if (measuring.kind === 'leader') {
      const [x, y] = spot;
      const over = layout.views.findLast(
        ({ box }) => x >= box[0] - 3 && x <= box[2] + 3 && y >= box[1] - 3 && y <= box[3] + 3,
      );
      return over ? measurableAt(over, spot, REACH_PX / zoom, facts) : null;
    }
    const laid = layout.views.find(({ view: one }) => one.id === measuring.view);
    if (!laid) return null;
    return (measuring.kind === 'distance' ? measurableAt : roundNear)(laid, spot, REACH_PX / zoom, facts);
  };
  const takeMeasured = (found: Measurable | null) => {
    if (!found || !measuring || measuring.kind === 'balloon' || measuring.kind === 'cut') return;
    if (measuring.kind === 'distance' && !measuring.first) {
      if (layout.views.some(({ view }) => view.id === measuring.view)) onMeasuring({ ...measuring, first: found });
      return;
    }
    const made = measuredCommand(measuring, found, sheet, layout, facts);
    if (!made) return;
    if (made.command) perform(made.label, { document: id, command: made.command });
    onMeasuring(null);
    setHit(null);
    if (made.dimension !== undefined) choose([{ kind: 'dimension', id: made.dimension }]);
  };
  const middle = (): Vec2 => {
    const view = measuring && 'view' in measuring ? measuring.view : undefined;
    return (layout.views.find((laid) => laid.view.id === view) ?? layout.views[0])?.view.centre ?? [0, 0];
  };
  const tool: PaperTool = {
    cursor: 'crosshair',
    steps: [2, 10, 0.2],
    lookAt: (at) => {
      spot.current = at;
      setCross(null);
      setHit(measured(at));
    },
    takeAt: (at) => takeMeasured(measured(at)),
    // From the middle of the view on.
    step: (by) => {
      const [x, y] = spot.current ?? middle();
      spot.current = [x + by[0], y + by[1]];
      setCross(spot.current);
      setHit(measured(spot.current));
    },
    takeHere: () => spot.current && takeMeasured(measured(spot.current)),
    leave: () => onMeasuring(null),
  };
  return {
    tool: measuring && measuring.kind !== 'balloon' && measuring.kind !== 'cut' ? tool : null,
    hit,
    /** Where keys have brought the pointer; null while the pointer moves. */
    cross: measuring ? cross : null,
  };
}
