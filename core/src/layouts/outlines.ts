// Shapes of a layout as polylines: SVG 2, 9 (paths) and 10 (basic shapes).
import type { SvgNode } from './svgNodes.ts';
import { numbersIn } from './transforms.ts';

/** x, y one after the other, in the coordinates of the element. */
export interface Outline {
  readonly points: number[];
  readonly closed: boolean;
}
/** Pieces of a curve, and of a whole turn. */
const CURVE = 10,
  TURN = 48;
/** Points of one element. */
const MOST_POINTS = 200_000;

const number = (text: string | undefined): number => {
  const value = parseFloat(text ?? '');
  return Number.isFinite(value) ? value : 0;
};

/** The outlines of a shape; none for what is no shape or has no size. */
export function outlinesOf({ tag, attributes: a }: SvgNode): Outline[] {
  switch (tag) {
    case 'path':
      return readPath(a.d ?? '');
    case 'rect': {
      const [x, y, w, h] = [number(a.x), number(a.y), number(a.width), number(a.height)];
      return w > 0 && h > 0 ? [{ points: [x, y, x + w, y, x + w, y + h, x, y + h], closed: true }] : [];
    }
    case 'circle':
    case 'ellipse': {
      const rx = number(a.rx ?? a.r),
        ry = number(a.ry ?? a.r);
      if (!(rx > 0 && ry > 0)) return [];
      const points: number[] = [];
      for (let at = 0; at < TURN; at++) {
        const angle = (at / TURN) * 2 * Math.PI;
        points.push(number(a.cx) + rx * Math.cos(angle), number(a.cy) + ry * Math.sin(angle));
      }
      return [{ points, closed: true }];
    }
    case 'line':
      return [{ points: [number(a.x1), number(a.y1), number(a.x2), number(a.y2)], closed: false }];
    case 'polyline':
    case 'polygon': {
      const points = numbersIn(a.points ?? '').slice(0, MOST_POINTS);
      if (points.length % 2 === 1) points.pop();
      return points.length >= 4 ? [{ points, closed: tag === 'polygon' }] : [];
    }
    default:
      return [];
  }
}

