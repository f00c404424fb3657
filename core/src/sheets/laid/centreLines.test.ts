import { describe, expect, test } from 'vitest';
import { flangeParts, machineOf } from '../../../../testkit/flange.ts';
import { at, latheMesh } from '../../../../testkit/shapes.ts';
import { drawLook, linesWithin, viewPlacement, type DirectionName, type ViewLines } from '../../views/index.ts';
import { centreLinesOf, type CentreLine } from '../index.ts';

const { bodies } = machineOf(flangeParts);
const seen = (direction: DirectionName): ViewLines => drawLook(bodies, viewPlacement(direction)).lines;
const views = { top: seen('top'), front: seen('front') };

/** From where to where a centre line goes, dashes and gaps together. */
const reach = ({ ends }: CentreLine) => {
  const xs = [...ends].filter((_, k) => k % 2 === 0),
    ys = [...ends].filter((_, k) => k % 2 === 1);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)].map((v) => Math.round(v * 100) / 100 + 0);
};
const inked = ({ ends }: CentreLine) => {
  let sum = 0;
  for (let k = 0; k < ends.length; k += 4) sum += Math.hypot(ends[k + 2] - ends[k], ends[k + 3] - ends[k + 1]);
  return sum;
};
const look = { smallest: 8 };

describe('centre lines of a view', () => {
  test('there are none unless they are asked for', () =>
    expect(centreLinesOf({ scale: 1 }, views.top, 0.25)).toEqual([]));
  test('end on: a cross on the disc, 3 mm beyond it on paper whatever the scale', () => {
    for (const scale of [0.5, 1, 2]) {
      const [disc] = centreLinesOf({ scale, centreLines: look }, views.top, 0.25);
      const far = 100 * scale + 3;
      expect(reach(disc)).toEqual([-far, -far, far, far]);
    }
  });
  test('six pins around its middle have a circle in common, and a stroke each towards the middle', () => {
    const lines = centreLinesOf({ scale: 1, centreLines: look }, views.top, 0.25);
    expect(lines).toHaveLength(8); // the disc, six pins, their circle
    const circle = lines.find(({ id }) => id.startsWith('round '))!;
    for (let k = 0; k < circle.ends.length; k += 2)
      expect(Math.hypot(circle.ends[k], circle.ends[k + 1])).toBeCloseTo(75, 0);
    // The pin on the x axis: from 10 + 3 mm inside to as much outside of it, and nothing across.
    expect(lines.map(reach)).toContainEqual([62, 0, 88, 0]);
  });
  test('from aside: one line along the axis of the disc and of each pin that is seen', () => {
    const lines = centreLinesOf({ scale: 1, centreLines: look }, views.front, 0.25);
    const disc = lines.map(reach).filter(([x0, , x1]) => x0 === 0 && x1 === 0);
    expect(disc).toEqual([[0, -3, 0, 33]]);
    for (const [x0, y0, x1, y1] of lines.map(reach).filter(([x]) => x !== 0)) {
      expect(x0).toBe(x1);
      expect([y0, y1]).toEqual([27, 83]);
    }
    expect(lines.map(reach)).toContainEqual([75, 27, 75, 83]);
  });
  test('what is smaller on paper than the smallest has none, but where it is asked for by itself', () => {
    const few = centreLinesOf({ scale: 0.3, centreLines: look }, views.top, 0.25);
    expect(few).toHaveLength(1); // pins are 6 mm here
    const all = centreLinesOf({ scale: 0.3, centreLines: { smallest: 1 } }, views.top, 0.25);
    const pin = all.find(({ id }) => !id.startsWith('round ') && id !== few[0].id)!;
    const one = centreLinesOf({ scale: 0.3, centreLines: { ...look, on: [pin.id] } }, views.top, 0.25);
    expect(one.map(({ id }) => id).sort()).toEqual([few[0].id, pin.id].sort());
  });
  test('one that is not wanted is left out, the others stay', () => {
    const lines = centreLinesOf({ scale: 1, centreLines: look }, views.top, 0.25);
    const rest = centreLinesOf({ scale: 1, centreLines: { ...look, off: lines[0].members } }, views.top, 0.25);
    expect(rest.map(({ id }) => id)).not.toContain(lines[0].id);
    expect(rest.length).toBeGreaterThan(0);
  });
  test('dashes, gaps and dots: both ends are dashes, gaps take what line 04.1 says, short ones are whole', () => {
    const [disc] = centreLinesOf({ scale: 1, centreLines: look }, views.top, 0.25);
    const gaps = 2 * 206 - inked(disc); // two arms of 206 mm
    const dots = [...disc.ends.keys()].filter(
      (k) => k % 4 === 0 && Math.hypot(disc.ends[k + 2] - disc.ends[k], disc.ends[k + 3] - disc.ends[k + 1]) < 0.2,
    ).length;
    expect(gaps).toBeCloseTo(dots * 2 * 3 * 0.25, 6);
    const tiny = centreLinesOf({ scale: 0.01, centreLines: { smallest: 0 } }, views.top, 0.25);
    expect(tiny.every((line) => line.id.startsWith('round ') || inked(line) >= 6)).toBe(true);
  });
  test('what is behind something has none; what is on one axis has one in common', () => {
    const pack = [
      {
        number: 'LOW',
        mesh: latheMesh([
          [0, 0],
          [30, 0],
          [30, 10],
          [0, 10],
        ]),
        placement: at(0, 0, 0),
      },
      {
        number: 'HIGH',
        mesh: latheMesh([
          [0, 0],
          [20, 0],
          [20, 40],
          [0, 40],
        ]),
        placement: at(0, 0, 10),
      },
      {
        number: 'BEHIND',
        mesh: latheMesh([
          [0, 0],
          [5, 0],
          [5, 30],
          [0, 30],
        ]),
        placement: at(0, 60, 12),
      },
    ];
    const { lines } = drawLook(machineOf(pack).bodies, viewPlacement('front'));
    const found = centreLinesOf({ scale: 1, centreLines: { smallest: 1 } }, lines, 0.25);
    expect(found.map(reach)).toEqual([[0, -3, 0, 53]]);
    expect(found[0].members).toHaveLength(2);
  });
  test('the two of a pair have one line through both, and a stroke each across it; with a third of their size they are no pair', () => {
    const holes = (...places: readonly (readonly [number, number, number])[]): ViewLines => ({
      ...views.top,
      box: [0, 0, 200, 100],
      paths: ['plate' as ViewLines['paths'][number]],
      axisEnds: Float64Array.from(places.flatMap(([x, y]) => [x, y, 0, x, y, 10])),
      axisRadii: Float64Array.from(places, ([, , radius]) => radius),
      axisOccurrences: Int32Array.from(places, () => 0),
      axisFeatures: Int32Array.from(places, (_, at) => at),
    });
    const drawn = (lines: ViewLines, off: readonly string[] = []) =>
      centreLinesOf({ scale: 1, centreLines: { ...look, off } }, lines, 0.25).map(reach);
    const pair = holes([40, 50, 8], [160, 50, 8], [100, 20, 12]);
    // From 3 mm beyond one to 3 mm beyond the other.
    expect(drawn(pair)).toEqual([
      [29, 39, 171, 61],
      [160, 39, 160, 61],
      [85, 5, 115, 35],
    ]);
    expect(drawn(pair, ['plate:0'])[0]).toEqual([149, 39, 171, 61]);
    expect(drawn(holes([40, 50, 8], [160, 50, 8], [100, 80, 8]))).toEqual([
      [29, 39, 51, 61],
      [149, 39, 171, 61],
      [89, 69, 111, 91],
    ]);
  });
  test('a view with very many has the largest of them only', () => {
    const count = 3000;
    const axes = {
      axisEnds: Float64Array.from({ length: count * 6 }, (_, k) =>
        k % 3 === 2 ? (k % 6 === 5 ? 1 : 0) : Math.floor(k / 6) * 10,
      ),
      axisRadii: Float64Array.from({ length: count }, (_, axis) => 1 + axis / count),
      axisOccurrences: new Int32Array(count),
      axisFeatures: Int32Array.from({ length: count }, (_, axis) => axis),
    };
    const many = centreLinesOf({ scale: 10, centreLines: { smallest: 0 } }, { ...views.top, ...axes }, 0.25);
    expect(many).toHaveLength(2000);
    expect(many.map(({ id }) => Number(id.split(':')[1])).every((feature) => feature >= 1000)).toBe(true);
  });
  test('an enlarged detail has those that lie in it', () => {
    const piece = linesWithin(views.top, { centre: [75, 0], radius: 20 });
    const found = centreLinesOf({ scale: 2, centreLines: look }, piece, 0.25);
    expect(found.map(reach)).toEqual([[127, -23, 173, 23]]);
  });
});
