import { ActionIcon, Tooltip } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconFocusCentered, IconMinus, IconPlus } from '@tabler/icons-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { listOccurrences, pathOf, type ShapeKey } from '../../../../core/src/assembly/index.ts';
import { useMachine, usePicking, usePicks } from '../../data/openProject.ts';
import {
  boxAround,
  fittedView,
  flatShape,
  flatThings,
  thingAt,
  type FlatShape,
  type FlatThing,
  type PlanView,
} from './flat.ts';
import type { Flight } from '../solid/Fly.tsx';
import { bodiesByShape, isIn, type Picks } from '../solid/machine.ts';
import { useMeshes } from '../solid/useMeshes.ts';
import { structureGroups } from '../tree/uses.ts';

interface LayoutPictureProps {
  /** Components lit besides the picked one. */
  readonly also?: ReadonlySet<number>;
  /** Whether only these are lit, and not all uses of their symbols. */
  readonly exact?: boolean;
  /** Width at the right edge that something lies over; px. */
  readonly covered?: number;
  /** A place to be brought into the middle. */
  readonly flight?: Flight | null;
}

const SIGNAL = '#d9541e';
/** A click reaches so far; px. */
const REACH = 4;
/** A place that is flown to takes this share of the picture. */
const SHARE = 0.18;
/** A picture that takes longer is moved as it is, and drawn anew when the hand rests; ms. */
const SLOW = 14,
  REST = 140;
const ZOOM = 1.3;

