/** x' = a·x + c·y + e, y' = b·x + d·y + f (SVG 2, 8.5). */
export type Affine = readonly [a: number, b: number, c: number, d: number, e: number, f: number];
export const identity: Affine = [1, 0, 0, 1, 0, 0];

/** First `inner`, then `outer`. */
export const compose = (outer: Affine, inner: Affine): Affine => [
  outer[0] * inner[0] + outer[2] * inner[1],
  outer[1] * inner[0] + outer[3] * inner[1],
  outer[0] * inner[2] + outer[2] * inner[3],
  outer[1] * inner[2] + outer[3] * inner[3],
  outer[0] * inner[4] + outer[2] * inner[5] + outer[4],
  outer[1] * inner[4] + outer[3] * inner[5] + outer[5],
];
export const translation = (x: number, y: number): Affine => [1, 0, 0, 1, x, y];

const STEP = /(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^()]*)\)/g;
const NUMBER = /[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g;
export const numbersIn = (text: string): number[] => (text.match(NUMBER) ?? []).map(Number);

/** A `transform` attribute; steps that say nothing are passed over. */
export function readTransform(text: string | undefined): Affine {
  if (!text) return identity;
  let made = identity;
  for (const [, kind, list] of text.matchAll(STEP)) made = compose(made, stepOf(kind, numbersIn(list)));
  return made.every(Number.isFinite) ? made : identity;
}

function stepOf(kind: string, values: readonly number[]): Affine {
  const [p = 0, q] = values;
  const angle = (p * Math.PI) / 180;
  switch (kind) {
    case 'matrix':
      return values.length === 6 ? (values as unknown as Affine) : identity;
    case 'translate':
      return translation(p, q ?? 0);
    case 'scale':
      return values.length > 0 ? [p, 0, 0, q ?? p, 0, 0] : identity;
    case 'rotate': {
      const turn: Affine = [Math.cos(angle), Math.sin(angle), -Math.sin(angle), Math.cos(angle), 0, 0];
      const [, x, y] = values;
      return y === undefined ? turn : compose(compose(translation(x, y), turn), translation(-x, -y));
    }
    case 'skewX':
      return [1, 0, Math.tan(angle), 1, 0, 0];
    default:
      return [1, Math.tan(angle), 0, 1, 0, 0];
  }
}
