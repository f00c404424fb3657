import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  appleDome,
  ball,
  ballWedge,
  ballZone,
  cone,
  cutCone,
  distanceFrom,
  elbow,
  frustum,
  halfTorus,
  hollowed,
  placed,
  slantedRod,
  splineRod,
  torus,
  windowedTube,
  type ExactSolid,
} from '../../../testkit/exactSolids.ts';
import { meshMoments, meshVolume, placementFromAxes, type Mesh, type Vec3 } from '../geometry/index.ts';
import { sampleEdge } from './curves.ts';
import { meshBrep, NotElementary, type Brep, type Curve, type Fineness } from './index.ts';

const FINE: Fineness = { deflection: 0.1, angle: 0.2 };

const size = fc.double({ min: 2, max: 60, noNaN: true });
const share = fc.double({ min: 0.08, max: 0.92, noNaN: true });
const turn = fc.double({ min: 0, max: 2 * Math.PI, noNaN: true });
const direction = fc
  .tuple(...[0, 1, 2].map(() => fc.double({ min: -1, max: 1, noNaN: true })))
  .filter((v) => Math.hypot(...v) > 0.1)
  .map((v) => v as unknown as Vec3);
const placement = fc
  .tuple(direction, direction, fc.tuple(size, size, size))
  .map(([z, x, origin]) => placementFromAxes(origin, z, x));

/** Solids of each kind, as files bound them in one way or another. */
const kinds: Record<string, fc.Arbitrary<ExactSolid>> = {
  'a frustum': fc
    .tuple(size, size, size, fc.boolean())
    .filter(([a, b]) => Math.abs(a - b) > 0.01)
    .map(([a, b, h, seam]) => frustum(a, b, h, seam)),
  'a round bar': fc.tuple(size, size, fc.boolean()).map(([r, h, seam]) => frustum(r, r, h, seam)),
  'a cone to its apex': fc.tuple(size, size, fc.boolean()).map(([r, h, seam]) => cone(r, h, seam)),
  'a cone cut along its axis': fc.tuple(size, size, share).map(([r, h, off]) => cutCone(r, h, off)),
  'a bar cut aslant': fc
    .tuple(size, size, share, fc.boolean())
    .map(([r, h, slope, seam]) => slantedRod(r, h + r, slope, seam)),
  'a tube with a window': fc
    .tuple(size, share, size, turn, share, share)
    .map(([r, inner, h, from, wide, high]) =>
      windowedTube(r, r * inner, h, [from, wide * 4, h * high * 0.2, h * high]),
    ),
  'a ball': fc.tuple(size, fc.boolean()).map(([r, seam]) => ball(r, seam)),
  'a part of a ball': fc
    .tuple(size, share, share, fc.constantFrom('zone', 'above', 'below'))
    .map(([r, a, b, which]) => {
      const [low, high] = [r * (Math.min(a, b) * 2 - 1) - r * 0.03, r * (Math.max(a, b) * 2 - 1) + r * 0.03];
      return ballZone(r, which === 'below' ? null : low, which === 'above' ? null : high);
    }),
  'a slice of a ball': fc.tuple(size, share).map(([r, part]) => ballWedge(r, part * 2 * Math.PI)),
  'a ring': fc.tuple(size, share, fc.boolean()).map(([r, tube, seams]) => torus(r, r * tube, seams)),
  'half a ring': fc.tuple(size, share).map(([r, tube]) => halfTorus(r, r * tube)),
  'a bend': fc
    .tuple(size, share, share, fc.boolean())
    .map(([r, tube, part, seam]) => elbow(r, r * tube, part * 2 * Math.PI, seam)),
  'the dome of a head': fc.tuple(size, share, share).map(([r, ratio, from]) => appleDome(r * ratio, r, from * 0.8)),
  'a bar with splines as rims': fc
    .tuple(size, size, fc.constantFrom(0, 0.1, 0.7))
    .map(([r, h, from]) => splineRod(r, h, from)),
  'a ball with a hollow': fc
    .tuple(size, share, fc.boolean())
    .map(([r, inner, seam]) => hollowed(ball(r, !seam), ball(r * inner, seam))),
};

/** Sides of facets that have no like the other way round between the very same two places. */
function gapsOf({ positions, triangles }: Mesh): number {
  const placeOf = Array.from(triangles, (vertex) => positions.subarray(vertex * 3, vertex * 3 + 3).join());
  const sides = new Map<string, number>();
  placeOf.forEach((from, at) => {
    const side = `${from} ${placeOf[at % 3 === 2 ? at - 2 : at + 1]}`;
    sides.set(side, (sides.get(side) ?? 0) + 1);
  });
  return [...sides].filter(([side, count]) => sides.get(side.split(' ').reverse().join(' ')) !== count).length;
}

