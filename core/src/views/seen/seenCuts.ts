import Flatbush from 'flatbush';
import {
  applyToDirection,
  applyToPoint,
  composePlacements,
  dot,
  normalize,
  type Box2,
  type Placement,
  type Vec2,
  type Vec3,
} from '../../geometry/index.ts';
import { areaWithin, boxAround } from '../../sections/index.ts';
import { PathList } from '../lines/paths.ts';
import { EDGE_ON } from '../scene/placed.ts';
import { SAME_POINT_SHARE, type ViewScene } from '../scene/scene.ts';
import type { Body, ViewCuts } from '../records.ts';
import { packedCuts, without } from './cutAreas.ts';

/** A cut face that is turned to the viewer, on the view plane. */
interface SeenFace {
  readonly body: number;
  readonly plane: number;
  readonly rings: readonly (readonly Vec2[])[];
  readonly box: Box2;
  /** Of its plane: unit normal towards the viewer, and where it lies along that; view coordinates. */
  readonly normal: Vec3;
  readonly offset: number;
  readonly area: number;
}

/**
 * What is seen of the cut faces of a view: their outlines without what lies before them, such as a bolt that is shown whole.
 * Where two parts lie in one another, as a thread in its nut, the smaller face is in front.
 * @param paths of the view's lines
 */
export function seenCuts(
  bodies: readonly Body[],
  view: Placement,
  scene: ViewScene,
  paths: readonly string[],
): ViewCuts & { readonly paths: PathList['paths'] } {
  const list = new PathList();
  for (const path of paths) list.indexOf(path as Body['path']);
  const faces = facesTowards(bodies, view);
  const before = whatIsBefore(faces, scene);
  const areas = faces.map(({ rings }, at) => (before[at].length > 0 ? without(rings, before[at], scene.size) : rings));
  const placesOf = (are: (body: Body) => boolean): Int32Array =>
    Int32Array.from(new Set(bodies.filter(are).map(({ path }) => list.indexOf(path))));
  return {
    ...packedCuts(areas, {
      cutOccurrences: Int32Array.from(faces, ({ body }) => list.indexOf(bodies[body].path)),
      cutPlanes: Int32Array.from(faces, ({ plane }) => plane),
    }),
    cutOpen: placesOf(({ cut }) => cut?.isOpen === true),
    cutWhole: placesOf(({ leftWhole }) => leftWhole === true),
    paths: list.paths,
  };
}

function facesTowards(bodies: readonly Body[], view: Placement): SeenFace[] {
  return bodies.flatMap(({ cut, placement }, body) => {
    if (!cut) return [];
    const toView = composePlacements(view, placement);
    return cut.faces.flatMap(({ plane, normal, rings }): SeenFace[] => {
      const towards = normalize(applyToDirection(toView, normal));
      if (towards[2] <= EDGE_ON || rings.length === 0) return [];
      const points = rings.map((ring) =>
        Array.from({ length: ring.length / 3 }, (_, at) =>
          applyToPoint(toView, [ring[at * 3], ring[at * 3 + 1], ring[at * 3 + 2]]),
        ),
      );
      const flat = points.map((ring) => ring.map(([x, y]): Vec2 => [x, y]));
      return [
        {
          body,
          plane,
          rings: flat,
          box: boxAround(flat),
          normal: towards,
          offset: dot(points[0][0], towards),
          area: areaWithin(flat),
        },
      ];
    });
  });
}

/** For each face, outlines of what lies before it. */
function whatIsBefore(faces: readonly SeenFace[], scene: ViewScene): (readonly Vec2[])[][] {
  const before: (readonly Vec2[])[][] = faces.map(() => []);
  if (faces.length === 0) return before;
  const index = new Flatbush(faces.length);
  for (const { box } of faces) index.add(...box);
  index.finish();
  const near = scene.size * SAME_POINT_SHARE * 4;
  faces.forEach((face, at) => {
    for (const other of index.search(...face.box)) {
      const { normal, offset, area, rings } = faces[other];
      const isOne = Math.abs(dot(normal, face.normal) - 1) < 1e-9 && Math.abs(offset - face.offset) <= near;
      if (isOne && (area < face.area || (area === face.area && other < at)))
        for (const ring of rings) before[at].push(ring);
    }
  });
  const { corners: p, triangleBody } = scene;
  for (let t = 0; t < triangleBody.length; t++) {
    const a = t * 9;
    const x0 = Math.min(p[a], p[a + 3], p[a + 6]),
      y0 = Math.min(p[a + 1], p[a + 4], p[a + 7]),
      x1 = Math.max(p[a], p[a + 3], p[a + 6]),
      y1 = Math.max(p[a + 1], p[a + 4], p[a + 7]);
    for (const at of index.search(x0, y0, x1, y1)) {
      const piece = beforePlane(p, a, faces[at], near + scene.triangleStray[t]);
      if (piece.length > 2) before[at].push(piece);
    }
  }
  return before;
}

/** The part of a triangle that lies before a plane, seen from the viewer. */
function beforePlane(p: Float64Array, a: number, { normal, offset }: SeenFace, near: number): Vec2[] {
  const off = [0, 3, 6].map((k) => p[a + k] * normal[0] + p[a + k + 1] * normal[1] + p[a + k + 2] * normal[2] - offset);
  if (off.every((value) => value <= near)) return [];
  const piece: Vec2[] = [];
  for (let side = 0; side < 3; side++) {
    const other = (side + 1) % 3;
    const [x, y] = [p[a + side * 3], p[a + side * 3 + 1]];
    if (off[side] > 0) piece.push([x, y]);
    if (off[side] > 0 !== off[other] > 0) {
      const share = off[side] / (off[side] - off[other]);
      piece.push([x + share * (p[a + other * 3] - x), y + share * (p[a + other * 3 + 1] - y)]);
    }
  }
  return piece;
}
