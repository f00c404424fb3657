import { basename, extname } from 'node:path';
import { InvalidArgumentError } from 'commander';
import { Refusal, type Assembly } from '../../core/src/assembly/index.ts';
import type { Arrangement, BalloonShape } from '../../core/src/balloons/index.ts';
import { makeBill, noDecisions } from '../../core/src/bill/index.ts';
import { defaultColumns, type Column } from '../../core/src/columns/index.ts';
import { heldSentences, newSheetSet } from '../../core/src/documents/index.ts';
import { sceneToSvg } from '../../core/src/formats/index.ts';
import {
  checkReport,
  filledShare,
  drawReport,
  drawSheet,
  leaderScore,
  planBalloons,
  makeDrawing,
  makeSet,
  freeLetter,
  parentOf,
  sectionIn,
  sectionsOf,
  setInputs,
  noTitleFields,
  setWithStyle,
  sheetWithFastenerStacks,
  shapeOf,
  sheetWithStyle,
  barred,
  lookOfLettering,
  usualPaper,
  USUAL_TABLE,
  viewRequest,
  withViews,
  type AxisPlane,
  type DrawnSheet,
  type LeaderScore,
  type PaperName,
  type Sheet,
  type SheetInputs,
  type SheetKind,
  type SheetProblem,
  type SheetStyle,
  type SheetTable,
  type SheetView,
  type TablePlace,
  type TitleFields,
} from '../../core/src/sheets/index.ts';
import type { RowDirection, TableHeading } from '../../core/src/tables/index.ts';
import type { Pose } from '../../core/src/poses/index.ts';
import { topLabel } from '../../core/src/step/index.ts';
import {
  directionName,
  directionNames,
  lookAt,
  type DirectionName,
  type ViewLines,
} from '../../core/src/views/index.ts';
import {
  embeddedFonts,
  explodeLook,
  makePictures,
  makeView,
  scenesToPdf,
  sceneToPng,
  type Tools,
} from '../../engine/src/index.ts';
import type { BillOptions } from './billCommand.ts';
import { rounded, withModel, type Common } from './viewCommand.ts';
import { readStyle } from './styleFile.ts';
import { json, write } from './files.ts';

export interface SheetOptions extends Common, Pick<BillOptions, 'depth' | 'merge'> {
  /** `check`: what is wrong on the sheets, in sentences. */
  readonly format: 'pdf' | 'svg' | 'png' | 'json' | 'check';
  /** For `check`: a file for the whole report. */
  readonly report?: string;
  /** Dots per inch of a PNG. */
  readonly dots: number;
  readonly paper: PaperName;
  /** Comma-separated directions of the drawing's views. */
  readonly views?: string;
  /** Which sheets the set has. */
  readonly sheets?: readonly SheetKind[];
  /** A house style. */
  readonly style?: string;
  /** Whether the paper was typed, rather than the usual one. */
  readonly ownPaper: boolean;
  readonly place: TablePlace;
  /** Whether that was typed, rather than the usual one. */
  readonly ownPlace: boolean;
  /** Heights of capitals in the list and in balloons; mm. What fits where absent. */
  readonly listLettering?: number;
  readonly lettering?: number;
  /** Edge of pictures in the list; mm. Without where absent. */
  readonly listPictures?: number;
  /** What balloons say. */
  readonly content?: 'item' | 'item-quantity';
  /** How balloons stand around a view. */
  readonly arrange: Arrangement | 'auto';
  /** Whether bolts with their washers and nuts share a leader. */
  readonly stacks?: boolean;
  /** What is drawn around their numbers. */
  readonly shape?: BalloonShape;
  readonly heading?: TableHeading;
  readonly rows?: RowDirection;
  /** Where a section is: `auto` where it shows what nothing else does, `none`. */
  readonly section: AxisPlane | 'auto' | 'none';
  /** A set in which every line is seen well, of as many sheets as it takes. */
  readonly auto?: boolean;
}

