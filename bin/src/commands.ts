import { basename, extname } from 'node:path';
import { InvalidArgumentError } from 'commander';
import {
  componentsAlong,
  listOccurrences,
  orientationTurn,
  partLabel,
  pathKey,
  pathOf,
  Refusal,
  type Assembly,
  type PathKey,
} from '../../core/src/assembly/index.ts';
import { makeBill } from '../../core/src/bill/index.ts';
import { defaultColumns } from '../../core/src/columns/index.ts';
import { sceneToSvg, viewToSvg } from '../../core/src/formats/index.ts';
import {
  blankSheet,
  drawSheet,
  makeDrawing,
  noTitleFields,
  usualPaper,
  withViews,
  type DrawnSheet,
  type PaperName,
  type SheetProblem,
  type TitleFields,
} from '../../core/src/sheets/index.ts';
import { topLabel } from '../../core/src/step/index.ts';
import {
  directionNames,
  lookAt,
  sumLines,
  type Direction,
  type DirectionName,
  type LookRequest,
  type TangentLook,
} from '../../core/src/views/index.ts';
import {
  embeddedFonts,
  explodeLook,
  folderStore,
  makeMeshes,
  makeView,
  sceneToPdf,
  startPool,
  type MadeView,
  type Tools,
} from '../../engine/src/index.ts';
import type { BillOptions } from './billCommand.ts';
import { json, readBytes, write } from './files.ts';

interface Common {
  /** Model axis that points up. */
  readonly up: 'y' | 'z';
  readonly output?: string;
}
/** Reads the file and makes its meshes; findings about shapes go to standard error. */
async function withModel<Result>(
  file: string,
  up: Common['up'],
  workerFile: string,
  use: (assembly: Assembly, tools: Tools) => Promise<Result>,
): Promise<Result> {
  const bytes = await readBytes(file);
  const tools: Tools = { pool: startPool(workerFile), store: folderStore() };
  try {
    const model = await tools.pool.read({ bytes, fileName: basename(file) });
    for (const finding of await makeMeshes(model, tools)) process.stderr.write(`${finding.message}\n`);
    return await use(standing(model.assembly, up), tools);
  } finally {
    await tools.pool.close();
  }
}

/** The machine with this axis up. With y up its front is where z points, as glTF has it. */
const standing = (assembly: Assembly, up: Common['up']): Assembly =>
  up === 'z' ? assembly : { ...assembly, turn: orientationTurn({ up: '+y', front: '+z' })! };

const rounded = (value: number): number => Math.round(value * 1e6) / 1e6;

export interface ViewOptions extends Common {
  readonly direction: Direction;
  readonly format: string;
  readonly pose: 'assembled' | 'exploded';
  /** How deep subassemblies are opened in the exploded pose; all where absent. */
  readonly levels?: number;
  /** Part numbers or names; everything where empty. */
  readonly only: readonly string[];
  /** Part numbers or names. */
  readonly without: readonly string[];
  /** Hidden lines in the SVG; the JSON has them all. */
  readonly showHidden?: boolean;
  readonly tangent: TangentLook;
}

export async function viewCommand(
  file: string,
  { direction, format, pose, levels, only, without, showHidden = false, tangent, up, output }: ViewOptions,
  workerFile: string,
): Promise<void> {
  await withModel(file, up, workerFile, async (assembly, tools) => {
    const shown: LookRequest = {
      direction,
      without: without.flatMap((part) => placesOf(assembly, part)),
      ...(only.length > 0 ? { only: only.flatMap((part) => placesOf(assembly, part)) } : {}),
    };
    const { moves, locked } =
      pose === 'exploded'
        ? await explodeLook(lookAt(assembly, shown), { levels: levels ?? Infinity }, tools)
        : { moves: [], locked: [] };
    for (const path of locked)
      process.stderr.write(`${partAt(assembly, path)} is held from all sides; it is moved all the same.\n`);
    const { lines, spots } = await makeView(lookAt(assembly, { ...shown, moves }), tools, { hidden: true });
    const name = typeof direction === 'string' ? direction : direction.slice(6).map(rounded).join(',');
    if (format === 'svg')
      return write(
        viewToSvg(lines.ends, lines.kinds, lines.visible, lines.box, `${basename(file)}, ${name}`, {
          hidden: showHidden,
          tangent,
        }),
        output,
      );
    const segments = Array.from(lines.kinds, (kind, at) => [
      ...Array.from(lines.ends.subarray(at * 4, at * 4 + 4), rounded),
      ['feature', 'outline', 'tangent'][kind],
      lines.visible[at] === 1,
      lines.occurrences[at],
    ]);
    return write(
      json({
        direction: name,
        pose,
        moves: moves.map(({ path, steps }, order) => ({
          part: partAt(assembly, path),
          path,
          steps: steps.map((step) => step.map(rounded)),
          order,
        })),
        ...sumLines(lines),
        box: lines.box.map(rounded),
        segments,
        places: lines.paths,
        visibleOccurrences: spots.paths.length,
      }),
      output,
    );
  });
}

