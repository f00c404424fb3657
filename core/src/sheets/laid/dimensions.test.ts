import { describe, expect, test } from 'vitest';
import { flangeParts, machineOf } from '../../../../testkit/flange.ts';
import { pathKey } from '../../assembly/index.ts';
import { makeBill } from '../../bill/index.ts';
import { defaultColumns } from '../../columns/index.ts';
import { boxesOverlap, type Vec2 } from '../../geometry/index.ts';
import { drawLook, viewPlacement, type DirectionName } from '../../views/index.ts';
import {
  blankSheet,
  dimensionFacts,
  dimensionText,
  drawSheet,
  layOutDimension,
  measurableAt,
  noTitleFields,
  centreLinesOf,
  roundNear,
  roomTaken,
  usualOffset,
  usualPaper,
  type SheetDimension,
  type SheetInputs,
  type SheetView,
} from '../index.ts';

const { assembly, bodies } = machineOf(flangeParts);
const inputsOf = (direction: DirectionName, dimensions: readonly SheetDimension[] = [], scale = 0.5): SheetInputs => {
  const view: SheetView = { id: 'v', direction, scale, centre: [200, 120], byHand: true };
  return {
    sheet: { ...blankSheet('S', usualPaper('A3')), views: [view], dimensions },
    shared: noTitleFields,
    assembly,
    bill: makeBill(assembly, { depth: 'parts-only', identity: 'part-number' }),
    columns: defaultColumns(assembly),
    lines: new Map([['v', drawLook(bodies, viewPlacement(direction)).lines]]),
  };
};
const laidOf = (inputs: SheetInputs) => drawSheet(inputs).layout.views[0];
const width: SheetDimension = { id: 'w', view: 'v', kind: 'width', offset: 60 };

