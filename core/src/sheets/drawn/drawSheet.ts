import { boxesOverlap, boxInside, type Box2, type Vec2 } from '../../geometry/index.ts';
import { balloonFaults, type BalloonFaults } from '../../balloons/index.ts';
import { drawBalloon } from '../laid/balloonsOnSheet.ts';
import { drawClouds } from './clouds.ts';
import { centreLinesOf } from '../laid/centreLines.ts';
import { missingGlyphs, textMark, type Mark, type MarkSource, type Scene } from '../../marks/index.ts';
import { drawTable, type CellText, type MeasuredTable } from '../../tables/index.ts';
import { directionName, lineKinds, type ViewLines } from '../../views/index.ts';
import { CAPTION_LETTERING, dimensionFacts, layOutSheet, type SheetLayout } from '../laid/layout.ts';
import type { LaidTable } from '../laid/listsOnSheet.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import type { LaidView } from '../laid/laidView.ts';
import { linesLeftOut, linesShownTwice } from '../laid/longList.ts';
import { pointInView } from '../laid/dimensions.ts';
import { drawNote, layOutNote, type LaidNote } from '../laid/notes.ts';
import { drawFrame, frameBox, paperSize, penPair, type Paper } from '../paper/paper.ts';
import type { SheetNote, SheetProblem, SheetTable, SheetView } from '../records.ts';
import { borderOf, drawRegions } from './regionMarks.ts';
import { commonScale } from '../laid/scales.ts';
import { blockOf, blockShownBy, drawTitleBlock, titleCells, type TitleCell } from '../paper/titleBlock.ts';

export interface DrawnSheet {
  readonly scene: Scene;
  readonly layout: SheetLayout;
  readonly notes: readonly LaidNote[];
  readonly titleCells: readonly TitleCell[];
  readonly problems: readonly SheetProblem[];
}

export interface DrawOptions {
  readonly sheet: number;
  readonly of: number;
  /** False leaves the lines of views out: the screen paints them itself. */
  readonly viewLines: boolean;
}

/** The sheet as marks on paper, with what is wrong on it. */
export function drawSheet(inputs: SheetInputs, options: Partial<DrawOptions> = {}): DrawnSheet {
  const facts: DrawOptions = { sheet: 1, of: 1, viewLines: true, ...options };
  const { sheet } = inputs;
  const scale = commonScale(sheet);
  const fields = { ...inputs.shared, ...sheet.fields };
  const layout = layOutSheet(inputs, facts);
  const title = { ...facts, scale, projection: inputs.projection ?? 'first' };
  const block = blockOf(blockShownBy(inputs.block, sheet), sheet.further);
  const notes = sheet.notes.map((note) =>
    layOutNote(
      note,
      { fields, scale, ...facts, bill: inputs.bill, assembly: inputs.assembly, block },
      targetOf(note, layout, inputs),
    ),
  );
  const { thin } = penPair(sheet.paper);
  const marks: Mark[] = [
    ...drawFrame(sheet.paper),
    ...drawTitleBlock(fields, title, sheet.paper, block, inputs.logo),
    ...layout.views.flatMap((view) => [
      ...(facts.viewLines ? drawViewMarks(view, sheet.paper) : []),
      ...drawCentreLines(view, thin),
      ...drawCaption(view),
    ]),
    ...drawRegions(layout, thin),
    ...(sheet.clouds
      ? drawClouds(sheet.clouds, layout.views, {
          within: frameBox(sheet.paper),
          obstacles: [
            layout.titleBlock,
            ...layout.balloons.map(({ box }) => box),
            ...layout.tables.flatMap(({ measured }) => measured.strips.map((strip) => strip.box)),
            ...layout.views.flatMap(({ captionBox }) => (captionBox ? [captionBox] : [])),
          ],
          pen: thin,
        })
      : []),
    ...layout.tables.flatMap((laid) => drawList(laid, laid.bill === inputs.bill)),
    ...layout.dimensions.flatMap((dimension) => dimension.marks),
    ...notes.flatMap((note) => drawNote(note, thin)),
    ...layout.balloons.flatMap((balloon) => drawBalloon(balloon, thin)),
  ];
  const { widthMm, heightMm } = paperSize(sheet.paper);
  return {
    scene: { widthMm, heightMm, title: sheet.name, marks },
    layout,
    notes,
    titleCells: titleCells(fields, title, sheet.paper, block),
    problems: findProblems(
      layout,
      notes,
      marks,
      [sheet, ...(inputs.others ?? [])].flatMap(({ tables }) => tables),
      (id, bill) => inputs.lists?.get(id)?.bill === bill,
    ),
  };
}

