// What a form looks like, for picking cells on it, and what its headings suggest.
import { unitOf } from '../columns/index.ts';
import { textIn } from './fillForm.ts';
import type { FormMap } from './records.ts';
import { cellName, columnLetters, isInRange, readCellName, type CellPlace, type CellRange } from './references.ts';
import { cellIn, plainCells } from './sheetCells.ts';
import { mergedAreas } from './start.ts';
import { CellStyles } from './styles.ts';
import { refuseLong } from './fields.ts';
import { formulasThatSend } from './sending.ts';
import { openForm } from './keptOut.ts';
import { formColours } from './colours.ts';
import { columnWidths, USUAL_HEIGHT } from './widths.ts';
import type { FormSheet, Workbook } from './workbook.ts';
import { childOf, childrenOf, textOf, within, type XmlElement } from './xml.ts';

/** A cell of the picture. */
export interface LookCell {
  readonly row: number;
  readonly column: number;
  /** Rows and columns that it goes over. */
  readonly rows: number;
  readonly columns: number;
  readonly text: string;
  readonly isFormula: boolean;
  readonly bold: boolean;
  readonly italic: boolean;
  /** Of letters; points. */
  readonly size: number;
  /** CSS colours; null for the usual. */
  readonly colour: string | null;
  readonly fill: string | null;
  readonly align: 'left' | 'center' | 'right' | null;
  readonly wrap: boolean;
  /** Which sides have a line: some of t, r, b, l. */
  readonly lines: string;
}
/** A picture that stands on the sheet, from cell to cell; rows and columns from 1, shares of a cell behind the point. */
interface LookPicture {
  readonly from: readonly [column: number, row: number];
  readonly to: readonly [column: number, row: number];
  /** Data of an `img`; null for a kind that pages do not show. */
  readonly source: string | null;
}
/** A sheet of a form as a picture with cells that can be picked. */
export interface SheetLook {
  readonly name: string;
  /** In pixels of 96 to the inch; columns from A, rows from 1. */
  readonly widths: readonly number[];
  readonly heights: readonly number[];
  /** Those that are not plain and empty. */
  readonly cells: readonly LookCell[];
  readonly pictures: readonly LookPicture[];
  /** Whether there is more to the right or below than the picture shows. */
  readonly isCut: boolean;
}
/** What is known of a form when it comes in. */
export interface FormLook {
  readonly sheets: readonly SheetLook[];
  /** Cells that have names. */
  readonly names: readonly { readonly name: string; readonly sheet: string; readonly cell: string }[];
  /** Texts between { and } in it. */
  readonly placeholders: readonly string[];
  /** What it has that is kept out of what is written. */
  readonly keptOut: readonly string[];
  /** Cells whose formulas send data or lead elsewhere, each with what it does. */
  readonly sending: readonly { readonly at: string; readonly what: string }[];
  /** Where its list seems to begin; null where nothing says so. */
  readonly proposed: Pick<FormMap, 'start' | 'ready' | 'rows'> | null;
  /** Headings above that cell. */
  readonly headings: readonly FoundHeading[];
}
/** A heading of the form's list. */
export interface FoundHeading {
  /** Letters of its column. */
  readonly to: string;
  readonly heading: string;
  /** Unit that it says: Mass [kg]. */
  readonly unit?: string;
  /** Whether the form has a formula of its own below it. */
  readonly isFormula?: boolean;
}

const MOST_ROWS = 120,
  MOST_COLUMNS = 40,
  MOST_SHEETS = 20;
/** Bytes of pictures that go along. */
const MOST_PICTURE = 400_000;

/** Looks at a form. @throws Refusal where it is no workbook that can be read */
export function lookAtForm(bytes: Uint8Array): FormLook {
  const { workbook, keptOut } = openForm(bytes);
  const shown = workbook.sheets.filter(({ hidden }) => !hidden).slice(0, MOST_SHEETS);
  const names = workbook.definedCells();
  const proposed = proposeStart(workbook, shown);
  return {
    sheets: shown.map((sheet) => lookAtSheet(workbook, sheet)),
    names,
    placeholders: placeholdersOf(workbook),
    keptOut,
    sending: formulasThatSend(workbook),
    proposed,
    headings: proposed ? headingsIn(workbook, ...cellOf(proposed.start, names)) : [],
  };
}

