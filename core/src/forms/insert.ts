import {
  childOf,
  childrenOf,
  isElement,
  localName,
  readXml,
  textOf,
  within,
  writeXml,
  type XmlElement,
} from './xml.ts';
import {
  formulaAfter,
  rangeName,
  readRange,
  rowAfter,
  rowsAfter,
  cellName,
  readCellName,
  type InsertedRows,
} from './references.ts';
import type { SheetCells } from './sheetCells.ts';
import type { FormSheet, Workbook } from './workbook.ts';

/** A list of ranges as attributes have it, when rows are in. A range that ends at the row before them grows with them. */
export const rangesAfter = (ranges: string, inserted: InsertedRows): string =>
  ranges
    .split(/\s+/)
    .map((text) => {
      const range = readRange(text);
      if (!range) return text;
      const [first, last] = rowsAfter(range.from.row, range.to.row, inserted);
      return rangeName({ from: { ...range.from, row: first }, to: { ...range.to, row: last } });
    })
    .join(' ');

/** A single cell's name when rows are in. */
const cellAfter = (name: string, inserted: InsertedRows): string => {
  const place = readCellName(name);
  return place ? cellName({ ...place, row: rowAfter(place.row, inserted) }) : name;
};

const setRanges = ({ attributes }: XmlElement, name: string, inserted: InsertedRows): void => {
  const ranges = attributes.get(name);
  if (ranges) attributes.set(name, rangesAfter(ranges, inserted));
};
const setFormula = (one: XmlElement, on: string, inserted: InsertedRows): void => {
  if (one.children.length > 0) one.children = [formulaAfter(textOf(one), on, inserted)];
};

/** Attributes with ranges, by element. Source: ECMA-376 part 1, 18.3. */
const RANGES: Readonly<Record<string, string>> = {
  dimension: 'ref',
  autoFilter: 'ref',
  sortState: 'ref',
  sortCondition: 'ref',
  mergeCell: 'ref',
  conditionalFormatting: 'sqref',
  dataValidation: 'sqref',
  hyperlink: 'ref',
  ignoredError: 'sqref',
  protectedRange: 'sqref',
  selection: 'sqref',
  scenario: 'sqref',
};
const FORMULAS = ['formula', 'formula1', 'formula2', 'f', 'sqref', 'oldFormula'];

/**
 * Makes room for rows behind one of a sheet: what stands below moves down, and all that names cells of the sheet follows,
 * on this sheet and elsewhere: formulas, names, print areas, merged cells, rules, filters, tables, charts, pictures, remarks.
 * The rows themselves are not made.
 */
export function insertRows(workbook: Workbook, sheet: FormSheet, cells: SheetCells, inserted: InsertedRows): void {
  if (inserted.count === 0) return;
  for (const [number, row] of cells.rows) {
    const moved = rowAfter(number, inserted);
    if (moved === number) continue;
    row.attributes.set('r', String(moved));
    for (const cell of childrenOf(row, 'c')) cell.attributes.set('r', cellAfter(cell.attributes.get('r')!, inserted));
  }
  const moved = [...cells.rows].map(([number, row]) => [rowAfter(number, inserted), row] as const);
  cells.rows.clear();
  for (const [number, row] of moved) cells.rows.set(number, row);
  followOnSheet(workbook.tree(sheet.part), sheet.name, inserted);
  for (const other of workbook.sheets) {
    if (other.part === sheet.part || !workbook.text(other.part).toLowerCase().includes(asMarkup(sheet.name))) continue;
    for (const formula of within(workbook.tree(other.part), ...FORMULAS)) setFormula(formula, other.name, inserted);
  }
  const names = childOf(workbook.book, 'definedNames');
  for (const name of names ? childrenOf(names, 'definedName') : []) {
    const local = name.attributes.get('localSheetId');
    setFormula(name, workbook.sheets.find(({ order }) => String(order) === local)?.name ?? '', inserted);
  }
  followInParts(workbook, sheet, inserted);
}
const asMarkup = (name: string): string => name.toLowerCase().replaceAll('&', '&amp;').replaceAll("'", "''");

function followOnSheet(tree: XmlElement, name: string, inserted: InsertedRows): void {
  for (const one of within(tree, ...Object.keys(RANGES))) setRanges(one, RANGES[localName(one)], inserted);
  for (const one of within(tree, 'hyperlink')) {
    const location = one.attributes.get('location');
    if (location) one.attributes.set('location', formulaAfter(location, name, inserted));
  }
  for (const one of within(tree, 'selection', 'pane', 'sheetView')) {
    for (const attribute of ['activeCell', 'topLeftCell']) {
      const cell = one.attributes.get(attribute);
      if (cell) one.attributes.set(attribute, cellAfter(cell, inserted));
    }
  }
  for (const breaks of within(tree, 'rowBreaks'))
    for (const { attributes } of childrenOf(breaks, 'brk')) {
      const id = Number(attributes.get('id'));
      if (id >= inserted.behind) attributes.set('id', String(id + inserted.count));
    }
  for (const one of within(tree, ...FORMULAS)) {
    if (localName(one) === 'sqref') {
      one.children = [rangesAfter(textOf(one), inserted)];
      continue;
    }
    setFormula(one, name, inserted);
    setRanges(one, 'ref', inserted);
  }
}

