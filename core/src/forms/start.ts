import { Refusal } from '../assembly/index.ts';
import { placeText, type FormMap } from './records.ts';
import {
  cellName,
  columnNumber,
  isInRange,
  rangeName,
  readCellName,
  readRange,
  type CellPlace,
  type CellRange,
} from './references.ts';
import type { FormSheet, Workbook } from './workbook.ts';
import { within, type XmlElement } from './xml.ts';

/** Areas of a sheet that are merged to one cell. */
export const mergedAreas = (sheet: XmlElement): CellRange[] =>
  [...within(sheet, 'mergeCell')].flatMap(({ attributes }) => readRange(attributes.get('ref') ?? '') ?? []);

/** The sheet and cell where the list begins. @throws Refusal where there are none, or the cell is covered by others */
export function findStart(workbook: Workbook, { start }: Pick<FormMap, 'start'>): { sheet: FormSheet; at: CellPlace } {
  const named = 'name' in start ? workbook.definedCells().find(({ name }) => name === start.name) : start;
  if (!named)
    throw new Refusal(
      'no-start',
      `The workbook has no cell named “${'name' in start ? start.name : ''}”. Pick the cell where the list begins.`,
    );
  const sheet = workbook.sheet(named.sheet);
  if (!sheet)
    throw new Refusal(
      'no-start',
      `The workbook has no sheet “${named.sheet}”; it has ${workbook.sheets.map(({ name }) => `“${name}”`).join(', ')}.`,
    );
  const at = readCellName(named.cell);
  if (!at) throw new Refusal('no-start', `“${named.cell}” is no cell; write it as B12.`);
  refuseCovered(at, sheet, mergedAreas(workbook.look(sheet.part)!));
  return { sheet, at };
}

/** @throws Refusal for a cell within a merged area, or one that goes over several rows */
function refuseCovered(at: CellPlace, { name }: FormSheet, merged: readonly CellRange[]): void {
  const area = merged.find((range) => isInRange(at, range));
  if (!area) return;
  const isFirst = area.from.row === at.row && area.from.column === at.column;
  if (isFirst && area.to.row === area.from.row) return;
  throw new Refusal(
    'start-in-merged-area',
    area.to.row === area.from.row
      ? `${placeText(name, cellName(at))} is covered by the merged cells ${rangeName(area)}; let the list begin at ${cellName(area.from)}.`
      : `${placeText(name, cellName(at))} lies in the merged cells ${rangeName(area)}, which go over several rows, and a line of the list takes one. Let the list begin below them, or take them apart in the workbook.`,
  );
}

/** Numbers of the workbook's columns. @throws Refusal for no letters, two columns in one, or one that is covered in the list's row */
export function columnsOf({ columns }: Pick<FormMap, 'columns'>, row: number, merged: readonly CellRange[]): number[] {
  const found = columns.map(({ to, heading }) => {
    const column = columnNumber(to);
    if (column === 0)
      throw new Refusal(
        'no-such-letters',
        `“${to}” for “${heading}” is no column of a sheet; write its letters, as C.`,
      );
    const area = merged.find((range) => isInRange({ row, column }, range));
    if (area && area.from.column !== column)
      throw new Refusal(
        'covered-column',
        `Column ${to} for “${heading}” is covered by the merged cells ${rangeName(area)}; use column ${rangeName({ from: area.from, to: area.from }).replace(/\d+/, '')}.`,
      );
    return column;
  });
  const twice = columns.findIndex((_, at) => found.indexOf(found[at]) < at);
  if (twice >= 0)
    throw new Refusal(
      'column-twice',
      `“${columns[twice].heading}” and “${columns[found.indexOf(found[twice])].heading}” both go into column ${columns[twice].to}; give one of them another column.`,
    );
  return found;
}
