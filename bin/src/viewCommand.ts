import { basename } from 'node:path';
import {
  componentsAlong,
  listOccurrences,
  orientationTurn,
  partLabel,
  pathKey,
  pathOf,
  Refusal,
  type Assembly,
  type Component,
  type PathKey,
} from '../../core/src/assembly/index.ts';
import { heldSentences } from '../../core/src/documents/index.ts';
import { viewToSvg } from '../../core/src/formats/index.ts';
import type { Cut } from '../../core/src/sections/index.ts';
import { cutAreasOf, hatchingOf, stylesFor } from '../../core/src/sheets/index.ts';
import {
  lookAt,
  sumLines,
  type CutFaces,
  type Direction,
  type LookRequest,
  type TangentLook,
  type ViewLines,
} from '../../core/src/views/index.ts';
import {
  cutFacesOf,
  explodeLook,
  folderStore,
  makeMeshes,
  makeView,
  startPool,
  type Tools,
} from '../../engine/src/index.ts';
import { json, readBytes, write } from './files.ts';

export interface Common {
  /** Model axis that points up. */
  readonly up: 'y' | 'z';
  readonly output?: string;
}
/** Reads the file and makes its meshes; findings about shapes go to standard error. */
export async function withModel<Result>(
  file: string,
  up: Common['up'],
  workerFile: string,
  use: (assembly: Assembly, tools: Tools) => Promise<Result>,
): Promise<Result> {
  const bytes = await readBytes(file);
  // Shapes are made on all threads as soon as the file is read; meanwhile the others start.
  const tools: Tools = { pool: startPool(workerFile, { atOnce: true }), store: folderStore() };
  try {
    const model = await tools.pool.read({ bytes, fileName: basename(file) });
    for (const finding of [...model.assembly.findings, ...(await makeMeshes(model, tools))])
      process.stderr.write(`${finding.message}\n`);
    return await use(standing(model.assembly, up), tools);
  } finally {
    await tools.pool.close();
  }
}

/** The machine with this axis up. With y up its front is where z points, as glTF has it. */
const standing = (assembly: Assembly, up: Common['up']): Assembly =>
  up === 'z' ? assembly : { ...assembly, turn: orientationTurn({ up: '+y', front: '+z' })! };

export const rounded = (value: number): number => Math.round(value * 1e6) / 1e6;

interface ViewOptions extends Common {
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
  readonly shaded?: boolean;
  readonly tangent: TangentLook;
  readonly cut: readonly Cut[];
  readonly leaveWhole: 'none' | 'proposed';
}

export async function viewCommand(
  file: string,
  {
    direction,
    format,
    pose,
    levels,
    only,
    without,
    showHidden = false,
    shaded = false,
    tangent,
    cut: cuts,
    leaveWhole,
    up,
    output,
  }: ViewOptions,
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
    for (const sentence of heldSentences(
      assembly,
      locked.map(({ path }) => path),
    ))
      process.stderr.write(`${sentence}\n`);
    const cut =
      cuts.length === 0 ? null : { cuts, ...(leaveWhole === 'proposed' ? { lengthwise: true as const } : {}) };
    const look = lookAt(assembly, {
      ...shown,
      moves,
      ...(shaded ? { shade: 'colours' } : {}),
      ...(cut ? { cut } : {}),
    });
    const cutFaces = await cutFacesOf(look, tools);
    if (cutFaces) sayOfCut(cutFaces, assembly);
    const { lines, spots } = await makeView(look, tools, { hidden: true });
    const name = typeof direction === 'string' ? direction : direction.slice(6).map(rounded).join(',');
    if (format === 'svg')
      return write(
        viewToSvg(lines.ends, lines.kinds, lines.visible, lines.box, `${basename(file)}, ${name}`, {
          hidden: showHidden,
          tangent,
          shade: lines.shade,
          hatch: hatchOf(lines, assembly),
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
        ...(cutFaces ? { cut: listed(cutFaces, assembly) } : {}),
        segments,
        places: lines.paths,
        visibleOccurrences: spots.paths.length,
      }),
      output,
    );
  });
}

/** What there is to say of a cut, on standard error. @throws Refusal where it leaves nothing */
function sayOfCut({ open, of, left, faces, whole }: CutFaces, assembly: Assembly): void {
  if (left === 0)
    throw new Refusal('nothing-left', 'This cut takes the whole machine away; cut elsewhere, or from the other side.');
  if (left === of && faces.length === 0 && whole.length === 0 && open.length === 0)
    process.stderr.write('The cut misses the machine: nothing is taken away.\n');
  for (const part of new Set(open.map((path) => partAt(assembly, path))))
    process.stderr.write(`“${part}” is open where it is cut, so it has no cut face there.\n`);
}

/** Cut faces as they are printed. */
const listed = ({ faces }: CutFaces, assembly: Assembly): object[] =>
  faces.map(({ path, areaMm2, rings, hatched }) => {
    const component = componentAt(assembly, path);
    return {
      partNumber: component?.partNumber ?? '',
      name: component?.name ?? '',
      path,
      areaMm2: rounded(areaMm2),
      rings: rings.map((ring) => ring.map((point) => point.map(rounded))),
      hatched,
    };
  });

/** Hatching at 1:1. */
function hatchOf(lines: ViewLines, assembly: Assembly): Float64Array {
  const areas = cutAreasOf(lines, assembly);
  const { hatched, filled } = hatchingOf(areas, stylesFor([areas]), { scale: 1, pen: 0.25 });
  return Float64Array.from([...hatched, ...filled]);
}

export function componentAt(assembly: Assembly, path: PathKey): Component | null {
  const along = componentsAlong(assembly, pathOf(path));
  return along ? assembly.components[along[along.length - 1]] : null;
}

/** What a drafter calls the part at a place. */
function partAt(assembly: Assembly, path: PathKey): string {
  const component = componentAt(assembly, path);
  return component ? partLabel(component) : path;
}

/** Every place of what has this part number, else this name. @throws Refusal where nothing has it */
export function placesOf(assembly: Assembly, part: string): PathKey[] {
  for (const field of ['partNumber', 'name'] as const) {
    const found = listOccurrences(assembly, (index) => assembly.components[index][field] === part);
    if (found.length > 0) return found.map(({ path }) => pathKey(path));
  }
  throw new Refusal('no-part', `Nothing in this machine has the part number or name “${part}”; the bill lists them.`);
}
