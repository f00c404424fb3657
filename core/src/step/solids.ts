import {
  meshBrep,
  NotElementary,
  type Brep,
  type Curve,
  type Edge,
  type ElementarySurface,
  type Face,
  type Fineness,
  type Loop,
  type Shell,
} from '../breps/index.ts';
import { Refusal } from '../assembly/index.ts';
import { isEnumeration, isList, numberOf, openStep, refsOf, type StepFile, type Value } from '../exchange/index.ts';
import type { Mesh, Vec3 } from '../geometry/index.ts';
import { PlacementReader } from './placements.ts';
import { colourOf, representationParts } from './shapes.ts';
import { angleUnitOf, lengthUnitOf } from './units.ts';

/**
 * The mesh of a slice whose solids and surfaces are bounded by lines, conics and splines on planes, cylinders, cones,
 * spheres and tori; null where anything in it is of another kind, or not as it should be. Its own coordinates, mm.
 * @param text a slice, as `readStep` gives them
 */
export function meshSlice(text: string, fineness: Fineness): Mesh | null {
  try {
    const file = openStep(new TextEncoder().encode(text));
    return meshBrep(new SolidReader(file).read(), fineness);
  } catch (error) {
    if (error instanceof NotElementary || error instanceof Refusal) return null;
    throw error;
  }
}

/** Reads the boundary representations of one slice. */
class SolidReader {
  private readonly vertices: Vec3[] = [];
  private readonly edges: Edge[] = [];
  private readonly vertexOf = new Map<number, number>();
  private readonly edgeOf = new Map<number, number>();
  /** Edges of faceted faces by both vertices. */
  private readonly straight = new Map<string, number>();
  private readonly colours: ReadonlyMap<number, number>;
  private readonly placements: PlacementReader;
  private toMm = 1;
  private toRadian = 1;

  constructor(private readonly file: StepFile) {
    this.placements = new PlacementReader(file);
    this.colours = coloursOf(file);
  }

  read(): Brep {
    const { file } = this;
    const shells: Shell[] = [];
    const representations = new Set<number>();
    for (const slot of file.ofType('SHAPE_DEFINITION_REPRESENTATION'))
      representations.add(file.ref(slot, 'SHAPE_DEFINITION_REPRESENTATION', 1));
    for (const slot of file.ofType('SHAPE_REPRESENTATION_RELATIONSHIP'))
      representations.add(file.ref(slot, 'SHAPE_REPRESENTATION_RELATIONSHIP', 3));
    for (const representation of representations) {
      const { items, context } = representationParts(file, representation);
      this.toMm = context < 0 ? 1 : lengthUnitOf(file, context).toMm;
      this.toRadian = context < 0 ? 1 : angleUnitOf(file, context);
      for (const item of items) for (const shell of this.item(item)) shells.push(shell);
    }
    return { vertices: this.vertices, edges: this.edges, shells };
  }

  private item(item: number): Shell[] {
    const { file } = this;
    const own = this.colours.get(item) ?? -1;
    if (file.is(item, 'AXIS2_PLACEMENT_3D')) return [];
    if (file.is(item, 'BREP_WITH_VOIDS') && file.size(item, 'BREP_WITH_VOIDS') === 3)
      return [file.ref(item, 'BREP_WITH_VOIDS', 1), ...refsOf(file.value(item, 'BREP_WITH_VOIDS', 2))].map((shell) =>
        this.shell(shell, own),
      );
    for (const solid of ['MANIFOLD_SOLID_BREP', 'FACETED_BREP'])
      if (file.size(item, solid) === 2) return [this.shell(file.ref(item, solid, 1), own)];
    if (file.size(item, 'SHELL_BASED_SURFACE_MODEL') === 2)
      return refsOf(file.value(item, 'SHELL_BASED_SURFACE_MODEL', 1)).map((shell) => this.shell(shell, own));
    return unknown(file, item);
  }

  private shell(slot: number, above: number): Shell {
    const { file } = this;
    for (const keyword of ['ORIENTED_CLOSED_SHELL', 'ORIENTED_OPEN_SHELL'] as const) {
      if (file.size(slot, keyword) !== 4) continue;
      const shell = this.plainShell(file.ref(slot, keyword, 2), this.colours.get(slot) ?? above);
      return isTrue(file.value(slot, keyword, 3)) ? shell : { ...shell, faces: shell.faces.map(insideOut) };
    }
    return this.plainShell(slot, above);
  }

  private plainShell(slot: number, above: number): Shell {
    const { file } = this;
    const closed = file.size(slot, 'CLOSED_SHELL') === 2;
    if (!closed && file.size(slot, 'OPEN_SHELL') !== 2) return unknown(file, slot);
    const colour = this.colours.get(slot) ?? above;
    const faces = refsOf(file.value(slot, closed ? 'CLOSED_SHELL' : 'OPEN_SHELL', 1));
    return { closed, faces: faces.map((face) => this.face(face, colour)) };
  }

