import { fillCells, FieldFiller, fillTexts, formFileName, placesOfStrings } from './fields.ts';
import { PICTURE_PX, putPictures, type CellPicture } from './drawing.ts';
import { openForm } from './keptOut.ts';
import { formulasThatSend } from './sending.ts';
import { insertRows } from './insert.ts';
import { LineWriter } from './lines.ts';
import {
  placeText,
  type FormColumn,
  type FormFields,
  type FormLine,
  type FormList,
  type FormMap,
  type FormProblem,
} from './records.ts';
import {
  cellName,
  columnLetters,
  listFormula,
  MOST_ROWS,
  rangeName,
  type CellPlace,
  type CellRange,
  type InsertedRows,
} from './references.ts';
import { Refusal } from '../assembly/index.ts';
import { cellIn, plainCells, type SheetCells } from './sheetCells.ts';
import { columnsOf, findStart, mergedAreas } from './start.ts';
import { CellStyles } from './styles.ts';
import type { FormSheet, Workbook } from './workbook.ts';
import { CellRoom } from './widths.ts';
import {
  childOf,
  childrenOf,
  element,
  isElement,
  localName,
  prefixOf,
  textOf,
  within,
  type XmlElement,
} from './xml.ts';

/** A form with a list in it, not written yet. */
export interface FilledForm {
  readonly fileName: string;
  /** What there is to know before it is written; not to be written where one of them stops it. */
  readonly problems: readonly FormProblem[];
  /** The workbook's bytes. */
  readonly write: () => Uint8Array;
}

/** Points of a pixel. */
const POINTS = 0.75;

/**
 * Fills a company's workbook with a list and the texts of the project. Everything else in it stays as it is; what stands
 * below the list moves down where rows are put in, and what names cells follows.
 * @param bytes of the workbook
 * @throws Refusal where it cannot be read, or the map does not fit it
 */
export function fillForm(bytes: Uint8Array, map: FormMap, list: FormList, fields: FormFields): FilledForm {
  const { workbook, keptOut } = openForm(bytes);
  const { sheet, at } = findStart(workbook, map);
  const tree = workbook.tree(sheet.part);
  const cells = plainCells(tree, sheet.name);
  const merged = mergedAreas(tree);
  const columns = columnsOf(map, at.row, merged);
  const lines = list.lines.filter(({ kind }) => map.groups || kind === 'row');
  const count = map.rows === 'insert' ? Math.max(0, lines.length - map.ready) : 0;
  const inserted: InsertedRows = { sheet: sheet.name, behind: at.row + map.ready - 1, count };
  if (at.row + lines.length + count > MOST_ROWS)
    throw new Refusal(
      'too-many-lines',
      `A sheet has ${MOST_ROWS.toLocaleString('en')} rows; this list has more lines than go below ${cellName(at)}.`,
    );
  const [stylesPart] = workbook.related(workbook.bookPart, 'styles');
  const styles = stylesPart === undefined ? null : new CellStyles(workbook.tree(stylesPart));
  const places = once(() => placesOfTexts(workbook));
  const filler = new FieldFiller(fields, (text) => places().get(text) ?? null);
  const target = { sheet, cells, merged, columns, first: at.row, lines };
  const problems = [
    ...keptOutProblems(keptOut),
    ...sendingProblems(workbook),
    ...list.problems,
    ...missingColumns(map.columns, list, sheet, at),
    ...overwritten(map, target, workbook),
    ...tooLong(map.columns, target, new CellRoom(tree, styles, merged, at.row, cells.rows.get(at.row))),
  ];
  fillTexts(workbook, filler);
  for (const [name, own] of fieldsBySheet(map)) {
    const on = workbook.sheet(name);
    if (!on)
      throw new Refusal(
        'no-such-sheet',
        `The workbook has no sheet “${name}”, in which ${own[0].cell} should be filled.`,
      );
    const its = on.part === sheet.part ? cells : plainCells(workbook.tree(on.part), on.name);
    fillCells(own, { cells: its, sheet: on.name, styles, filler });
  }
  const { writer, formulas } = listWriter(target, { workbook, inserted, styles, list });
  insertRows(workbook, sheet, cells, inserted);
  // Rows of the list itself do not grow with it: their formulas are about one line each.
  for (const { own, text } of formulas) own.children = [listFormula(text, sheet.name, 0, inserted)];
  writeLines({ ...target, inserted, workbook, list, writer });
  if (lines.length > 0 || map.fields.length > 0) withoutOldValues(workbook, sheet, map);
  const fileName = formFileName(map, filler);
  return { fileName, problems: [...problems, ...filler.problems()], write: () => workbook.write() };
}

