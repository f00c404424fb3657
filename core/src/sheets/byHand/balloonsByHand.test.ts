import { describe, expect, test } from 'vitest';
import { drawing } from '../../../../testkit/blocks.ts';
import type { Balloon } from '../../balloons/index.ts';
import { boxesOverlap } from '../../geometry/index.ts';
import type { Mark } from '../../marks/index.ts';
import {
  balloonRun,
  drawSheet,
  evenOut,
  moveThings,
  planBalloons,
  railBeside,
  railThrough,
  readingOrder,
  swapBalloons,
  withOwnLook,
  withoutThings,
  type Sheet,
} from '../index.ts';

const { sheet, inputs, spots, newId, drawn } = drawing(12);
const laidOf = (one: Sheet) => drawSheet({ ...inputs, sheet: one });
const byItem = (one: Sheet, item: string) => laidOf(one).layout.balloons.find((laid) => laid.item === item)!;
const idOf = (item: string) => byItem(sheet, item).balloon.id;
const only = (item: string) => new Set([idOf(item)]);
const stored = (one: Sheet, item: string): Balloon => one.balloons.find(({ id }) => id === idOf(item))!;
const marksOf = (one: Sheet, item: string): Mark[] =>
  laidOf(one).scene.marks.filter(({ source }) => source.kind === 'balloon' && source.id === idOf(item));
const texts = (marks: readonly Mark[]) => marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : []));

describe('the look of single balloons', () => {
  test('size and shape are their own, the others stay as they are', () => {
    const after = withOwnLook(sheet, only('4'), { lettering: 7, radius: 9, shape: 'square' });
    expect(byItem(after, '4')).toMatchObject({ radius: 9, lettering: 7, shape: 'square' });
    expect(byItem(after, '5')).toEqual(byItem(sheet, '5'));
  });
  test('null leaves it to the sheet again, and nothing of it is left', () => {
    const after = withOwnLook(sheet, only('4'), { lettering: 7, mark: 'none' });
    expect(withOwnLook(after, only('4'), { lettering: null, mark: null })).toEqual(sheet);
  });
  test('texts stand left and right of them, live, and count as theirs', () => {
    const after = withOwnLook(sheet, only('4'), { before: '{quantity}×', after: 'oiled' });
    expect(texts(marksOf(after, '4'))).toEqual(['4', '1×', 'oiled']);
    const [was, is] = [byItem(sheet, '4').box, byItem(after, '4').box];
    expect([is[0] < was[0], is[2] > was[2], is[1]]).toEqual([true, true, was[1]]);
  });
  test('leaders end bare, with a dot or an arrowhead, whatever they end on', () => {
    const kinds = (mark: 'none' | 'dot' | 'arrow') =>
      marksOf(withOwnLook(sheet, only('4'), { mark }), '4')
        .slice(0, 2)
        .map((one) => [one.kind, 'filled' in one && one.filled]);
    expect(kinds('none')[1]).toEqual(['circle', false]); // that is the balloon
    expect(kinds('dot')[1]).toEqual(['circle', true]);
    expect(kinds('arrow')[1]).toEqual(['path', true]);
  });
  test('what all balloons of a sheet look like is one look, which single ones overrule', () => {
    const all: Sheet = { ...sheet, balloonLook: { ...sheet.balloonLook, after: 'all', shape: 'hexagon' } };
    expect(byItem(all, '5')).toMatchObject({ after: 'all', shape: 'hexagon' });
    expect(byItem(withOwnLook(all, only('5'), { after: 'one' }), '5')).toMatchObject({
      after: 'one',
      shape: 'hexagon',
    });
  });
  test('what stands in them are the texts of any two columns', () => {
    const { radius } = sheet.balloonLook;
    const look = {
      ...sheet.balloonLook,
      radius: radius * 2,
      quantity: true as const,
      columns: { above: 'partNumber', below: 'name' },
    };
    const columns = [
      { id: 'partNumber', source: 'partNumber', heading: '' },
      { id: 'name', source: 'name', heading: '' },
    ] as const;
    const made = drawSheet({ ...inputs, columns, sheet: { ...sheet, balloonLook: look } });
    const laid = made.layout.balloons.find(({ item }) => item === '4')!;
    expect([laid.item, laid.above, laid.below]).toEqual(['4', 'N4', 'Block 4']);
  });
  test('arranging keeps what is their own', () => {
    const after = withOwnLook(sheet, only('4'), { after: 'oiled', shape: 'lozenge' });
    const { balloons } = planBalloons({ ...inputs, sheet: after }, spots, newId);
    const again = byItem({ ...after, balloons }, '4');
    expect(again).toMatchObject({ after: 'oiled', shape: 'lozenge' });
  });
});

