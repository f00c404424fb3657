import { useMemo } from 'react';
import { boxHeight, boxWidth, type Vec2 } from '../../../../core/src/geometry/index.ts';
import type { Mark, MarkSource } from '../../../../core/src/marks/index.ts';
import type { DrawnSheet } from '../../../../core/src/sheets/index.ts';
import { PICKED } from './handles/picked.ts';
import { ViewCanvas, type ViewCanvasProps } from './ViewCanvas.tsx';
import { SceneMarks } from './SceneMarks.tsx';

/** Views on their way, with all that hangs on them: painted once, and put elsewhere as one picture. */
interface Lifted {
  /** The sheet as it was when they were taken up. */
  readonly start: DrawnSheet;
  readonly isOf: (source: MarkSource) => boolean;
  /** Their ids. */
  readonly views: ReadonlySet<string>;
  /** How far they are from where they stood; mm. */
  readonly by: Vec2;
}

/** What is lifted where views alone have moved, all the same way; null where more than that is drawn anew. */
export function liftedOf(start: DrawnSheet, now: DrawnSheet): Lifted | null {
  const before = new Map(start.layout.views.map(({ view }) => [view.id, view]));
  const moved = now.layout.views.flatMap(({ view }) => {
    const was = before.get(view.id);
    return was && was.centre !== view.centre ? [{ view, was }] : [];
  });
  const [first] = moved;
  if (!first) return null;
  const by: Vec2 = [first.view.centre[0] - first.was.centre[0], first.view.centre[1] - first.was.centre[1]];
  const views = new Set(moved.map(({ view }) => view.id));
  const isAlike = ({ view, was }: (typeof moved)[number]) =>
    view.scale === was.scale &&
    Math.abs(view.centre[0] - was.centre[0] - by[0]) < 1e-6 &&
    Math.abs(view.centre[1] - was.centre[1] - by[1]) < 1e-6;
  // The border of an enlarged detail stands on another view.
  const hasDetail = now.layout.views.some(
    ({ view: { id, detail } }) => detail && (views.has(id) || views.has(detail.of)),
  );
  if (hasDetail || !moved.every(isAlike)) return null;
  const balloons = new Set(
    start.layout.balloons.flatMap(({ balloon }) => (views.has(balloon.view) ? [balloon.id] : [])),
  );
  const dimensions = new Set(
    start.layout.dimensions.flatMap(({ dimension }) => (views.has(dimension.view) ? [dimension.id] : [])),
  );
  const cuttingLines = new Set(
    start.layout.cuttingLines.flatMap(({ on, section }) => (views.has(on) ? [section] : [])),
  );
  return {
    start,
    by,
    views,
    isOf: ({ kind, id }) =>
      kind === 'view' || kind === 'centreLine' || kind === 'hatching'
        ? views.has(id)
        : kind === 'section'
          ? cuttingLines.has(id)
          : kind === 'balloon'
            ? balloons.has(id)
            : kind === 'dimension' && dimensions.has(id),
  };
}

const nothingLit = () => false;

/** All that is lifted, on a layer of its own. */
export function LiftedViews({
  lifted,
  ...on
}: { readonly lifted: Lifted } & Pick<ViewCanvasProps, 'paper' | 'zoom' | 'lit'>) {
  const { start, by, views } = lifted;
  const { zoom } = on;
  const { widthMm, heightMm } = start.scene;
  // What is lifted stays the same all the way.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const marks = useMemo<readonly Mark[]>(() => start.scene.marks.filter(({ source }) => lifted.isOf(source)), [start]);
  const laid = start.layout.views.filter(({ view }) => views.has(view.id));
  return (
    <div className="lifted" style={{ transform: `translate(${by[0] * zoom}px, ${by[1] * zoom}px)` }}>
      <ViewCanvas {...on} views={laid} widthMm={widthMm} heightMm={heightMm} />
      <svg viewBox={`0 0 ${widthMm} ${heightMm}`}>
        <SceneMarks marks={marks} isLit={nothingLit} />
        {laid.map(({ box }) => (
          <rect
            key={box.join()}
            x={box[0]}
            y={box[1]}
            width={boxWidth(box)}
            height={boxHeight(box)}
            fill="none"
            {...PICKED}
          />
        ))}
      </svg>
    </div>
  );
}
