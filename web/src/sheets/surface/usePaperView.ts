import { useEffect, useLayoutEffect, useRef, useState, type RefObject } from 'react';

const clampZoom = (zoom: number): number => Math.min(14, Math.max(0.3, zoom));

/** A point of the paper (mm) that is to stay at a point of the window (px) while the zoom changes. */
interface Held {
  readonly mm: readonly [number, number];
  readonly at: readonly [number, number];
}

export interface PaperView {
  /** CSS pixels per mm. */
  readonly zoom: number;
  /** Larger or smaller by a factor, about a point of the window, or the middle of the desk. */
  readonly zoomBy: (factor: number, at?: readonly [number, number]) => void;
  /** As large as the desk shows whole. */
  readonly fit: () => void;
  /** Brings a point of the paper (mm) into sight where the paper is larger than the desk. */
  readonly travelTo: (mm: readonly [number, number]) => void;
}

/**
 * How large and where the paper stands on the desk: the wheel with Ctrl zooms about the pointer, the middle button and Space
 * with the pointer push the paper.
 * @param fitting zoom at which all of the paper is seen
 */
export function usePaperView(paper: RefObject<HTMLElement | null>, fitting: number): PaperView {
  const [manual, setManual] = useState<number | null>(null);
  const zoom = manual ?? fitting;
  /** What the last zoom held; `moves` while the paper has still to be moved so that it is held. */
  const held = useRef<(Held & { moves: boolean }) | null>(null);
  const deskOf = () => paper.current?.parentElement ?? null;
  const zoomBy = (factor: number, at?: readonly [number, number]) => {
    const box = paper.current!.getBoundingClientRect(),
      desk = deskOf()!.getBoundingClientRect();
    const point = at ?? [desk.left + desk.width / 2, desk.top + desk.height / 2];
    const last = held.current;
    // A paper smaller than the desk stands in its middle and cannot hold the point: turning on at the same place goes on
    // with the point that was meant, not with the one that has come there.
    const mm =
      last && Math.hypot(last.at[0] - point[0], last.at[1] - point[1]) < 1
        ? last.mm
        : ([(point[0] - box.left) / zoom, (point[1] - box.top) / zoom] as const);
    held.current = { mm, at: point, moves: true };
    setManual(clampZoom(zoom * factor));
  };
  useLayoutEffect(() => {
    const keep = held.current,
      desk = deskOf();
    if (!keep?.moves || !desk) return;
    keep.moves = false;
    const box = paper.current!.getBoundingClientRect();
    desk.scrollLeft += box.left + keep.mm[0] * zoom - keep.at[0];
    desk.scrollTop += box.top + keep.mm[1] * zoom - keep.at[1];
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the paper has its new size once the zoom has changed
  }, [zoom]);
  const zoomNow = useRef(zoomBy);
  useEffect(() => {
    zoomNow.current = zoomBy;
  });
  useEffect(() => {
    const desk = deskOf();
    if (!desk) return;
    let space = false;
    let pushing: { x: number; y: number } | null = null;
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey) return void (held.current = null); // the paper is pushed on
      event.preventDefault(); // else the browser zooms the whole page
      zoomNow.current(event.deltaY < 0 ? 1.15 : 1 / 1.15, [event.clientX, event.clientY]);
    };
    const down = (event: PointerEvent) => {
      if (event.button !== 1 && !(space && event.button === 0)) return;
      event.preventDefault();
      event.stopPropagation();
      held.current = null;
      desk.setPointerCapture(event.pointerId);
      pushing = { x: event.clientX, y: event.clientY };
      desk.style.cursor = 'grabbing';
    };
    const move = (event: PointerEvent) => {
      if (!pushing) return;
      desk.scrollLeft -= event.clientX - pushing.x;
      desk.scrollTop -= event.clientY - pushing.y;
      pushing = { x: event.clientX, y: event.clientY };
    };
    const up = () => {
      pushing = null;
      desk.style.cursor = '';
    };
    const key = (event: KeyboardEvent) => {
      if (event.key !== ' ' || !(event.target instanceof Node) || !desk.contains(event.target)) return;
      if (event.target instanceof HTMLButtonElement) return;
      space = event.type === 'keydown';
      event.preventDefault();
    };
    desk.addEventListener('wheel', wheel, { passive: false });
    desk.addEventListener('pointerdown', down, { capture: true });
    desk.addEventListener('pointermove', move);
    desk.addEventListener('pointerup', up);
    document.addEventListener('keydown', key);
    document.addEventListener('keyup', key);
    return () => {
      desk.removeEventListener('wheel', wheel);
      desk.removeEventListener('pointerdown', down, { capture: true });
      desk.removeEventListener('pointermove', move);
      desk.removeEventListener('pointerup', up);
      document.removeEventListener('keydown', key);
      document.removeEventListener('keyup', key);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for the desk
  }, []);
  const fit = () => {
    held.current = null;
    setManual(null);
  };
  const travelTo = ([x, y]: readonly [number, number]) => {
    held.current = null;
    const desk = deskOf();
    if (!desk || manual === null) return;
    const box = paper.current!.getBoundingClientRect(),
      seen = desk.getBoundingClientRect();
    const left = box.left + x * zoom,
      top = box.top + y * zoom;
    const near = 40; // px that should stay free around it
    if (left > seen.left + near && left < seen.right - near && top > seen.top + near && top < seen.bottom - near)
      return;
    desk.scrollBy({ left: left - (seen.left + seen.right) / 2, top: top - (seen.top + seen.bottom) / 2 });
  };
  return { zoom, zoomBy, fit, travelTo };
}