/** What a drafter calls the part at a place. */
function partAt(assembly: Assembly, path: PathKey): string {
  const along = componentsAlong(assembly, pathOf(path));
  return along ? partLabel(assembly.components[along[along.length - 1]]) : path;
}

/** Every place of what has this part number, else this name. @throws Refusal where nothing has it */
function placesOf(assembly: Assembly, part: string): PathKey[] {
  for (const field of ['partNumber', 'name'] as const) {
    const found = listOccurrences(assembly, (index) => assembly.components[index][field] === part);
    if (found.length > 0) return found.map(({ path }) => pathKey(path));
  }
  throw new Refusal('no-part', `Nothing in this machine has the part number or name “${part}”; the bill lists them.`);
}

export async function sheetCommand(
  file: string,
  options: Common & Pick<BillOptions, 'depth' | 'merge'> & { format: string; paper: PaperName; views: string },
  workerFile: string,
): Promise<void> {
  const directions = parseDirections(options.views);
  await withModel(file, options.up, workerFile, async (assembly, tools) => {
    const views = new Map<DirectionName, MadeView>();
    for (const direction of directions) views.set(direction, await makeView(lookAt(assembly, { direction }), tools));
    const bill = makeBill(assembly, { depth: options.depth, identity: options.merge });
    const columns = defaultColumns(assembly);
    let next = 0;
    const newId = () => String(++next);
    const top = assembly.components[assembly.root];
    const title = topLabel(assembly) ? top.name || top.partNumber : basename(file, extname(file));
    const shared: TitleFields = {
      ...noTitleFields,
      title,
      drawingNumber: top.partNumber,
      revision: top.revision,
      documentType: 'Assembly drawing',
    };
    const blank = withViews(
      blankSheet(title, usualPaper(options.paper)),
      directions.map((direction) => ({ direction })),
      newId,
    );
    const of = <Content>(pick: (view: MadeView) => Content) =>
      new Map(blank.views.map(({ id }, at) => [id, pick(views.get(directions[at])!)]));
    const lines = of((view) => view.lines);
    const inputs = { shared, assembly, bill, columns, lines };
    const { sheet, problems } = makeDrawing({ ...inputs, sheet: blank, spots: of((view) => view.spots), newId });
    const drawn = drawSheet({ ...inputs, sheet });
    if (options.format === 'pdf') return write(await sceneToPdf(drawn.scene), options.output);
    if (options.format === 'svg')
      return write(sceneToSvg(drawn.scene, await embeddedFonts(drawn.scene)), options.output);
    return write(json(describeSheet(drawn, problems)), options.output);
  });
}

function parseDirections(text: string): DirectionName[] {
  const names = text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);
  const unknown = names.find((name) => !(directionNames as readonly string[]).includes(name));
  if (unknown !== undefined || names.length === 0) {
    process.stderr.write(
      `error: option '--views' does not know “${unknown ?? text}”; allowed are ${directionNames.join(', ')}\n`,
    );
    throw new InvalidArgumentError('views');
  }
  return [...new Set(names)] as DirectionName[];
}

function describeSheet({ scene, layout, problems }: DrawnSheet, planProblems: readonly SheetProblem[]): unknown {
  const [table] = layout.tables;
  const { elsewhere: _, ...coverage } = layout.coverage; // there is one sheet only
  if (!table) throw new Refusal('no-list', 'The sheet has no list.');
  const nameOf = new Map(layout.views.map(({ view }) => [view.id, view.direction]));
  const { content, measured } = table;
  return {
    paper: { widthMm: scene.widthMm, heightMm: scene.heightMm },
    titleBlock: { box: layout.titleBlock.map(rounded) },
    views: layout.views.map(({ view, box }) => ({ name: view.direction, scale: view.scale, box: box.map(rounded) })),
    table: {
      box: measured.box.map(rounded),
      rows: content.rows,
      columns: content.headings,
      strips: measured.strips.map((strip) => ({ box: strip.box.map(rounded), from: strip.from, to: strip.to })),
    },
    balloons: layout.balloons.map(({ item, balloon, centre, radius, anchor, leader, end, part }) => ({
      item,
      view: nameOf.get(balloon.view),
      centre: centre.map(rounded),
      radius,
      anchor: anchor.map(rounded),
      leader: leader.map((point) => point.map(rounded)),
      end,
      part,
    })),
    coverage,
    problems: [...problems, ...planProblems],
  };
}