/** Corners, middles of sides and centres of all facets, with the face that each is of. */
function* placesOn({ positions, triangles, faceStarts }: Mesh): Generator<{ face: number; at: Vec3 }> {
  let face = 0;
  for (let triangle = 0; triangle < triangles.length / 3; triangle++) {
    while (triangle >= faceStarts[face + 1]) face++;
    const corners = [0, 1, 2].map((corner) => {
      const vertex = triangles[triangle * 3 + corner];
      return [positions[vertex * 3], positions[vertex * 3 + 1], positions[vertex * 3 + 2]];
    });
    for (const weights of [
      [1, 0, 0],
      [0.5, 0.5, 0],
      [0, 0.5, 0.5],
      [0.5, 0, 0.5],
      [1 / 3, 1 / 3, 1 / 3],
    ])
      yield {
        face,
        at: [0, 1, 2].map((axis) => corners.reduce((sum, c, at) => sum + c[axis] * weights[at], 0)) as unknown as Vec3,
      };
  }
}

const meshed = (brep: Brep, fineness = FINE): Mesh => meshBrep(brep, fineness);

describe('a mesh of a solid', () => {
  for (const [name, solids] of Object.entries(kinds))
    test(`${name}: no gap, on its surfaces within the fineness, as much inside as by formula`, () => {
      fc.assert(
        fc.property(solids, placement, (solid, where) => {
          const { brep, volume } = placed(solid, where);
          const mesh = meshed(brep);
          expect(gapsOf(mesh)).toBe(0);
          const faces = brep.shells.flatMap((shell) => shell.faces);
          expect(mesh.faceStarts.length).toBe(faces.length + 1);
          let farthest = 0;
          for (const { face, at } of placesOn(mesh))
            farthest = Math.max(farthest, distanceFrom(faces[face].surface, at));
          expect(farthest).toBeLessThan(FINE.deflection * 2);
          expect(Math.abs(meshVolume(mesh) - volume)).toBeLessThan(FINE.deflection * meshMoments(mesh).area + 1e-9);
        }),
        { numRuns: 15, seed: 20261128 },
      );
    });

  test('its normals are the exact ones, outwards', () => {
    const { brep } = hollowed(ball(20, true), ball(5, false));
    const mesh = meshed(brep);
    for (const [face, sense] of [1, -1].entries())
      for (const vertex of new Set(mesh.triangles.subarray(mesh.faceStarts[face] * 3, mesh.faceStarts[face + 1] * 3))) {
        const at = [0, 1, 2].map((axis) => mesh.positions[vertex * 3 + axis]);
        const radius = Math.hypot(...at);
        at.forEach((value, axis) => expect(mesh.normals[vertex * 3 + axis]).toBeCloseTo((sense * value) / radius, 6));
      }
  });

  test('a finer one is nearer to the volume', () => {
    const { brep, volume } = elbow(30, 8, 2, false);
    const miss = [0.4, 0.1, 0.025].map((angle) =>
      Math.abs(meshVolume(meshed(brep, { deflection: 1, angle })) / volume - 1),
    );
    expect(miss[1]).toBeLessThan(miss[0] / 8);
    expect(miss[2]).toBeLessThan(miss[1] / 8);
  });

  test('a long bar takes no more facets than a short one', () => {
    const [short, long] = [10, 6000].map((height) => meshed(frustum(5, 5, height, false).brep).triangles.length);
    expect(long).toBe(short);
  });

  test('a perforated tube keeps all its holes', () => {
    const { brep, volume } = windowedTube(40, 38, 100, [3, 0.4, 20, 30]);
    const mesh = meshed(brep, { deflection: 0.01, angle: 0.1 });
    expect(meshVolume(mesh) / volume).toBeCloseTo(1, 2);
  });
});