/** A layout as it is drawn: moved, zoomed, picked on; what is picked is lit. */
export function LayoutPicture({ also, exact = false, covered = 0, flight = null }: LayoutPictureProps) {
  const {
    assembly,
    originals,
    treatments,
    shapes: { progress },
  } = useMachine();
  const { picked, pickedPath } = usePicks();
  const { pick } = usePicking();
  const groups = useMemo(() => structureGroups(assembly, originals, treatments), [assembly, originals, treatments]);
  const bodies = useMemo(() => bodiesByShape(assembly), [assembly]);
  const { ready, settled, wanted } = useMeshes(bodies, progress !== null);
  const known = useRef(new Map<ShapeKey, FlatShape>());
  const things = useMemo(() => {
    for (const [key, mesh] of ready) if (!known.current.has(key)) known.current.set(key, flatShape(mesh));
    return flatThings(
      listOccurrences(assembly, (at) => assembly.components[at].shape !== null),
      ({ components }) => assembly.components[components[components.length - 1]].shape!,
      known.current,
    );
  }, [assembly, ready]);
  const picks: Picks | null = useMemo(() => {
    const components = new Set([...(also ?? []), ...(picked === null || also?.size ? [] : [picked])]);
    if (components.size === 0) return null;
    if (exact) return { components, path: null };
    // A symbol is picked with all its uses, whatever their attributes.
    const symbols = new Set([...components].map((index) => groups[index]));
    groups.forEach((group, index) => group >= 0 && symbols.has(group) && components.add(index));
    return { components, path: also?.size || !pickedPath ? null : pathOf(pickedPath) };
  }, [picked, pickedPath, also, exact, groups]);
  const lit = useMemo(
    () => (picks ? things.filter(({ occurrence, path }) => path !== '' && isIn(occurrence, picks)) : []),
    [things, picks],
  );
  const whole = useMemo(() => boxAround(things), [things]);
  const { ref: frame, width, height } = useElementSize();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [moved, setMoved] = useState<PlanView | null>(null);
  const fit = useMemo(
    () => (whole && width > 0 ? fittedView(whole, Math.max(60, width - covered), height) : null),
    [whole, width, height, covered],
  );
  const view = useMemo(
    () => moved ?? (fit && covered > 0 ? { ...fit, x: fit.x + covered / 2 / fit.scale } : fit),
    [moved, fit, covered],
  );
  usePainting(canvas, things, lit, view, width, height);

  const flown = useRef(0);
  useEffect(() => {
    if (!flight || flight.count === flown.current || !fit) return;
    const goal = boxAround(
      things.filter(({ occurrence }) => isIn(occurrence, { components: new Set(), path: pathOf(flight.path) })),
    );
    if (!goal) return;
    flown.current = flight.count;
    const near = fittedView(goal, Math.max(60, width - covered), height, SHARE);
    const scale = Math.max(fit.scale, Math.min(near.scale, (view?.scale ?? near.scale) * 4));
    setMoved({ x: near.x + covered / 2 / scale, y: near.y, scale });
  }, [flight, things, fit, width, height, covered, view]);

  const zoomAt = useCallback(
    (by: number, px = width / 2, py = height / 2) => {
      if (!view || !fit) return;
      const scale = Math.min(fit.scale * 2000, Math.max(fit.scale / 4, view.scale * by));
      const [x, y] = [view.x + (px - width / 2) / view.scale, view.y - (py - height / 2) / view.scale];
      setMoved({ x: x - (px - width / 2) / scale, y: y + (py - height / 2) / scale, scale });
    },
    [view, fit, width, height],
  );
  // React listens to wheels passively, and the page would scroll.
  useEffect(() => {
    const at = canvas.current;
    if (!at) return;
    const turn = (event: WheelEvent) => {
      event.preventDefault();
      const { left, top } = at.getBoundingClientRect();
      zoomAt(Math.exp(-event.deltaY / 400), event.clientX - left, event.clientY - top);
    };
    at.addEventListener('wheel', turn, { passive: false });
    return () => at.removeEventListener('wheel', turn);
  }, [zoomAt]);

  const drag = useRef<{ x: number; y: number; from: PlanView; far: boolean } | null>(null);
  const shift = (dx: number, dy: number) =>
    view && setMoved({ ...view, x: view.x + dx / view.scale, y: view.y + dy / view.scale });
  const keys: Record<string, () => void> = {
    ArrowLeft: () => shift(-60, 0),
    ArrowRight: () => shift(60, 0),
    ArrowUp: () => shift(0, 60),
    ArrowDown: () => shift(0, -60),
    '+': () => zoomAt(ZOOM),
    '-': () => zoomAt(1 / ZOOM),
    '0': () => setMoved(null),
  };
  const tool = (label: string, icon: React.ReactNode, onClick: () => void) => (
    <Tooltip label={label} position="right">
      <ActionIcon size="lg" variant="default" aria-label={label} onClick={onClick}>
        {icon}
      </ActionIcon>
    </Tooltip>
  );
  return (
    <div className="machine layoutpicture" ref={frame}>
      <canvas
        ref={canvas}
        role="img"
        tabIndex={0}
        aria-label={`The layout, ${things.length} things drawn. Arrows move it, + and − zoom, 0 shows all of it.`}
        onKeyDown={(event) => {
          const act = Object.hasOwn(keys, event.key) ? keys[event.key] : undefined;
          if (!act || event.ctrlKey || event.metaKey) return;
          event.preventDefault();
          act();
        }}
        onPointerDown={(event) => {
          if (!view || event.button > 1) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, y: event.clientY, from: view, far: false };
        }}
        onPointerMove={(event) => {
          const from = drag.current;
          if (!from) return;
          const [dx, dy] = [event.clientX - from.x, event.clientY - from.y];
          if (!from.far && Math.hypot(dx, dy) < REACH) return;
          from.far = true;
          setMoved({ ...from.from, x: from.from.x - dx / from.from.scale, y: from.from.y + dy / from.from.scale });
        }}
        onPointerUp={(event) => {
          const from = drag.current;
          drag.current = null;
          if (!from || from.far || !view) return;
          const { left, top } = event.currentTarget.getBoundingClientRect();
          const x = view.x + (event.clientX - left - width / 2) / view.scale,
            y = view.y - (event.clientY - top - height / 2) / view.scale;
          const thing = thingAt(things, x, y, REACH / view.scale);
          if (!thing) return pick(null);
          const { components } = thing.occurrence;
          pick(components[components.length - 1], thing.path);
        }}
        onPointerCancel={() => (drag.current = null)}
      />
      {(!settled || ready.length < wanted) && (
        <div className="corner quiet">
          Shapes: {ready.length} of {wanted}
        </div>
      )}
      <div className="machine-tools" role="toolbar" aria-label="Looking at the layout">
        {tool('Show all of it', <IconFocusCentered size={18} />, () => setMoved(null))}
        {tool('Nearer', <IconPlus size={18} />, () => zoomAt(ZOOM))}
        {tool('Farther', <IconMinus size={18} />, () => zoomAt(1 / ZOOM))}
      </div>
    </div>
  );
}

