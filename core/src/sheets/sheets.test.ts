import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { blocks as machine, drawing } from '../../../testkit/blocks.ts';
import { fullLabel, listOccurrences, pathKey } from '../assembly/index.ts';
import { makeBill, noDecisions } from '../bill/index.ts';
import { newColumn } from '../columns/index.ts';
import { boxesOverlap, boxInside, type Box2 } from '../geometry/index.ts';
import { measureText } from '../marks/index.ts';
import { drawFrame } from './paper/paper.ts';
import { upgradeDocument } from '../documents/index.ts';
import {
  barred,
  tablePlaces,
  layOutSheet,
  lookOfLettering,
  blankSheet,
  coverageOn,
  drawSheet,
  figureOf,
  frameBox,
  paperLabel,
  paperSize,
  makeDrawing,
  noTitleFields,
  planBalloons,
  proposeDetail,
  proposeScale,
  scaleText,
  sheetsInOrder,
  tableContent,
  titleBlockBox,
  usualPaper,
  viewPens,
  withPlaces,
  withViews,
  zoneOf,
} from './index.ts';

describe('balloons around several views', () => {
  const { inputs, sheet, spots, newId } = drawing(12, 'A2');
  const [one] = sheet.views;
  const other = { ...one, id: 'other' };
  const planned = (group?: string) => {
    const views = [
      { ...one, scale: 0.3, centre: [120, 150] as const },
      { ...other, scale: 0.3, centre: [280, 150] as const },
    ].map((view) => ({
      ...view,
      ...(group ? { group } : {}),
    }));
    const both = {
      ...inputs,
      sheet: {
        ...sheet,
        views,
        balloons: [],
        balloonLook: { ...sheet.balloonLook, arrangement: 'columns' as const },
      },
      lines: new Map(views.map(({ id }) => [id, inputs.lines.get(one.id)!])),
    };
    const rows = (from: number) => new Set(Array.from({ length: 6 }, (_, at) => from + at));
    const all = spots.get(one.id)!;
    const { balloons } = planBalloons(
      both,
      new Map(views.map(({ id }) => [id, all])),
      newId,
      undefined,
      new Map([
        [one.id, rows(0)],
        ['other', rows(6)],
      ]),
    );
    return layOutSheet({ ...both, sheet: { ...both.sheet, balloons } });
  };
  /** Balloons that stand between the middles of the two views. */
  const between = ({ views, balloons }: ReturnType<typeof planned>) => {
    const [left, right] = views.map(({ box }) => (box[0] + box[2]) / 2);
    return balloons.filter(({ centre: [x] }) => x > left && x < right).length;
  };
  test('of a group stand outside of all of its views, each pointing at the view that shows its line', () => {
    const layout = planned('pair');
    expect(layout.balloons).toHaveLength(12);
    expect(between(layout)).toBe(0);
    for (const { balloon, row } of layout.balloons) expect(balloon.view).toBe(row < 6 ? one.id : 'other');
    const crosses = layout.balloons.some(({ balloon, leader }) =>
      layout.views.some(
        ({ view, box }) =>
          view.id !== balloon.view && leader.some(([x, y]) => x > box[0] && x < box[2] && y > box[1] && y < box[3]),
      ),
    );
    expect(crosses).toBe(false);
  });
  test('without a group each has its own around it', () => {
    expect(between(planned())).toBeGreaterThan(0);
  });
});

