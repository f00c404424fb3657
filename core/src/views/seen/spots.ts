import Flatbush from 'flatbush';
import {
  hypot,
  applyToPoint,
  composePlacements,
  distanceToStretch,
  invertPlacement,
  type Mesh,
  type Placement,
  type Vec3,
} from '../../geometry/index.ts';
import type { PathKey, OccurrenceIndex } from '../../assembly/index.ts';
import { PathList } from '../lines/paths.ts';
import { bodyOfLabel, distanceToOthers, drawItemBuffer, type ItemBuffer } from './itemBuffer.ts';
import { lineKinds, type Body, type ViewLines } from '../records.ts';
import { buildScene } from '../scene/scene.ts';

/**
 * Where a leader may end on each visible occurrence, independent of scale. Arrays are parallel; spots of one occurrence
 * follow one another, cut faces before other faces before outlines, roomiest first.
 */
export interface Spots {
  readonly occurrences: Int32Array;
  /** Places of the machine of which anything is seen: what `occurrences` are indices into. */
  readonly paths: readonly PathKey[];
  /** 2: inside a cut face; 1: inside another face; 0: on a line of the occurrence. */
  readonly onFace: Uint8Array;
  /** x, y on the view plane; mm, y up. */
  readonly points: Float64Array;
  /**
   * Inside a face: radius of the largest circle around the spot within the visible face. On a line: distance to the
   * nearest line of anything else. mm at 1:1.
   */
  readonly room: Float64Array;
  /** x, y, z in the component's own coordinates; mm. */
  readonly anchors: Float64Array;
  /** Per entry of `paths`: how broad the whole of it is across the line of sight where it is narrowest, seen or not; mm. */
  readonly breadths: Float64Array;
}

/** The picture is searched in this many tiles each way, so that a long face offers spots along its whole length. */
const TILES = 24;
const SPOTS_PER_OCCURRENCE = 24;
const LINE_SPOTS_PER_OCCURRENCE = 12;
/** Clearance of line spots is measured up to this share of the view's longer side; more room than that is as good. */
const CLEARANCE_SHARE = 0.02;

interface Spot {
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly room: number;
  readonly isCut?: boolean;
}

/** What there is to see of a machine from somewhere: its lines, and where leaders may end. */
export interface DrawnView {
  /** Hidden ones only where they were asked for. */
  readonly lines: ViewLines;
  readonly spots: Spots;
}

/** @param lines what drawView made of the same bodies and view */
export function findSpots(bodies: readonly Body[], view: Placement, lines: ViewLines): Spots {
  const firstLabel = labelsOf(bodies);
  const buffer = drawItemBuffer(buildScene(bodies, view), lines.box, firstLabel);
  return spotsOfPicture(buffer, firstLabel, bodies, view, lines);
}

/** First label of each body, and one past the last. */
export function labelsOf(bodies: readonly Body[]): Int32Array {
  const firstLabel = new Int32Array(bodies.length + 1);
  bodies.forEach(({ mesh }, at) => (firstLabel[at + 1] = firstLabel[at] + mesh.faceStarts.length - 1));
  return firstLabel;
}

/** @param buffer what is seen of the faces, with these labels */
export function spotsOfPicture(
  buffer: ItemBuffer,
  firstLabel: Int32Array,
  bodies: readonly Body[],
  view: Placement,
  lines: ViewLines,
): Spots {
  const faces = faceSpots(buffer, firstLabel, bodies);
  return pack(bodies, view, faces, lineSpots(lines));
}

/** Best pixel per face and tile, gathered by body. */
function faceSpots(buffer: ItemBuffer, firstLabel: Int32Array, bodies: readonly Body[]): Map<number, Spot[]> {
  const { width, height, pixel, labels, depth } = buffer;
  const distance = distanceToOthers(buffer);
  const best = new Map<number, number>(); // label and tile → pixel
  for (let row = 0, at = 0; row < height; row++) {
    const tileRow = Math.floor((row * TILES) / height) * TILES;
    for (let column = 0; column < width; column++, at++) {
      if (labels[at] < 0) continue;
      const key = labels[at] * TILES * TILES + tileRow + Math.floor((column * TILES) / width);
      const known = best.get(key);
      if (known === undefined || distance[at] > distance[known]) best.set(key, at);
    }
  }
  const spots = new Map<number, Spot[]>();
  for (const [key, at] of best) {
    const label = Math.floor(key / (TILES * TILES));
    const body = bodyOfLabel(firstLabel, label);
    const spot = {
      x: buffer.originX + ((at % width) + 0.5) * pixel,
      y: buffer.originY + (Math.floor(at / width) + 0.5) * pixel,
      z: depth[at],
      room: distance[at] * pixel,
      isCut: bodies[body].cut?.faces.some(({ face }) => face === label - firstLabel[body]) ?? false,
    };
    const list = spots.get(body);
    if (list) list.push(spot);
    else spots.set(body, [spot]);
  }
  for (const [body, list] of spots)
    spots.set(
      body,
      list.sort((a, b) => Number(b.isCut) - Number(a.isCut) || b.room - a.room).slice(0, SPOTS_PER_OCCURRENCE),
    );
  return spots;
}