/** What the leader of a note points at, on paper. */
function targetOf({ leader }: SheetNote, { views }: SheetLayout, inputs: SheetInputs): Vec2 | null {
  const laid = leader && views.find(({ view }) => view.id === leader.view);
  const seen = laid && pointInView(leader.point, laid.view, dimensionFacts(inputs));
  return seen ? laid.toPaper(...seen) : null;
}

/** Pens of a view: edges and outlines with the wide one of the sheet, tangent edges with the narrow one (ISO 128-2). */
export const viewPens = (paper: Paper): { full: number; tangent: number } => {
  const { thick, thin } = penPair(paper);
  return { full: thick, tangent: thin };
};

function drawCaption({ view, captionAt, captionText }: LaidView): Mark[] {
  return captionText === ''
    ? []
    : [textMark({ kind: 'view', id: view.id }, captionText, captionAt[0], captionAt[1], CAPTION_LETTERING, 'centre')];
}

function drawCentreLines({ view, lines, toPaper }: LaidView, pen: number): Mark[] {
  const [x, y] = toPaper(0, 0);
  return centreLinesOf(view, lines, pen).map(({ id, ends }) => ({
    kind: 'stretches',
    source: { kind: 'centreLine', id: `${view.id} ${id}` },
    ends: ends.map((value, at) => (at % 2 === 0 ? x + value : y - value)),
    pen,
  }));
}

function drawViewMarks({ view, drawn, toPaper }: LaidView, paper: Paper): Mark[] {
  const lines = drawn();
  const source: MarkSource = { kind: 'view', id: view.id };
  const full: number[] = [],
    smooth: number[] = [];
  const { tangent = 'thin' } = view;
  const tangents = tangent === 'none' ? null : tangent === 'full' ? full : smooth;
  for (let at = 0; at < lines.kinds.length; at++) {
    const from = toPaper(lines.ends[at * 4], lines.ends[at * 4 + 1]),
      to = toPaper(lines.ends[at * 4 + 2], lines.ends[at * 4 + 3]);
    const into = lineKinds[lines.kinds[at]] === 'tangent' ? tangents : full;
    into?.push(from[0], from[1], to[0], to[1]);
  }
  const pens = viewPens(paper);
  const onPaper = (ends: Float64Array | undefined): Float64Array => {
    const placed = new Float64Array(ends?.length ?? 0);
    for (let at = 0; ends && at < ends.length; at += 2) placed.set(toPaper(ends[at], ends[at + 1]), at);
    return placed;
  };
  const ways = onPaper(view.pathLines && lines.wayEnds),
    hidden = onPaper(view.hidden && lines.hiddenEnds);
  return [
    ...shadedFaces(view, lines, toPaper),
    ...(hidden.length > 0
      ? [{ kind: 'stretches', source, ends: hidden, pen: pens.tangent, dashed: true } as const]
      : []),
    ...(ways.length > 0 ? [{ kind: 'stretches', source, ends: ways, pen: pens.tangent } as const] : []),
    { kind: 'stretches', source, ends: Float64Array.from(smooth), pen: pens.tangent, grey: true },
    { kind: 'stretches', source, ends: Float64Array.from(full), pen: pens.full },
  ];
}

/** The picture under the lines of a view; of an enlarged detail what lies in its border. */
function shadedFaces(view: SheetView, { shade, shadeBox }: ViewLines, toPaper: LaidView['toPaper']): Mark[] {
  if (!view.shade || !shade || !shadeBox) return [];
  const [x0, y1] = toPaper(shadeBox[0], shadeBox[1]),
    [x1, y0] = toPaper(shadeBox[2], shadeBox[3]);
  return [
    {
      kind: 'picture',
      source: { kind: 'view', id: view.id },
      png: shade,
      box: [x0, y0, x1, y1],
      ...(view.detail ? { within: borderOf(view) } : {}),
    },
  ];
}

