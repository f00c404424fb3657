import {
  composePlacements, identityPlacement, invertPlacement, placementFromAxes, type Placement, type Vec3,
} from '../geometry/index.ts';
import { refOf, type StepFile } from './file.ts';
import { isList } from './values.ts';

/** Placement of an axis2_placement_3d or a cartesian_transformation_operator_3d, its lengths multiplied to mm. */
export function readAxes(file: StepFile, id: number, toMm: number): Placement {
  const record = file.record(id, 'AXIS2_PLACEMENT_3D');
  if (record) return placementFromAxes(readTriple(file, refOf(record[1]), 'CARTESIAN_POINT', toMm) ?? [0, 0, 0], direction(file, record[2]), direction(file, record[3]));
  return readOperator(file, id, toMm);
}

function direction(file: StepFile, value: Parameters<typeof refOf>[0]): Vec3 | null {
  return readTriple(file, refOf(value), 'DIRECTION', 1);
}

function readTriple(file: StepFile, id: number | null, keyword: string, factor: number): Vec3 | null {
  const values = id === null ? null : file.record(id, keyword)?.[1];
  if (!isList(values)) return null;
  const [x = 0, y = 0, z = 0] = values.map((value) => (typeof value === 'number' ? value * factor : 0));
  return [x, y, z];
}

/** ISO 10303-42 cartesian_transformation_operator_3d: axis1, axis2, local origin, scale, axis3. */
function readOperator(file: StepFile, id: number, toMm: number): Placement {
  const entity = file.entity(id);
  const complex = entity?.get('CARTESIAN_TRANSFORMATION_OPERATOR');
  const simple = entity?.get('CARTESIAN_TRANSFORMATION_OPERATOR_3D');
  // A complex instance splits the parameters over its partial records, without the name in front.
  const [axis1, axis2, origin, factor, axis3] = complex
    ? [...complex, simple?.[0]]
    : simple ? simple.slice(simple.length - 5) : [];
  if (!entity || !(complex || simple)) return identityPlacement;
  const x = direction(file, axis1) ?? [1, 0, 0];
  const y = direction(file, axis2) ?? [0, 1, 0];
  const z = direction(file, axis3) ?? [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]];
  const o = readTriple(file, refOf(origin), 'CARTESIAN_POINT', toMm) ?? [0, 0, 0];
  const s = typeof factor === 'number' && factor > 0 ? factor : 1;
  return [x[0] * s, y[0] * s, z[0] * s, o[0], x[1] * s, y[1] * s, z[1] * s, o[1], x[2] * s, y[2] * s, z[2] * s, o[2]];
}

/** The map that carries what is drawn at axes `from` to axes `to`. */
export const placementBetween = (from: Placement, to: Placement): Placement => composePlacements(to, invertPlacement(from));