describe('corners of leaders', () => {
  const bend = (of: Sheet, item: string, at: number, by: readonly [number, number], isNew = true) =>
    moveThings(of, [{ thing: { kind: 'bend', id: idOf(item), at, isNew }, by }], laidOf(of).layout);

  test('a new one is drawn out of the middle of a piece, and the leader goes over it', () => {
    const { centre, anchor } = byItem(sheet, '4');
    const after = bend(sheet, '4', 0, [3, -5]);
    const { leader, bends } = byItem(after, '4');
    expect(bends).toHaveLength(1);
    expect(bends[0][0]).toBeCloseTo((centre[0] + anchor[0]) / 2 + 3, 9);
    expect(bends[0][1]).toBeCloseTo((centre[1] + anchor[1]) / 2 - 5, 9);
    expect(leader).toHaveLength(3);
    expect(leader[2]).toEqual(anchor);
    expect(stored(after, '4').byHand).toBe(true);
  });
  test('corners are moved one by one, go with their balloon, and are taken away by their number', () => {
    const two = bend(bend(sheet, '4', 0, [0, 0]), '4', 1, [2, 2]);
    const moved = bend(two, '4', 0, [10, 0], false);
    expect(byItem(moved, '4').bends[0][0] - byItem(two, '4').bends[0][0]).toBeCloseTo(10, 9);
    expect(byItem(moved, '4').bends[1]).toEqual(byItem(two, '4').bends[1]);
    const one = withoutThings(moved, [{ kind: 'bend', id: idOf('4'), at: 0 }]);
    expect(byItem(one, '4').bends).toEqual([byItem(moved, '4').bends[1]]);
    const none = withoutThings(
      moved,
      [0, 1].map((at) => ({ kind: 'bend' as const, id: idOf('4'), at })),
    );
    expect('bends' in stored(none, '4')).toBe(false);
  });
  test('a leader whose corner lies in another balloon runs through that', () => {
    const other = byItem(sheet, '9').centre;
    const { centre, anchor } = byItem(sheet, '4');
    const by = [other[0] - (centre[0] + anchor[0]) / 2, other[1] - (centre[1] + anchor[1]) / 2] as const;
    const said = (one: Sheet) =>
      laidOf(one)
        .problems.filter(({ code }) => code === 'leaders-through')
        .flatMap(({ items }) => items);
    expect(said(sheet)).not.toContain('4');
    expect(said(bend(sheet, '4', 0, by))).toContain('4');
  });
});

describe('balloons put by hand', () => {
  test('two change places, and back again', () => {
    const swapped = swapBalloons(sheet, byItem(sheet, '2'), byItem(sheet, '8'));
    expect(byItem(swapped, '2').centre).toEqual(byItem(sheet, '8').centre);
    expect(byItem(swapped, '8').centre).toEqual(byItem(sheet, '2').centre);
    expect(byItem(swapped, '2').anchor).toEqual(byItem(sheet, '2').anchor);
    const back = swapBalloons(swapped, byItem(swapped, '2'), byItem(swapped, '8'));
    expect(byItem(back, '2').centre[0]).toBeCloseTo(byItem(sheet, '2').centre[0], 9);
  });
  test('evened out they stand on one line at equal distances, the outermost where they were', () => {
    const items = ['1', '2', '3', '4', '5'];
    const after = evenOut(
      sheet,
      items.map((item) => byItem(sheet, item)),
    );
    const centres = items.map((item) => byItem(after, item).centre);
    const sorted = centres.toSorted((a, b) => a[0] - b[0] || a[1] - b[1]);
    const gaps = sorted.slice(1).map(([x, y], at) => Math.hypot(x - sorted[at][0], y - sorted[at][1]));
    for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0], 6);
    const stay = items.filter((item) => {
      const [was, is] = [byItem(sheet, item).centre, byItem(after, item).centre];
      return Math.hypot(was[0] - is[0], was[1] - is[1]) < 1e-6;
    });
    expect(stay.length).toBeGreaterThanOrEqual(2);
  });
  test('they are read from top to bottom and in each band from left to right', () => {
    const order = readingOrder(drawn.layout.balloons);
    expect(new Set(order).size).toBe(drawn.layout.balloons.length);
    const at = order.map((id) => drawn.layout.balloons.find(({ balloon }) => balloon.id === id)!.centre);
    at.slice(1).forEach(([x, y], before) => {
      const [px, py] = at[before];
      expect(y > py || x > px).toBe(true);
    });
  });
  test('numbers run clockwise from the balloon that is picked, each line once around', () => {
    const { assembly, bill } = inputs;
    const run = balloonRun([sheet], { assembly, bill }, idOf('6'));
    expect(bill.rows[run[0]].item).toBe('6');
    expect(run.toSorted((a, b) => a - b)).toEqual(balloonRun([sheet], { assembly, bill }).toSorted((a, b) => a - b));
    const [view] = sheet.views;
    const angles = run.map((row) => {
      const { centre } = byItem(sheet, bill.rows[row].item);
      return Math.atan2(centre[1] - view.centre[1], centre[0] - view.centre[0]);
    });
    const turns = angles.slice(1).map((angle, at) => (angle - angles[at] + 4 * Math.PI) % (2 * Math.PI));
    expect(turns.reduce((sum, one) => sum + one, 0)).toBeLessThan(2 * Math.PI);
  });
});