describe('paper', () => {
  test.each([
    ['A4', 210, 297],
    ['A3', 420, 297],
    ['A2', 594, 420],
    ['A1', 841, 594],
    ['A0', 1189, 841],
  ] as const)('%s lies as usual', (size, widthMm, heightMm) => {
    expect(paperSize(usualPaper(size))).toEqual({ widthMm, heightMm });
  });
  test('frame: 20 mm to the left, 10 elsewhere; the title block in its lower right corner is 180 wide', () => {
    expect(frameBox(usualPaper('A3'))).toEqual([20, 10, 410, 287]);
    expect(titleBlockBox(usualPaper('A3'))).toEqual([230, 245, 410, 287]);
  });
  test.each([
    ['ANSI A', 215.9, 279.4],
    ['ANSI B', 431.8, 279.4],
    ['ANSI C', 558.8, 431.8],
    ['ANSI D', 863.6, 558.8],
    ['ANSI E', 1117.6, 863.6],
  ] as const)('%s lies as usual, its zones count from the right and from below', (size, widthMm, heightMm) => {
    const paper = usualPaper(size);
    const { widthMm: width, heightMm: height } = paperSize(paper);
    expect([width, height].map((side) => Math.round(side * 10) / 10)).toEqual([widthMm, heightMm]);
    const [x0, y0, x1, y1] = frameBox(paper);
    expect(zoneOf(paper, [x1 - 1, y1 - 1])).toBe('A1');
    expect(zoneOf(paper, [x0 + 1, y0 + 1])).toMatch(/^[BDH][248]$/);
    expect(boxInside(titleBlockBox(paper), frameBox(paper))).toBe(true);
  });
  test('a size of one’s own; without a frame nothing is drawn around, and all of it is room', () => {
    const own = { size: 'own', landscape: true, sides: [210, 400] } as const;
    expect([paperSize(own), paperLabel(own)]).toEqual([{ widthMm: 400, heightMm: 210 }, '400 × 210']);
    const { drawn, inputs, sheet } = drawing(9);
    const blank = drawSheet({ ...inputs, sheet: { ...sheet, paper: { ...sheet.paper, blank: true }, tables: [] } });
    expect(drawn.scene.marks.some(({ source }) => source.kind === 'frame')).toBe(true);
    expect(blank.scene.marks.map(({ source }) => source.kind)).not.toContain('frame');
    expect(blank.scene.marks.map(({ source }) => source.kind)).not.toContain('titleBlock');
    expect(blank.layout.frame).toEqual([5, 5, 415, 292]);
  });
  test('a title block with further fields and revisions grows upwards, and the list stands on it', () => {
    const { inputs, sheet } = drawing(9);
    const block = {
      further: ['Order', 'Site', 'Store', 'Crate'].map((label) => ({ id: label, label, value: `${label} 7` })),
      revisions: [
        { revision: 'A', text: 'First issue', date: '2026-01-02', by: 'T. H.' },
        { revision: 'B', text: 'Longer mast', date: '2026-02-03', by: 'T. H.' },
      ],
    };
    const logo = { blob: 'a'.repeat(64), ratio: 4 };
    const { scene, layout, titleCells, problems } = drawSheet({
      ...inputs,
      block: { ...block, logo },
      logo: Uint8Array.of(1, 2, 3),
      sheet: { ...sheet, further: [{ id: 'Site', value: 'Camp 2' }] },
    });
    // Two rows of fields of 10.5 mm, three of revisions of 5.5 mm.
    expect(layout.titleBlock).toEqual([230, 245 - 2 * 10.5 - 3 * 5.5, 410, 287]);
    const texts = new Map(
      scene.marks.flatMap((mark) => (mark.kind === 'text' ? [[mark.text, mark.at[1]] as const] : [])),
    );
    expect(texts.get('Longer mast')).toBeLessThan(texts.get('First issue')!);
    expect(texts.get('First issue')).toBeLessThan(texts.get('Order 7')!);
    expect(texts.has('Camp 2')).toBe(true);
    expect(texts.has('Site 7')).toBe(false);
    // The logo stands at the right of the title in its own shape, and nothing else is drawn there.
    const [picture] = scene.marks.filter((mark) => mark.kind === 'picture');
    const [x0, y0, x1, y1] = picture.box;
    expect((x1 - x0) / (y1 - y0)).toBeCloseTo(4, 9);
    expect(boxInside(picture.box, layout.titleBlock)).toBe(true);
    expect(titleCells.some((one) => boxesOverlap(one.box, picture.box))).toBe(false);
    expect(picture.png).toEqual(Uint8Array.of(1, 2, 3));
    for (const [at, one] of titleCells.entries()) {
      expect(boxInside(one.box, layout.titleBlock)).toBe(true);
      expect(titleCells.some((other, k) => k !== at && boxesOverlap(one.box, other.box))).toBe(false);
    }
    for (const { measured } of layout.tables)
      for (const { box } of measured.strips) expect(boxesOverlap(box, layout.titleBlock)).toBe(false);
    expect(problems.map(({ code }) => code)).not.toContain('view-covered');
    const note = { id: 'n', at: [30, 30] as const, width: 90, lettering: 3.5, text: 'For {order} at {SITE}' };
    expect(drawSheet({ ...inputs, block, sheet: { ...sheet, notes: [note] } }).notes[0].lines).toEqual([
      'For Order 7 at Site 7',
    ]);
  });
  test('zones: numbers from the left, letters from the top, without I and O', () => {
    const a3 = usualPaper('A3');
    expect([zoneOf(a3, [25, 15]), zoneOf(a3, [405, 280]), zoneOf(a3, [211, 149])]).toEqual(['A1', 'F8', 'D5']);
    expect(zoneOf(usualPaper('A0'), [600, 800])).toMatch(/^[A-HJ-NP-Z]\d+$/);
    // Rows beyond Z go on with two letters (ISO 5457), and the frame has a letter for each.
    const vast = { size: 'own', landscape: false, sides: [5000, 5000] } as const;
    const rows = Array.from({ length: 99 }, (_, at) => zoneOf(vast, [100, 35 + at * 50]).replace(/\d+/, ''));
    expect([rows[0], rows[23], rows[24], rows[25], rows[48]]).toEqual(['A', 'Z', 'AA', 'AB', 'BA']);
    expect(new Set(rows).size).toBe(99);
    const texts = drawFrame(vast).flatMap((mark) => (mark.kind === 'text' ? [mark] : []));
    expect(texts.length).toBeGreaterThan(390);
  });
});

describe('scales', () => {
  test.each([
    [[1000, 500], [210, 300], 0.2, '1:5'],
    [[10, 10], [120, 120], 10, '10:1'],
    [[220, 10], [220, 10], 1, '1:1'],
    [[2700, 900], [384, 300], 0.1, '1:10'],
  ] as const)('%j in %j: %d', (size, room, scale, text) => {
    expect([proposeScale(size, room), scaleText(proposeScale(size, room))]).toEqual([scale, text]);
  });
});

