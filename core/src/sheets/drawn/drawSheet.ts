import type { Vec2 } from '../../geometry/index.ts';
import { drawBalloon } from '../laid/balloonsOnSheet.ts';
import { drawClouds } from './clouds.ts';
import { chain } from '../laid/chains.ts';
import { cutAreasOf, stylesFor } from '../laid/hatching.ts';
import { drawCuttingLine, drawHatching, type HatchGap } from './cutMarks.ts';
import { centreLinesOf } from '../laid/centreLines.ts';
import { textMark, type Mark, type MarkSource, type Scene } from '../../marks/index.ts';
import { drawTable, type MeasuredTable } from '../../tables/index.ts';
import { lineKinds, type ViewLines } from '../../views/index.ts';
import { CAPTION_LETTERING, dimensionFacts, layOutSheet, type SheetLayout } from '../laid/layout.ts';
import type { LaidTable } from '../laid/listsOnSheet.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import type { LaidView } from '../laid/laidView.ts';
import { pointInView } from '../laid/dimensions.ts';
import { drawNote, layOutNote, type LaidNote } from '../laid/notes.ts';
import { drawFrame, frameBox, paperSize, penPair, type Paper } from '../paper/paper.ts';
import type { SheetNote, SheetProblem, SheetView } from '../records.ts';
import { findProblems } from './problems.ts';
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

interface DrawOptions {
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
  const pens = penPair(sheet.paper);
  const hatching = hatchingFor(layout, inputs, pens.thin);
  const marks: Mark[] = [
    ...drawFrame(sheet.paper),
    ...drawTitleBlock(fields, title, sheet.paper, block, inputs.logo),
    ...layout.views.flatMap((view) => [
      ...(facts.viewLines ? drawViewMarks(view, sheet.paper) : []),
      ...hatching(view),
      ...drawCentreLines(view, pens.thin),
      ...drawCaption(view),
    ]),
    ...drawRegions(layout, pens.thin),
    ...layout.cuttingLines.flatMap((line) => drawCuttingLine(line, pens)),
    ...(sheet.clouds
      ? drawClouds(sheet.clouds, layout.views, {
          within: frameBox(sheet.paper),
          obstacles: [
            layout.titleBlock,
            ...layout.balloons.map(({ box }) => box),
            ...layout.tables.flatMap(({ measured }) => measured.strips.map((strip) => strip.box)),
            ...layout.views.flatMap(({ captionBox }) => (captionBox ? [captionBox] : [])),
          ],
          pen: pens.thin,
        })
      : []),
    ...layout.tables.flatMap((laid) => drawList(laid, laid.bill === inputs.bill)),
    ...layout.dimensions.flatMap((dimension) => dimension.marks),
    ...notes.flatMap((note) => drawNote(note, pens.thin)),
    ...layout.balloons.flatMap((balloon) => drawBalloon(balloon, pens.thin)),
  ];
  const { widthMm, heightMm } = paperSize(sheet.paper);
  return {
    scene: { widthMm, heightMm, title: sheet.name, marks },
    layout,
    notes,
    titleCells: titleCells(fields, title, sheet.paper, block),
    problems: findProblems({
      layout,
      notes,
      marks,
      lists: [sheet, ...(inputs.others ?? [])].flatMap(({ tables }) => tables),
      isShown: (id, bill) => inputs.lists?.get(id)?.bill === bill,
    }),
  };
}

/** Clear of hatching around the end of a leader; mm. */
const CLEAR_OF_DOT = 1.6;

/** Clear of hatching around a text. */
function textGap(mark: Mark): HatchGap[] {
  if (mark.kind !== 'text') return [];
  const { at, width, height, turn } = mark;
  const [x, y] = at;
  return turn === undefined
    ? [{ box: [x - 0.7, y - height - 0.7, x + width + 0.7, y + 0.7] }]
    : [{ at: [x, y], radius: width }];
}

/** Gives the hatching of a view: parts alike on all sheets, clear around what is to be read. */
function hatchingFor(
  { views, balloons, dimensions }: SheetLayout,
  { assembly, sectionsElsewhere = [], sectionLook }: SheetInputs,
  thin: number,
): (laid: LaidView) => readonly Mark[] {
  const areas = new Map(
    views.map(({ view, lines }) => [view.id, view.section ? cutAreasOf(lines, assembly) : []] as const),
  );
  const styles = stylesFor([...areas.values(), ...sectionsElsewhere.map((lines) => cutAreasOf(lines, assembly))]);
  return (laid) => {
    const gaps = [
      ...balloons.flatMap(({ balloon: { view, end }, leader }): HatchGap[] =>
        view === laid.view.id && end === 'dot' && leader.length > 0
          ? [{ at: leader[leader.length - 1], radius: CLEAR_OF_DOT }]
          : [],
      ),
      ...dimensions.flatMap(({ dimension, marks }) => (dimension.view === laid.view.id ? marks.flatMap(textGap) : [])),
    ];
    return drawHatching(laid, areas.get(laid.view.id)!, styles, gaps, { pen: thin, look: sectionLook });
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
  return centreLinesOf(view, lines, pen).map(({ ends }) => ({
    kind: 'stretches',
    source: { kind: 'centreLine', id: view.id },
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
  // Narrow ones end short of outlines, as far as that is known.
  const areShort = tangent === 'thin' && lines.smoothEnds !== undefined;
  const tangents = tangent === 'none' || areShort ? null : tangent === 'full' ? full : smooth;
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
  const ways = chained(onPaper(view.pathLines && lines.wayEnds), pens.tangent),
    hidden = onPaper(view.hidden && lines.hiddenEnds),
    borders = onPaper(lines.borderEnds);
  return [
    ...shadedFaces(view, lines, toPaper),
    ...(hidden.length > 0
      ? [{ kind: 'stretches', source, ends: hidden, pen: pens.tangent, dashed: true } as const]
      : []),
    ...[ways, borders].flatMap((ends): Mark[] =>
      ends.length > 0 ? [{ kind: 'stretches', source, ends, pen: pens.tangent }] : [],
    ),
    {
      kind: 'stretches',
      source,
      ends: areShort ? onPaper(lines.smoothEnds) : Float64Array.from(smooth),
      pen: pens.tangent,
      grey: true,
    },
    { kind: 'stretches', source, ends: Float64Array.from(full), pen: pens.full },
  ];
}

/** Stretches as chain lines: long-dashed dotted, as path lines are (ISO 128-2, 04.1). */
function chained(ends: Float64Array, pen: number): Float64Array {
  const pieces: number[] = [];
  for (let at = 0; at < ends.length; at += 4)
    for (const value of chain(
      [
        [ends[at], ends[at + 1]],
        [ends[at + 2], ends[at + 3]],
      ],
      pen,
    ))
      pieces.push(value);
  return Float64Array.from(pieces);
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
