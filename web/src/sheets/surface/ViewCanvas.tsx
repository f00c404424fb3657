import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { PathKey } from '../../../../core/src/assembly/index.ts';
import { DASHES } from '../../../../core/src/marks/index.ts';
import { CHAIN, viewPens, type LaidView, type Paper } from '../../../../core/src/sheets/index.ts';
import { useStable } from '../../data/ProjectContext.tsx';
import { lineKinds, type ViewLines } from '../../../../core/src/views/index.ts';

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
  /** The same short of outlines, for the narrow pen; null until that is known. */
  readonly smooth: Path2D | null;
  /** Ways from seats. */
  readonly ways: Path2D;
  /** What cannot be seen. */
  readonly hidden: Path2D;
  /** Borders of pieces that are cut open. */
  readonly borders: Path2D;
}
const known = new WeakMap<ViewLines, Paths>();

/** Paths of a view in its own coordinates, made once: dragging only moves them. */
function pathsOf(lines: ViewLines): Paths {
  let paths = known.get(lines);
  if (!paths) {
    paths = {
      full: new Path2D(),
      tangent: new Path2D(),
      smooth: lines.smoothEnds ? stretchesOf(lines.smoothEnds) : null,
      ways: stretchesOf(lines.wayEnds),
      hidden: stretchesOf(lines.hiddenEnds),
      borders: stretchesOf(lines.borderEnds),
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

const noPictures: ReadonlyMap<Uint8Array, ImageBitmap> = new Map();

/** The pictures of shaded faces, read off the page's thread; they come when they are ready. */
function usePictures(views: readonly LaidView[]): ReadonlyMap<Uint8Array, ImageBitmap> {
  const [pictures, setPictures] = useState(noPictures);
  const wanted = useStable(
    views.flatMap(({ view, drawn }) => {
      const shade = view.shade ? drawn().shade : null;
      return shade ? [shade] : [];
    }),
  );
  useEffect(() => {
    let gone = false;
    void Promise.all(
      wanted.map(
        async (png) => [png, await createImageBitmap(new Blob([Uint8Array.from(png)], { type: 'image/png' }))] as const,
      ),
    ).then(
      (read) => {
        if (!gone) setPictures(new Map(read));
      },
      () => {}, // a picture that cannot be read leaves the lines alone
    );
    return () => {
      gone = true;
    };
  }, [wanted]);
  return pictures;
}

/** In the coordinates of the view, y up; of an enlarged detail what lies in its border. */
function paintPicture(
  pen: CanvasRenderingContext2D,
  { view: { detail } }: LaidView,
  picture: ImageBitmap,
  [x0, y0, x1, y1]: Float64Array,
): void {
  pen.save();
  if (detail) {
    const { centre, radius, half } = detail;
    pen.beginPath();
    if (half) pen.rect(centre[0] - half[0], centre[1] - half[1], 2 * half[0], 2 * half[1]);
    else pen.arc(centre[0], centre[1], radius, 0, 2 * Math.PI);
    pen.clip();
  }
  pen.translate(x0, y1);
  pen.scale(1, -1);
  pen.drawImage(picture, 0, 0, x1 - x0, y1 - y0);
  pen.restore();
}

type Painter = (pen: CanvasRenderingContext2D, laid: LaidView, width: (mm: number) => number) => void;

/**
 * The lines of all views, painted; what is lit on a surface of its own, so that picking does not paint the rest anew.
 */
export function ViewCanvas({ lit, ...on }: ViewCanvasProps) {
  const pens = useMemo(() => viewPens(on.paper), [on.paper]);
  const pictures = usePictures(on.views);
  const paintAll = useCallback<Painter>(
    (pen, laid, width) => {
      const { view } = laid;
      const drawn = laid.drawn();
      const { full, tangent, smooth, ways, hidden, borders } = pathsOf(drawn);
      const { tangent: look = 'thin' } = view;
      const picture = view.shade && drawn.shade ? pictures.get(drawn.shade) : undefined;
      if (picture && drawn.shadeBox) paintPicture(pen, laid, picture, drawn.shadeBox);
      pen.strokeStyle = look === 'thin' ? '#777' : '#000';
      pen.lineWidth = width(look === 'thin' ? pens.tangent : pens.full);
      if (look !== 'none') pen.stroke(look === 'thin' && smooth ? smooth : tangent);
      pen.strokeStyle = '#000';
      if (view.hidden) {
        pen.lineWidth = width(pens.tangent);
        pen.setLineDash(DASHES.map((dash) => (dash * pens.tangent) / view.scale));
        pen.stroke(hidden);
        pen.setLineDash([]);
      }
      pen.lineWidth = width(pens.tangent);
      pen.stroke(borders);
      if (view.pathLines) {
        pen.setLineDash(CHAIN.map((dash) => (dash * pens.tangent) / view.scale));
        pen.stroke(ways);
        pen.setLineDash([]);
      }
      pen.lineWidth = width(pens.full);
      pen.stroke(full);
    },
    [pens, pictures],
  );
  const paintLit = useCallback<Painter>(
    (pen, { drawn }, width) => {
      const lines = drawn();
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
      {lit.size > 0 && <Surface {...on} paint={paintLit} />}
    </>
  );
}

/** A view as it was painted last. */
interface Painted {
  /** What it depends on besides the lines and the painter. */
  readonly look: string;
  readonly drawn: ViewLines;
  readonly paint: Painter;
  readonly picture: HTMLCanvasElement;
  /** Where the view has its origin in the picture; device pixels. */
  readonly origin: readonly [number, number];
}
/** Views that take more are painted directly; device pixels. */
const MOST_PAINTED = 16e6;
/** Around what is painted, for the width of lines; device pixels. */
const EDGE = 8;

/** Everything but where it stands. */
const lookOfView = ({ tangent, hidden, pathLines, shade, detail, scale }: LaidView['view'], perMm: number): string =>
  JSON.stringify([tangent, hidden, pathLines, shade, detail, scale * perMm]);

/**
 * A view painted on a picture of its own: while it is dragged that is only put elsewhere. Painted by the processor, since
 * tens of thousands of stretches take a graphics card, and above all an emulated one, much longer.
 */
function paintedView(laid: LaidView, perMm: number, paint: Painter, before: Painted | undefined): Painted | null {
  const look = lookOfView(laid.view, perMm);
  if (before && before.look === look && before.drawn === laid.drawn() && before.paint === paint) return before;
  const [x0, y0, x1, y1] = laid.box.map((side) => side * perMm);
  const [width, height] = [Math.ceil(x1 - x0) + 2 * EDGE, Math.ceil(y1 - y0) + 2 * EDGE];
  if (!(width * height <= MOST_PAINTED)) return null;
  const picture = document.createElement('canvas');
  picture.width = width;
  picture.height = height;
  const pen = picture.getContext('2d', { willReadFrequently: true })!;
  const [x, y] = laid.toPaper(0, 0);
  const origin = [x * perMm - Math.floor(x0) + EDGE, y * perMm - Math.floor(y0) + EDGE] as const;
  pen.lineCap = 'round';
  const scale = laid.view.scale * perMm;
  pen.setTransform(scale, 0, 0, -scale, ...origin);
  paint(pen, laid, (mm) => Math.max(mm * perMm, 0.7) / scale); // at least a hair on screen
  return { look, drawn: laid.drawn(), paint, picture, origin };
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
    const kept = useRef(new Map<string, Painted>());
    useEffect(() => {
      const surface = canvas.current!;
      const pen = surface.getContext('2d')!;
      const ratio = Math.min(window.devicePixelRatio || 1, 8000 / (Math.max(widthMm, heightMm) * zoom));
      const [width, height] = [Math.round(widthMm * zoom * ratio), Math.round(heightMm * zoom * ratio)];
      if (surface.width !== width) surface.width = width;
      if (surface.height !== height) surface.height = height;
      const perMm = zoom * ratio;
      pen.setTransform(1, 0, 0, 1, 0, 0);
      pen.clearRect(0, 0, width, height);
      const before = kept.current;
      kept.current = new Map();
      pen.lineCap = 'round';
      for (const laid of views) {
        const { view } = laid;
        const [x, y] = laid.toPaper(0, 0);
        const painted = paintedView(laid, perMm, paint, before.get(view.id));
        if (painted) {
          kept.current.set(view.id, painted);
          pen.setTransform(1, 0, 0, 1, 0, 0);
          // On whole pixels: lines would be blurred between them.
          pen.drawImage(
            painted.picture,
            Math.round(x * perMm - painted.origin[0]),
            Math.round(y * perMm - painted.origin[1]),
          );
          continue;
        }
        pen.setTransform(view.scale * perMm, 0, 0, -view.scale * perMm, x * perMm, y * perMm);
        paint(pen, laid, (mm) => Math.max(mm * perMm, 0.7) / (view.scale * perMm));
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
  before.every(({ view, drawn }, at) => view === after[at].view && drawn() === after[at].drawn());