describe('a reference dimension', () => {
  test.each([
    ['top', 'width', 200],
    ['top', 'height', 200],
    ['front', 'width', 200],
    ['front', 'height', 80],
  ] as const)('%s view: its %s is %d mm', (direction, kind, value) => {
    const [laid] = drawSheet(inputsOf(direction, [{ ...width, kind }])).layout.dimensions;
    expect(laid.value).toBeCloseTo(value, 2);
    expect(laid.text).toBe(`(${value})`);
  });
  test('stands in parentheses, in millimetres or inches, with a point or a comma, without decimals that say nothing', () => {
    expect(dimensionText(1250.04, { unit: 'mm', decimals: 1 })).toBe('1250');
    expect(dimensionText(33.75, { unit: 'mm', decimals: 2, comma: true })).toBe('33,75');
    expect(dimensionText(254, { unit: 'in', decimals: 3 })).toBe('10');
    expect(dimensionText(-0.001, { unit: 'mm', decimals: 1 })).toBe('0');
  });
  test('its arrows point at the ends of what it measures, at the distance at which it stands', () => {
    const { layout, scene } = drawSheet(inputsOf('top', [width]));
    const [{ marks, across }] = layout.dimensions;
    expect(across).toEqual([-0, 1]);
    const tips = marks.flatMap((mark) => (mark.kind === 'path' && mark.filled ? [mark.points[0]] : []));
    expect(tips.map(([x, y]) => [Math.round(x * 100) / 100, Math.round(y * 100) / 100])).toEqual([
      [150, 180],
      [250, 180],
    ]);
    expect(scene.marks).toEqual(expect.arrayContaining([...marks]));
  });
  test('upright it reads from the right, and little room puts arrows and text outside', () => {
    const inputs = inputsOf('front', [{ ...width, kind: 'height', offset: 80 }], 0.05);
    const [{ marks, box }] = drawSheet(inputs).layout.dimensions;
    const text = marks.find((mark) => mark.kind === 'text');
    expect(text?.kind === 'text' && text.turn).toBeCloseTo(Math.PI / 2, 9);
    const tips = marks.flatMap((mark) => (mark.kind === 'path' && mark.filled ? [mark.points] : []));
    // 80 mm at 1:20 are 4 mm: the bodies of the arrows lie beyond their tips.
    const [[upper, upperBack], [lower, lowerBack]] = tips.toSorted((a, b) => a[0][1] - b[0][1]);
    expect(upperBack[1]).toBeLessThan(upper[1]);
    expect(lowerBack[1]).toBeGreaterThan(lower[1]);
    expect(box[3] - box[1]).toBeGreaterThan(4 + 2 * 3);
  });
  test('between two points follows the parts: another place, another length', () => {
    const inputs = inputsOf('top');
    const laid = laidOf(inputs);
    const facts = dimensionFacts(inputs);
    const points = [0, 3].map((pin) => {
      const turn = (pin * Math.PI) / 3;
      const spot = laid.toPaper(75 * Math.cos(turn), 75 * Math.sin(turn));
      return measurableAt(laid, [spot[0] + 0.3, spot[1]], 2, facts)!;
    });
    const dimension: SheetDimension = {
      id: 'd',
      view: 'v',
      kind: 'distance',
      offset: 60,
      from: points[0].point,
      to: points[1].point,
      along: 'x',
    };
    expect(layOutDimension(dimension, laid, facts).value).toBeCloseTo(150, 6);
    const wider = {
      ...assembly,
      components: assembly.components.map((component, at) =>
        at === assembly.root
          ? {
              ...component,
              usages: component.usages.map((usage, rank) =>
                rank === 1 ? { ...usage, placement: usage.placement.with(3, 80) } : usage,
              ),
            }
          : component,
      ),
    };
    expect(layOutDimension(dimension, laid, { ...facts, assembly: wider }).value).toBeCloseTo(155, 6);
  });
  test('of something round says its diameter from the top and from aside; what is gone is said', () => {
    for (const direction of ['top', 'front'] as const) {
      const inputs = inputsOf(direction);
      const laid = laidOf(inputs);
      const facts = dimensionFacts(inputs);
      const spot: Vec2 = direction === 'top' ? laid.toPaper(75 + 10, 0) : laid.toPaper(75, 50);
      const found = roundNear(laid, spot, 2, facts)!;
      expect(found.radius).toBeCloseTo(10, 6);
      // By this name a centre line of its own is asked for, however small it is.
      const asked = { smallest: 1000, on: [found.axis!] };
      expect(centreLinesOf({ scale: 1, centreLines: asked }, laid.lines, 0.25)).toHaveLength(1);
      const dimension: SheetDimension = {
        id: 'd',
        view: 'v',
        kind: 'diameter',
        offset: -40,
        from: found.point,
        radius: found.radius!,
      };
      const drawn = drawSheet({ ...inputs, sheet: { ...inputs.sheet, dimensions: [dimension] } });
      expect(drawn.layout.dimensions[0].text).toBe('(Ø20)');
      const gone = drawSheet({
        ...inputs,
        sheet: {
          ...inputs.sheet,
          dimensions: [{ ...dimension, from: { ...found.point, path: ['not there.0' as never] } }],
        },
      });
      expect(gone.layout.dimensions[0].marks).toEqual([]);
      expect(gone.problems.map(({ code }) => code)).toContain('hanging-dimensions');
    }
  });
  test('nothing false is said of a machine taken apart, nor of what a view leaves out', () => {
    const inputs = inputsOf('top');
    const laid = laidOf(inputs);
    const [one, other] = [0, 3].map((pin) => {
      const turn = (pin * Math.PI) / 3;
      return measurableAt(laid, laid.toPaper(75 * Math.cos(turn), 75 * Math.sin(turn)), 2, dimensionFacts(inputs))!;
    });
    const across = {
      id: 'd',
      view: 'v',
      kind: 'distance',
      offset: 60,
      along: 'x',
      from: one.point,
      to: other.point,
    } as const;
    const own = { ...across, id: 'o', to: one.point };
    const poses = [
      { id: 'apart', name: 'Apart', moves: [{ path: pathKey(one.point.path), steps: [[500, 0, 0] as const] }] },
    ];
    const textsIn = (change: Partial<SheetView>) => {
      const [view] = inputs.sheet.views;
      const sheet = { ...inputs.sheet, views: [{ ...view, ...change }], dimensions: [width, across, own] };
      return drawSheet({ ...inputs, poses, sheet }).layout.dimensions.map(({ text }) => text);
    };
    expect(textsIn({})).toEqual(['(200)', '(150)', '(0)']);
    expect(textsIn({ pose: 'apart' })).toEqual(['(?)', '(?)', '(0)']);
    expect(textsIn({ without: [pathKey(other.point.path)] })).toEqual(['(200)', '(?)', '(0)']);
  });
  test('nothing is measured from where nothing is', () => {
    const inputs = inputsOf('top');
    const laid = laidOf(inputs);
    expect(measurableAt(laid, [30, 30], 2, dimensionFacts(inputs))).toBeNull();
    expect(roundNear(laid, [30, 30], 2, dimensionFacts(inputs))).toBeNull();
  });
  test('the caption of its view gives way to it', () => {
    const captioned = (dimensions: readonly SheetDimension[]) => {
      const inputs = inputsOf('top', dimensions);
      const [view] = inputs.sheet.views;
      const sheet = { ...inputs.sheet, views: [{ ...view, caption: 'SEEN FROM ABOVE' }] };
      return drawSheet({ ...inputs, sheet }).layout;
    };
    const [bare] = captioned([]).views;
    const { views, dimensions } = captioned([{ ...width, offset: 58 }]);
    expect(boxesOverlap(bare.captionBox!, dimensions[0].box)).toBe(true);
    expect(boxesOverlap(views[0].captionBox!, dimensions[0].box)).toBe(false);
    expect(views[0].captionAt[1]).toBeGreaterThan(bare.captionAt[1]);
  });
  test('a new one stands beyond the view and on nothing else', () => {
    let inputs = inputsOf('top');
    for (let at = 0; at < 4; at++) {
      const { layout } = drawSheet(inputs);
      const made: SheetDimension = { ...width, id: `w${at}`, offset: 0 };
      const offset = usualOffset(layout.views[0], made, dimensionFacts(inputs), roomTaken(layout));
      inputs = {
        ...inputs,
        sheet: { ...inputs.sheet, dimensions: [...(inputs.sheet.dimensions ?? []), { ...made, offset }] },
      };
    }
    const { layout } = drawSheet(inputs);
    const boxes = layout.dimensions.map(({ box }) => box);
    boxes.forEach((box, at) => {
      expect(boxesOverlap(box, layout.views[0].box)).toBe(false);
      expect(boxes.some((other, k) => k !== at && boxesOverlap(box, other))).toBe(false);
    });
  });
});