interface Target {
  readonly sheet: FormSheet;
  readonly cells: SheetCells;
  readonly merged: readonly CellRange[];
  /** Numbers of columns in the order of the map. */
  readonly columns: readonly number[];
  /** Number of the first row. */
  readonly first: number;
  readonly lines: readonly FormLine[];
}

function once<Value>(make: () => Value): () => Value {
  let made: { value: Value } | null = null;
  return () => (made ??= { value: make() }).value;
}
/** Where shared texts that hold placeholders stand, by the text or a run of it. */
function placesOfTexts(workbook: Workbook): Map<string, string> {
  const places = placesOfStrings(workbook);
  const byText = new Map<string, string>();
  workbook.sharedStrings().forEach((shared, index) => {
    const place = places.get(index);
    if (place === undefined) return;
    for (const text of [textOf(shared), ...Array.from(within(shared, 't'), textOf)])
      if (text.includes('{') && !byText.has(text)) byText.set(text, place);
  });
  return byText;
}
const fieldsBySheet = ({ fields }: FormMap): Map<string, FormMap['fields'][number][]> => {
  const by = new Map<string, FormMap['fields'][number][]>();
  for (const field of fields) by.set(field.sheet, [...(by.get(field.sheet) ?? []), field]);
  return by;
};

const keptOutProblems = (keptOut: readonly string[]): FormProblem[] =>
  keptOut.map((what) => ({
    code: 'kept-out',
    message: `The workbook has ${what}; they are kept out of what is written.`,
    at: null,
    stops: false,
  }));

const sendingProblems = (workbook: Workbook): FormProblem[] =>
  formulasThatSend(workbook).map(({ at, what }) => ({
    code: 'sends-data',
    message: `A formula in ${at} ${what} when the workbook is opened or clicked on. Take it out of the form unless it is meant to.`,
    at,
    stops: false,
  }));

const missingColumns = (
  columns: readonly FormColumn[],
  list: FormList,
  { name }: FormSheet,
  { row }: CellPlace,
): FormProblem[] =>
  columns.flatMap(({ to, heading, from }, at): FormProblem[] => {
    if (list.columns[at].isThere) return [];
    const place = placeText(name, `${to.toUpperCase()}${row}`);
    const message = `The form asks for “${heading || from}” in ${place}; the bill has no column “${from}”. It stays empty.`;
    return [{ code: 'no-such-column', message, at: place, stops: false }];
  });

/** What stands in cells that the list takes. What the first rows hold is there to be written over, but for formulas. */
function overwritten(
  map: FormMap,
  { sheet, cells, merged, columns, first, lines }: Target,
  workbook: Workbook,
): FormProblem[] {
  const problems: FormProblem[] = [];
  const until = first + (map.rows === 'insert' ? Math.min(map.ready, lines.length) : lines.length);
  // Rows that nobody wrote in hold nothing.
  for (const [row, line] of [...cells.rows].sort(([a], [b]) => a - b)) {
    if (row < first || row >= until) continue;
    columns.forEach((column, at) => {
      const cell = cellIn(line, { row, column });
      if (!cell) return;
      const formula = childOf(cell, 'f');
      const text = textIn(workbook, cell);
      if (!formula && (text === '' || row < first + map.ready)) return;
      const place = placeText(sheet.name, cellName({ row, column }));
      const what = formula ? `the formula =${textOf(formula)}` : `“${text}”`;
      problems.push({
        code: formula ? 'formula-overwritten' : 'text-overwritten',
        message: `${place} holds ${what}, where “${map.columns[at].heading}” goes. ${map.overwrite ? 'It is written over.' : 'Choose another column, put rows in instead of filling them, or say that it may be written over.'}`,
        at: place,
        stops: !map.overwrite,
      });
    });
  }
  for (const area of merged) {
    if (area.from.row === area.to.row && area.from.row === first) continue;
    const column = columns.find(
      (one) =>
        one >= area.from.column &&
        one <= area.to.column &&
        !(one === area.from.column && area.from.row === area.to.row),
    );
    if (column === undefined || area.to.row < first || area.from.row >= until) continue;
    const place = placeText(sheet.name, rangeName(area));
    problems.push({
      code: 'text-overwritten',
      message: `The merged cells ${place} lie where lines of the list go. Take them apart, or put rows in instead of filling them.`,
      at: place,
      stops: true,
    });
  }
  return problems;
}

