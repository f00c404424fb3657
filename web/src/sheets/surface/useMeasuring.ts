import { useRef, useState } from 'react';
import type { Vec2 } from '../../../../core/src/geometry/index.ts';
import {
  dimensionFacts,
  measurableAt,
  roomTaken,
  USUAL_SMALLEST,
  roundNear,
  usualOffset,
  type Measurable,
  type Sheet,
  type SheetDimension,
  type SheetInputs,
  type SheetLayout,
  type SheetThing,
} from '../../../../core/src/sheets/index.ts';
import { useProject } from '../../data/ProjectContext.tsx';

/** What a new dimension is to measure, as far as it is known, or a leader to point at. */
export type Measuring =
  | { readonly kind: 'distance'; readonly view: string; readonly first?: Measurable }
  | { readonly kind: 'diameter'; readonly view: string }
  /** What is to have a centre line though it is small. */
  | { readonly kind: 'centreLine'; readonly view: string }
  /** A balloon for a line of the list: where its leader ends, once that is known; see usePlacing. */
  | {
      readonly kind: 'balloon';
      readonly row: number;
      readonly place?: { readonly view: string; readonly point: Vec2 };
    }
  /** What a note is to point at, in any view. */
  | { readonly kind: 'leader'; readonly note: string };

/** On screen: what can be measured from is found from so far. */
const REACH_PX = 14;

/** Points picked on paper: what a dimension measures, or a leader points at. */
export function useMeasuring({
  id,
  sheet,
  layout,
  inputs,
  zoom,
  measuring,
  onMeasuring,
  choose,
}: {
  readonly id: string;
  readonly sheet: Sheet;
  readonly layout: SheetLayout;
  readonly inputs: SheetInputs;
  /** CSS pixels per mm. */
  readonly zoom: number;
  readonly measuring: Measuring | null;
  readonly onMeasuring: (measuring: Measuring | null) => void;
  readonly choose: (things: readonly SheetThing[]) => void;
}) {
  const { perform } = useProject();
  /** What would be measured from where the pointer is. */
  const [hit, setHit] = useState<Measurable | null>(null);
  /** Where the pointer is, or where arrow keys have brought it. */
  const spot = useRef<Vec2 | null>(null);
  const [cross, setCross] = useState<Vec2 | null>(null);
  const facts = dimensionFacts(inputs);
  const measured = (spot: Vec2): Measurable | null => {
    if (!measuring || measuring.kind === 'balloon') return null;
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
    if (!found || !measuring || measuring.kind === 'balloon') return;
    if (measuring.kind === 'leader') {
      const note = sheet.notes.find((one) => one.id === measuring.note);
      if (note)
        perform('leader of a note', {
          document: id,
          command: {
            kind: 'changeNotes',
            remove: [],
            put: [{ ...note, leader: { view: found.view, point: found.point } }],
          },
        });
      onMeasuring(null);
      setHit(null);
      return;
    }
    const laid = layout.views.find(({ view: one }) => one.id === measuring.view);
    if (!laid) return;
    if (measuring.kind === 'centreLine') {
      const { smallest = USUAL_SMALLEST, on = [], off = [] } = laid.view.centreLines ?? {};
      const left = off.filter((one) => one !== found.axis);
      if (found.axis !== undefined)
        perform('a centre line of its own', {
          document: id,
          command: {
            kind: 'changeView',
            id: laid.view.id,
            change: {
              centreLines: {
                smallest,
                on: [...new Set([...on, found.axis])],
                ...(left.length > 0 ? { off: left } : {}),
              },
            },
          },
        });
      onMeasuring(null);
      setHit(null);
      return;
    }
    if (measuring.kind === 'distance' && !measuring.first) return onMeasuring({ ...measuring, first: found });
    const made: SheetDimension =
      measuring.kind === 'diameter'
        ? {
            id: crypto.randomUUID(),
            view: measuring.view,
            offset: 0,
            kind: 'diameter',
            from: found.point,
            radius: found.radius ?? 0,
          }
        : {
            id: crypto.randomUUID(),
            view: measuring.view,
            offset: 0,
            kind: 'distance',
            from: measuring.first!.point,
            to: found.point,
            along: directionOf(measuring.first!.at, found.at),
          };
    perform('place a dimension', {
      document: id,
      command: {
        kind: 'changeDimensions',
        remove: [],
        put: [{ ...made, offset: usualOffset(laid, made, facts, roomTaken(layout)) }],
      },
    });
    onMeasuring(null);
    setHit(null);
    choose([{ kind: 'dimension', id: made.id }]);
  };
  const middle = (): Vec2 => {
    const view = measuring && 'view' in measuring ? measuring.view : undefined;
    return (layout.views.find((laid) => laid.view.id === view) ?? layout.views[0])?.view.centre ?? [0, 0];
  };
  return {
    hit,
    /** Where keys have brought the pointer; null while the pointer moves. */
    cross: measuring ? cross : null,
    lookAt: (at: Vec2) => {
      spot.current = at;
      setCross(null);
      setHit(measured(at));
    },
    takeAt: (at: Vec2) => takeMeasured(measured(at)),
    /** By an arrow key, from the middle of the view on. */
    step: (by: Vec2) => {
      const [x, y] = spot.current ?? middle();
      spot.current = [x + by[0], y + by[1]];
      setCross(spot.current);
      setHit(measured(spot.current));
    },
    takeHere: () => spot.current && takeMeasured(measured(spot.current)),
  };
}

/** Level or upright where two points are nearly so, else between them. */
function directionOf([x0, y0]: Vec2, [x1, y1]: Vec2): 'x' | 'y' | 'between' {
  const [dx, dy] = [Math.abs(x1 - x0), Math.abs(y1 - y0)];
  return dy < dx * 0.05 ? 'x' : dx < dy * 0.05 ? 'y' : 'between';
}