/** Paints at most once a frame. What takes long is moved as a picture and painted anew when the hand rests. */
function usePainting(
  canvas: React.RefObject<HTMLCanvasElement | null>,
  things: readonly FlatThing[],
  lit: readonly FlatThing[],
  view: PlanView | null,
  width: number,
  height: number,
): void {
  const painter = useRef<Painter | null>(null);
  useEffect(() => {
    const at = canvas.current;
    if (!at || !view || width === 0) return;
    const dots = window.devicePixelRatio || 1;
    if (at.width !== Math.round(width * dots) || at.height !== Math.round(height * dots)) {
      at.width = Math.round(width * dots);
      at.height = Math.round(height * dots);
    }
    const known = (painter.current ??= new Painter());
    let rest: ReturnType<typeof setTimeout> | undefined;
    const frame = requestAnimationFrame(() => {
      const context = at.getContext('2d');
      if (!context) return;
      const scene = { things, lit, view, width, height, dots };
      if (known.took < SLOW || !known.moves(context, scene)) known.paint(context, scene);
      else rest = setTimeout(() => known.paint(context, scene), REST);
    });
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(rest);
    };
  }, [canvas, things, lit, view, width, height]);
}

interface PaintedScene {
  readonly things: readonly FlatThing[];
  readonly lit: readonly FlatThing[];
  readonly view: PlanView;
  readonly width: number;
  readonly height: number;
  /** Of the canvas to a pixel. */
  readonly dots: number;
}

class Painter {
  /** Of the last painting; ms. */
  took = 0;
  private last: { readonly picture: HTMLCanvasElement; readonly scene: PaintedScene } | null = null;
  private readonly paths = new WeakMap<FlatShape, { path: Path2D; colour: string; isLine: boolean }[]>();

  paint(context: CanvasRenderingContext2D, scene: PaintedScene): void {
    const start = performance.now();
    const { things, lit } = scene;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = '#ffffff';
    context.fillRect(0, 0, context.canvas.width, context.canvas.height);
    context.lineJoin = 'round';
    for (const thing of things) this.thing(context, thing, scene, null);
    for (const thing of lit) this.thing(context, thing, scene, SIGNAL);
    this.took = performance.now() - start;
    if (this.took < SLOW) return;
    const picture = document.createElement('canvas');
    picture.width = context.canvas.width;
    picture.height = context.canvas.height;
    picture.getContext('2d')?.drawImage(context.canvas, 0, 0);
    this.last = { picture, scene };
  }

  /** Shows the last picture where it lies now; false where there is none of the same things. */
  moves(context: CanvasRenderingContext2D, { things, lit, view, width, height, dots }: PaintedScene): boolean {
    const { last } = this;
    if (!last || last.scene.things !== things || last.scene.lit !== lit) return false;
    const by = view.scale / last.scene.view.scale;
    const x = (last.scene.view.x - view.x) * view.scale + width / 2 - (last.scene.width / 2) * by,
      y = (view.y - last.scene.view.y) * view.scale + height / 2 - (last.scene.height / 2) * by;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = '#ffffff';
    context.fillRect(0, 0, context.canvas.width, context.canvas.height);
    context.drawImage(last.picture, x * dots, y * dots, last.picture.width * by, last.picture.height * by);
    return true;
  }

  private thing(
    context: CanvasRenderingContext2D,
    { shape, placement: m, box }: FlatThing,
    { view: { x, y, scale }, width, height, dots }: PaintedScene,
    colour: string | null,
  ): void {
    const [half, tall] = [width / 2 / scale, height / 2 / scale];
    if (box[2] < x - half || box[0] > x + half || box[3] < y - tall || box[1] > y + tall) return;
    const k = scale * dots;
    context.setTransform(
      k * m[0],
      -k * m[4],
      k * m[1],
      -k * m[5],
      k * (m[3] - x) + (width * dots) / 2,
      (height * dots) / 2 - k * (m[7] - y),
    );
    const grown = Math.sqrt(Math.abs(m[0] * m[5] - m[1] * m[4])) || 1;
    for (const piece of this.pathsOf(shape)) {
      if (!piece.isLine) {
        context.fillStyle = colour ? `${colour}55` : piece.colour;
        context.fill(piece.path, 'evenodd');
      }
      context.strokeStyle = colour ?? piece.colour;
      context.lineWidth = ((colour ? 2.6 : piece.isLine ? 1.1 : 0.6) * dots) / (k * grown);
      if (piece.isLine || colour) context.stroke(piece.path);
    }
  }

  private pathsOf(shape: FlatShape) {
    let paths = this.paths.get(shape);
    if (!paths) {
      paths = shape.pieces.map(({ rings, colour, isLine }) => {
        const path = new Path2D();
        for (const ring of rings) {
          path.moveTo(ring[0], ring[1]);
          for (let at = 2; at < ring.length; at += 2) path.lineTo(ring[at], ring[at + 1]);
          path.closePath();
        }
        return { path, colour, isLine };
      });
      this.paths.set(shape, paths);
    }
    return paths;
  }
}
