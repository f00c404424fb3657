import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { Refusal } from '../../core/src/assembly/index.ts';
import { arrangements, balloonShapes } from '../../core/src/balloons/index.ts';
import { depths, identities } from '../../core/src/bill/index.ts';
import { currencies } from '../../core/src/columns/index.ts';
import { MOST_CUTS, parseCut, type Cut } from '../../core/src/sections/index.ts';
import { paperNames, sheetKinds, tablePlaces, type AxisPlane, type SheetKind } from '../../core/src/sheets/index.ts';
import { LETTERING_RANGE, rowDirections, tableHeadings } from '../../core/src/tables/index.ts';
import { directionNames, tangentLooks, turnTowards, type Direction } from '../../core/src/views/index.ts';
import type { BillOptions } from './billCommand.ts';
import type { BuyOptions } from './buyCommand.ts';
import type { CompareOptions } from './compareCommand.ts';
import type { SheetOptions } from './sheetCommand.ts';

const balloonContents = ['item', 'item-quantity'] as const;

/**
 * Runs one command; the exit code: 0 done, 1 cannot be done (one sentence on standard error), 2 wrong usage, 3 two files
 * differ.
 */
export async function run(args: readonly string[], workerFile: string): Promise<number> {
  let code = 0;
  try {
    await program(workerFile, (other) => (code = other)).parseAsync(args, { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    process.stderr.write(`${sentence(error)}\n`);
    return 1;
  }
}

function sentence(error: unknown): string {
  if (error instanceof Refusal) return error.message;
  const { code, path, message } = error as NodeJS.ErrnoException;
  if (code === 'ENOENT') return `There is no file or folder ${path}; check the name.`;
  if (code === 'EACCES') return `${path} may not be read or written; check its permissions.`;
  if (code === 'EISDIR') return `${path ?? 'The given path'} is a folder; name a file.`;
  return `This could not be done: the program failed (${message}). If it does so again with this file, the file and this line help to mend it.`;
}

function wholeNumber(text: string): number {
  if (!/^[1-9]\d{0,5}$/.test(text)) throw new InvalidArgumentError('It takes a whole number from 1 on.');
  return Number(text);
}

const lengthUpTo =
  (most: number) =>
  (text: string): number => {
    const value = text.trim() === '' ? NaN : Number(text.replace(',', '.'));
    if (!(value >= 0 && value <= most)) throw new InvalidArgumentError(`It takes a number from 0 to ${most}.`);
    return value;
  };
function currencyCode(text: string): string {
  const code = text.toUpperCase();
  if (!(currencies as readonly string[]).includes(code))
    throw new InvalidArgumentError(`It takes one of ${currencies.join(', ')}.`);
  return code;
}

function millimetres(text: string): number {
  const value = Number(text.replace(',', '.'));
  const [least, most] = LETTERING_RANGE;
  if (!(value >= least && value <= most))
    throw new InvalidArgumentError(`It takes a height of ${least} to ${most} mm.`);
  return value;
}

const several = (text: string, before: readonly string[]): string[] => [...before, text];

function directionOf(text: string): Direction {
  const name = directionNames.find((known) => known === text);
  if (name) return name;
  const numbers = text.split(',').map((part) => (part.trim() === '' ? NaN : Number(part)));
  const turn = numbers.length === 3 ? turnTowards(numbers as never) : null;
  if (!turn) throw new InvalidArgumentError(`It takes three numbers, or one of ${directionNames.join(', ')}.`);
  return turn;
}

/** Refused as it is read: before the file is. */
function cutOf(text: string, before: readonly Cut[]): Cut[] {
  try {
    if (before.length >= MOST_CUTS) throw new InvalidArgumentError(`A view takes ${MOST_CUTS} cuts at most.`);
    return [...before, parseCut(text)];
  } catch (error) {
    if (error instanceof Refusal) throw new InvalidArgumentError(error.message);
    throw error;
  }
}

function sectionOf(text: string): AxisPlane | 'auto' | 'none' {
  if (text === 'auto' || text === 'none') return text;
  const [, axis, at] = /^([xyz])\s*=\s*([+-]?\d+(?:\.\d+)?)(?:\s*mm)?$/i.exec(text.trim()) ?? [];
  if (axis === undefined || !(Math.abs(Number(at)) <= 1e7))
    throw new InvalidArgumentError('It takes auto, none, or a plane across an axis in mm, such as y=0.');
  return { axis: 'xyz'.indexOf(axis.toLowerCase()) as AxisPlane['axis'], at: Number(at) };
}

function sheetKindsOf(text: string): SheetKind[] {
  const names = text.split(',').map((name) => name.trim());
  const unknown = names.find((name) => !sheetKinds.some((kind) => kind === name));
  if (unknown !== undefined) throw new InvalidArgumentError(`It takes some of ${sheetKinds.join(', ')}.`);
  return names as SheetKind[];
}

const shared = (command: Command) =>
  command
    .argument('<FILE>', 'STEP, glTF, 3MF, SVG layout, or a structure list')
    .addOption(new Option('--up <axis>', 'model axis that points up').choices(['y', 'z']).default('z'))
    .option('-o, --output <PATH>', 'write to a file instead of standard output');
const billOptions = (command: Command) =>
  command
    .addOption(new Option('--depth <depth>', 'which lines').choices(depths).default('structured'))
    .addOption(new Option('--merge <identity>', 'what makes two lines one').choices(identities).default('part-number'));
const sheetOptions = (command: Command) =>
  billOptions(shared(command))
    .addOption(new Option('--paper <size>').choices(paperNames).default('A3'))
    .addOption(
      new Option(
        '--views <directions>',
        `comma-separated: ${directionNames.join(', ')} (isometric; a set chooses one)`,
      ),
    )
    .addOption(
      new Option('--sheets <kinds>', `a set of these sheets, comma-separated: ${sheetKinds.join(', ')}`).argParser(
        sheetKindsOf,
      ),
    )
    .addOption(new Option('--auto', 'a set of as many sheets as it takes to see every line well').conflicts('sheets'))
    .addOption(new Option('--place <place>', 'where the list hangs').choices(tablePlaces).default('title-block'))
    .option('--list-pictures <mm>', 'pictures of the parts in the list, so large', millimetres)
    .option('--list-lettering <mm>', 'height of capitals in the list (the largest that fits)', millimetres)
    .addOption(new Option('--heading <end>', 'where the heading of the list stands').choices(tableHeadings))
    .addOption(new Option('--rows <way>', 'which way the rows of the list go').choices(rowDirections))
    .option('--lettering <mm>', 'height of the numbers in balloons (the largest that fits)', millimetres)
    .addOption(new Option('--content <content>', 'what balloons say (item)').choices(balloonContents))
    .addOption(
      new Option('--arrange <arrangement>', 'how balloons stand around a view')
        .choices([...arrangements, 'auto'])
        .default('auto'),
    )
    .addOption(new Option('--shape <shape>', 'what is drawn around numbers (circle)').choices(balloonShapes))
    .addOption(
      new Option('--stacks', 'small parts on one axis, such as bolt, washer and nut, share a leader').conflicts([
        'auto',
        'sheets',
      ]),
    )
    .addOption(
      new Option(
        '--section <where>',
        'auto: where a set shows more by it; none; or in a plane across an axis of the machine, such as y=0',
      )
        .argParser(sectionOf)
        .default('auto'),
    )
    .option('--style <FILE>', 'house style: columns, numbering, paper, title block, list, balloons, angle, dimensions');
const withPaper = (options: SheetOptions, command: Command): SheetOptions => ({
  ...options,
  ownPaper: command.getOptionValueSource('paper') === 'cli',
  ownPlace: command.getOptionValueSource('place') === 'cli',
});

function addBill(top: Command, workerFile: string): void {
  billOptions(shared(top.command('bill').description('bill of materials')))
    .addOption(
      new Option('--format <format>', 'recipe: the choices as a file for --recipe')
        .choices(['json', 'csv', 'tsv', 'xlsx', 'recipe'])
        .default('json'),
    )
    .option('--recipe <FILE>', 'choices, columns, variants and decisions as JSON; what is typed here wins over it')
    .option('--columns <names>', 'Item, Qty as Pieces, "{Name}, L = {Length}" as Text, = {Qty} × {Mass each} as Weight')
    .option('--sort <names>', 'Material, Length downwards')
    .option('--group <names>', 'headings and subtotals over equal values')
    .option('--filter <rules>', 'Material is Ash and (Qty is more than 4 or is bought)')
    .option('--variant <name>', 'one of the variants of the recipe file')
    .option('--split <names>', 'lines apart by these properties, such as Colour, Size')
    .option('--machines <count>', 'totals for so many machines', wholeNumber)
    .option('--form <FILE>', 'fill this workbook of the company’s (XLSX) with the list; --output is its name')
    .option('--form-map <FILE>', 'how the form is filled, as JSON (what its headings suggest)')
    .option('--field <name=text>', 'something that the form asks for as {name}; may be repeated', several, [])
    .option('--explain', 'print the recipe as a sentence instead of the bill')
    .action(async (file: string, options: BillOptions, command: Command) =>
      (await import('./billCommand.ts')).billCommand(
        file,
        options,
        new Set(Object.keys(options).filter((name) => command.getOptionValueSource(name) === 'cli')),
        workerFile,
      ),
    );
}

function addBuy(top: Command, workerFile: string): void {
  top
    .command('buy')
    .description('what to order for so many machines, and how to cut it from bars')
    .argument('<FILE>', 'STEP, glTF, 3MF, SVG layout, or a structure list')
    .option('--machines <count>', 'how many are built', wholeNumber, 1)
    .option(
      '--stock <FILE>',
      'bars: a table (CSV, XLSX) with Section, Stock length, Material, Unit cost, Available; may be repeated',
      several,
      [],
    )
    .option('--catalogue <FILE>', 'table of parts with prices, packs and lead times; may be repeated', several, [])
    .option('--recipe <FILE>', 'choices of the list, variants and decisions as JSON')
    .option('--variant <name>', 'one of the variants of the recipe file')
    .option('--spares <percent>', 'more of what is bought by the piece', lengthUpTo(1000), 0)
    .option('--kerf <mm>', 'width of a saw cut', lengthUpTo(1000), 3)
    .option('--trim <mm>', 'taken off both ends of a bar', lengthUpTo(10_000), 0)
    .option('--least-left-over <mm>', 'left-overs from this length on are kept', lengthUpTo(1_000_000), 300)
    .option('--currency <code>', 'what costs are told in', currencyCode, 'EUR')
    .option('--rate <code=value>', 'what one unit of another currency costs; may be repeated', several, [])
    .addOption(
      new Option('--format <format>', 'pdf: the cut list of the workshop')
        .choices(['json', 'csv', 'xlsx', 'pdf'])
        .default('json'),
    )
    .option('-o, --output <PATH>', 'write to a file instead of standard output')
    .action(async (file: string, options: BuyOptions) =>
      (await import('./buyCommand.ts')).buyCommand(file, options, workerFile),
    );
}

function addView(top: Command, workerFile: string): void {
  shared(top.command('view').description('lines of one view, hidden lines removed, at 1:1'))
    .addOption(
      new Option('--direction <direction>', `${directionNames.join(', ')}, or from where as x,y,z`)
        .default('isometric')
        .argParser(directionOf),
    )
    .addOption(new Option('--pose <pose>').choices(['assembled', 'exploded']).default('assembled'))
    .option('--show-hidden', 'hidden lines in the SVG, dashed')
    .option('--shaded', 'faces of the SVG in the colours of the parts, under the lines')
    .addOption(
      new Option('--tangent <look>', 'edges of the SVG at which faces meet smoothly')
        .choices(tangentLooks)
        .default('thin'),
    )
    .option('--levels <count>', 'how deep subassemblies are opened in the exploded pose', wholeNumber)
    .option('--only <part>', 'nothing but this part number or name; may be repeated', several, [])
    .option('--without <part>', 'all but this part number or name; may be repeated', several, [])
    .option(
      '--cut <conditions>',
      'take all matter away where these hold, in mm along machine axes: y<0, or a quarter as x>0 & y<0; may be repeated',
      cutOf,
      [],
    )
    .addOption(
      new Option('--leave-whole <what>', 'what is not cut lengthwise: nothing, or shafts, screws and their like')
        .choices(['none', 'proposed'])
        .default('none'),
    )
    .addOption(new Option('--format <format>').choices(['svg', 'json']).default('json'))
    .action(async (file, options) => (await import('./viewCommand.ts')).viewCommand(file, options, workerFile));
}

function addExplode(top: Command, workerFile: string): void {
  shared(
    top.command('explode').description('how the machine comes apart: what leaves its seat, in which order, how far'),
  )
    .addOption(
      new Option('--level <level>', 'whether subassemblies that can leave whole are taken apart too')
        .choices(['first', 'all'])
        .default('all'),
    )
    .option('--whole <part>', 'this part number or name leaves whole; may be repeated', several, [])
    .option('--every', 'of more than three subassemblies that are alike every one is taken apart, not one alone')
    .addOption(new Option('--format <format>').choices(['json']).default('json'))
    .action(async (file, options) => (await import('./explodeCommand.ts')).explodeCommand(file, options, workerFile));
}

function addSheetAndCheck(top: Command, workerFile: string): void {
  sheetOptions(top.command('sheet').description('drawing sheet with views, parts list and balloons'))
    .addOption(new Option('--format <format>').choices(['pdf', 'svg', 'png', 'json']).default('json'))
    .option('--dots <count>', 'dots per inch of a PNG', wholeNumber, 300)
    .action(async (file: string, options: SheetOptions, command: Command) =>
      (await import('./sheetCommand.ts')).sheetCommand(file, withPaper(options, command), workerFile),
    );
  sheetOptions(top.command('check').description('what is wrong on the drawing sheet; ends with 1 where anything is'))
    .option('--report <FILE>', 'the same as a file with the clearness of leaders: .pdf or .json')
    .action(async (file: string, options: SheetOptions, command: Command) =>
      (await import('./sheetCommand.ts')).sheetCommand(
        file,
        { ...withPaper(options, command), format: 'check' },
        workerFile,
      ),
    );
}

/** @param endWith another exit code than 0 for what was done */
function addCompare(top: Command, workerFile: string, endWith: (code: number) => void): void {
  billOptions(
    top.command('compare').description('what differs between two files of a machine; ends with 3 where anything does'),
  )
    .argument('<WAS>', 'earlier file')
    .argument('<IS>', 'later file')
    .addOption(new Option('--format <format>').choices(['json', 'csv', 'xlsx', 'text']).default('json'))
    .option('-o, --output <PATH>', 'write to a file instead of standard output')
    .action(async (was: string, is: string, options: CompareOptions) => {
      const { compareCommand } = await import('./compareCommand.ts');
      if (!(await compareCommand(was, is, options, workerFile))) endWith(DIFFERENT);
    });
}

/** @param endWith another exit code than 0 for what was done */
function program(workerFile: string, endWith: (code: number) => void): Command {
  const top = new Command('sledgeboard')
    .description('From a STEP assembly to its bill of materials, views and drawing sheet.')
    .exitOverride()
    .showHelpAfterError('(--help lists all options)');
  addBill(top, workerFile);
  addBuy(top, workerFile);
  addView(top, workerFile);
  addExplode(top, workerFile);
  addSheetAndCheck(top, workerFile);
  addCompare(top, workerFile, endWith);
  return top;
}
const DIFFERENT = 3;
