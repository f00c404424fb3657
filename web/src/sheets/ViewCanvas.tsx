import { memo, useCallback, useEffect, useMemo, useRef } from 'react';
import type { PathKey } from '../../../core/src/assembly/index.ts';
import { DASHES } from '../../../core/src/marks/index.ts';
import { viewPens, type LaidView, type Paper } from '../../../core/src/sheets/index.ts';
import { lineKinds, type ViewLines } from '../../../core/src/views/index.ts';

export interface ViewCanvasProps {
  readonly views: readonly LaidView[];
  readonly paper: Paper;
  /** Paper size in mm. */ readonly widthMm: number;
  readonly heightMm: number;
  /** CSS pixels per mm. */ readonly zoom: number;
  /** Places of the machine to be lit. */ readonly lit: ReadonlySet<PathKey>;
}

interface Paths {
  readonly full: Path2D;
  readonly tangent: Path2D;
  /** Ways from seats. */
  readonly ways: Path2D;
  /** What cannot be seen. */
  readonly hidden: Path2D;
}
const known = new WeakMap<ViewLines, Paths>();

/** Paths of a view in its own coordinates, made once: dragging only moves them. */
function pathsOf(lines: ViewLines): Paths {
  let paths = known.get(lines);
  if (!paths) {
    paths = {
      full: new Path2D(),
      tangent: new Path2D(),
      ways: stretchesOf(lines.wayEnds),
      hidden: stretchesOf(lines.hiddenEnds),
    };
    for (let at = 0; at < lines.kinds.length; at++)
      addLine(lineKinds[lines.kinds[at]] === 'tangent' ? paths.tangent : paths.full, lines, at);
    known.set(lines, paths);
  }
  return paths;
}

function stretchesOf(ends: ArrayLike<number> = []): Path2D {
  const path = new Path2D();
  for (let at = 0; at < ends.length; at += 4) {
    path.moveTo(ends[at], ends[at + 1]);
    path.lineTo(ends[at + 2], ends[at + 3]);
  }
  return path;
}

function addLine(path: Path2D, { ends }: ViewLines, at: number): void {
  path.moveTo(ends[at * 4], ends[at * 4 + 1]);
  path.lineTo(ends[at * 4 + 2], ends[at * 4 + 3]);
}

type Painter = (pen: CanvasRenderingContext2D, laid: LaidView, width: (mm: number) => number) => void;

/**
 * The lines of all views, painted; what is lit on a surface of its own, so that picking does not paint the rest anew.
 */
export function ViewCanvas({ lit, ...on }: ViewCanvasProps) {
  const pens = useMemo(() => viewPens(on.paper), [on.paper]);
  const paintAll = useCallback<Painter>(
    (pen, { drawn, view }, width) => {
      const { full, tangent, ways, hidden } = pathsOf(drawn);
      const { tangent: look = 'thin' } = view;
      pen.strokeStyle = look === 'thin' ? '#777' : '#000';
      pen.lineWidth = width(look === 'thin' ? pens.tangent : pens.full);
      if (look !== 'none') pen.stroke(tangent);
      pen.strokeStyle = '#000';
      if (view.hidden) {
        pen.lineWidth = width(pens.tangent);
        pen.setLineDash(DASHES.map((dash) => (dash * pens.tangent) / view.scale));
        pen.stroke(hidden);
        pen.setLineDash([]);
      }
      if (view.pathLines) {
        pen.lineWidth = width(pens.tangent);
        pen.stroke(ways);
      }
      pen.lineWidth = width(pens.full);
      pen.stroke(full);
    },
    [pens],
  );
  const paintLit = useCallback<Painter>(
    (pen, { drawn: lines }, width) => {
      if (lit.size === 0) return;
      const own = new Path2D();
      const isLit = lines.paths.map((path) => lit.has(path));
      for (let at = 0; at < lines.kinds.length; at++) if (isLit[lines.occurrences[at]]) addLine(own, lines, at);
      pen.strokeStyle = '#d9541e';
      pen.lineWidth = width(pens.full * 1.8);
      pen.stroke(own);
    },
    [lit, pens],
  );
  return (
    <>
      <Surface {...on} paint={paintAll} />
      <Surface {...on} paint={paintLit} />
    </>
  );
}

/** Dragging a balloon or a list lays the sheet out anew and leaves its views as they were: nothing is painted then. */
const Surface = memo(
  function Surface({
    views,
    widthMm,
    heightMm,
    zoom,
    paint,
  }: Omit<ViewCanvasProps, 'lit'> & { readonly paint: Painter }) {
    const canvas = useRef<HTMLCanvasElement>(null);
    useEffect(() => {
      const surface = canvas.current!;
      const pen = surface.getContext('2d')!;
      const ratio = Math.min(window.devicePixelRatio || 1, 8000 / (Math.max(widthMm, heightMm) * zoom));
      surface.width = Math.round(widthMm * zoom * ratio);
      surface.height = Math.round(heightMm * zoom * ratio);
      const perMm = zoom * ratio;
      pen.lineCap = 'round';
      for (const laid of views) {
        const { view } = laid;
        const [x, y] = laid.toPaper(0, 0);
        pen.setTransform(view.scale * perMm, 0, 0, -view.scale * perMm, x * perMm, y * perMm);
        paint(pen, laid, (mm) => Math.max(mm * perMm, 0.7) / (view.scale * perMm)); // at least a hair on screen
      }
    }, [views, widthMm, heightMm, zoom, paint]);
    return <canvas ref={canvas} />;
  },
  (before, after) =>
    before.zoom === after.zoom &&
    before.paint === after.paint &&
    before.widthMm === after.widthMm &&
    before.heightMm === after.heightMm &&
    sameViews(before.views, after.views),
);

const sameViews = (before: readonly LaidView[], after: readonly LaidView[]): boolean =>
  before.length === after.length &&
  before.every(({ view, drawn }, at) => view === after[at].view && drawn === after[at].drawn);