const COUNTS: Readonly<Record<string, number>> = { M: 2, L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2, A: 7, Z: 0 };
const COMMAND = /([MmLlHhVvCcSsQqTtAaZz])([^MmLlHhVvCcSsQqTtAaZz]*)/g;
const ARGUMENT = /[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y;

/** A path's data; what follows a mistake is left out, as the standard has it. */
export function readPath(data: string): Outline[] {
  const pen = new Pen();
  for (const [, letter, list] of data.matchAll(COMMAND)) {
    const kind = letter.toUpperCase();
    const values = argumentsOf(kind, list);
    if (kind === 'Z') pen.close();
    else {
      const size = COUNTS[kind];
      for (let at = 0; at + size <= values.length; at += size)
        pen.draw(kind === 'M' && at > 0 ? 'L' : kind, values.slice(at, at + size), letter !== kind);
      if (values.length % size !== 0 || values.length === 0) break;
    }
    if (pen.count > MOST_POINTS) break;
  }
  return pen.finish();
}

/** Flags of arcs are single digits that may stand without anything between. */
function argumentsOf(kind: string, list: string): number[] {
  const values: number[] = [];
  for (let at = 0; at < list.length;) {
    if (/[\s,]/.test(list[at])) {
      at++;
      continue;
    }
    const isFlag = kind === 'A' && [3, 4].includes(values.length % 7);
    if (isFlag && /[01]/.test(list[at])) {
      values.push(Number(list[at++]));
      continue;
    }
    ARGUMENT.lastIndex = at;
    const found = ARGUMENT.exec(list);
    if (!found) break;
    values.push(Number(found[0]));
    at += found[0].length;
  }
  return values;
}

class Pen {
  private readonly made: Outline[] = [];
  private points: number[] = [];
  private x = 0;
  private y = 0;
  private startX = 0;
  private startY = 0;
  /** Where the last curve was led from, for a smooth next one. */
  private lead: readonly [kind: string, x: number, y: number] | null = null;
  count = 0;

  draw(kind: string, values: readonly number[], relative: boolean): void {
    const [dx, dy] = relative ? [this.x, this.y] : [0, 0];
    const at = (index: number): [number, number] => [values[index] + dx, values[index + 1] + dy];
    const before = this.lead;
    this.lead = null;
    switch (kind) {
      case 'M':
        this.end(false);
        [this.x, this.y] = at(0);
        [this.startX, this.startY] = [this.x, this.y];
        return;
      case 'L':
        return this.line(...at(0));
      case 'H':
        return this.line(values[0] + dx, this.y);
      case 'V':
        return this.line(this.x, values[0] + dy);
      case 'C':
        return this.cubic(at(0), at(2), at(4));
      case 'S':
        return this.cubic(this.mirrored(before, 'C'), at(0), at(2));
      case 'Q':
        return this.quadratic(at(0), at(2));
      case 'T':
        return this.quadratic(this.mirrored(before, 'Q'), at(0));
      default:
        return this.arc(values, at(5));
    }
  }
  close(): void {
    this.end(true);
    [this.x, this.y] = [this.startX, this.startY];
    this.lead = null;
  }
  finish(): Outline[] {
    this.end(false);
    return this.made;
  }

  private end(closed: boolean): void {
    if (this.points.length >= 4) this.made.push({ points: this.points, closed });
    this.points = [];
  }
  private line(x: number, y: number): void {
    if (this.points.length === 0) this.points.push(this.x, this.y);
    this.points.push(x, y);
    [this.x, this.y] = [x, y];
    this.count++;
  }
  private mirrored(lead: Pen['lead'], kind: string): [number, number] {
    return lead?.[0] === kind ? [2 * this.x - lead[1], 2 * this.y - lead[2]] : [this.x, this.y];
  }
  private cubic(one: readonly [number, number], two: readonly [number, number], to: readonly [number, number]): void {
    const { x, y } = this;
    for (let at = 1; at <= CURVE; at++) {
      const t = at / CURVE,
        s = 1 - t;
      const mix = (from: number, a: number, b: number, end: number) =>
        s * s * s * from + 3 * s * s * t * a + 3 * s * t * t * b + t * t * t * end;
      this.line(mix(x, one[0], two[0], to[0]), mix(y, one[1], two[1], to[1]));
    }
    this.lead = ['C', two[0], two[1]];
  }
  private quadratic(by: readonly [number, number], to: readonly [number, number]): void {
    const { x, y } = this;
    const third = (from: number, lead: number): number => from + (2 / 3) * (lead - from);
    this.cubic([third(x, by[0]), third(y, by[1])], [third(to[0], by[0]), third(to[1], by[1])], to);
    this.lead = ['Q', by[0], by[1]];
  }
  /** Source: SVG 2, appendix B.2.4 (conversion from endpoint to centre parameterization). */
  private arc([rx0, ry0, turn, large, sweep]: readonly number[], [x, y]: readonly [number, number]): void {
    let rx = Math.abs(rx0),
      ry = Math.abs(ry0);
    if (rx === 0 || ry === 0) return this.line(x, y);
    const phi = (turn * Math.PI) / 180;
    const [cos, sin] = [Math.cos(phi), Math.sin(phi)];
    const [hx, hy] = [(this.x - x) / 2, (this.y - y) / 2];
    const px = cos * hx + sin * hy,
      py = cos * hy - sin * hx;
    const grown = Math.sqrt((px / rx) ** 2 + (py / ry) ** 2);
    if (grown > 1) [rx, ry] = [rx * grown, ry * grown];
    const rest = (rx * ry) ** 2 - (rx * py) ** 2 - (ry * px) ** 2;
    const share = Math.sqrt(Math.max(0, rest / ((rx * py) ** 2 + (ry * px) ** 2 || 1))) * (large === sweep ? -1 : 1);
    const [ox, oy] = [(share * rx * py) / ry, (-share * ry * px) / rx];
    const [cx, cy] = [cos * ox - sin * oy + (this.x + x) / 2, sin * ox + cos * oy + (this.y + y) / 2];
    const from = Math.atan2((py - oy) / ry, (px - ox) / rx);
    let angle = Math.atan2((-py - oy) / ry, (-px - ox) / rx) - from;
    if (sweep && angle < 0) angle += 2 * Math.PI;
    if (!sweep && angle > 0) angle -= 2 * Math.PI;
    const pieces = Math.max(1, Math.ceil((Math.abs(angle) / (2 * Math.PI)) * TURN));
    for (let at = 1; at < pieces; at++) {
      const t = from + (angle * at) / pieces;
      const [ex, ey] = [rx * Math.cos(t), ry * Math.sin(t)];
      this.line(cx + cos * ex - sin * ey, cy + sin * ex + cos * ey);
    }
    this.line(x, y);
  }
}