describe('making the drawing again', () => {
  const { sheet, inputs, spots, newId } = drawing(12);
  const [view] = sheet.views;
  const again = (before: typeof sheet) =>
    makeDrawing({
      ...inputs,
      sheet: withViews(before, [{ direction: 'isometric' }], () => view.id),
      spots,
      newId,
    });
  test('a balloon that names its line once more stays, and the line has its own besides', () => {
    const [first] = sheet.balloons;
    const more = { ...first, id: 'again', also: true as const, byHand: true, offset: [-70, 33.5] as const };
    const made = again({ ...sheet, balloons: [...sheet.balloons, more] });
    expect(made.sheet.balloons).toContainEqual(more);
    expect(made.sheet.balloons).toHaveLength(sheet.balloons.length + 1);
    const { coverage } = layOutSheet({ ...inputs, sheet: made.sheet });
    expect([coverage.doubled, coverage.missing]).toEqual([[], []]);
  });
  test('keeps balloons, views and the list where they were put by hand, and places the rest', () => {
    const [first, second] = sheet.balloons;
    const mine = { ...first, byHand: true, offset: [-70, 33.5] as const };
    const moved = { ...view, byHand: true, centre: [111, 122] as const };
    const made = again({
      ...sheet,
      views: [moved],
      tables: [{ id: 'mine', place: 'top-right' }],
      balloons: [mine, ...sheet.balloons.slice(1)],
    }).sheet;
    expect(made.views).toEqual([moved]);
    expect(made.tables).toEqual([{ id: 'mine', place: 'top-right' }]);
    expect(made.balloons).toContainEqual(mine);
    expect(made.balloons.map(({ id }) => id)).not.toContain(second.id);
    expect(made.balloons).toHaveLength(12);
  });
  test('a blank sheet gets a view, a list and a balloon for every line', () => {
    const { sheet: made, problems } = again({ ...sheet, views: [], tables: [], balloons: [] });
    expect([made.views.length, made.tables, made.balloons.length, problems]).toEqual([
      1,
      [{ id: 'list', place: 'title-block' }],
      12,
      [],
    ]);
  });
});

describe('a whole sheet', () => {
  const { drawn, inputs, plan, spots, newId, sheet } = drawing(18);
  test('every line is ballooned once, with its own number', () => {
    expect(drawn.layout.coverage).toEqual({
      rows: 18,
      ballooned: 18,
      missing: [],
      doubled: [],
      hanging: [],
      excused: [],
      elsewhere: [],
    });
    for (const { item, row, part } of drawn.layout.balloons)
      expect([item, part]).toEqual([inputs.bill.rows[row].item, `N${row + 1}`]);
    expect([...drawn.problems, ...plan.problems]).toEqual([]);
  });
  test('view, list, title block and balloons keep clear of one another', () => {
    const {
      views: [view],
      tables: [table],
      titleBlock,
      balloons,
      frame,
    } = drawn.layout;
    const boxes: Box2[] = [
      view.box,
      table.measured.box,
      titleBlock,
      ...balloons.map(({ centre: [x, y], radius: r }): Box2 => [x - r, y - r, x + r, y + r]),
    ];
    boxes.forEach((box, i) => {
      expect(boxInside(box, frame)).toBe(true);
      // A ring may pass corners of the view's box
      if (i !== 0) boxes.slice(i + 1).forEach((other) => expect(boxesOverlap(box, other)).toBe(false));
    });
  });
  test('a moved view takes its balloons along', () => {
    const [view] = sheet.views;
    const moved = drawSheet({
      ...inputs,
      sheet: { ...sheet, views: [{ ...view, centre: [view.centre[0] + 7, view.centre[1] - 3] }] },
    });
    moved.layout.balloons.forEach(({ centre, anchor }, index) => {
      const before = drawn.layout.balloons[index];
      expect(
        [
          centre[0] - before.centre[0],
          centre[1] - before.centre[1],
          anchor[0] - before.anchor[0],
          anchor[1] - before.anchor[1],
        ].map((value) => Math.round(value * 1e6) / 1e6),
      ).toEqual([7, -3, 7, -3]);
    });
  });
  test('what was placed by hand stays when the rest is arranged again', () => {
    const byHand = { ...sheet.balloons[3], offset: [-70, -80] as [number, number], byHand: true };
    const again = planBalloons(
      { ...inputs, sheet: { ...sheet, balloons: [byHand, ...sheet.balloons.filter(({ id }) => id !== byHand.id)] } },
      spots,
      newId,
    );
    expect(again.balloons[0]).toEqual(byHand);
    expect(drawSheet({ ...inputs, sheet: { ...sheet, balloons: again.balloons } }).layout.coverage).toMatchObject({
      ballooned: 18,
      doubled: [],
    });
  });
  test('the title block shows the fields, the scale and the sheet number', () => {
    const texts = drawn.scene.marks.flatMap((mark) =>
      mark.kind === 'text' && mark.source.kind === 'titleBlock' ? [mark.text] : [],
    );
    expect(texts).toEqual(expect.arrayContaining(['Blocks', 'D-1', scaleText(sheet.views[0].scale), '1 / 1', 'A3']));
  });
});