/** Parts of their own that name cells of the sheet. */
function followInParts(workbook: Workbook, sheet: FormSheet, inserted: InsertedRows): void {
  for (const part of workbook.related(sheet.part, 'table'))
    for (const one of [workbook.tree(part), ...within(workbook.tree(part), 'autoFilter', 'sortState', 'sortCondition')])
      setRanges(one, 'ref', inserted);
  for (const kind of ['comments', 'threadedComment'])
    for (const part of workbook.related(sheet.part, kind))
      for (const { attributes } of within(workbook.tree(part), 'comment', 'threadedComment'))
        attributes.set('ref', cellAfter(attributes.get('ref') ?? '', inserted));
  for (const part of workbook.related(sheet.part, 'drawing')) moveAnchors(workbook.tree(part), inserted);
  for (const part of workbook.related(sheet.part, 'vmlDrawing'))
    workbook.put(part, new TextEncoder().encode(movedRemarks(workbook.text(part), inserted)));
  for (const part of workbook.names()) {
    const isChart = /\/charts\/[^/]+\.xml$/.test(part);
    if (!isChart && !/pivotCacheDefinition\d*\.xml$/.test(part)) continue;
    const text = workbook.text(part);
    if (!text.toLowerCase().includes(asMarkup(sheet.name))) continue;
    const tree = readXml(text, part);
    for (const formula of within(tree, 'f')) setFormula(formula, '', inserted);
    for (const source of within(tree, 'worksheetSource'))
      if (source.attributes.get('sheet')?.toLowerCase() === sheet.name.toLowerCase())
        setRanges(source, 'ref', inserted);
    workbook.put(part, new TextEncoder().encode(writeXml(tree)));
  }
}

/** Pictures and shapes below the rows go down with their cells; rows count from 0 here. */
function moveAnchors(drawing: XmlElement, { behind, count }: InsertedRows): void {
  for (const anchor of within(drawing, 'twoCellAnchor', 'oneCellAnchor')) {
    const rows = ['from', 'to'].map((end) => {
      const place = childOf(anchor, end);
      return place && childOf(place, 'row');
    });
    const [first, last] = rows.map((row) => Number(textOf(row)));
    // One that begins above and does not grow with its cells stays as it is.
    const stays = first < behind && ['oneCell', 'absolute'].includes(anchor.attributes.get('editAs') ?? 'twoCell');
    if (first >= behind) rows[0]!.children = [String(first + count)];
    if (rows[1] && last >= behind && !stays) rows[1].children = [String(last + count)];
  }
}

/** Boxes of remarks are described in an old form that need not be well-formed XML. */
const movedRemarks = (vml: string, { behind, count }: InsertedRows): string =>
  vml
    .replace(/(<x:Row>\s*)(\d+)(\s*<\/x:Row>)/g, (whole, open: string, row: string, close: string) =>
      Number(row) >= behind ? `${open}${Number(row) + count}${close}` : whole,
    )
    .replace(/(<x:Anchor>)([^<]*)(<\/x:Anchor>)/g, (whole, open: string, list: string, close: string) => {
      const numbers = list.split(',').map(Number);
      if (numbers.length !== 8 || !(numbers[2] >= behind)) return whole;
      numbers[2] += count;
      numbers[6] += count;
      return `${open}${numbers.join(', ')}${close}`;
    });

/** Elements of a sheet that are no list of cells, in the order that they stand in (ECMA-376 part 1, 18.3.1.99). */
const ORDER =
  'sheetPr dimension sheetViews sheetFormatPr cols sheetData sheetCalcPr sheetProtection protectedRanges scenarios autoFilter sortState dataConsolidate customSheetViews mergeCells phoneticPr conditionalFormatting dataValidations hyperlinks printOptions pageMargins pageSetup headerFooter rowBreaks colBreaks customProperties cellWatches ignoredErrors smartTags drawing legacyDrawing legacyDrawingHF drawingHF picture oleObjects controls webPublishItems tableParts extLst'.split(
    ' ',
  );
/** Puts an element where it belongs among those of a sheet. */
export function putInOrder(sheet: XmlElement, one: XmlElement): void {
  const rank = ORDER.indexOf(localName(one));
  const at = sheet.children.findIndex(
    (node) =>
      isElement(node) && ORDER.indexOf(localName(node) === 'AlternateContent' ? 'oleObjects' : localName(node)) > rank,
  );
  sheet.children.splice(at < 0 ? sheet.children.length : at, 0, one);
}
