import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { initWasm, Resvg } from '@resvg/resvg-wasm';
import { Refusal } from '../../../core/src/assembly/index.ts';

/** Dots of a whole picture: beyond this it takes more memory than there may be. */
export const MOST_PIXELS = 150e6;

let ready: Promise<void> | null = null;
const wasm = createRequire(import.meta.url).resolve('@resvg/resvg-wasm/index_bg.wasm');

/** An SVG as PNG; nothing that it refers to is fetched, and texts are not drawn. Rejects where it is none. */
export async function renderSvg(
  svg: string,
  fitTo: { readonly mode: 'width'; readonly value: number },
  background?: string,
): Promise<{ readonly png: Uint8Array; readonly width: number; readonly height: number }> {
  ready ??= readFile(wasm).then((bytes) => initWasm(bytes));
  await ready;
  const drawn = new Resvg(svg, { fitTo, ...(background ? { background } : {}) });
  try {
    if ((fitTo.value * fitTo.value * drawn.height) / drawn.width > MOST_PIXELS)
      throw new Refusal('too-many-dots', 'This picture is far too high for its width.');
    const image = drawn.render();
    try {
      return { png: image.asPng(), width: image.width, height: image.height };
    } finally {
      image.free();
    }
  } finally {
    drawn.free();
  }
}