describe('balloons with quantities', () => {
  const { inputs, sheet } = drawing(4);
  const look = barred(sheet.balloonLook, true);
  const drawn = drawSheet({ ...inputs, sheet: { ...sheet, balloonLook: look } });
  test('say the number above a bar and the quantity of the line below it, inside the border', () => {
    expect(drawn.layout.balloons.length).toBeGreaterThan(0);
    for (const { balloon, row, item, below, centre, box } of drawn.layout.balloons) {
      const marks = drawn.scene.marks.filter(({ source }) => source.kind === 'balloon' && source.id === balloon.id);
      expect(below).toBe(String(inputs.bill.rows[row].quantity));
      const [above, under] = marks.flatMap((mark) => (mark.kind === 'text' ? [mark] : []));
      expect([above.text, under.text]).toEqual([item, below]);
      // Letters stand on their line: the upper ones end above the bar, the lower ones begin below it.
      expect(above.at[1]).toBeLessThan(centre[1]);
      expect(under.at[1] - under.height).toBeGreaterThan(centre[1]);
      expect(above.at[1] - above.height).toBeGreaterThan(box[1]);
      expect(under.at[1]).toBeLessThan(box[3]);
    }
  });
  test('follow the bill, and are as high as usual again without', () => {
    expect(look.radius).toBeGreaterThan(sheet.balloonLook.radius);
    expect(barred(look, true)).toEqual(look);
    expect(barred(look, false)).toEqual(sheet.balloonLook);
    expect(barred(lookOfLettering(5), false)).toEqual({ lettering: 5, radius: 6.25, fixed: true });
    expect(drawSheet(inputs).layout.balloons.every(({ below }) => below === null)).toBe(true);
  });
});