/** Text or number of a cell as it is stored. */
export function textIn(workbook: Workbook, cell: XmlElement): string {
  const inline = childOf(cell, 'is');
  if (inline) return runsText(inline);
  const value = textOf(childOf(cell, 'v'));
  if (cell.attributes.get('t') !== 's') return value;
  const shared = workbook.sharedStrings()[Number(value)];
  return shared ? runsText(shared) : '';
}
/** Texts of runs; what says how they are read aloud is none of it. */
const runsText = (text: XmlElement): string =>
  childrenOf(text)
    .flatMap((node) =>
      localName(node) === 't' ? [textOf(node)] : localName(node) === 'r' ? [textOf(childOf(node, 't'))] : [],
    )
    .join('');

function tooLong(
  columns: readonly FormColumn[],
  { sheet, cells, columns: at, first, lines }: Target,
  room: CellRoom,
): FormProblem[] {
  const row = cells.rows.get(first);
  const style = at.map((column) =>
    Number(cellIn(row, { row: first, column })?.attributes.get('s') ?? row?.attributes.get('s') ?? 0),
  );
  return lines.flatMap(({ kind, label, cells: values }, line) =>
    kind !== 'row'
      ? []
      : values.flatMap((value, index): FormProblem[] => {
          if (value?.kind !== 'text') return [];
          const lacking = room.lacking(value.value, at[index], style[index]);
          if (!lacking) return [];
          const place = placeText(sheet.name, cellName({ row: first + line, column: at[index] }));
          return [
            {
              code: 'too-long',
              message: `“${columns[index].heading}” of ${label} is longer than its cell ${place}: it needs ${lacking.need} characters, and ${lacking.room} have room: “${shortened(value.value)}”.`,
              at: place,
              stops: false,
            },
          ];
        }),
  );
}
const shortened = (text: string): string => (text.length > 60 ? `${text.slice(0, 57).trimEnd()} …` : text);

/** What writes lines, and the formulas of the rows that the form keeps ready: both as they are before rows are put in. */
function listWriter(
  { sheet, cells, columns, first, lines }: Target,
  {
    workbook,
    inserted,
    styles,
    list,
  }: Pick<Writing, 'workbook' | 'inserted' | 'list'> & { readonly styles: CellStyles | null },
) {
  const withPictures = list.columns.some(({ isPicture }) => isPicture) && lines.some(({ picture }) => picture);
  const from1904 = ['1', 'true'].includes(childOf(workbook.book, 'workbookPr')?.attributes.get('date1904') ?? '');
  const height = withPictures ? (PICTURE_PX + 4) * POINTS : null;
  const writer = new LineWriter(cells, styles, { sheet: sheet.name, first, columns, inserted, from1904, height });
  const formulas = [...cells.rows]
    .filter(([row]) => inserted.count > 0 && row >= first && row <= inserted.behind)
    .flatMap(([, row]) => [...within(row, 'f')].map((own) => ({ own, text: textOf(own) })));
  return { writer, formulas };
}

interface Writing extends Target {
  readonly workbook: Workbook;
  readonly inserted: InsertedRows;
  readonly list: FormList;
  readonly writer: LineWriter;
}

function writeLines({ workbook, sheet, cells, merged, columns, first, lines, inserted, list, writer }: Writing): void {
  const tree = workbook.tree(sheet.part);
  const pictureColumns = columns.filter((_, at) => list.columns[at].isPicture);
  const fresh: NewRow[] = [];
  const isNew = (row: number) => row > inserted.behind && row <= inserted.behind + inserted.count;
  lines.forEach((line, at) => {
    const row = first + at;
    // Rows of the form are filled, others made like the first; a row that nobody wrote in is none.
    if (!isNew(row) && (cells.rows.has(row) || inserted.count > 0)) writer.intoRow(line, row);
    else fresh.push({ row, text: writer.newRow(line, row) });
  });
  putRows(cells, fresh);
  const across = merged.filter(({ from, to }) => from.row === first && to.row === first);
  addMerged(
    tree,
    across,
    fresh.map(({ row }) => row),
  );
  putPictures(
    workbook,
    sheet,
    lines.flatMap(({ picture }, at): CellPicture[] =>
      picture ? pictureColumns.map((column) => ({ row: first + at, column, png: picture })) : [],
    ),
  );
  growDimension(tree, first + lines.length - 1, columns);
}