/** @param isOwn whether its lines are those of the sheet's bill, and lit with them */
function drawList({ measured, content, billRows }: LaidTable, isOwn: boolean): readonly Mark[] {
  const before = drawnLists.get(measured);
  if (before && before.isOwn === isOwn) return before.marks;
  const marks = drawTable(measured, content, (line) => ({
    kind: 'table',
    id: !isOwn || line < 0 || billRows[line] < 0 ? 'table' : String(billRows[line]),
  }));
  drawnLists.set(measured, { isOwn, marks });
  return marks;
}
/** The marks of lists as they were measured: the same ones where nothing about a list changed. */
const drawnLists = new WeakMap<MeasuredTable, { readonly isOwn: boolean; readonly marks: readonly Mark[] }>();

const overlapAny = (some: readonly Box2[], others: readonly Box2[]): boolean =>
  some.some((one) => others.some((other) => boxesOverlap(one, other)));

const faultWords: readonly (readonly [keyof BalloonFaults, string, string, string])[] = [
  [
    'overlapping',
    'balloons-overlap',
    'balloon lies',
    'balloons lie over one another; drag them apart or arrange them.',
  ],
  ['crossing', 'leaders-cross', 'leader crosses', 'leaders cross; drag their balloons or arrange them.'],
  ['through', 'leaders-through', 'leader runs through another balloon.', 'leaders run through another balloon.'],
  ['close', 'ends-close', 'leader ends', 'leaders end within 2 mm of one another.'],
  [
    'level',
    'leaders-level',
    'leader is nearly level or upright and reads as a dimension line.',
    'leaders are nearly level or upright and read as dimension lines.',
  ],
];

/** Least height of capitals on drawings that are to be copied (ISO 3098); mm. */
const LEAST_LETTERING = 2.5;

/** Texts of lists that are not there whole, or that can hardly be read. */
function sayCells(
  tables: readonly LaidTable[],
  say: (code: string, message: string, items: readonly string[]) => void,
): void {
  for (const { measured, items } of tables) {
    const where = (is: (cell: CellText) => boolean) =>
      measured.cells.flatMap((row, at) => (row.some(is) ? [items[at]] : []));
    const cut = where(({ isCut }) => isCut),
      small = where(({ lettering }) => lettering < Math.min(LEAST_LETTERING, measured.style.lettering) - 1e-6);
    if (cut.length > 0)
      say(
        'cells-cut',
        `In ${cut.length} lines of the list a text is cut off; make its column wider, or let it wrap.`,
        cut,
      );
    if (small.length > 0)
      say(
        'cells-small',
        `In ${small.length} lines of the list a text is lettered smaller than ${LEAST_LETTERING} mm to fit its column.`,
        small,
      );
  }
}

