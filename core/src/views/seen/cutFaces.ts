import type { PathKey } from '../../assembly/index.ts';
import {
  applyToDirection,
  applyToPoint,
  composePlacements,
  determinant,
  normalize,
  type Placement,
  type Vec2,
} from '../../geometry/index.ts';
import { areaOf } from '../../sections/index.ts';
import { bodiesLeft, type LookCut } from '../scene/cutBodies.ts';
import { EDGE_ON } from '../scene/placed.ts';
import type { Body } from '../records.ts';

/** A cut face of a machine, seen or not. */
interface ListedCutFace {
  readonly path: PathKey;
  /** True size, from wherever it is seen; mm². */
  readonly areaMm2: number;
  /** Closed outlines on the view plane; of a face seen edge-on they have no width. mm */
  readonly rings: readonly (readonly Vec2[])[];
  /** Whether it is turned to the viewer, who sees it hatched. */
  readonly hatched: boolean;
}

/** A face smaller than this is where a plane touches a shape but for round-off; mm². */
const LEAST_AREA = 1e-6;

/** What a cut comes to. */
export interface CutFaces {
  readonly faces: readonly ListedCutFace[];
  /** Places that are open where they were cut: nobody knows what of them is matter. */
  readonly open: readonly PathKey[];
  /** Places through which a plane goes, shown whole. */
  readonly whole: readonly PathKey[];
  /** How many things there were, and how many of them are left. */
  readonly of: number;
  readonly left: number;
}

/** An outline on the view plane; of a mirrored part the other way round, so that matter is on the left again. */
function onView(ring: Float64Array, toView: Placement, isMirrored: boolean): Vec2[] {
  const points = Array.from({ length: ring.length / 3 }, (_, at): Vec2 => {
    const [x, y] = applyToPoint(toView, [ring[at * 3], ring[at * 3 + 1], ring[at * 3 + 2]]);
    return [x, y];
  });
  return isMirrored ? points.reverse() : points;
}

/** All faces that a cut makes, in structure order. @param view machine to view coordinates */
export function listCutFaces(machine: readonly Body[], view: Placement, cut: LookCut): CutFaces {
  const bodies = bodiesLeft(machine, cut);
  const faces = bodies.flatMap(({ cut: own, placement, path }): ListedCutFace[] => {
    if (!own) return [];
    const toView = composePlacements(view, placement);
    const stretch = Math.cbrt(determinant(placement)) ** 2;
    return own.faces.flatMap((face) =>
      face.rings.length === 0 || areaOf(face) < LEAST_AREA
        ? []
        : [
            {
              path,
              areaMm2: areaOf(face) * stretch,
              rings: face.rings.map((ring) => onView(ring, toView, determinant(placement) < 0)),
              hatched: normalize(applyToDirection(toView, face.normal))[2] > EDGE_ON,
            },
          ],
    );
  });
  const pathsOf = (are: (body: Body) => boolean): PathKey[] => [...new Set(bodies.filter(are).map(({ path }) => path))];
  return {
    faces,
    open: pathsOf((body) => body.cut?.isOpen === true),
    whole: pathsOf(({ leftWhole }) => leftWhole === true),
    of: machine.length,
    left: bodies.length,
  };
}