interface NewRow {
  readonly row: number;
  readonly text: string;
}
/** Puts new rows among those that are there, each run of neighbours at once. */
function putRows({ data }: SheetCells, fresh: readonly NewRow[]): void {
  for (let from = 0; from < fresh.length;) {
    let to = from + 1;
    while (to < fresh.length && fresh[to].row === fresh[to - 1].row + 1) to++;
    const { row } = fresh[from];
    const at = data.children.findIndex((node) => isElement(node) && Number(node.attributes.get('r')) > row);
    const raw = fresh.slice(from, to).map(({ text }) => text);
    data.children.splice(at < 0 ? data.children.length : at, 0, { raw: raw.join('') });
    from = to;
  }
}

/** Cells that are merged in the first row are so in rows like it. */
function addMerged(tree: XmlElement, across: readonly CellRange[], rows: readonly number[]): void {
  if (across.length === 0 || rows.length === 0) return;
  const list = childOf(tree, 'mergeCells')!;
  for (const row of rows)
    for (const { from, to } of across)
      list.children.push(
        element(`${prefixOf(list)}mergeCell`, [['ref', rangeName({ from: { ...from, row }, to: { ...to, row } })]]),
      );
  list.attributes.set('count', String(childrenOf(list).length));
}

function growDimension(tree: XmlElement, last: number, columns: readonly number[]): void {
  const dimension = childOf(tree, 'dimension');
  const match = /^([A-Z]+\d+)(?::([A-Z]+)(\d+))?$/.exec(dimension?.attributes.get('ref') ?? '');
  if (!dimension || !match) return;
  const widest = [match[2] ?? 'A', ...columns.map(columnLetters)]
    .sort((a, b) => a.length - b.length || (a < b ? -1 : 1))
    .at(-1)!;
  dimension.attributes.set('ref', `${match[1]}:${widest}${Math.max(last, Number(match[3] ?? 0))}`);
}

/**
 * Results of formulas that rest on what was filled in are no longer true: they are left out, and spreadsheets are told to
 * calculate. Sheets that name nothing of it keep theirs.
 */
function withoutOldValues(workbook: Workbook, sheet: FormSheet, { fields }: FormMap): void {
  const touched = new Set([sheet.name, ...fields.map((field) => workbook.sheet(field.sheet)?.name ?? '')]);
  const others = workbook.sheets.filter(({ part }) => part !== sheet.part);
  const texts = new Map(others.map(({ name, part }) => [name, workbook.text(part).toLowerCase()]));
  const names = new Map(
    [...within(workbook.book, 'definedName')].map((one) => [
      one.attributes.get('name') ?? '',
      textOf(one).toLowerCase(),
    ]),
  );
  for (let before = -1; before < touched.size;) {
    before = touched.size;
    const words = [...touched].map((name) => name.toLowerCase().replaceAll("'", "''"));
    const all = [
      ...words,
      ...[...names].flatMap(([name, text]) => (words.some((word) => text.includes(word)) ? [name.toLowerCase()] : [])),
    ];
    for (const [name, text] of texts)
      if (/<(?:\w+:)?f[\s>]/.test(text) && all.some((word) => text.includes(word.replaceAll('&', '&amp;'))))
        touched.add(name);
  }
  for (const { name, part } of workbook.sheets) {
    if (!touched.has(name) || (part !== sheet.part && !/<(?:\w+:)?f[\s>]/.test(texts.get(name)!))) continue;
    for (const cell of within(workbook.tree(part), 'c')) {
      if (!childOf(cell, 'f')) continue;
      cell.children = cell.children.filter((node) => !isElement(node) || localName(node) !== 'v');
      cell.attributes.delete('t');
    }
  }
  const { book } = workbook;
  let calculation = childOf(book, 'calcPr');
  if (!calculation) {
    calculation = element(`${prefixOf(book)}calcPr`);
    // Behind the sheets and names (18.2.27).
    const behind = ['definedNames', 'externalReferences', 'functionGroups', 'sheets'];
    const at = book.children.findIndex(
      (node) => isElement(node) && localName(node) === behind.find((name) => childOf(book, name)),
    );
    book.children.splice(at + 1, 0, calculation);
  }
  calculation.attributes.set('fullCalcOnLoad', '1');
}