const cellOf = (start: FormMap['start'], names: FormLook['names']): [sheet: string, cell: string] => {
  const found = 'name' in start ? names.find(({ name }) => name === start.name) : start;
  return [found?.sheet ?? '', found?.cell ?? ''];
};

/** Headings above a cell of a form. @throws Refusal where it cannot be read */
export const headingsAbove = (bytes: Uint8Array, sheet: string, cell: string): FoundHeading[] =>
  headingsIn(openForm(bytes).workbook, sheet, cell);

function placeholdersOf(workbook: Workbook): string[] {
  const texts = [
    ...workbook.sharedStrings().map(textOf),
    ...workbook.sheets.flatMap(({ part }) => {
      const text = workbook.text(part);
      return text.includes('{') ? [...within(workbook.look(part)!, 'is', 'oddHeader', 'oddFooter')].map(textOf) : [];
    }),
  ];
  const names = new Set<string>();
  for (const text of texts) {
    refuseLong(text);
    for (const [, name] of text.matchAll(/\{([^{}\n]{1,60})\}/g)) {
      names.add(name);
      if (names.size === MOST_PLACEHOLDERS) return [...names];
    }
  }
  return [...names];
}
const MOST_PLACEHOLDERS = 100;

function lookAtSheet(workbook: Workbook, sheet: FormSheet): SheetLook {
  const tree = workbook.tree(sheet.part);
  const { rows } = plainCells(tree, sheet.name);
  const merged = mergedAreas(tree);
  const [stylesPart] = workbook.related(workbook.bookPart, 'styles');
  const styles = stylesPart === undefined ? null : new CellStyles(workbook.look(stylesPart)!);
  const colourOf = formColours(workbook);
  const width = columnWidths(tree);
  const numbers = [...rows.keys()];
  const lastRow = numbers.reduce((most, row) => Math.max(most, row), 0);
  const lastColumn = [...rows.values()].reduce(
    (most, row) => Math.max(most, readCellName(childrenOf(row, 'c').at(-1)?.attributes.get('r') ?? '')?.column ?? 0),
    0,
  );
  const rowCount = Math.min(MOST_ROWS, Math.max(24, lastRow + 6)),
    columnCount = Math.min(MOST_COLUMNS, Math.max(10, lastColumn + 2));
  const usualHeight = Number(childOf(tree, 'sheetFormatPr')?.attributes.get('defaultRowHeight') ?? USUAL_HEIGHT);
  const cells: LookCell[] = [];
  for (let row = 1; row <= rowCount; row++)
    for (const cell of childrenOf(rows.get(row) ?? EMPTY, 'c')) {
      const column = readCellName(cell.attributes.get('r')!)?.column ?? 0;
      if (column > columnCount) break;
      const area = merged.find((range) => isInRange({ row, column }, range));
      if (area && (area.from.row !== row || area.from.column !== column)) continue;
      const look = lookOfCell(workbook, cell, { row, column }, area, styles, colourOf);
      if (look.text !== '' || look.fill || look.lines || area) cells.push(look);
    }
  return {
    name: sheet.name,
    widths: Array.from({ length: columnCount }, (_, at) => Math.round(width(at + 1) * 7 + (width(at + 1) > 0 ? 5 : 0))),
    heights: Array.from({ length: rowCount }, (_, at) => {
      const row = rows.get(at + 1)?.attributes;
      return row?.get('hidden') === '1' ? 0 : Math.round((Number(row?.get('ht') ?? usualHeight) * 4) / 3);
    }),
    cells,
    pictures: picturesOn(workbook, sheet),
    isCut: lastRow > rowCount || lastColumn > columnCount,
  };
}
const EMPTY: XmlElement = { name: 'row', attributes: new Map(), children: [] };