/** One sheet of views, list and balloons, or with `sheets` or `auto` a set of sheets. */
export async function sheetCommand(file: string, options: SheetOptions, workerFile: string): Promise<void> {
  const isSet = options.auto || options.sheets !== undefined;
  // A set chooses from where it shows the machine, unless that is said.
  const directions = parseDirections(options.views ?? (isSet ? '' : 'isometric'));
  await withModel(file, options.up, workerFile, async (assembly, tools) => {
    const style = options.style === undefined ? null : await readStyle(options.style);
    const says = (style?.sheet ?? {}) as SheetStyle;
    const columns = style ? (style.columns as Column[]) : defaultColumns(assembly);
    const bill = makeBill(
      assembly,
      { depth: options.depth, identity: options.merge, ...(style?.numbering ? { numbering: style.numbering } : {}) },
      noDecisions,
      { columns, fileName: basename(file) },
    );
    let next = 0;
    const newId = () => String(++next);
    const set = setWithStyle({ ...newSheetSet, fields: sharedFields(assembly, file) }, says);
    const { poses: _, ...ofSet } = setInputs(set);
    const { shared } = ofSet;
    const blank = withViews(
      asAsked(
        sheetWithStyle(
          shared.title,
          usualPaper(options.paper),
          options.ownPaper ? { ...says, paper: usualPaper(options.paper) } : says,
        ),
        options,
        says,
      ),
      directions.map((direction) => ({ direction })),
      newId,
    );
    const request = { sheet: blank, ...ofSet, assembly, bill, columns, newId };
    const made = isSet ? await setOf(request, options, tools) : await drawingOf(request, options, tools);
    const drawn = await drawAll(made.sheets, made.poses, request, tools, options.listPictures !== undefined);
    for (const sentence of made.said) process.stderr.write(`${sentence}\n`);
    if (options.format === 'check') {
      if (options.report !== undefined) await writeReport(drawn, { assembly, bill }, shared, options.report);
      return report(made, drawn, options.output);
    }
    const scenes = drawn.map(({ scene }) => scene);
    if (options.format === 'pdf') {
      const { title, createdBy, date } = shared;
      return write(await scenesToPdf(scenes, { title, author: createdBy, date }), options.output);
    }
    if (options.format !== 'json') {
      if (scenes.length > 1)
        throw new Refusal('several', 'An SVG or PNG holds one sheet and this set has several; write it as PDF.');
      const [scene] = scenes;
      return write(
        options.format === 'svg'
          ? sceneToSvg(scene, await embeddedFonts(scene))
          : await sceneToPng(scene, options.dots),
        options.output,
      );
    }
    return write(json(isSet ? describeSet(made, drawn) : describeSheet(drawn[0], made.problems)), options.output);
  });
}

/**
 * What a checker would mark on each sheet, in sentences.
 * @throws Refusal where there is anything
 */
/** The report as a file, PDF or JSON by its ending. */
async function writeReport(
  drawn: readonly Described[],
  facts: Pick<Request, 'assembly' | 'bill'>,
  { title, createdBy, date }: TitleFields,
  file: string,
): Promise<void> {
  const checked = checkReport(
    drawn.map((one) => ({ drawn: one, inputs: { ...facts, lines: one.lines } })),
    title,
    date,
  );
  await write(
    file.toLowerCase().endsWith('.json')
      ? `${JSON.stringify(checked, null, 2)}\n`
      : await scenesToPdf(drawReport(checked), { title, author: createdBy, date }),
    file,
  );
}