/** Points along each place's own full lines, with their distance from the lines of all others. */
function lineSpots(lines: ViewLines): Map<PathKey, Spot[]> {
  const { ends, depths, kinds, visible, occurrences, box } = lines;
  const shown: number[] = [];
  for (let at = 0; at < kinds.length; at++) if (visible[at]) shown.push(at);
  const spots = new Map<PathKey, Spot[]>();
  if (shown.length === 0) return spots;
  const index = new Flatbush(shown.length);
  for (const at of shown) {
    const e = at * 4;
    index.add(
      Math.min(ends[e], ends[e + 2]),
      Math.min(ends[e + 1], ends[e + 3]),
      Math.max(ends[e], ends[e + 2]),
      Math.max(ends[e + 1], ends[e + 3]),
    );
  }
  index.finish();
  const reach = Math.max(box[2] - box[0], box[3] - box[1]) * CLEARANCE_SHARE;
  const clearance = (x: number, y: number, occurrence: OccurrenceIndex) => {
    let nearest = reach;
    for (const found of index.search(x - reach, y - reach, x + reach, y + reach)) {
      const at = shown[found];
      if (occurrences[at] !== occurrence)
        nearest = Math.min(
          nearest,
          distanceToStretch([x, y], [ends[at * 4], ends[at * 4 + 1]], [ends[at * 4 + 2], ends[at * 4 + 3]]),
        );
    }
    return nearest;
  };
  const own = new Map<number, number[]>();
  for (const at of shown) {
    if (lineKinds[kinds[at]] === 'tangent') continue;
    const list = own.get(occurrences[at]);
    if (list) list.push(at);
    else own.set(occurrences[at], [at]);
  }
  for (const [occurrence, list] of own) {
    const found = samplesAlong(list, ends, depths, LINE_SPOTS_PER_OCCURRENCE).map(([x, y, z]) => ({
      x,
      y,
      z,
      room: clearance(x, y, occurrence),
    }));
    spots.set(
      lines.paths[occurrence],
      found.sort((a, b) => b.room - a.room),
    );
  }
  return spots;
}

/** Points at equal distances along the joined length of these lines. */
function samplesAlong(list: readonly number[], ends: Float64Array, depths: Float64Array, count: number): Vec3[] {
  const size = (at: number) => hypot(ends[at * 4 + 2] - ends[at * 4], ends[at * 4 + 3] - ends[at * 4 + 1]);
  const total = list.reduce((sum, at) => sum + size(at), 0);
  const samples: Vec3[] = [];
  let passed = 0;
  for (const at of list) {
    const length = size(at);
    for (
      let next = ((samples.length + 0.5) * total) / count;
      next <= passed + length && samples.length < count;
      next = ((samples.length + 0.5) * total) / count
    ) {
      const t = length === 0 ? 0 : (next - passed) / length;
      samples.push([
        ends[at * 4] + t * (ends[at * 4 + 2] - ends[at * 4]),
        ends[at * 4 + 1] + t * (ends[at * 4 + 3] - ends[at * 4 + 1]),
        depths[at * 2] + t * (depths[at * 2 + 1] - depths[at * 2]),
      ]);
    }
    passed += length;
  }
  return samples;
}

function pack(
  bodies: readonly Body[],
  view: Placement,
  faces: Map<number, Spot[]>,
  outlines: Map<PathKey, Spot[]>,
): Spots {
  const occurrences: number[] = [],
    onFace: number[] = [],
    points: number[] = [],
    room: number[] = [],
    anchors: number[] = [];
  const paths = new PathList();
  const breadths: number[] = [];
  bodies.forEach((body, index) => {
    const inFaces = faces.get(index) ?? [],
      onLines = outlines.get(body.path) ?? [];
    if (inFaces.length + onLines.length === 0) return;
    const toView = composePlacements(view, body.placement);
    const toOwn = invertPlacement(toView);
    const place = paths.indexOf(body.path);
    breadths[place] = Math.max(breadths[place] ?? 0, breadthAcross(body.mesh, toView));
    for (const [list, face] of [
      [inFaces, 1],
      [onLines, 0],
    ] as const) {
      for (const spot of list) {
        occurrences.push(place);
        onFace.push(face === 1 && spot.isCut ? 2 : face);
        points.push(spot.x, spot.y);
        room.push(spot.room);
        anchors.push(...applyToPoint(toOwn, [spot.x, spot.y, spot.z]));
      }
    }
  });
  return {
    occurrences: Int32Array.from(occurrences),
    onFace: Uint8Array.from(onFace),
    points: Float64Array.from(points),
    room: Float64Array.from(room),
    anchors: Float64Array.from(anchors),
    breadths: Float64Array.from(breadths),
    paths: paths.paths,
  };
}

/** Directions in which a thing is measured, and vertices at most: nobody needs its breadth exactly. */
const MEASURED_WAYS = 8,
  MEASURED_VERTICES = 2000;

function breadthAcross({ positions }: Mesh, [a, b, c, , e, f, g]: Placement): number {
  const vertices = positions.length / 3;
  const step = Math.max(1, Math.ceil(vertices / MEASURED_VERTICES));
  let narrowest = Infinity;
  for (let way = 0; way < MEASURED_WAYS; way++) {
    const [x, y] = [Math.cos((way * Math.PI) / MEASURED_WAYS), Math.sin((way * Math.PI) / MEASURED_WAYS)];
    const [i, j, k] = [x * a + y * e, x * b + y * f, x * c + y * g];
    let least = Infinity,
      most = -Infinity;
    for (let at = 0; at < positions.length; at += 3 * step) {
      const along = i * positions[at] + j * positions[at + 1] + k * positions[at + 2];
      if (along < least) least = along;
      if (along > most) most = along;
    }
    narrowest = Math.min(narrowest, most - least);
  }
  return narrowest;
}
