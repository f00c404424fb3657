import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { at, body, boxMesh, cylinderMesh } from '../../../../testkit/shapes.ts';
import { viewPlacement } from '../directions.ts';
import { layOutCells } from '../scene/grid.ts';
import { distanceToOthers, drawItemBuffer, type ItemBuffer } from '../seen/itemBuffer.ts';
import { overlayPieces, type Piece } from './overlay.ts';
import { linesForPen } from './declot.ts';
import { sumLines } from '../records.ts';
import { drawView } from './hiddenLines.ts';
import { buildScene } from '../scene/scene.ts';
import { EDGE_FEATURE, EDGE_INNER, meshEdges } from '../scene/topology.ts';

describe('edges of a mesh', () => {
  const count = (kinds: Uint8Array, kind: number) => kinds.filter((value) => value === kind).length;
  test('a box has twelve edges; the diagonals of its faces are none', () => {
    const edges = meshEdges(boxMesh(3, 2, 1));
    expect([
      count(edges.kinds, EDGE_FEATURE),
      count(edges.kinds, EDGE_INNER),
      edges.closed,
      edges.strays.join(),
    ]).toEqual([12, 6, true, '0,0,0,0,0,0']);
  });
  test('a cylinder has its two rims; how far its facets stray grows with their size', () => {
    const coarse = meshEdges(cylinderMesh(10, 30, 24)),
      fine = meshEdges(cylinderMesh(10, 30, 48));
    expect([count(coarse.kinds, EDGE_FEATURE), coarse.closed]).toEqual([48, true]);
    const sagitta = 10 * (1 - Math.cos(Math.PI / 24));
    const largest = ({ strays }: typeof fine) => Math.max(...strays);
    expect(largest(coarse) / sagitta).toBeCloseTo(1, 1);
    expect(largest(coarse) / largest(fine)).toBeCloseTo(4, 1);
  });
  test('a mesh with a hole is not closed', () => {
    const whole = boxMesh(1, 1, 1);
    expect(meshEdges({ ...whole, triangles: whole.triangles.slice(3) }).closed).toBe(false);
  });
});

describe('cells', () => {
  const coordinate = fc.integer({ min: 0, max: 1000 }).map((value) => value / 10);
  test('two stretches that come near each other share a cell', () => {
    fc.assert(
      fc.property(
        coordinate,
        coordinate,
        coordinate,
        coordinate,
        fc.integer({ min: 0, max: 100 }),
        fc.integer({ min: 1, max: 5000 }),
        (x1, y1, x2, y2, share, things) => {
          const cells = layOutCells([0, 0, 100, 100], things, 0.01);
          const t = share / 100,
            x = x1 + t * (x2 - x1),
            y = y1 + t * (y2 - y1);
          const of = (...stretch: [number, number, number, number]) => {
            const found = new Set<number>();
            cells.startStretch(...stretch);
            while (cells.nextRow()) for (let cell = cells.first; cell <= cells.last; cell++) found.add(cell);
            return found;
          };
          const own = of(x1, y1, x2, y2);
          expect([...of(x - 0.005, y, x + 0.005, y)].some((cell) => own.has(cell))).toBe(true);
          for (const cell of own) expect(cell >= 0 && cell < cells.count).toBe(true);
        },
      ),
    );
  });
});

describe('pieces lying on one another', () => {
  const piece = (x1: number, x2: number, more: Partial<Piece> = {}): Piece => ({
    x1,
    y1: 0,
    z1: 0,
    x2,
    y2: 0,
    z2: 0,
    kind: 0,
    visible: true,
    body: 0,
    sagitta: 0,
    isContour: false,
    ...more,
  });
  const lengthOf = (pieces: readonly Piece[], holds: (one: Piece) => boolean = () => true) =>
    pieces.filter(holds).reduce((sum, one) => sum + Math.hypot(one.x2 - one.x1, one.y2 - one.y1), 0);
  test('are drawn once, however many there are', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 1, max: 40 })), {
          minLength: 1,
          maxLength: 20,
        }),
        (runs) => {
          const covered = new Set(
            runs.flatMap(([from, size]) => Array.from({ length: size }, (_, step) => from + step)),
          );
          const drawn = overlayPieces(
            runs.map(([from, size], index) => piece(from, from + size, { z1: index, z2: index })),
            1e-4,
            1e-3,
          );
          expect(lengthOf(drawn)).toBeCloseTo(covered.size, 6);
        },
      ),
    );
  });
  test('a visible line takes away what is hidden under it, a full one what is tangent', () => {
    const drawn = overlayPieces([piece(0, 10, { visible: false }), piece(4, 8), piece(2, 6, { kind: 2 })], 1e-4, 1e-3);
    expect([
      lengthOf(drawn, (one) => one.visible && one.kind === 0),
      lengthOf(drawn, (one) => one.visible && one.kind === 2),
      lengthOf(drawn, (one) => !one.visible),
    ]).toEqual([4, 2, 4]);
  });
  test('lines that cross, or meet at a point, take nothing from each other', () => {
    const crossing: Piece = { ...piece(5, 5), y1: -5, y2: 5 };
    expect(lengthOf(overlayPieces([piece(0, 10), crossing, piece(10, 14)], 1e-4, 1e-3))).toBeCloseTo(24, 9);
  });
  test('two chords of one curve, tessellated differently, are one line', () => {
    expect(
      lengthOf(
        overlayPieces(
          [piece(0, 10, { sagitta: 0.1 }), { ...piece(0, 10, { sagitta: 0.1 }), y1: 0.12, y2: 0.15 }],
          1e-4,
          1e-3,
        ),
      ),
    ).toBeCloseTo(10, 1);
  });
});