async function report({ problems }: Made, drawn: readonly DrawnSheet[], output?: string): Promise<void> {
  const { rows, missing, excused } = drawn[0].layout.coverage;
  const needed = rows - excused.length;
  const found = drawn.flatMap((one, at) =>
    [...one.problems, ...(at === 0 ? problems : [])].map(
      ({ message, items }) =>
        `Sheet ${at + 1}, ${one.scene.title}: ${message}${items.length > 0 ? ` (${items.join(', ')})` : ''}`,
    ),
  );
  const sentences = [...new Set(found)];
  const sheets = drawn.length === 1 ? 'one sheet' : `${drawn.length} sheets`;
  const head = `${needed - missing.length} of ${needed} lines have a balloon, on ${sheets}.`;
  await write(`${[head, ...sentences].join('\n')}\n`, output);
  if (sentences.length > 0)
    throw new Refusal(
      'problems',
      `There ${sentences.length === 1 ? 'is one thing' : `are ${sentences.length} things`} to look at.`,
    );
}

/** The sheet with its list and balloons as they were asked for. */
function asAsked(sheet: Sheet, options: SheetOptions, says: SheetStyle): Sheet {
  const { place, listLettering, listPictures, lettering, content, heading, rows, arrange, shape } = options;
  const { balloonLook: look } = sheet;
  const hasQuantity = content === undefined ? (look.quantity ?? false) : content === 'item-quantity';
  const list: SheetTable = {
    ...says.list,
    id: USUAL_TABLE,
    place: options.ownPlace ? place : (says.list?.place ?? place),
    ...(listLettering === undefined ? {} : { lettering: listLettering }),
    ...(listPictures === undefined ? {} : { pictures: listPictures }),
    ...(heading ? { heading } : {}),
    ...(rows ? { rows } : {}),
  };
  return {
    ...sheet,
    tables: [list],
    balloonLook: {
      ...(lettering === undefined
        ? barred(look, hasQuantity)
        : { ...lookOfLettering(lettering, hasQuantity), ...shapeOf(look) }),
      ...(arrange === 'auto' ? {} : { arrangement: arrange }),
      ...(shape === undefined ? {} : { shape }),
    },
  };
}

/** A drawn sheet, and how clearly each leader ends, by the ids of balloons. */
interface Described extends DrawnSheet {
  readonly scores: ReadonlyMap<string, LeaderScore>;
  /** By view id. */
  readonly lines: ReadonlyMap<string, ViewLines>;
}

interface Made {
  readonly sheets: readonly Sheet[];
  readonly poses: readonly Pose[];
  readonly problems: readonly SheetProblem[];
  /** Sentences for who asked. */
  readonly said: readonly string[];
}
type Request = Omit<SheetInputs, 'lines'> & { readonly newId: () => string };

/** The sheet with a section in a plane, whose cutting line is on the view that shows it where there is one. */
async function withSection(
  { assembly, sheet, newId }: Request,
  plane: AxisPlane,
  look: (view: SheetView) => ReturnType<typeof makeView>,
): Promise<Sheet> {
  const usual = parentOf(plane, newId());
  const own = sheet.views.find(({ direction }) => direction === usual.direction);
  const { lines } = await look(own ?? usual);
  const made = sectionIn(plane, freeLetter(sheet.views), newId(), { view: own ?? usual, lines });
  const { of: _, ...alone } = made.section!;
  const view = own ? made : { ...made, section: alone };
  const cut = (await look(view)).lines;
  if (cut.cutOccurrences?.length === 0 && cut.cutWhole?.length === 0)
    throw new Refusal(
      'section-misses',
      `A section at ${'xyz'[plane.axis]}=${plane.at} cuts nothing of “${topLabel(assembly)}”.`,
    );
  return { ...sheet, views: [...sheet.views, view] };
}