describe('what a sheet can hold besides', () => {
  const { inputs, sheet } = drawing(4);
  const textsOf = (changed: Partial<typeof sheet>, kind: string) =>
    drawSheet({ ...inputs, sheet: { ...sheet, ...changed } }).scene.marks.flatMap((mark) =>
      mark.kind === 'text' && mark.source.kind === kind ? [mark.text] : [],
    );
  const [view] = sheet.views;
  test('a text of its own in the title block stands before that of the set', () => {
    expect(textsOf({ fields: { title: 'Cover' } }, 'titleBlock')).toEqual(expect.arrayContaining(['Cover', 'D-1']));
    expect(textsOf({ fields: { title: '' } }, 'titleBlock')).not.toContain('Blocks');
  });
  test('a caption may name scale, direction and pose, which are put in', () => {
    const { sheet, inputs } = drawing(4);
    const views = [{ ...sheet.views[0], scale: 0.5, caption: 'Seen {direction}, {pose}, {SCALE} {other}' }];
    expect(drawSheet({ ...inputs, sheet: { ...sheet, views } }).layout.views[0].captionText).toBe(
      'Seen isometric, as assembled, 1:2 {other}',
    );
  });
  test('or what the view shows: the one part, else the machine', () => {
    const part = {
      ...view,
      id: 'two',
      only: [pathKey([inputs.assembly.components[inputs.assembly.root].usages[1].key])],
    };
    const views = [
      { ...view, caption: '{part}' },
      { ...part, caption: '{part} {scale}' },
    ];
    const lines = new Map([...inputs.lines, ['two', inputs.lines.get(view.id)!]]);
    const [whole, one] = drawSheet({ ...inputs, lines, sheet: { ...sheet, views } }).layout.views;
    const { components, root } = inputs.assembly;
    expect(whole.captionText).toBe(fullLabel(components[root]));
    expect(one.captionText).toBe(`${fullLabel(components[components[root].usages[1].child])} ${scaleText(view.scale)}`);
  });
  test('a caption that was put somewhere stays there, whatever dimensions do', () => {
    const dimensions = [{ id: 'd', view: view.id, kind: 'width', offset: 30 } as const];
    const at = (captionBy?: readonly [number, number]) => {
      const views = [{ ...view, caption: 'Below', ...(captionBy ? { captionBy } : {}) }];
      return drawSheet({ ...inputs, sheet: { ...sheet, views, dimensions } }).layout.views[0];
    };
    const { box, captionAt } = at([12, -40]);
    expect(captionAt).toEqual([(box[0] + box[2]) / 2 + 12, box[3] + 6 - 40]);
    expect(at().captionAt[0]).toBe((box[0] + box[2]) / 2);
  });
  test('a view has its own caption, the usual one, or none', () => {
    const two = [view, { ...view, id: 'two', caption: 'Seen from the crew’s side' }];
    const lines = new Map([...inputs.lines, ['two', inputs.lines.get(view.id)!]]);
    const texts = drawSheet({ ...inputs, lines, sheet: { ...sheet, views: two } }).scene.marks.flatMap((mark) =>
      mark.kind === 'text' && mark.source.kind === 'view' ? [mark.text] : [],
    );
    expect(texts).toEqual([`ISOMETRIC  ${scaleText(view.scale)}`, 'Seen from the crew’s side']);
    expect(textsOf({ views: [{ ...view, caption: '' }] }, 'view')).toEqual([]);
  });
  test('smooth edges of a view stand with the narrow pen, with the wide one, or not', () => {
    const known = inputs.lines.get(view.id)!;
    // As if half of its lines were smooth edges.
    const lines = new Map([[view.id, { ...known, kinds: known.kinds.map((_, at) => (at % 2 === 0 ? 0 : 2)) }]]);
    const strokes = (tangent?: 'thin' | 'full' | 'none') => {
      const views = [tangent ? { ...view, tangent } : view];
      const { full } = viewPens(sheet.paper);
      const counts = { wide: 0, narrow: 0 };
      for (const mark of drawSheet({ ...inputs, lines, drawn: lines, sheet: { ...sheet, views } }).scene.marks)
        if (mark.kind === 'stretches') counts[mark.pen === full ? 'wide' : 'narrow'] += mark.ends.length / 4;
      return counts;
    };
    const { wide, narrow } = strokes();
    expect([wide > 0, narrow > 0]).toEqual([true, true]);
    expect(strokes('thin')).toEqual({ wide, narrow });
    expect(strokes('full')).toEqual({ wide: wide + narrow, narrow: 0 });
    expect(strokes('none')).toEqual({ wide, narrow: 0 });
  });
  test('hidden edges are dashed where they are wanted, with the narrow pen', () => {
    const { sheet, inputs } = drawing(4);
    const [view] = sheet.views;
    const lines = new Map([[view.id, { ...inputs.lines.get(view.id)!, hiddenEnds: Float64Array.of(0, 0, 10, 0) }]]);
    const dashedOf = (hidden?: true) =>
      drawSheet({
        ...inputs,
        lines,
        sheet: { ...sheet, views: [{ ...view, ...(hidden ? { hidden } : {}) }] },
      }).scene.marks.filter((mark) => mark.kind === 'stretches' && mark.dashed);
    expect(dashedOf()).toEqual([]);
    const [mark] = dashedOf(true);
    if (mark?.kind !== 'stretches') throw new Error('Nothing is dashed.');
    expect(mark.pen).toBe(viewPens(sheet.paper).tangent);
    expect(Math.abs(mark.ends[2] - mark.ends[0])).toBeCloseTo(10 * view.scale, 9);
  });
  test('path lines stand where they are wanted, at the scale of the view', () => {
    const { full, tangent } = viewPens(sheet.paper);
    const known = inputs.lines.get(view.id)!;
    const lines = new Map([[view.id, { ...known, wayEnds: Float64Array.of(0, 0, 0, 30, 0, 50, 10, 50) }]]);
    const thin = (pathLines?: true) => {
      const views = [pathLines ? { ...view, pathLines } : view];
      return drawSheet({ ...inputs, lines, sheet: { ...sheet, views } }).scene.marks.flatMap((mark) =>
        mark.kind === 'stretches' && mark.pen === tangent && !mark.grey ? [[...mark.ends]] : [],
      );
    };
    expect([tangent < full, thin()]).toEqual([true, []]);
    // Long-dashed dotted: one line upright, one level, each from end to end.
    const [ends] = thin(true);
    const pieces = Array.from({ length: ends.length / 4 }, (_, at) => ends.slice(at * 4, at * 4 + 4));
    const [upright, level] = [0, 1].map((axis) =>
      pieces.filter((piece) => Math.abs(piece[axis] - piece[axis + 2]) < 1e-9),
    );
    expect([upright.length + level.length, upright.length > 1]).toEqual([pieces.length, true]);
    const reach = (of: readonly number[][], axis: number) =>
      Math.max(...of.flatMap((piece) => [piece[axis], piece[axis + 2]])) -
      Math.min(...of.flatMap((piece) => [piece[axis], piece[axis + 2]]));
    expect([reach(upright, 1), reach(level, 0)]).toEqual([
      expect.closeTo(30 * view.scale, 9),
      expect.closeTo(10 * view.scale, 9),
    ]);
  });
  test('not to scale: the view says so, and the title block has no scale', () => {
    const views = [{ ...view, notToScale: true as const }];
    expect(textsOf({ views }, 'view')).toEqual(['NOT TO SCALE']);
    expect(textsOf({ views }, 'titleBlock')).toContain('N/A');
  });
  test('two lists of one bill, and a word where they lie over one another', () => {
    const [table] = sheet.tables;
    const drawn = (place: 'top-left' | 'title-block') =>
      drawSheet({ ...inputs, sheet: { ...sheet, tables: [table, { id: 'two', place }] } });
    expect(drawn('top-left').layout.tables.map(({ content }) => content.rows.length)).toEqual([4, 4]);
    expect(drawn('top-left').problems.map(({ code }) => code)).not.toContain('lists-overlap');
    expect(drawn('title-block').problems.map(({ code }) => code)).toContain('lists-overlap');
  });
});

