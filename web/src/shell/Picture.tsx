import { useEffect, useRef } from 'react';
import { lineKinds, type ViewLines } from '../../../core/src/views/index.ts';

const MARGIN = 4; // px

/** The machine as a small line drawing. */
export function Picture({ lines }: { /** Nothing is drawn before they are there. */ lines: ViewLines | undefined }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const surface = canvas.current;
    const pen = surface?.getContext('2d', { willReadFrequently: true }); // by the processor: see ViewCanvas
    if (!surface || !pen || !lines) return;
    const ratio = window.devicePixelRatio || 1;
    surface.width = surface.clientWidth * ratio;
    surface.height = surface.clientHeight * ratio;
    const [x0, y0, x1, y1] = lines.box;
    // A view on a small sheet may be a few pixels wide only.
    const margin = Math.min(MARGIN, 0.08 * Math.min(surface.width, surface.height));
    const scale = Math.min(
      (surface.width - 2 * margin) / (x1 - x0 || 1),
      (surface.height - 2 * margin) / (y1 - y0 || 1),
    );
    pen.setTransform(
      scale,
      0,
      0,
      -scale,
      surface.width / 2 - (scale * (x0 + x1)) / 2,
      surface.height / 2 + (scale * (y0 + y1)) / 2,
    );
    pen.lineWidth = 0.8 / scale;
    pen.strokeStyle = '#20303a';
    pen.beginPath();
    for (let at = 0; at < lines.kinds.length; at++) {
      if (lineKinds[lines.kinds[at]] === 'tangent') continue;
      pen.moveTo(lines.ends[at * 4], lines.ends[at * 4 + 1]);
      pen.lineTo(lines.ends[at * 4 + 2], lines.ends[at * 4 + 3]);
    }
    pen.stroke();
  }, [lines]);
  return <canvas ref={canvas} role="img" aria-label="Picture of the machine" />;
}