async function drawingOf(asked: Request, { stacks, section }: SheetOptions, tools: Tools): Promise<Made> {
  const { assembly } = asked;
  const look = (view: SheetView) => makeView(lookAt(assembly, viewRequest(view)), tools);
  const sheet = typeof section === 'string' ? asked.sheet : await withSection(asked, section, look);
  const request = { ...asked, sheet };
  const drawn = await Promise.all(sheet.views.map(async (view) => [view.id, await look(view)] as const));
  const lines = new Map(drawn.map(([id, one]) => [id, one.lines]));
  const spots = new Map(drawn.map(([id, one]) => [id, one.spots]));
  const plain = makeDrawing({ ...request, lines, spots });
  if (!stacks) return { sheets: [plain.sheet], poses: [], problems: plain.problems, said: [] };
  const inputs = { ...request, lines, sheet: plain.sheet };
  const stacked = sheetWithFastenerStacks(inputs) ?? plain.sheet;
  const { balloons, problems } = planBalloons({ ...inputs, sheet: stacked }, spots, request.newId);
  const made = { ...stacked, balloons };
  return { sheets: [made], poses: [], problems, said: [] };
}

async function setOf(request: Request, { sheets, auto, section }: SheetOptions, tools: Tools): Promise<Made> {
  const { assembly } = request;
  const { sheet, cover, further, pose, locked, problems, said } = await makeSet({
    ...request,
    others: [],
    poses: [],
    ...(auto || !sheets ? {} : { kinds: sheets }),
    ...(section === 'auto' ? {} : { plane: section === 'none' ? null : section }),
    look: (wish, poses) => makeView(lookAt(assembly, viewRequest(wish, poses)), tools),
    apart: () => explodeLook(lookAt(assembly, { direction: 'front' }), { levels: Infinity }, tools),
  });
  const wantsDrawing = !sheets || sheets.includes('assembly');
  return {
    sheets: [...(cover ? [cover] : []), ...(wantsDrawing ? [sheet] : []), ...further],
    poses: pose ? [pose] : [],
    problems,
    said: [...heldSentences(assembly, locked), said],
  };
}

async function drawAll(
  sheets: readonly Sheet[],
  poses: readonly Pose[],
  request: Request,
  tools: Tools,
  wantsPictures: boolean,
): Promise<Described[]> {
  const { assembly, bill } = request;
  const pictures = wantsPictures ? await makePictures(assembly, tools) : undefined;
  const linesOf = new Map(
    await Promise.all(
      sheets
        .flatMap(({ views }) => views)
        .map(
          async (view) => [view.id, (await makeView(lookAt(assembly, viewRequest(view, poses)), tools)).lines] as const,
        ),
    ),
  );
  return sheets.map((sheet, at) => {
    const others = sheets.toSpliced(at, 1);
    const lines = new Map(sheet.views.map(({ id }) => [id, linesOf.get(id)!]));
    const sectionsElsewhere = sectionsOf(others, sheet).map(({ id }) => linesOf.get(id)!);
    const drawn = drawSheet(
      { ...request, sheet, others, poses, pictures, lines, sectionsElsewhere },
      { sheet: at + 1, of: sheets.length },
    );
    const scores = drawn.layout.balloons.flatMap((laid) => {
      const view = drawn.layout.views.find((one) => one.view.id === laid.balloon.view);
      if (!view || laid.row < 0 || laid.leader.length === 0) return [];
      const score = leaderScore(laid, view, linesOf.get(view.view.id)!, { assembly, bill });
      return [[laid.balloon.id, { ...score, freeMm: score.freeMm === null ? null : rounded(score.freeMm) }] as const];
    });
    return { ...drawn, lines, scores: new Map(scores) };
  });
}

function sharedFields(assembly: Assembly, file: string): TitleFields {
  const top = assembly.components[assembly.root];
  return {
    ...noTitleFields,
    title: topLabel(assembly) ? top.name || top.partNumber : basename(file, extname(file)),
    drawingNumber: top.partNumber,
    revision: top.revision,
    documentType: 'Assembly drawing',
  };
}

