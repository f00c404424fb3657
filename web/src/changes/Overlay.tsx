import { Slider } from '@mantine/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { pathOf, type ComponentKey } from '../../../core/src/assembly/index.ts';
import { componentsAlong } from '../../../core/src/assembly/index.ts';
import { lineKinds, type ViewLines } from '../../../core/src/views/index.ts';
import { useViewLines, type Machine } from '../data/views.ts';

const MARGIN = 16; // px
const LOOK = [{ id: 'whole', direction: 'isometric' as const }];

/** Both machines laid over one another; the slider fades from the earlier to the later one. What is picked is lit in both. */
export function Overlay({
  machines: [was, is],
  names,
  picked,
}: {
  readonly machines: readonly [Machine, Machine];
  readonly names: readonly [string, string];
  readonly picked: ComponentKey | null;
}) {
  const [share, setShare] = useState(50);
  const [one, other] = [useViewLines(was, LOOK), useViewLines(is, LOOK)];
  const [before, after] = [one.lines.get('whole'), other.lines.get('whole')];
  const litBefore = useLit(was, before, picked),
    litAfter = useLit(is, after, picked);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const surface = canvas.current;
    const pen = surface?.getContext('2d', { willReadFrequently: true });
    if (!surface || !pen) return;
    const paint = () => {
      const ratio = window.devicePixelRatio || 1;
      surface.width = surface.clientWidth * ratio;
      surface.height = surface.clientHeight * ratio;
      const both = [before, after].filter((lines) => lines !== undefined);
      if (both.length === 0) return;
      const [x0, y0, x1, y1] = both.reduce(
        ([a, b, c, d], { box }) => [Math.min(a, box[0]), Math.min(b, box[1]), Math.max(c, box[2]), Math.max(d, box[3])],
        [Infinity, Infinity, -Infinity, -Infinity],
      );
      const scale = Math.min(
        (surface.width - 2 * MARGIN * ratio) / (x1 - x0 || 1),
        (surface.height - 2 * MARGIN * ratio) / (y1 - y0 || 1),
      );
      pen.setTransform(
        scale,
        0,
        0,
        -scale,
        surface.width / 2 - (scale * (x0 + x1)) / 2,
        surface.height / 2 + (scale * (y0 + y1)) / 2,
      );
      const draw = (lines: ViewLines | undefined, lit: Uint8Array | null, ink: string, strength: number) => {
        if (!lines || strength === 0) return;
        for (const isLit of [false, true]) {
          pen.globalAlpha = isLit ? Math.max(0.35, strength) : strength;
          pen.strokeStyle = isLit ? '#d9541e' : ink;
          pen.lineWidth = ((isLit ? 2 : 0.9) * ratio) / scale;
          pen.beginPath();
          for (let at = 0; at < lines.kinds.length; at++) {
            if (lineKinds[lines.kinds[at]] === 'tangent' || (lit?.[at] === 1) !== isLit) continue;
            pen.moveTo(lines.ends[at * 4], lines.ends[at * 4 + 1]);
            pen.lineTo(lines.ends[at * 4 + 2], lines.ends[at * 4 + 3]);
          }
          pen.stroke();
        }
        pen.globalAlpha = 1;
      };
      draw(before, litBefore, '#8a6d3b', Math.min(1, 2 - share / 50));
      draw(after, litAfter, '#20303a', Math.min(1, share / 50));
    };
    paint();
    const watch = new ResizeObserver(paint);
    watch.observe(surface);
    return () => watch.disconnect();
  }, [before, after, litBefore, litAfter, share]);
  const failed = one.failed ?? other.failed;
  return (
    <section className="overlay" aria-label="Both machines">
      <canvas ref={canvas} role="img" aria-label={`${names[0]} and ${names[1]} laid over one another`} />
      {failed ? (
        <p className="quiet" role="status">
          {failed}
        </p>
      ) : (
        (one.waiting || other.waiting) && (
          <p className="quiet" role="status">
            Drawing both machines …
          </p>
        )
      )}
      <div className="fade">
        <span>{names[0]}</span>
        <Slider
          className="wide"
          thumbLabel={`From ${names[0]} to ${names[1]}`}
          color="ink"
          label={null}
          value={share}
          onChange={setShare}
          step={5}
        />
        <span>{names[1]}</span>
      </div>
    </section>
  );
}

/** Which lines belong to the picked component, or to what stands in it. */
function useLit({ assembly }: Machine, lines: ViewLines | undefined, picked: ComponentKey | null): Uint8Array | null {
  return useMemo(() => {
    if (!lines || picked === null) return null;
    const of = lines.paths.map((path) =>
      (componentsAlong(assembly, pathOf(path)) ?? []).some((index) => assembly.components[index].key === picked),
    );
    return Uint8Array.from(lines.occurrences, (occurrence) => (of[occurrence] ? 1 : 0));
  }, [assembly, lines, picked]);
}