/** What a checker would mark on this sheet. */
function findProblems(
  layout: SheetLayout,
  notes: readonly LaidNote[],
  marks: readonly Mark[],
  lists: readonly SheetTable[],
  isShown: (id: string, bill: LaidTable['bill']) => boolean,
): SheetProblem[] {
  const problems: SheetProblem[] = [];
  const say = (code: string, message: string, items: readonly string[] = []) => problems.push({ code, message, items });
  const { coverage, tables, views, frame, titleBlock } = layout;
  if (coverage.missing.length > 0)
    say(
      'missing-balloons',
      `${coverage.missing.length} of ${coverage.rows} lines have no balloon on ${layout.coverage.elsewhere.length > 0 ? 'any' : 'this'} sheet.`,
      coverage.missing,
    );
  if (coverage.doubled.length > 0)
    say('doubled-balloons', `${coverage.doubled.length} lines have more than one balloon.`, coverage.doubled);
  if (coverage.hanging.length > 0)
    say('hanging-balloons', `${coverage.hanging.length} balloons point at a part that is gone or has no line.`);
  for (const { measured, content } of tables)
    if (!measured.fits)
      say(
        'list-too-large',
        `The list of ${content.rows.length} lines does not fit this paper; let it go on on further sheets, or choose larger paper, fewer columns or another depth.`,
      );
  const first = tables.find(({ table }) => !table.typed);
  const whole = lists.filter(
    ({ onlyBallooned, bill, typed }) => !onlyBallooned && !typed && bill === first?.table.bill,
  );
  for (const [from, to] of first && !first.table.onlyBallooned ? linesLeftOut(whole, first.of) : [])
    say(
      'list-gap',
      `Lines ${from} to ${to} of the list stand on no sheet; pick a list that shows a part, show all lines there, and let it go on anew.`,
    );
  for (const [from, to] of first && !first.table.onlyBallooned ? linesShownTwice(whole, first.of) : [])
    say('list-twice', `Lines ${from} to ${to} of the list stand on two lists; take one of them away.`);
  if (tables.some(({ table, bill }) => table.bill !== undefined && !isShown(table.bill, bill)))
    say(
      'list-bill-gone',
      'The bill that a list shows is gone or not worked out yet; it shows that of the sheet instead.',
    );
  sayCells(tables, say);
  const stripsOf = ({ measured }: LaidTable) => measured.strips.map(({ box }) => box);
  if (tables.some((one, at) => tables.slice(at + 1).some((other) => overlapAny(stripsOf(one), stripsOf(other)))))
    say('lists-overlap', 'Two lists lie over one another; hang one of them elsewhere.');
  const placed: [string, Box2][] = [
    ['The title block', titleBlock],
    ...tables.flatMap(stripsOf).map((box): [string, Box2] => ['The list', box]),
  ];
  for (const { view, box } of views) {
    if (!boxInside(box, frame))
      say(
        'view-outside',
        `The ${directionName(view.direction)} view reaches over the frame; move it or make it smaller.`,
      );
    for (const [name, other] of placed)
      if (boxesOverlap(box, other))
        say('view-covered', `${name} lies over the ${directionName(view.direction)} view; move one of them.`);
  }
  const bad = layout.balloons.filter(
    ({ box }) => !boxInside(box, frame) || placed.some(([, other]) => boxesOverlap(box, other)),
  );
  if (bad.length > 0)
    say(
      'balloon-misplaced',
      'Balloons stand on the list, the title block or outside the frame.',
      bad.map(({ item }) => item),
    );
  const readable = layout.balloons.filter(({ row }) => row >= 0);
  // What shares a leader has none of its own that could be wrong.
  const faults = balloonFaults(readable.map((one) => (one.leader.length > 0 ? one : { ...one, anchor: one.centre })));
  for (const [kind, code, one, several] of faultWords) {
    const items = faults[kind].map((at) => readable[at].item);
    if (items.length > 0) say(code, `${items.length} ${items.length === 1 ? one : several}`, items);
  }
  const small = layout.balloons.filter(({ lettering }) => lettering < LEAST_LETTERING - 1e-6);
  if (small.length > 0)
    say(
      'small-numbers',
      `${small.length} numbers in balloons are lettered smaller than ${LEAST_LETTERING} mm; they are too long, or balloons too small.`,
      small.map(({ item }) => item),
    );
  for (const { measured } of tables)
    if (measured.style.lettering < LEAST_LETTERING - 1e-6)
      say(
        'small-list',
        `The list is lettered ${measured.style.lettering} mm; on paper that is to be read less than ${LEAST_LETTERING} mm is too small.`,
      );
  for (const { note, box } of notes)
    if (!boxInside(box, frame) || boxesOverlap(box, titleBlock))
      say(
        'note-misplaced',
        `The note “${note.text.slice(0, 30)}” lies over the title block or reaches out of the frame; move it or make it narrower.`,
      );
  const gone = layout.dimensions.filter(({ value }) => value === null).length;
  if (gone > 0)
    say(
      'hanging-dimensions',
      `${gone} ${gone === 1 ? 'dimension is' : 'dimensions are'} taken from something that is gone, left out of its view, or taken apart in its pose.`,
    );
  for (const { text, box, value } of layout.dimensions)
    if (value !== null && (!boxInside(box, frame) || placed.some(([, other]) => boxesOverlap(box, other))))
      say('dimension-misplaced', `The dimension ${text} lies over the list or the title block, or outside the frame.`);
  const glyphs = missingGlyphs(marks);
  if (glyphs.length > 0)
    say(
      'missing-glyphs',
      `No lettering font has ${glyphs.slice(0, 8).join(' ')}${glyphs.length > 8 ? ' …' : ''}; boxes stand in their place.`,
    );
  return problems;
}