function parseDirections(text: string): DirectionName[] {
  const names = text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);
  const unknown = names.find((name) => !(directionNames as readonly string[]).includes(name));
  if (unknown !== undefined || (names.length === 0 && text.trim() !== '')) {
    process.stderr.write(
      `error: option '--views' does not know “${unknown ?? text}”; allowed are ${directionNames.join(', ')}\n`,
    );
    throw new InvalidArgumentError('views');
  }
  return [...new Set(names)] as DirectionName[];
}

function describeSet({ problems, said }: Made, drawn: readonly Described[]): unknown {
  const [{ layout }] = drawn;
  const { rows, missing } = layout.coverage;
  return {
    said: said.at(-1),
    coverage: { rows, missing },
    sheets: drawn.map((one, at) => ({
      name: one.scene.title,
      number: at + 1,
      of: drawn.length,
      details: one.layout.views.flatMap(({ view: { detail, scale } }) =>
        detail
          ? [{ letter: detail.letter, centre: detail.centre.map(rounded), radius: rounded(detail.radius), scale }]
          : [],
      ),
      captions: one.layout.views.map(({ captionText, view }) => captionText || directionName(view.direction)),
      ...describe(one),
      filled: rounded(filledShare(one.layout)),
      problems: [...one.problems, ...(at === 0 ? problems : [])],
    })),
  };
}

function describeSheet(drawn: Described, planProblems: readonly SheetProblem[]): unknown {
  const { elsewhere: _, ...coverage } = drawn.layout.coverage; // there is one sheet only
  if (drawn.layout.tables.length === 0) throw new Refusal('no-list', 'The sheet has no list.');
  return { ...describe(drawn), coverage, problems: [...drawn.problems, ...planProblems] };
}

/** Where a list lies. */
const describeTable = ({ measured, content }: Described['layout']['tables'][number]) => ({
  box: measured.box.map(rounded),
  letteringMm: measured.style.lettering,
  pitchMm: measured.style.pitch,
  heading: measured.heading,
  direction: measured.rows,
  rows: content.rows,
  columns: content.headings,
  strips: measured.strips.map((strip) => ({ box: strip.box.map(rounded), from: strip.from, to: strip.to })),
});

/** Where a balloon stands, and what it says. */
const describeBalloon = (
  { balloon, extra, shape, below, before, after, ...laid }: Described['layout']['balloons'][number],
  view: unknown,
  score: unknown,
) => ({
  item: laid.item,
  view,
  centre: laid.centre.map(rounded),
  radius: laid.radius,
  shape: shape === 'circle' && extra > 0 ? 'drawn-out' : shape,
  ...(below === null ? {} : { quantity: below }),
  ...(before === '' ? {} : { before }),
  ...(after === '' ? {} : { after }),
  extra: rounded(extra),
  lettering: rounded(laid.lettering),
  byHand: balloon.byHand,
  anchor: laid.anchor.map(rounded),
  leader: laid.leader.map((point) => point.map(rounded)),
  end: laid.end,
  part: laid.part,
  score: score ?? null,
  ...(balloon.stack === undefined ? {} : { stack: balloon.stack }),
});

/** Where everything lies on a sheet. */
function describe({ scene, layout, scores }: Described) {
  const nameOf = new Map(layout.views.map(({ view }) => [view.id, view.direction]));
  const [table] = layout.tables;
  return {
    paper: { widthMm: scene.widthMm, heightMm: scene.heightMm },
    titleBlock: { box: layout.titleBlock.map(rounded) },
    views: layout.views.map(({ view, box }) => ({ name: view.direction, scale: view.scale, box: box.map(rounded) })),
    ...(table && { table: describeTable(table) }),
    dimensions: layout.dimensions.map(({ dimension: { kind, view }, text, value, box }) => ({
      kind,
      view: nameOf.get(view),
      text,
      value: value === null ? null : rounded(value),
      box: box.map(rounded),
    })),
    balloons: layout.balloons.map((one) =>
      describeBalloon(one, nameOf.get(one.balloon.view), scores.get(one.balloon.id)),
    ),
  };
}