  private face(slot: number, above: number): Face {
    const { file } = this;
    const keyword = ['ADVANCED_FACE', 'FACE_SURFACE'].find((name) => file.size(slot, name) === 4);
    if (!keyword) return unknown(file, slot);
    const sameSense = isTrue(file.value(slot, keyword, 3));
    const loops = refsOf(file.value(slot, keyword, 1)).flatMap((bound) => this.bound(bound));
    return {
      surface: this.surface(file.ref(slot, keyword, 2)),
      sameSense,
      loops,
      colour: this.colours.get(slot) ?? above,
    };
  }

  private bound(slot: number): Loop[] {
    const { file } = this;
    const keyword = ['FACE_OUTER_BOUND', 'FACE_BOUND'].find((name) => file.size(slot, name) === 3);
    if (!keyword) return unknown(file, slot);
    const loop = file.ref(slot, keyword, 1);
    if (file.is(loop, 'VERTEX_LOOP')) return [];
    const way = this.loop(loop);
    return [isTrue(file.value(slot, keyword, 2)) ? way : reversed(way)];
  }

  private loop(slot: number): Loop {
    const { file } = this;
    if (file.size(slot, 'POLY_LOOP') === 2) {
      const corners = refsOf(file.value(slot, 'POLY_LOOP', 1)).map((point) => this.corner(point));
      return corners.map((corner, at) => this.straightEdge(corner, corners[(at + 1) % corners.length]));
    }
    if (file.size(slot, 'EDGE_LOOP') !== 2) return unknown(file, slot);
    return refsOf(file.value(slot, 'EDGE_LOOP', 1)).map((oriented) => {
      if (file.size(oriented, 'ORIENTED_EDGE') !== 5) return unknown(file, oriented);
      return {
        edge: this.edge(file.ref(oriented, 'ORIENTED_EDGE', 3)),
        forward: isTrue(file.value(oriented, 'ORIENTED_EDGE', 4)),
      };
    });
  }

  private edge(slot: number): number {
    const { file } = this;
    let known = this.edgeOf.get(slot);
    if (known !== undefined) return known;
    if (file.size(slot, 'EDGE_CURVE') !== 5) return unknown(file, slot);
    known =
      this.edges.push({
        start: this.vertex(file.ref(slot, 'EDGE_CURVE', 1)),
        end: this.vertex(file.ref(slot, 'EDGE_CURVE', 2)),
        curve: this.curve(file.ref(slot, 'EDGE_CURVE', 3)),
        forward: isTrue(file.value(slot, 'EDGE_CURVE', 4)),
      }) - 1;
    this.edgeOf.set(slot, known);
    return known;
  }

  private vertex(slot: number): number {
    if (this.file.size(slot, 'VERTEX_POINT') !== 2) return unknown(this.file, slot);
    return this.corner(this.file.ref(slot, 'VERTEX_POINT', 1));
  }

  /** The vertex at a cartesian_point. */
  private corner(point: number): number {
    let known = this.vertexOf.get(point);
    if (known === undefined) this.vertexOf.set(point, (known = this.vertices.push(this.point(point)) - 1));
    return known;
  }

  private straightEdge(start: number, end: number): Loop[number] {
    const forward = start < end;
    const key = forward ? `${start} ${end}` : `${end} ${start}`;
    let edge = this.straight.get(key);
    if (edge === undefined) {
      const ends = forward ? { start, end } : { start: end, end: start };
      this.straight.set(key, (edge = this.edges.push({ ...ends, curve: { kind: 'line' }, forward: true }) - 1));
    }
    return { edge, forward };
  }

  private point(slot: number): Vec3 {
    const values = this.file.value(slot, 'CARTESIAN_POINT', this.file.size(slot, 'CARTESIAN_POINT') - 1);
    const [x, y, z] = isList(values) ? values.map((value) => (numberOf(value) ?? NaN) * this.toMm) : [];
    if (![x, y, z].every(Number.isFinite)) throw new NotElementary('a point without place');
    return [x, y, z];
  }

  private number(slot: number, keyword: string, n: number): number {
    const value = numberOf(this.file.value(slot, keyword, n));
    if (value === null || !Number.isFinite(value)) throw new NotElementary(`${keyword} without a size`);
    return value;
  }

  private curve(slot: number): Curve {
    const { file } = this;
    const wrapped = ['SURFACE_CURVE', 'SEAM_CURVE', 'INTERSECTION_CURVE'].find((name) => file.size(slot, name) >= 3);
    if (wrapped) {
      const own = file.ref(slot, wrapped, 1);
      return own === slot || file.is(own, wrapped) ? unknown(file, slot) : this.curve(own);
    }
    if (file.size(slot, 'LINE') === 3) return { kind: 'line' };
    for (const [keyword, conic] of CONICS) {
      const size = file.size(slot, keyword);
      if (size < 3) continue;
      const a = this.number(slot, keyword, 2) * this.toMm;
      const b = size > 3 ? this.number(slot, keyword, 3) * this.toMm : a;
      if (!(a > 0 && b > 0)) return unknown(file, slot);
      return { kind: 'conic', conic, frame: this.placements.axes(file.ref(slot, keyword, 1), this.toMm), a, b };
    }
    return this.spline(slot);
  }