function lookOfCell(
  workbook: Workbook,
  cell: XmlElement,
  { row, column }: CellPlace,
  area: CellRange | undefined,
  styles: CellStyles | null,
  colourOf: (colour: XmlElement | undefined) => string | null,
): LookCell {
  const style = Number(cell.attributes.get('s') ?? 0);
  const font = styles?.fontOf(style);
  const pattern = childOf(styles?.fillOf(style), 'patternFill');
  const border = styles?.borderOf(style);
  const alignment = styles?.alignmentOf(style)?.attributes;
  const formula = childOf(cell, 'f');
  const text = textIn(workbook, cell);
  const horizontal = alignment?.get('horizontal');
  const isNumber = text !== '' && !['s', 'inlineStr', 'str'].includes(cell.attributes.get('t') ?? '');
  return {
    row,
    column,
    rows: area ? area.to.row - row + 1 : 1,
    columns: area ? area.to.column - column + 1 : 1,
    text: (text || (formula ? `=${textOf(formula)}` : '')).slice(0, 300),
    isFormula: formula !== undefined,
    bold: childOf(font, 'b') !== undefined,
    italic: childOf(font, 'i') !== undefined,
    size: styles?.sizeOf(style) ?? 11,
    colour: colourOf(childOf(font, 'color')),
    fill: pattern?.attributes.get('patternType') === 'solid' ? colourOf(childOf(pattern, 'fgColor')) : null,
    align:
      horizontal === 'center' || horizontal === 'right' || horizontal === 'left'
        ? horizontal
        : isNumber
          ? 'right'
          : null,
    wrap: alignment?.get('wrapText') === '1',
    lines: (['top', 'right', 'bottom', 'left'] as const)
      .filter((side) => (childOf(border, side)?.attributes.get('style') ?? 'none') !== 'none')
      .map(([letter]) => letter)
      .join(''),
  };
}

function picturesOn(workbook: Workbook, sheet: FormSheet): LookPicture[] {
  return workbook.related(sheet.part, 'drawing').flatMap((part) => {
    const images = new Map(workbook.relations(part).map(({ id, target }) => [id, target]));
    return childrenOf(workbook.look(part)!).flatMap((anchor): LookPicture[] => {
      const [blip] = within(anchor, 'blip');
      const from = childOf(anchor, 'from');
      if (!blip || !from) return [];
      const at = (place: XmlElement): [number, number] => [
        Number(textOf(childOf(place, 'col'))) + 1,
        Number(textOf(childOf(place, 'row'))) + 1,
      ];
      const start = at(from);
      const to = childOf(anchor, 'to');
      const size = childOf(anchor, 'ext')?.attributes;
      // 914400 to the inch; a usual cell is 64 by 20 pixels.
      const pixels = (name: string) => Number(size?.get(name) ?? 0) / 9525;
      const end: [number, number] = to
        ? at(to)
        : [
            start[0] + Math.max(1, Math.round(pixels('cx') / 64)),
            start[1] + Math.max(1, Math.round(pixels('cy') / 20)),
          ];
      const id = [...blip.attributes].find(([name]) => name.endsWith(':embed'))?.[1] ?? '';
      return [{ from: start, to: end, source: pictureData(workbook.bytes(images.get(id) ?? '')) }];
    });
  });
}

/** PNG and JPEG by their first bytes; nothing else goes to the page. */
function pictureData(bytes: Uint8Array | null): string | null {
  if (!bytes || bytes.length > MOST_PICTURE) return null;
  const kind = bytes[0] === 0x89 && bytes[1] === 0x50 ? 'png' : bytes[0] === 0xff && bytes[1] === 0xd8 ? 'jpeg' : null;
  if (!kind) return null;
  let text = '';
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return `data:image/${kind};base64,${btoa(text)}`;
}