describe('a note', () => {
  const { sheet, inputs } = drawing(9);
  const note = { id: 'n', at: [30, 30], width: 60, lettering: 3.5, text: '' } as const;
  const linesOf = (text: string) =>
    drawSheet({ ...inputs, sheet: { ...sheet, notes: [{ ...note, text }] } }, { sheet: 2, of: 3 }).notes[0].lines;
  test('has what its words stand for put in, as the documents have it; what is none of them stays as typed', () => {
    expect(linesOf('{title} {Revision}, {sheet}\n{lines} lines, {pieces} pieces\n{count 3} × {what}')).toEqual([
      'Blocks A, 2 / 3',
      '9 lines, 9 pieces',
      '1 × {what}',
    ]);
  });
  test('has bold words, larger and numbered lines, each with its own height', () => {
    const text = '# Before use\n1. Wax the **runners and the soles of them all** with {title}\n2. Oil';
    const [laid] = drawSheet({ ...inputs, sheet: { ...sheet, notes: [{ ...note, width: 60, text }] } }).notes;
    expect(laid.set[0].height / note.lettering).toBeCloseTo(Math.SQRT2, 9);
    expect(laid.lines[0]).toBe('Before use');
    expect(laid.set.map(({ label }) => label).filter(Boolean)).toEqual(['1. ', '2. ']);
    expect(laid.lines.join(' ')).toContain('with Blocks');
    const bold = laid.set.flatMap(({ runs }) => runs.filter((run) => run.bold));
    expect(bold.map((run) => run.text.trim()).join(' ')).toBe('runners and the soles of them all');
    for (const { runs, indent, height } of laid.set) {
      const last = runs.at(-1)!;
      const { width } = measureText(last.text, height, last.bold ? 'bold' : 'regular');
      expect(indent + last.x + width).toBeLessThanOrEqual(60 + 1e-6);
    }
    const depth = laid.set.reduce((sum, { height }) => sum + 1.6 * height, 0);
    expect(laid.box[3] - laid.box[1]).toBeCloseTo(depth, 9);
  });
  test('says what a part says under a name, and leaves alone what nobody knows', () => {
    const [part] = inputs.assembly.components.filter(({ usages }) => usages.length === 0);
    const text = `{Material of ${part.partNumber}}, {Material of nobody}, {constructor of ${part.partNumber}}, {mass}`;
    const [{ lines }] = drawSheet({ ...inputs, sheet: { ...sheet, notes: [{ ...note, width: 300, text }] } }).notes;
    expect(lines).toEqual([`Ash, {Material of nobody}, {constructor of ${part.partNumber}}, ?`]);
  });
  test('points with a leader at a part, follows it, and has none where that is gone', () => {
    const [view] = sheet.views;
    const [occurrence] = listOccurrences(inputs.assembly, (index) => inputs.assembly.components[index].shape !== null);
    const leader = { view: view.id, point: { path: occurrence.path, point: [0, 0, 20] as const } };
    const notesOf = (changed: typeof sheet) => drawSheet({ ...inputs, sheet: changed }).notes;
    const pointing = { ...sheet, notes: [{ ...note, text: 'Here', leader }] };
    const [{ leader: line }] = notesOf(pointing);
    expect(line).toHaveLength(3);
    const moved = { ...view, centre: [view.centre[0] + 11, view.centre[1] - 7] as const };
    const [{ leader: after }] = notesOf({ ...pointing, views: [moved] });
    expect([after[2][0] - line[2][0], after[2][1] - line[2][1]].map((by) => Math.round(by * 1e6) / 1e6)).toEqual([
      11, -7,
    ]);
    expect(notesOf({ ...pointing, views: [] })[0].leader).toEqual([]);
  });
  test('breaks its lines at its width and makes items of lines with a hyphen', () => {
    const lines = linesOf(`All edges broken, and all of it painted black.\n- ${'grease the bushes '.repeat(4)}\n\nend`);
    expect(lines[0]).not.toContain('black');
    expect(lines.filter((line) => line.startsWith('– '))).toHaveLength(1);
    expect(lines.at(-2)).toBe('');
  });
  test('over the title block, or out of the frame, is something to look at', () => {
    const codes = (at: readonly [number, number]) =>
      drawSheet({ ...inputs, sheet: { ...sheet, notes: [{ ...note, at, text: 'Here' }] } }).problems.map(
        ({ code }) => code,
      );
    expect(codes([300, 260])).toContain('note-misplaced');
    expect(codes([390, 20])).toContain('note-misplaced');
    expect(codes([30, 20])).not.toContain('note-misplaced');
  });
});

describe('an enlarged detail', () => {
  const { sheet, inputs, spots, newId } = drawing(9);
  const [parent] = sheet.views;
  const lines = inputs.lines.get(parent.id)!;
  const detail = proposeDetail(inputs, parent, lines, 'detail');
  const withDetail = {
    ...inputs,
    sheet: { ...sheet, views: [...sheet.views, detail] },
    lines: new Map([...inputs.lines, ['detail', lines]]),
  };
  test('stands under the next free letter, larger than its view, and says so below it', () => {
    expect(detail.detail).toMatchObject({ of: parent.id, letter: 'A' });
    expect(detail.scale / parent.scale).toBeGreaterThanOrEqual(2);
    const again = proposeDetail(withDetail, parent, lines, 'other');
    expect(again.detail!.letter).toBe('B');
    const { layout } = drawSheet(withDetail);
    expect(layout.views[1].captionText).toBe(`DETAIL A  ${scaleText(detail.scale)}`);
  });
  test('has a circle around it, and one of the same piece with its letter on its view', () => {
    const { scene, layout } = drawSheet(withDetail);
    const circles = scene.marks.filter((mark) => mark.kind === 'circle' && mark.source.kind === 'view');
    expect(circles.map((mark) => mark.kind === 'circle' && [mark.source.id, mark.radius])).toEqual([
      [parent.id, detail.detail!.radius * parent.scale],
      ['detail', detail.detail!.radius * detail.scale],
    ]);
    const box = layout.views[1].box;
    expect(box[2] - box[0]).toBeCloseTo(2 * detail.detail!.radius * detail.scale, 9);
    expect(scene.marks.some((mark) => mark.kind === 'text' && mark.text === 'A' && mark.source.id === parent.id)).toBe(
      true,
    );
  });
  test('a balloon may point into it, at the part that stands there', () => {
    const all = new Map([
      [parent.id, spots.get(parent.id)!],
      ['detail', spots.get(parent.id)!],
    ]);
    // In the detail alone: the view itself has no spots to offer.
    const { balloons } = planBalloons(withDetail, new Map([['detail', all.get('detail')!]]), newId);
    expect(balloons.length).toBeGreaterThan(0);
    const drawn = drawSheet({ ...withDetail, sheet: { ...withDetail.sheet, balloons } });
    for (const { balloon, anchor } of drawn.layout.balloons) {
      expect(balloon.view).toBe('detail');
      const far = Math.hypot(anchor[0] - detail.centre[0], anchor[1] - detail.centre[1]);
      expect(far).toBeLessThanOrEqual(detail.detail!.radius * detail.scale);
    }
  });
  test('makes a figure by itself, and its view one with the circle on it', () => {
    const figure = figureOf(drawSheet(withDetail), 'detail')!;
    expect(figure.title).toMatch(/^DETAIL A/);
    expect(figure.marks.every(({ source }) => source.id === 'detail')).toBe(true);
    expect(figureOf(drawSheet(withDetail), 'gone')).toBeNull();
  });
});