  private spline(slot: number): Curve {
    const { file } = this;
    // A simple instance has all parameters in one record, a complex one has them in its partial records, without the name.
    const simple = file.size(slot, 'B_SPLINE_CURVE_WITH_KNOTS') === 9;
    const [ground, first] = simple ? (['B_SPLINE_CURVE_WITH_KNOTS', 1] as const) : (['B_SPLINE_CURVE', 0] as const);
    const [counts, values] = simple ? [6, 7] : [0, 1];
    if (!simple && (file.size(slot, 'B_SPLINE_CURVE') !== 5 || file.size(slot, 'B_SPLINE_CURVE_WITH_KNOTS') !== 3))
      return unknown(file, slot);
    const degree = this.number(slot, ground, first);
    const poles = refsOf(file.value(slot, ground, first + 1)).map((pole) => this.point(pole));
    const multiplicities = numbers(file.value(slot, 'B_SPLINE_CURVE_WITH_KNOTS', counts)),
      places = numbers(file.value(slot, 'B_SPLINE_CURVE_WITH_KNOTS', values));
    const listed = file.size(slot, 'RATIONAL_B_SPLINE_CURVE') === 1;
    const weights = listed ? numbers(file.value(slot, 'RATIONAL_B_SPLINE_CURVE', 0)) : null;
    const count = multiplicities.reduce((sum, times) => sum + times, 0);
    const fits =
      Number.isInteger(degree) &&
      degree >= 1 &&
      degree <= MOST_DEGREE &&
      poles.length > degree &&
      multiplicities.length === places.length &&
      multiplicities.every((times) => Number.isInteger(times) && times > 0) &&
      count === poles.length + degree + 1 &&
      places.every((place, at) => Number.isFinite(place) && (at === 0 || place > places[at - 1])) &&
      (weights === null || (weights.length === poles.length && weights.every((weight) => weight > 0)));
    if (!fits) return unknown(file, slot);
    const knots = places.flatMap((place, at) => new Array<number>(multiplicities[at]).fill(place));
    return { kind: 'spline', degree, knots, poles, weights };
  }

  private surface(slot: number): ElementarySurface {
    const { file } = this;
    for (const [keyword, kind] of SURFACES) {
      const size = file.size(slot, keyword);
      if (size < 2) continue;
      const frame = this.placements.axes(file.ref(slot, keyword, 1), this.toMm);
      const radius = size > 2 ? this.number(slot, keyword, 2) * this.toMm : 0;
      const second = size > 3 ? this.number(slot, keyword, 3) * (kind === 'cone' ? this.toRadian : this.toMm) : 0;
      return { kind, frame, radius, second };
    }
    return unknown(file, slot);
  }
}

/** Splines of a higher degree are no part's. */
const MOST_DEGREE = 25;

const CONICS = [
  ['CIRCLE', 'ellipse'],
  ['ELLIPSE', 'ellipse'],
  ['HYPERBOLA', 'hyperbola'],
  ['PARABOLA', 'parabola'],
] as const;
const SURFACES = [
  ['PLANE', 'plane'],
  ['CYLINDRICAL_SURFACE', 'cylinder'],
  ['CONICAL_SURFACE', 'cone'],
  ['SPHERICAL_SURFACE', 'sphere'],
  ['TOROIDAL_SURFACE', 'torus'],
] as const;

const isTrue = (value: Value): boolean =>
  isEnumeration(value) && (value.enumeration === 'T' || value.enumeration === 'TRUE');
const numbers = (value: Value): number[] => (isList(value) ? value.map((one) => numberOf(one) ?? NaN) : []);
const reversed = (loop: Loop): Loop => loop.map(({ edge, forward }) => ({ edge, forward: !forward })).reverse();
const insideOut = (face: Face): Face => ({
  ...face,
  sameSense: !face.sameSense,
  loops: face.loops.map(reversed),
});

function unknown(file: StepFile, slot: number): never {
  throw new NotElementary(slot < 0 ? 'something is missing' : file.keywordsOf(slot).join('+'));
}

/** Colours by what they are given to; one that is given to a face alone goes before that of its solid. */
function coloursOf(file: StepFile): Map<number, number> {
  const colours = new Map<number, number>();
  for (const keyword of ['STYLED_ITEM', 'OVER_RIDING_STYLED_ITEM'])
    for (const slot of file.ofType(keyword)) {
      const first = file.size(slot, keyword) === 2 ? 0 : 1;
      const colour = colourOf(file, refsOf(file.value(slot, keyword, first)));
      if (colour !== null) colours.set(file.ref(slot, keyword, first + 1), colour);
    }
  return colours;
}