describe('shapes that are not as they should be', () => {
  const { brep } = frustum(10, 10, 30, true);
  const [shell] = brep.shells;
  const changed = (faces: Brep['shells'][number]['faces'], closed = true): Brep => ({
    ...brep,
    shells: [{ closed, faces }],
  });

  test('a missing face is a gap; of an open shell it is none', () => {
    expect(() => meshed(changed(shell.faces.slice(1)))).toThrow(NotElementary);
    expect(meshed(changed(shell.faces.slice(1), false)).triangles.length).toBeGreaterThan(0);
  });
  test('a face turned over is found', () => {
    const [wall, ...caps] = shell.faces;
    expect(() => meshed(changed([{ ...wall, sameSense: !wall.sameSense }, ...caps]))).toThrow(NotElementary);
  });
  test('a solid inside out is found', () => {
    const turned = hollowed(frustum(20, 20, 40, true), { brep, volume: 0 }).brep;
    expect(() => meshed({ ...turned, shells: turned.shells.slice(1) })).toThrow(NotElementary);
  });
  test('faces that share no edges, but lie edge to edge, have no gap', () => {
    const apart = { ...brep, vertices: [...brep.vertices], edges: [...brep.edges] };
    const faces = shell.faces.map((face) => ({
      ...face,
      loops: face.loops.map((loop) => {
        const copies = new Map<number, number>();
        return loop.map(({ edge, forward }) => {
          if (!copies.has(edge)) {
            const { start, end } = apart.edges[edge];
            const ends = [start, end].map((vertex) => apart.vertices.push(apart.vertices[vertex]) - 1);
            if (start === end) ends[1] = ends[0];
            copies.set(edge, apart.edges.push({ ...apart.edges[edge], start: ends[0], end: ends[1] }) - 1);
          }
          return { edge: copies.get(edge)!, forward };
        });
      }),
    }));
    const mesh = meshed({ ...apart, shells: [{ closed: true, faces }] });
    expect(meshVolume(mesh)).toBeCloseTo(meshVolume(meshed(brep)), 6);
  });
  test.each([
    ['a vertex far from its curve', (vertex: Vec3): Vec3 => [vertex[0] + 3, vertex[1], vertex[2] + 3]],
    ['vertices that are no numbers', (): Vec3 => [NaN, NaN, NaN]],
  ])('%s', (_, move) => {
    expect(() => meshed({ ...brep, vertices: brep.vertices.map(move) })).toThrow(NotElementary);
  });
  test.each([
    ['a cylinder without radius', { kind: 'cylinder', radius: 0, second: 0 }],
    ['a cone that is a plane', { kind: 'cone', radius: 10, second: Math.PI / 2 }],
    ['a torus without tube', { kind: 'torus', radius: 10, second: 0 }],
    ['a ball of another size', { kind: 'sphere', radius: 11, second: 0 }],
  ] as const)('%s', (_, surface) => {
    const [wall, ...caps] = shell.faces;
    const other = { ...wall, surface: { ...wall.surface, ...surface } };
    expect(() => meshed(changed([other, ...caps]))).toThrow(NotElementary);
  });
  test('a face that goes on for ever', () => {
    const [wall, ...caps] = shell.faces;
    const endless = { ...wall, loops: [[wall.loops[0][0]]] };
    expect(() => meshed(changed([endless, ...caps]))).toThrow(/without end/);
  });
  test('nothing at all', () => {
    expect(() => meshed({ vertices: [], edges: [], shells: [] })).toThrow(NotElementary);
  });
});

describe('points along an edge', () => {
  const frame = placementFromAxes([3, 4, 5], [0, 0, 1], [1, 0, 0]);
  const conic = (kind: 'hyperbola' | 'parabola', a: number, b: number): Curve => ({
    kind: 'conic',
    conic: kind,
    frame,
    a,
    b,
  });
  const between = (curve: Curve, start: Vec3, end: Vec3): Vec3[] =>
    sampleEdge({ vertices: [start, end], edges: [], shells: [] }, { start: 0, end: 1, curve, forward: true }, FINE, []);

  test('a parabola: on it, and no chord farther from it than allowed', () => {
    const points = between(conic('parabola', 2, 2), [3 + 8, 4 - 8, 5], [3 + 18, 4 + 12, 5]);
    // y² = 8 x; the chord between two y leaves it by their distance squared over 16.
    points.forEach(([x, y]) => expect((y - 4) ** 2).toBeCloseTo(8 * (x - 3), 9));
    points.slice(1).forEach(([, y], at) => {
      expect(y).toBeGreaterThan(points[at][1]);
      expect((y - points[at][1]) ** 2 / 32).toBeLessThan(FINE.deflection * 4);
    });
  });
  test('a hyperbola: on it', () => {
    const at = (t: number): Vec3 => [3 + 2 * Math.cosh(t), 4 + 5 * Math.sinh(t), 5];
    const points = between(conic('hyperbola', 2, 5), at(-1.5), at(2));
    expect(points.length).toBeGreaterThan(4);
    points.forEach(([x, y]) => expect(((x - 3) / 2) ** 2 - ((y - 4) / 5) ** 2).toBeCloseTo(1, 9));
  });
  test('a straight edge has its ends alone', () => {
    expect(between({ kind: 'line' }, [0, 0, 0], [1, 2, 3])).toEqual([
      [0, 0, 0],
      [1, 2, 3],
    ]);
  });
  test('the surface beside an edge may ask for more points than its curve', () => {
    // A steep helix on a slim cylinder is nearly straight, yet goes once round.
    const poles = Array.from({ length: 65 }, (_, at): Vec3 => {
      const angle = (at * Math.PI) / 32;
      return [Math.cos(angle), Math.sin(angle), at * 10];
    });
    const knots = [0, ...poles.map((_, at) => at), 64];
    const curve: Curve = { kind: 'spline', degree: 1, knots, poles, weights: null };
    const wide: Curve = { ...curve, knots: [0, 0, 64, 64], poles: [poles[0], poles[64]] };
    const ends = { vertices: [poles[0], poles[64]], edges: [], shells: [] };
    const edge = { start: 0, end: 1, curve, forward: true };
    const slim = {
      kind: 'cylinder',
      frame: placementFromAxes([0, 0, 0], [0, 0, 1], [1, 0, 0]),
      radius: 1,
      second: 0,
    } as const;
    const rough: Fineness = { deflection: 50, angle: 0.05 };
    expect(sampleEdge(ends, edge, rough, [slim]).length).toBeGreaterThan(sampleEdge(ends, edge, rough, []).length);
    expect(sampleEdge(ends, { ...edge, curve: wide }, rough, []).length).toBe(2);
  });
});
