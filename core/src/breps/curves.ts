import { add, dot, hypot, scale, subtract, type Vec3 } from '../geometry/index.ts';
import { axis, normalAt, pieceCount, turnStep } from './charts.ts';
import { NotElementary, type Brep, type Curve, type Edge, type ElementarySurface, type Fineness } from './records.ts';

/** An edge end may lie this far from its curve, as a share of the edge's extent; writers keep six digits or so. */
const END_SHARE = 1e-3;
/** A piece of curve is halved at most so often. */
const MOST_HALVINGS = 12;

/**
 * Points along an edge from its start to its end, both as the vertices say; between them points of the curve, as many as
 * the fineness asks for.
 * @param beside surfaces that the edge bounds: they may turn more along it than it does itself
 * @throws NotElementary where the ends are not on the curve
 */
export function sampleEdge(
  { vertices }: Brep,
  edge: Edge,
  fineness: Fineness,
  beside: readonly ElementarySurface[],
): Vec3[] {
  const [start, end] = [vertices[edge.start], vertices[edge.end]];
  const { curve } = edge;
  if (curve.kind === 'line') return [start, end];
  const closed = edge.start === edge.end;
  const { at, from, to } =
    curve.kind === 'conic'
      ? conicStretch(curve, start, end, closed, edge.forward)
      : splineStretch(curve, start, end, closed, edge.forward);
  const inner = between(curve, at, from, to, fineness, beside).map(at);
  const extent = Math.max(farthest(start, [...inner, end]), 1e-9);
  const miss = Math.max(distance(at(from), start), distance(at(to), end));
  if (!(miss <= END_SHARE * extent + fineness.deflection / 10))
    throw new NotElementary('an edge ends beside its curve');
  return [start, ...inner, end];
}

/** A stretch of a curve: its points by parameter, from where to where. */
interface Stretch {
  readonly at: (t: number) => Vec3;
  readonly from: number;
  readonly to: number;
}

const distance = (a: Vec3, b: Vec3): number => hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const farthest = (from: Vec3, points: readonly Vec3[]): number =>
  points.reduce((most, point) => Math.max(most, distance(from, point)), 0);

/** Parameters between both ends, without these. */
function between(
  curve: Curve,
  at: (t: number) => Vec3,
  from: number,
  to: number,
  fineness: Fineness,
  beside: readonly ElementarySurface[],
): number[] {
  if (curve.kind === 'conic' && curve.conic === 'ellipse' && curve.a === curve.b) {
    const count = pieceCount(to - from, turnStep(curve.a, fineness));
    return Array.from({ length: count - 1 }, (_, step) => from + ((to - from) * (step + 1)) / count);
  }
  const found: number[] = [];
  const least = Math.cos(fineness.angle);
  const round = beside.filter(({ kind }) => kind !== 'plane');
  const turns = (a: Vec3, b: Vec3) => round.some((surface) => dot(normalAt(surface, a), normalAt(surface, b)) < least);
  const halve = (low: number, high: number, depth: number): void => {
    const middle = (low + high) / 2;
    if (depth >= MOST_HALVINGS || !(isCoarse(at, low, high, fineness) || turns(at(low), at(high)))) return;
    halve(low, middle, depth + 1);
    found.push(middle);
    halve(middle, high, depth + 1);
  };
  const starts = piecesOf(curve, from, to);
  for (let piece = 0; piece + 1 < starts.length; piece++) {
    if (piece > 0) found.push(starts[piece]);
    halve(starts[piece], starts[piece + 1], 0);
  }
  return found;
}

/** Whether a piece of curve strays too far from its chord, or turns too much along it. */
function isCoarse(at: (t: number) => Vec3, from: number, to: number, { deflection, angle }: Fineness): boolean {
  const [a, m, b] = [at(from), at((from + to) / 2), at(to)];
  const chord = subtract(b, a);
  const square = dot(chord, chord);
  const off = (p: Vec3): number => {
    const way = subtract(p, a);
    const along = square > 0 ? Math.min(1, Math.max(0, dot(way, chord) / square)) : 0;
    return distance(way, scale(chord, along));
  };
  const others = [0.25, 0.75].map((share) => at(from + (to - from) * share));
  if ([m, ...others].some((p) => off(p) > deflection)) return true;
  const [first, second] = [subtract(m, a), subtract(b, m)];
  const sizes = Math.sqrt(dot(first, first) * dot(second, second));
  // Between two halves lies half of the turn along the whole.
  return sizes > 0 && dot(first, second) / sizes < Math.cos(angle / 2);
}

/** Where a curve may bend most: between these parameters it is looked at piece by piece. */
function piecesOf(curve: Curve, from: number, to: number): number[] {
  const near = Math.abs(to - from) * 1e-6;
  const inside = (t: number) => t > Math.min(from, to) + near && t < Math.max(from, to) - near;
  if (curve.kind !== 'spline') return [0, 0.25, 0.5, 0.75, 1].map((share) => from + (to - from) * share);
  const range = curve.knots[curve.poles.length] - curve.knots[curve.degree];
  const knots = [...new Set([...curve.knots, ...curve.knots.map((knot) => knot + range)])].filter(inside);
  knots.sort((one, other) => (one - other) * Math.sign(to - from));
  const ends = [from, ...knots, to];
  return ends.flatMap((t, place) => (place === 0 || curve.degree < 2 ? [t] : [(ends[place - 1] + t) / 2, t]));
}