/** Headings in the nearest row above that has at least two texts; merged headings over several rows count too. */
function headingsIn(workbook: Workbook, sheetName: string, cell: string): FoundHeading[] {
  const sheet = workbook.sheet(sheetName);
  const start = readCellName(cell);
  if (!sheet || !start) return [];
  const tree = workbook.look(sheet.part)!;
  const { rows } = plainCells(tree, sheet.name);
  const merged = mergedAreas(tree);
  for (let row = start.row - 1; row >= Math.max(1, start.row - 6); row--) {
    const found = textsOfRow(workbook, rows.get(row), row);
    if (found.length < 2) continue;
    // What is merged from above stands as a heading here too.
    const above = merged.flatMap((area) => {
      if (area.to.row !== row || area.from.row === row) return [];
      const heading = textIn(workbook, cellIn(rows.get(area.from.row), area.from) ?? EMPTY);
      return heading === '' ? [] : [{ column: area.from.column, heading }];
    });
    return [...found, ...above]
      .filter(({ column }) => column >= start.column)
      .sort((a, b) => a.column - b.column)
      .map(({ column, heading }) => {
        const below = cellIn(rows.get(start.row), { row: start.row, column });
        return { ...headingOf(column, heading), ...(childOf(below, 'f') ? { isFormula: true } : {}) };
      });
  }
  return [];
}

const textsOfRow = (workbook: Workbook, row: XmlElement | undefined, number: number) =>
  childrenOf(row ?? EMPTY, 'c').flatMap((cell) => {
    const isText = ['s', 'inlineStr', 'str'].includes(cell.attributes.get('t') ?? '');
    const text = isText ? textIn(workbook, cell).replace(/\s+/g, ' ').trim() : '';
    const column = readCellName(cell.attributes.get('r') ?? '')?.column ?? 0;
    return text === '' || text.length > 60 || number < 1 ? [] : [{ column, heading: text }];
  });

function headingOf(column: number, heading: string): FoundHeading {
  const said = /[[(]\s*([^\])]{1,12})\s*[\])]\s*$/.exec(heading)?.[1] ?? /,\s*(?:in\s+)?(\S{1,6})$/.exec(heading)?.[1];
  const to = columnLetters(column);
  return said !== undefined && unitOf(said) ? { to, heading, unit: said } : { to, heading };
}

/**
 * The first row below headings: where a name says so (a name with list, start, parts in it), else below the row with the most
 * texts side by side of the first sheet that has one with at least three.
 */
function proposeStart(workbook: Workbook, sheets: readonly FormSheet[]): FormLook['proposed'] {
  const named = workbook.definedCells().find(({ name }) => /list|start|first|begin|parts|lines|items/i.test(name));
  if (named) return { start: { name: named.name }, ready: 1, rows: 'insert' };
  for (const sheet of sheets) {
    const tree = workbook.look(sheet.part)!;
    const { rows } = plainCells(tree, sheet.name);
    const merged = mergedAreas(tree);
    let best: { row: number; column: number; texts: number } | null = null;
    for (const [number, row] of rows) {
      if (number > MOST_ROWS) continue;
      const texts = textsOfRow(workbook, row, number);
      if (texts.length >= 3 && texts.length > (best?.texts ?? 0))
        best = { row: number, column: texts[0].column, texts: texts.length };
    }
    if (!best) continue;
    // Headings may be merged with the row below.
    const below = merged.reduce(
      (most, { from, to }) => (from.row === best.row ? Math.max(most, to.row) : most),
      best.row,
    );
    const at = { row: below + 1, column: best.column };
    return {
      start: { sheet: sheet.name, cell: cellName(at) },
      rows: 'insert',
      ready: readyRows(workbook, rows, at),
    };
  }
  return null;
}

/** Rows from the first on that hold nothing and look alike: the form keeps them ready. */
function readyRows(workbook: Workbook, rows: ReadonlyMap<number, XmlElement>, { row, column }: CellPlace): number {
  const styleAt = (number: number) => cellIn(rows.get(number), { row: number, column })?.attributes.get('s') ?? '';
  let count = 1;
  while (
    count < 200 &&
    rows.has(row + count) &&
    styleAt(row) !== '' &&
    styleAt(row + count) === styleAt(row) &&
    childrenOf(rows.get(row + count)!, 'c').every((cell) => !childOf(cell, 'f') && textIn(workbook, cell) === '')
  )
    count++;
  return count;
}
