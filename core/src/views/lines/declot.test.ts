import { describe, expect, test } from 'vitest';
import { at, body, boxMesh, cylinderMesh } from '../../../../testkit/shapes.ts';
import { seeded } from '../../../../testkit/mutants.ts';
import type { PathKey } from '../../assembly/index.ts';
import { composePlacements, placementFromAxes } from '../../geometry/index.ts';
import { linesForPen } from './declot.ts';
import { viewPlacement } from '../directions.ts';
import { drawLook } from '../seen/drawLook.ts';
import { drawView } from './hiddenLines.ts';
import { visibleLines, type Body, type ViewLines } from '../records.ts';

/** White between two strokes prints from this many pens on. */
const NEAREST = 1.5;

const stretches = ({ ends, kinds }: ViewLines): number[][] =>
  Array.from(kinds, (_, piece) => [...ends.subarray(piece * 4, piece * 4 + 4)]);
function distance(x: number, y: number, [x1, y1, x2, y2]: readonly number[]): number {
  const [dx, dy] = [x2 - x1, y2 - y1];
  const share = Math.max(0, Math.min(1, ((x - x1) * dx + (y - y1) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(x - x1 - share * dx, y - y1 - share * dy);
}

/** Share of the visible lines beside which nothing is drawn, looked for in small steps. */
function lostShare(lines: ViewLines, pen: number): number {
  const kept = stretches(linesForPen(lines, pen));
  let [all, lost] = [0, 0];
  for (const [x1, y1, x2, y2] of stretches(visibleLines(lines))) {
    const size = Math.hypot(x2 - x1, y2 - y1);
    const steps = Math.max(1, Math.ceil(size / pen));
    for (let step = 0; step < steps; step++) {
      const share = (step + 0.5) / steps;
      const [x, y] = [x1 + share * (x2 - x1), y1 + share * (y2 - y1)];
      all += size / steps;
      if (!kept.some((other) => distance(x, y, other) <= 1.2 * NEAREST * pen)) lost += size / steps;
    }
  }
  return lost / all;
}
const lengthOf = (lines: ViewLines): number =>
  stretches(lines).reduce((sum, [x1, y1, x2, y2]) => sum + Math.hypot(x2 - x1, y2 - y1), 0);

describe('lines left out for the pen', () => {
  test('always have one beside them that is drawn: discs of a sheave, from any side, with any pen', () => {
    const random = seeded(20);
    for (let round = 0; round < 12; round++) {
      const axis = [random() - 0.5, random() - 0.5, random() - 0.5] as const;
      const tilt = placementFromAxes([0, 0, 0], [...axis], [1, 0, 0]);
      // Thin flanges with a groove between them, whose rims go on into one another around their edges.
      const discs: Body[] = [
        [50, 3, 0],
        [44, 6, 3],
        [50, 3, 9],
      ].map(([radius, height, z], occurrence) =>
        body(cylinderMesh(radius, height, 64), occurrence, composePlacements(tilt, at(0, 0, z))),
      );
      const lines = drawView(discs, viewPlacement('isometric'));
      for (const pen of [0.8, 1.7, 2.6, 4]) expect(lostShare(lines, pen)).toBeLessThan(0.02);
    }
  });
  test('the rim of a thin disc is drawn whole, once', () => {
    const lines = drawView([body(cylinderMesh(50, 3, 64))], viewPlacement('isometric'));
    // An ellipse as the isometric view has it: half axes r and r/√3 (Ramanujan's length).
    const [a, b] = [50, 50 / Math.sqrt(3)];
    const rim = Math.PI * (3 * (a + b) - Math.sqrt((3 * a + b) * (a + 3 * b)));
    expect(lengthOf(linesForPen(lines, 0.2))).toBeGreaterThan(1.4 * rim);
    const once = lengthOf(linesForPen(lines, 3));
    expect(once / rim).toBeGreaterThan(0.97);
    expect(once / rim).toBeLessThan(1.06);
  });
  test('a line is left out as a whole, and not for one that was itself left out', () => {
    // Three side by side; the middle one is left out, so the third has nothing beside it.
    const ends = Float64Array.of(...[0, 0, 100, 0], ...[20, 1, 115, 1], ...[30, 2, 90, 2]);
    const lines: ViewLines = {
      ends,
      depths: new Float64Array(6),
      kinds: new Uint8Array(3),
      visible: new Uint8Array(3).fill(1),
      occurrences: Int32Array.of(0, 1, 2),
      paths: ['0', '1', '2'] as PathKey[],
      box: [0, 0, 115, 2],
    };
    expect(stretches(linesForPen(lines, 0.8))).toEqual([
      [0, 0, 100, 0],
      [30, 2, 90, 2],
    ]);
  });
  test('an inner line of which much stands free stays whole', () => {
    const lines: ViewLines = {
      ends: Float64Array.of(...[0, 0, 100, 0], ...[0, 1, 100, 21]),
      depths: new Float64Array(4),
      kinds: new Uint8Array(2),
      visible: new Uint8Array(2).fill(1),
      occurrences: Int32Array.of(0, 1),
      paths: ['0', '1'] as PathKey[],
      box: [0, 0, 100, 21],
    };
    expect(stretches(linesForPen(lines, 0.8))).toContainEqual([0, 1, 100, 21]);
  });
  test.each(Array.from({ length: 10 }, (_, seed) => seed + 1))(
    'no outline is opened: where a part ends there is ink, whatever the pen (seed %i)',
    (seed) => {
      const random = seeded(seed);
      const bodies = Array.from({ length: 6 }, (_, occurrence): Body => {
        const mesh =
          random() < 0.5
            ? boxMesh(2 + 40 * random(), 2 + 40 * random(), 0.5 + 20 * random())
            : cylinderMesh(1 + 15 * random(), 0.5 + 20 * random(), 48);
        return body(mesh, occurrence, at(120 * random(), 120 * random(), 60 * random()));
      });
      const { lines } = drawLook(bodies, viewPlacement(seed % 2 === 0 ? 'isometric' : 'front'));
      for (const pen of [0.3, 0.8, 2, 5]) {
        const kept = stretches(linesForPen(lines, pen));
        const bare = new Map<number, number>();
        stretches(lines).forEach(([x1, y1, x2, y2], line) => {
          if (lines.outer![line] === 0 || lines.visible[line] === 0) return;
          const shares = [0.1, 0.3, 0.5, 0.7, 0.9];
          const white = shares.filter((share) => {
            const [x, y] = [x1 + share * (x2 - x1), y1 + share * (y2 - y1)];
            return !kept.some((other) => distance(x, y, other) <= 0.65 * pen);
          }).length;
          const size = (white / shares.length) * Math.hypot(x2 - x1, y2 - y1);
          bare.set(lines.occurrences[line], (bare.get(lines.occurrences[line]) ?? 0) + size);
        });
        // What is shorter than three pens and joined to nothing is a speck.
        expect({ pen, bare: [...bare.values()].filter((size) => size > 3 * pen) }).toEqual({ pen, bare: [] });
      }
    },
  );
  test('what is very small on paper is its outline only', () => {
    const cube = body(boxMesh(3, 3, 3));
    const lines = drawLook([cube, body(boxMesh(60, 60, 3), 1, at(-30, -30, -3))], viewPlacement('isometric')).lines;
    const own = (of: ViewLines) => Array.from(of.occurrences).filter((one) => of.paths[one] === cube.path).length;
    expect(own(linesForPen(lines, 0.2)) - own(linesForPen(lines, 1))).toBe(3);
  });
  test('nothing is left of nothing', () => {
    const none = drawView([], viewPlacement('front'));
    expect(linesForPen(none, 1).kinds).toHaveLength(0);
  });
});