describe('a figure', () => {
  test('is a view with its caption and balloons and nothing else, all of it on the paper', () => {
    const { drawn, sheet } = drawing(9);
    const figure = figureOf(drawn, sheet.views[0].id)!;
    expect(new Set(figure.marks.map(({ source }) => source.kind))).toEqual(new Set(['view', 'balloon']));
    for (const mark of figure.marks)
      if (mark.kind === 'circle') {
        const [x, y] = mark.centre;
        expect(x - mark.radius).toBeGreaterThan(0);
        expect(y - mark.radius).toBeGreaterThan(0);
        expect(x + mark.radius).toBeLessThan(figure.widthMm);
        expect(y + mark.radius).toBeLessThan(figure.heightMm);
      }
  });
});

describe('the sheets of a set', () => {
  test('what another sheet has a balloon for is not missing here, and the list says on how many it is', () => {
    const { inputs } = drawing(3);
    const [first, ...others] = inputs.sheet.balloons;
    const here = { ...inputs.sheet, balloons: [first] },
      there = { ...inputs.sheet, balloons: others };
    const { layout, problems } = drawSheet({ ...inputs, sheet: here, others: [there] });
    expect([layout.coverage.missing.length, layout.coverage.elsewhere.length, problems]).toEqual([0, 2, []]);
    expect(coverageOn(inputs.bill, inputs.assembly, [here, there])).toMatchObject({ ballooned: 3, missing: [] });
    expect(coverageOn(inputs.bill, inputs.assembly, [here, here])).toMatchObject({ doubled: [expect.anything()] });
  });
  const sheet = blankSheet('Cover', usualPaper('A3'));
  const of = (id: string, content = sheet) => ({ id, content });
  const set = { version: 1, fields: noTitleFields, order: ['c', 'a', 'gone'] } as const;
  test('stand in their order, new ones behind, without those that were taken away', () => {
    const all = [of('a'), of('b', { ...sheet, away: true }), of('c'), of('d'), of('e')];
    expect(sheetsInOrder(set, all).map(({ id }) => id)).toEqual(['c', 'a', 'd', 'e']);
  });
});

describe('a sheet as version 1 stored it', () => {
  const { version: _, tables: _tables, notes: _notes, pictures: _pictures, ...rest } = drawing(3).sheet;
  const fields = { ...noTitleFields, title: 'Blocks' };
  test('keeps its list, its texts and everything placed', () => {
    const table = { place: 'top-right', onlyBallooned: true };
    expect(upgradeDocument('sheet', { ...rest, fields, version: 1, table })).toEqual({
      ...rest,
      fields,
      version: 2,
      tables: [{ id: 'list', ...table }],
      notes: [],
      pictures: [],
    });
    expect(upgradeDocument('sheet', { ...rest, fields, version: 1, table: null })).toMatchObject({ tables: [] });
  });
  test('one of this version stays as it is', () => expect(upgradeDocument('sheet', sheetNow)).toBe(sheetNow));
});
const sheetNow = blankSheet('Cover', usualPaper('A3'));

test('another depth: the same balloons show the numbers of the lines that now stand for their parts', () => {
  const bolt = leaf('BOLT'),
    plain = assemblyOf(node('TOP', [1, node('FOOT', [1, bolt], [1, leaf('PLATE')])]));
  const parts = makeBill(plain, { depth: 'parts-only', identity: 'part-number' }),
    first = makeBill(plain, { depth: 'single-level', identity: 'part-number' });
  const [one, two] = listOccurrences(plain, (index) => plain.components[index].usages.length === 0);
  expect([one, two].map(({ components }) => parts.rows[parts.rowOf(components)].item)).toEqual(['1', '2']);
  expect([one, two].map(({ components }) => first.rows[first.rowOf(components)].item)).toEqual(['1', '1']);
});

test('a list that is too long for the paper is a problem in words, with every line still there', () => {
  const { drawn } = drawing(90, 'A4');
  expect(drawn.layout.tables[0].content.rows).toHaveLength(90);
  expect(drawn.problems.map(({ code }) => code)).toContain('missing-balloons');
});

