import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { Vec2 } from '../../../../../core/src/geometry/index.ts';
import { dimensionFacts, measurableAt, roomTaken, type LaidView } from '../../../../../core/src/sheets/index.ts';
import { useProject } from '../../../data/openProject.ts';
import { linesOf } from '../../../data/made/views.ts';
import { useSetViews } from '../../useSetViews.ts';
import { madeSection, straightened } from './cuttingLine.ts';
import type { OnPaper, PaperTool } from './paperTool.ts';
import type { Measuring } from './measuredCommand.ts';

/** On screen: middles and ends of lines are found from so far. */
const REACH_PX = 12;

/** A cutting line drawn on a view: its corners one after the other, and with the last the section beside the view. */
export function useCutting(
  on: OnPaper,
  measuring: Measuring | null,
  onMeasuring: (measuring: Measuring | null) => void,
) {
  const { id, sheet, layout, inputs, zoom, choose } = on;
  const project = useProject();
  const queries = useQueryClient();
  const views = useSetViews(id, sheet);
  /** Where the pointer or arrow keys are. */
  const [here, setHere] = useState<Vec2 | null>(null);
  const spot = useRef<Vec2 | null>(null);
  const [draws, setDraws] = useState(false);
  const cutting = measuring?.kind === 'cut' ? measuring : null;
  const laid = cutting ? layout.views.find(({ view }) => view.id === cutting.view) : undefined;
  const facts = dimensionFacts(inputs);
  /** On paper: the middle of something round, the end of a line, else level or upright from the corner before. */
  const snapped = (at: Vec2): Vec2 => {
    if (!laid || !cutting) return at;
    const last = cutting.points.at(-1);
    const found = measurableAt(laid, at, REACH_PX / zoom, facts);
    return straightened(found?.at ?? at, last ?? null);
  };
  const finish = async (of: LaidView, points: readonly Vec2[]) => {
    onMeasuring(null);
    setHere(null);
    setDraws(true);
    try {
      const projection = project.set.content.projection ?? 'first';
      const made = await madeSection(of, points, views, {
        id: crypto.randomUUID(),
        projection,
        paper: sheet.paper,
        taken: [...layout.views.map(({ box }) => box), ...roomTaken(layout)],
        draw: (view) => linesOf(queries, project, view),
      });
      project.perform(`cut along ${made.section!.letter}–${made.section!.letter}`, {
        document: id,
        command: { kind: 'addView', view: made },
      });
      choose([{ kind: 'view', id: made.id }]);
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    setDraws(false);
  };
  /** @param more whether the line goes on after this corner */
  const take = (at: Vec2, more: boolean) => {
    if (!laid || !cutting) return;
    const points = [...cutting.points, snapped(at)];
    if (points.length >= 2 && !more) void finish(laid, points);
    else onMeasuring({ ...cutting, points });
  };
  const tool: PaperTool = {
    cursor: 'crosshair',
    steps: [2, 10, 0.2],
    lookAt: (at) => {
      spot.current = at;
      setHere(snapped(at));
    },
    takeAt: (at, more) => take(at, more),
    step: (by) => {
      const [x, y] = spot.current ?? laid?.view.centre ?? [0, 0];
      spot.current = [x + by[0], y + by[1]];
      setHere(snapped(spot.current));
    },
    takeHere: (more) => spot.current && take(spot.current, more),
    leave: () => {
      setHere(null);
      onMeasuring(null);
    },
  };
  return {
    tool: cutting && laid ? tool : null,
    /** The line as far as it is drawn, with where the pointer is; mm of the paper. */
    line: cutting ? [...cutting.points, ...(here ? [here] : [])] : [],
    draws,
  };
}
