import {
  composePlacements,
  identityPlacement,
  invertPlacement,
  determinant,
  placementFromAxes,
  type Placement,
  type Vec3,
} from '../geometry/index.ts';
import { numberOf, refOf, type StepFile, isList, type Value } from '../exchange/index.ts';

/** Reads placements of one file; directions and axes are shared by thousands of usages, so they are kept. */
export class PlacementReader {
  private readonly directions = new Map<number, Vec3 | null>();
  private readonly axesBefore = new Map<number, Map<number, Placement>>();

  constructor(private readonly file: StepFile) {}

  /** Placement of an axis2_placement_3d or a cartesian_transformation_operator_3d, its lengths multiplied to mm. */
  axes(slot: number, toMm: number): Placement {
    let known = this.axesBefore.get(toMm);
    if (!known) this.axesBefore.set(toMm, (known = new Map()));
    let placement = known.get(slot);
    if (!placement)
      known.set(
        slot,
        (placement = this.file.is(slot, 'AXIS2_PLACEMENT_3D') ? this.axis2(slot, toMm) : this.operator(slot, toMm)),
      );
    return placement;
  }

  private axis2(slot: number, toMm: number): Placement {
    const { file } = this;
    const at = (n: number) => file.ref(slot, 'AXIS2_PLACEMENT_3D', n);
    const origin = at(1),
      z = at(2),
      x = at(3);
    return placementFromAxes(
      this.triple(origin, 'CARTESIAN_POINT', toMm) ?? [0, 0, 0],
      this.direction(z),
      this.direction(x),
    );
  }

  private direction(slot: number): Vec3 | null {
    let known = this.directions.get(slot);
    if (known === undefined) this.directions.set(slot, (known = this.triple(slot, 'DIRECTION', 1)));
    return known;
  }

  private triple(slot: number, keyword: string, factor: number): Vec3 | null {
    const values = this.file.value(slot, keyword, 1);
    if (!isList(values)) return null;
    const at = (n: number) => (typeof values[n] === 'number' ? (values[n] as number) * factor : 0);
    return [at(0), at(1), at(2)];
  }

  /** ISO 10303-42 cartesian_transformation_operator_3d: axis1, axis2, local origin, scale, axis3. */
  private operator(slot: number, toMm: number): Placement {
    const entity = this.file.entity(slot);
    const complex = entity?.get('CARTESIAN_TRANSFORMATION_OPERATOR');
    const simple = entity?.get('CARTESIAN_TRANSFORMATION_OPERATOR_3D');
    // A complex instance splits the parameters over its partial records, without the name in front.
    const [axis1, axis2, origin, factor, axis3]: readonly (Value | undefined)[] = complex
      ? [...complex, simple?.[0]]
      : simple
        ? simple.slice(simple.length - 5)
        : [];
    if (!entity || !(complex || simple)) return identityPlacement;
    const x = this.direction(refOf(axis1)) ?? [1, 0, 0];
    const y = this.direction(refOf(axis2)) ?? [0, 1, 0];
    const z = this.direction(refOf(axis3)) ?? [
      x[1] * y[2] - x[2] * y[1],
      x[2] * y[0] - x[0] * y[2],
      x[0] * y[1] - x[1] * y[0],
    ];
    const o = this.triple(refOf(origin), 'CARTESIAN_POINT', toMm) ?? [0, 0, 0];
    const s = Math.max(numberOf(factor) ?? 1, 0) || 1;
    return [x[0] * s, y[0] * s, z[0] * s, o[0], x[1] * s, y[1] * s, z[1] * s, o[1], x[2] * s, y[2] * s, z[2] * s, o[2]];
  }
}

/** The map that carries what is drawn at axes `from` to axes `to`; null where axes without extent allow none. */
export function placementBetween(from: Placement, to: Placement): Placement | null {
  if (from === to) return identityPlacement;
  if (isIdentity(from)) return to;
  const size = determinant(from);
  return Number.isFinite(size) && size !== 0 && to.every(Number.isFinite)
    ? composePlacements(to, invertPlacement(from))
    : null;
}

function isIdentity(m: Placement): boolean {
  for (let at = 0; at < 12; at++) if (m[at] !== identityPlacement[at]) return false;
  return true;
}