describe('rails', () => {
  const items = ['1', '2', '3'];
  const railed = railThrough(
    sheet,
    items.map((item) => byItem(sheet, item)),
    'rail',
  );
  const rail = railed.rails![0];
  const off = (one: Sheet, item: string) => {
    const { from, to } = one.rails!.find(({ id }) => id === 'rail')!;
    const [x, y] = stored(one, item).offset;
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    return Math.abs((x - from[0]) * dy - (y - from[1]) * dx) / Math.hypot(dx, dy);
  };
  test('balloons through which one is drawn sit on it', () => {
    for (const item of items) {
      expect(stored(railed, item).rail).toBe('rail');
      expect(off(railed, item)).toBeCloseTo(0, 6);
    }
  });
  test('side by side, also those that would come to lie on one another', () => {
    const [first, second] = [byItem(sheet, '1'), byItem(sheet, '2')];
    const crowded: Sheet = {
      ...sheet,
      balloons: sheet.balloons.map((one) => (one.id === idOf('2') ? { ...one, offset: first.balloon.offset } : one)),
    };
    const picked = [first, byItem(crowded, '2'), byItem(sheet, '7')];
    const made = railThrough(crowded, picked, 'rail');
    const boxes = ['1', '2', '7'].map((item) => byItem(made, item).box);
    boxes.forEach((one, at) => boxes.slice(at + 1).forEach((other) => expect(boxesOverlap(one, other)).toBe(false)));
    expect(second.centre).not.toEqual(byItem(made, '2').centre);
  });
  test('moved, or drawn out at an end, it takes them along', () => {
    const moved = moveThings(railed, [{ thing: { kind: 'rail', id: 'rail' }, by: [7, -3] }]);
    for (const item of items) {
      expect(stored(moved, item).offset[0]).toBeCloseTo(stored(railed, item).offset[0] + 7, 6);
      expect(stored(moved, item).offset[1]).toBeCloseTo(stored(railed, item).offset[1] - 3, 6);
    }
    const turned = moveThings(railed, [{ thing: { kind: 'railEnd', id: 'rail', end: 1 }, by: [0, 40] }]);
    for (const item of items) expect(off(turned, item)).toBeCloseTo(0, 6);
    expect(turned.rails![0].from).toEqual(rail.from);
  });
  test('balloons of another view stay, whatever rail they once sat on', () => {
    const [first] = railed.views;
    const copy = { ...stored(railed, '2'), id: 'copy', view: 'other' };
    const two: Sheet = { ...railed, views: [first, { ...first, id: 'other' }], balloons: [...railed.balloons, copy] };
    const moved = moveThings(two, [{ thing: { kind: 'rail', id: 'rail' }, by: [7, -3] }]);
    expect(moved.balloons.find(({ id }) => id === 'copy')).toEqual(copy);
  });
  test('along it a balloon slides, near it one is taken up, pulled away it is free', () => {
    const id = idOf('2');
    const slid = moveThings(railed, [{ thing: { kind: 'balloon', id }, by: [1, 1] }]);
    expect(off(slid, '2')).toBeCloseTo(0, 6);
    const free = moveThings(railed, [{ thing: { kind: 'balloon', id }, by: [60, 60] }]);
    expect([off(free, '2') > 5, 'rail' in stored(free, '2')]).toEqual([true, false]);
    const middle = [(rail.from[0] + rail.to[0]) / 2, (rail.from[1] + rail.to[1]) / 2];
    const by = [middle[0] - stored(railed, '9').offset[0] + 1, middle[1] - stored(railed, '9').offset[1] + 1] as const;
    const taken = moveThings(railed, [{ thing: { kind: 'balloon', id: idOf('9') }, by }]);
    expect(stored(taken, '9').rail).toBe('rail');
    expect(off(taken, '9')).toBeCloseTo(0, 6);
  });
  test('taken away it leaves them where they are; with its view it goes', () => {
    const without = withoutThings(railed, [{ kind: 'rail', id: 'rail' }]);
    expect('rails' in without).toBe(false);
    for (const item of items) {
      expect(stored(without, item).offset).toEqual(stored(railed, item).offset);
      expect('rail' in stored(without, item)).toBe(false);
    }
    expect('rails' in withoutThings(railed, [{ kind: 'view', id: sheet.views[0].id }])).toBe(false);
  });
  test('one beside a view stands where there is more room', () => {
    const [{ view, box }] = drawn.layout.views;
    const beside = railBeside(sheet, view.id, box, 420, 'new').rails![0];
    const x = view.centre[0] + beside.from[0];
    expect(box[0] > 420 - box[2] ? x < box[0] : x > box[2]).toBe(true);
  });
});