describe('the list on paper', () => {
  test.each(tablePlaces)(
    'hung %s it lies within the frame, clear of the title block, and grows away from there',
    (place) => {
      const { inputs, sheet } = drawing(8);
      const { frame, titleBlock, tables } = layOutSheet({
        ...inputs,
        sheet: { ...sheet, tables: [{ id: 'l', place }] },
      });
      const [{ measured, corner }] = tables;
      expect(boxInside(measured.box, frame)).toBe(true);
      expect(boxesOverlap(measured.box, titleBlock)).toBe(false);
      const [x0, y0, x1, y1] = measured.box;
      expect(corner.map(Math.round)).toEqual(
        [place.endsWith('left') ? x0 : x1, place.startsWith('top') ? y0 : y1].map(Math.round),
      );
      if (place === 'bottom-right') expect(titleBlock[1] - y1).toBeCloseTo(8, 6);
    },
  );
  const { assembly } = machine(3);
  const inch = (value: number) => ({ value: value * 25.4, unit: 'mm' });
  const withSizes = {
    ...assembly,
    components: assembly.components.map((component, index) => ({
      ...component,
      properties: { ...component.properties, Size: inch(1.375 + index), Mass: { value: index, unit: 'kg' } },
    })),
  };
  const columns = [
    newColumn('item'),
    newColumn('name'),
    { ...newColumn('property:Size'), format: { unit: 'in', fraction: { denominator: 8, stacked: true } } as const },
    { ...newColumn('massTotal'), total: true },
    newColumn('picture'),
  ];
  const bill = makeBill(
    withSizes,
    { depth: 'parts-only', identity: 'part-number', groups: [{ source: 'property:Material', subtotal: true }] },
    noDecisions,
    { columns },
  );
  test('shows headings, sums and fractions as its fonts can letter them, and no pictures', () => {
    const { content, billRows } = tableContent({ bill, assembly }, columns);
    expect(content.headings).toEqual(['ITEM', 'NAME', 'SIZE', 'MASS TOTAL [kg]']);
    expect(content.rows).toEqual([
      ['', 'Ash', '', ''],
      ['1', 'Block 1', '2 3\u20448"', '1.000'],
      ['2', 'Block 2', '3 3\u20448"', '2.000'],
      ['3', 'Block 3', '4 3\u20448"', '3.000'],
      ['', 'Sum Ash', '', '6.000'],
      ['', 'Total', '', '6.000'],
    ]);
    expect(billRows).toEqual([-1, 0, 1, 2, -1, -1]);
    expect([...content.bold!]).toEqual([0, 4, 5]);
  });
  test('shows pictures where the list wants them: in their column, or behind the number', () => {
    const listed = { bill, assembly, pictures: new Map([[assembly.components[1].shape!, Uint8Array.of(1, 2)]]) };
    const { content } = tableContent(listed, columns, undefined, { pictures: 12 });
    expect(content.headings.at(-1)).toBe('PICTURE');
    expect(content.pictures!.column).toBe(4);
    // Of the lines of parts alone: not of headings and sums.
    expect([...content.pictures!.of.keys()]).toEqual([1, 2, 3]);
    expect(content.pictures!.of.get(1)).toEqual({ shape: assembly.components[1].shape, png: Uint8Array.of(1, 2) });
    const others = columns.filter(({ source }) => source !== 'picture');
    expect(tableContent(listed, others, undefined, { pictures: 12 }).content.headings.slice(0, 2)).toEqual([
      'ITEM',
      'PICTURE',
    ]);
  });
  test('can show only some lines, without sums that would speak of the others', () => {
    expect(tableContent({ bill, assembly }, columns, new Set([1])).content.rows).toEqual([
      ['', 'Ash', '', ''],
      ['2', 'Block 2', '3 3\u20448"', '2.000'],
    ]);
    expect(tableContent({ bill, assembly }, columns, new Set()).content.rows).toEqual([]);
  });
  test('a sheet that lists only what is ballooned on it leaves the others out', () => {
    const { inputs } = drawing(6);
    const [first, ...others] = inputs.sheet.balloons;
    const sheet = { ...inputs.sheet, balloons: others, tables: [{ ...inputs.sheet.tables[0], onlyBallooned: true }] };
    const { layout } = drawSheet({ ...inputs, sheet });
    expect(layout.tables[0].content.rows).toHaveLength(others.length);
    const gone = inputs.bill.rowOf(
      listOccurrences(inputs.assembly, () => true).find(({ path }) => path.join() === first.path.join())!.components,
    );
    expect(layout.tables[0].billRows).not.toContain(gone);
  });
  test('a line tells the sheets and zones where it is ballooned', () => {
    const { inputs } = drawing(3);
    const placed = withPlaces(inputs.bill, inputs.assembly, noDecisions, {}, [inputs.sheet, inputs.sheet]);
    const [column, zone] = [newColumn('sheet'), newColumn('zone')];
    expect(placed.rows.map((row) => placed.cell(row, column).text)).toEqual(['1, 2', '1, 2', '1, 2']);
    const balloon = inputs.sheet.balloons[0],
      view = inputs.sheet.views[0];
    const centre = [view.centre[0] + balloon.offset[0], view.centre[1] + balloon.offset[1]] as const;
    expect(placed.rows.map((row) => placed.cell(row, zone).text)).toContain(zoneOf(inputs.sheet.paper, centre));
  });
});
