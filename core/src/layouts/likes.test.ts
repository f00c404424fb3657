import { describe, expect, test } from 'vitest';
import { seeded } from '../../../testkit/mutants.ts';
import { hypot, type Mesh } from '../geometry/index.ts';
import { likesOf, type LikeChoice } from './likes.ts';
import { readClasses } from './paint.ts';

type Point = readonly [number, number];
const flat = (points: readonly Point[]): Mesh =>
  ({ positions: Float32Array.from(points.flatMap(([x, y]) => [x, y, 0])) }) as unknown as Mesh;

/** Every turn of every point onto every other, and every point against every other: slow and plain. */
function slowlyAlike(a: readonly Point[], b: readonly Point[], { turned, mirrored, scaled }: LikeChoice): boolean {
  const about = (points: readonly Point[]) => {
    const [cx, cy] = [0, 1].map((axis) => points.reduce((sum, point) => sum + point[axis], 0) / points.length);
    return points.map(([x, y]): Point => [x - cx, y - cy]);
  };
  const [one, other] = [about(a), about(b)];
  const size = (points: readonly Point[]) =>
    Math.sqrt(points.reduce((sum, p) => sum + hypot(...p) ** 2, 0) / points.length);
  const scale = size(other) / size(one);
  if (a.length !== b.length || (!scaled && Math.abs(scale - 1) > 2e-3)) return false;
  const near = size(other) * 2e-3;
  return (mirrored ? [1, -1] : [1]).some((flip) =>
    (turned ? one.flatMap((p) => other.map((q) => Math.atan2(q[1], q[0]) - Math.atan2(p[1] * flip, p[0]))) : [0]).some(
      (angle) =>
        one.every(([x, y]) => {
          const [px, py] = [
            (Math.cos(angle) * x - Math.sin(angle) * y * flip) * scale,
            (Math.sin(angle) * x + Math.cos(angle) * y * flip) * scale,
          ];
          return other.some(([qx, qy]) => Math.abs(px - qx) <= near && Math.abs(py - qy) <= near);
        }),
    ),
  );
}

describe('shapes that are drawn alike', () => {
  test.each(Array.from({ length: 400 }, (_, seed) => seed))(
    'are those that a slow comparison finds (seed %i)',
    (seed) => {
      const next = seeded(seed);
      const own = Array.from({ length: 3 + Math.floor(next() * 6) }, (): Point => [next() * 40, next() * 40]);
      const others = Array.from({ length: 6 }, () => {
        const [angle, flip, scale] = [next() * 7, next() < 0.5 ? 1 : -1, next() < 0.5 ? 1 : 0.5 + next()];
        const off = next() < 0.4 ? 3 : 0; // one point elsewhere
        return own.map(([x, y], at): Point => [
          100 + scale * (Math.cos(angle) * x - Math.sin(angle) * y * flip) + (at === 0 ? off : 0),
          50 + scale * (Math.sin(angle) * x + Math.cos(angle) * y * flip),
        ]);
      });
      const choice = { turned: next() < 0.7, mirrored: next() < 0.5, scaled: next() < 0.5 };
      expect(likesOf(flat(own), others.map(flat), choice)).toEqual(
        others.map((other) => slowlyAlike(own, other, choice)),
      );
    },
  );
  test('a ring of equal steps is like itself at any of its turns', () => {
    const ring = (turn: number) =>
      flat(
        Array.from({ length: 600 }, (_, at): Point => [
          Math.cos((at / 600) * 2 * Math.PI + turn),
          Math.sin((at / 600) * 2 * Math.PI + turn),
        ]),
      );
    const choice = { turned: true, mirrored: false, scaled: false };
    expect(
      likesOf(
        ring(0),
        [
          ring(0.003),
          ring(1),
          flat([
            [0, 0],
            [1, 0],
            [0, 1],
          ]),
        ],
        choice,
      ),
    ).toEqual([true, true, false]);
  });
});

describe('style sheets', () => {
  const said = (sheet: string) => Object.fromEntries(readClasses([sheet]));
  test('say fill and stroke of classes, the last of them', () =>
    expect(
      said('.a, g.b { fill: red; stroke:#123 !important } .a { stroke: blue } #c { fill: green } text { fill: x }'),
    ).toEqual({
      a: { fill: 'red', stroke: 'blue' },
      b: { fill: 'red', stroke: '#123' },
    }));
  test('of rules within a rule the inner ones are read', () =>
    expect(said('@media print { .a { fill: red } .b { fill: blue } } .c { fill: tan }')).toEqual({
      a: { fill: 'red' },
      b: { fill: 'blue' },
      c: { fill: 'tan' },
    }));
  test.each(['.a '.repeat(60_000), '{'.repeat(200_000), '}'.repeat(200_000), `${'.a{'.repeat(60_000)}fill:red}`])(
    'without an order of braces cost one look',
    (sheet) => {
      const looked = { letters: 0 };
      const own = String.prototype.slice;
      String.prototype.slice = function (this: string, ...args) {
        const piece = own.apply(this, args);
        looked.letters += piece.length;
        return piece;
      };
      try {
        readClasses([sheet]);
      } finally {
        String.prototype.slice = own;
      }
      expect(looked.letters).toBeLessThan(4 * sheet.length + 100);
    },
  );
});