// --- conics

function conicStretch(
  { conic, frame, a, b }: Curve & { kind: 'conic' },
  start: Vec3,
  end: Vec3,
  closed: boolean,
  forward: boolean,
): Stretch {
  const [x, y, origin] = [axis(frame, 0), axis(frame, 1), axis(frame, 3)];
  const at = (t: number): Vec3 => {
    const [along, across] =
      conic === 'ellipse'
        ? [a * Math.cos(t), b * Math.sin(t)]
        : conic === 'hyperbola'
          ? [a * Math.cosh(t), b * Math.sinh(t)]
          : [a * t * t, 2 * a * t];
    return add(origin, add(scale(x, along), scale(y, across)));
  };
  const parameter = (point: Vec3): number => {
    const from = subtract(point, origin);
    const [along, across] = [dot(from, x), dot(from, y)];
    if (conic === 'ellipse') return Math.atan2(across / b, along / a);
    return conic === 'hyperbola' ? Math.asinh(across / b) : across / (2 * a);
  };
  const from = parameter(start);
  if (conic !== 'ellipse') return { at, from, to: parameter(end) };
  let turn = closed ? 0 : (parameter(end) - from) * (forward ? 1 : -1);
  while (turn <= 1e-9) turn += 2 * Math.PI;
  return { at, from, to: from + (forward ? turn : -turn) };
}

// --- splines

function splineStretch(
  curve: Curve & { kind: 'spline' },
  start: Vec3,
  end: Vec3,
  closed: boolean,
  forward: boolean,
): Stretch {
  const { knots, degree, poles } = curve;
  const [low, high] = [knots[degree], knots[poles.length]];
  const range = high - low;
  const near = 1e-9 + END_SHARE * farthest(poles[0], poles) * 0.1;
  const [first, last] = [splinePoint(curve, low), splinePoint(curve, high)];
  const isLoop = distance(first, last) <= near;
  const at = (t: number): Vec3 => splinePoint(curve, t > high ? t - range : t);
  const [tail, head] = forward ? [start, end] : [end, start];
  const own = (point: Vec3, whole: number, place: Vec3): number =>
    distance(point, place) <= near ? whole : nearestParameter(curve, point);
  const from = own(tail, low, first);
  let to = own(head, high, last);
  if (closed && !isLoop) throw new NotElementary('a closed edge on an open curve');
  if (closed) to = from + range;
  else if (isLoop && to <= from + range * 1e-9) to += range;
  if (!(to > from)) throw new NotElementary('an edge against its curve');
  return forward ? { at, from, to } : { at, from: to, to: from };
}

/** The point of a spline at a parameter, after C. de Boor, "A Practical Guide to Splines" (1978), chapter X. */
function splinePoint({ degree, knots, poles, weights }: Curve & { kind: 'spline' }, t: number): Vec3 {
  let low = degree,
    high = poles.length;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (knots[middle] <= t) low = middle;
    else high = middle;
  }
  const work: number[][] = [];
  for (let at = 0; at <= degree; at++) {
    const pole = poles[low - degree + at],
      weight = weights ? weights[low - degree + at] : 1;
    work.push([pole[0] * weight, pole[1] * weight, pole[2] * weight, weight]);
  }
  for (let round = 1; round <= degree; round++)
    for (let at = degree; at >= round; at--) {
      const left = knots[low - degree + at],
        span = knots[low + 1 + at - round] - left;
      const share = span > 0 ? (t - left) / span : 0;
      for (let part = 0; part < 4; part++) work[at][part] = (1 - share) * work[at - 1][part] + share * work[at][part];
    }
  const [x, y, z, weight] = work[degree];
  return [x / weight, y / weight, z / weight];
}

/** Samples of a curve on the way to the parameter that is nearest to a point. */
const SAMPLES = 24;

function nearestParameter(curve: Curve & { kind: 'spline' }, point: Vec3): number {
  const [low, high] = [curve.knots[curve.degree], curve.knots[curve.poles.length]];
  const far = (t: number): number => distance(splinePoint(curve, t), point);
  const count = SAMPLES + curve.poles.length * 4;
  let best = low,
    least = Infinity;
  for (let step = 0; step <= count; step++) {
    const t = low + ((high - low) * step) / count;
    const found = far(t);
    if (found < least) [best, least] = [t, found];
  }
  // Golden section around the best sample.
  const ratio = (Math.sqrt(5) - 1) / 2;
  let [from, to] = [Math.max(low, best - (high - low) / count), Math.min(high, best + (high - low) / count)];
  for (let round = 0; round < 60; round++) {
    const [one, other] = [to - ratio * (to - from), from + ratio * (to - from)];
    if (far(one) < far(other)) to = other;
    else from = one;
  }
  return (from + to) / 2;
}