describe('the item buffer', () => {
  test('shows at each pixel the face that is nearest', () => {
    const scene = buildScene(
      [body(boxMesh(100, 10, 100), 0), body(boxMesh(20, 10, 20), 1, at(40, -30, 40))],
      viewPlacement('front'),
    );
    const buffer = drawItemBuffer(scene, [0, 0, 100, 100], Int32Array.of(0, 6, 12));
    const seen = (x: number, y: number) =>
      Math.floor(
        buffer.labels[
          Math.floor((y - buffer.originY) / buffer.pixel) * buffer.width +
            Math.floor((x - buffer.originX) / buffer.pixel)
        ] / 6,
      );
    expect([seen(50, 50), seen(10, 10), seen(39, 50), seen(41, 50)]).toEqual([1, 0, 0, 1]);
  });
  test('distances to the nearest other face are exact', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 2 }), { minLength: 143, maxLength: 143 }), (labels) => {
        const buffer: ItemBuffer = {
          width: 13,
          height: 11,
          pixel: 1,
          originX: 0,
          originY: 0,
          labels: Int32Array.from(labels),
          depth: new Float32Array(143),
        };
        const differs = (a: number, b: number) => labels[a] !== labels[b];
        const border = labels.map((_, pixel) => {
          const x = pixel % 13,
            y = Math.floor(pixel / 13);
          return (
            (x > 0 && differs(pixel, pixel - 1)) ||
            (x < 12 && differs(pixel, pixel + 1)) ||
            (y > 0 && differs(pixel, pixel - 13)) ||
            (y < 10 && differs(pixel, pixel + 13))
          );
        });
        if (!border.includes(true)) return;
        const distance = distanceToOthers(buffer);
        labels.forEach((_, pixel) => {
          const nearest = Math.min(
            ...border.flatMap((is, other) =>
              is ? [Math.hypot((pixel % 13) - (other % 13), Math.floor(pixel / 13) - Math.floor(other / 13))] : [],
            ),
          );
          expect(distance[pixel]).toBeCloseTo(nearest, 4);
        });
      }),
      { numRuns: 60 },
    );
  });
});

describe('a seam is no edge', () => {
  const whole = cylinderMesh(10, 40, 48);
  /** Its side in two halves, its top in two pieces, as some programs write them. */
  const divided = {
    ...whole,
    faceStarts: Uint32Array.of(0, 48, 96, 144, 168, 192),
    faceColours: new Int32Array(5).fill(-1),
  };
  test.each(['front', 'isometric', 'top'] as const)(
    'seen %s, two halves of one surface have no line between them',
    (from) => {
      const view = viewPlacement(from);
      const [one, two] = [whole, divided].map((mesh) => sumLines(drawView([body(mesh)], view)));
      expect(two.tangentMm).toBeCloseTo(one.tangentMm, 6);
      expect(two.visibleMm).toBeCloseTo(one.visibleMm, 6);
    },
  );
});

describe('lines for a pen', () => {
  /** A washer on edge: two rims 2 mm apart and 40 mm long. */
  const washer = drawView([body(boxMesh(40, 5, 2))], viewPlacement('front'));
  const lengthOf = (pen: number) => {
    const { ends, kinds } = linesForPen(washer, pen);
    return kinds.reduce(
      (sum, _, at) => sum + Math.hypot(ends[at * 4 + 2] - ends[at * 4], ends[at * 4 + 3] - ends[at * 4 + 1]),
      0,
    );
  };
  test('stay as they are while white remains between them', () => expect(lengthOf(0.5)).toBeCloseTo(84, 6));
  test('an outline stays closed, however thin the part; at last both its sides are one stroke', () => {
    expect(lengthOf(2.5)).toBeCloseTo(84, 6);
    expect(lengthOf(4)).toBeLessThan(50);
    expect(lengthOf(4)).toBeGreaterThanOrEqual(40);
  });
  test('leaves no crumbs of a rim that strays a little from another', () => {
    const pack = drawView(
      [
        body(cylinderMesh(20, 1, 37)),
        body(cylinderMesh(20, 1, 64), 1, at(0, 0, 1)),
        body(cylinderMesh(19, 3, 48), 2, at(0, 0, 2)),
      ],
      viewPlacement('isometric'),
    );
    let thinned = 0;
    for (let pen = 0.3; pen < 1.2; pen += 0.02) {
      const { ends, kinds } = linesForPen(pack, pen);
      if (kinds.length < pack.kinds.length) thinned++;
      const pieces = Array.from(kinds, (_, piece) => [...ends.subarray(piece * 4, piece * 4 + 4)]);
      const touches = (x: number, y: number, own: number): boolean =>
        pieces.some(
          ([x1, y1, x2, y2], other) =>
            other !== own && Math.min(Math.hypot(x1 - x, y1 - y), Math.hypot(x2 - x, y2 - y)) < pen,
        );
      const crumbs = pieces.filter(
        ([x1, y1, x2, y2], own) =>
          Math.hypot(x2 - x1, y2 - y1) < 3 * pen && !touches(x1, y1, own) && !touches(x2, y2, own),
      );
      expect(crumbs).toEqual([]);
    }
    expect(thinned).toBeGreaterThan(10);
  });
});
