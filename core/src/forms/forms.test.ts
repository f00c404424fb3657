import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FieldFiller, formFileName } from './fields.ts';
import { rangesAfter } from './insert.ts';
import {
  cellName,
  columnLetters,
  columnNumber,
  copiedFormula,
  formulaAfter,
  listFormula,
  mapReferences,
  readCellName,
  readRange,
  type InsertedRows,
} from './references.ts';
import { dayNumber, inlineText } from './sheetCells.ts';
import { isDatePattern } from './styles.ts';
import { readXml, textOf, writeXml } from './xml.ts';

const inserted: InsertedRows = { sheet: 'Parts', behind: 12, count: 5 };

describe('names of cells', () => {
  it('reads what it writes', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 16_384 }), fc.integer({ min: 1, max: 1_048_576 }), (column, row) => {
        expect(columnNumber(columnLetters(column))).toBe(column);
        expect(readCellName(cellName({ row, column }))).toEqual({ row, column });
      }),
    );
  });
  it('takes nothing beyond a sheet, and nothing that is no cell', () => {
    for (const name of ['XFE1', 'A0', 'A1048577', '1A', '', 'AAAA1']) expect(readCellName(name)).toBeNull();
  });
});

describe('references in formulas', () => {
  const found = (formula: string): string[] => {
    const names: string[] = [];
    mapReferences(formula, (reference) => {
      const { sheet, from, to } = reference;
      names.push(`${sheet ?? ''}|${from.column}${from.row}${to ? `:${to.column}${to.row}` : ''}`);
      return reference;
    });
    return names;
  };
  it('finds cells, ranges and whole rows, with and without their sheet', () => {
    expect(found("SUM(A1:$B$7)*Parts!C3-'Bill of ''94'!D4+$3:4")).toEqual([
      '|A1:B7',
      'Parts|C3',
      "Bill of '94|D4",
      '|3:4',
    ]);
  });
  it('leaves functions, names, texts and columns of tables alone', () => {
    expect(found('LOG10(2)&"A1"&TAX_2024&List[[#This Row],[B2]]&A1B&F2x&1.5E10')).toEqual([]);
    expect(found('IF("a""A1"="b",A1,0)')).toEqual(['|A1']);
  });
  it('gives every formula back as it was where nothing changes', () => {
    const piece = fc.constantFrom(
      'A1',
      '$B$2:C9',
      '"x A1"',
      'SUM(',
      ')',
      '+',
      "'my sheet'!A1",
      'T[A1]',
      '3:4',
      'N_1',
      '[',
      ']',
      '"',
      "'",
      'é2',
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 12 }), (pieces) => {
        const formula = pieces.join('');
        expect(mapReferences(formula, (reference) => reference)).toBe(formula);
      }),
    );
  });
  it('is read in time that grows with its length only', () => {
    const long = `${'A'.repeat(20_000)}!${"'".repeat(20_000)}${'a:'.repeat(10_000)}`;
    expect(mapReferences(long, (reference) => reference)).toBe(long);
  });
});

describe('rows that are put in', () => {
  it('moves what stands below, and takes them into ranges that end above them', () => {
    expect(formulaAfter('A12+A13+SUM(F12:F12)+SUM(F3:F12)+SUM(F13:F14)', 'Parts', inserted)).toBe(
      'A12+A18+SUM(F12:F17)+SUM(F3:F17)+SUM(F18:F19)',
    );
    expect(formulaAfter('A13+parts!A13+Other!A13', 'Other', inserted)).toBe('A13+parts!A18+Other!A13');
    expect(rangesAfter('A1:F12 C13 B12', inserted)).toBe('A1:F17 C18 B12:B17');
  });
  it('names the same cells as before, and besides them at most the new rows', () => {
    const row = fc.integer({ min: 1, max: 30 });
    fc.assert(
      fc.property(
        row,
        row,
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 0, max: 9 }),
        (one, other, behind, count) => {
          const rows: InsertedRows = { sheet: 'Parts', behind, count };
          const range = readRange(formulaAfter(`B${Math.min(one, other)}:B${Math.max(one, other)}`, 'Parts', rows))!;
          const now = new Set<number>();
          for (let at = range.from.row; at <= range.to.row; at++) now.add(at);
          // The slow way: every row by itself.
          for (let at = Math.min(one, other); at <= Math.max(one, other); at++) {
            const moved = at > behind ? at + count : at;
            expect(now.has(moved)).toBe(true);
            now.delete(moved);
          }
          for (const more of now) expect(more > behind && more <= behind + count).toBe(true);
        },
      ),
    );
  });
  it('copies a formula of the first row down the list: fixed ranges over the list grow', () => {
    expect(listFormula('D12*E12/SUM($E$12:$E$12)+$A$1', 'Parts', 3, inserted)).toBe('D15*E15/SUM($E$12:$E$17)+$A$1');
    expect(listFormula('A11+1', 'Parts', 2, inserted)).toBe('A13+1');
    expect(listFormula('SUM($F$12:F12)', 'Parts', 4, inserted)).toBe('SUM($F$12:F16)');
    expect(copiedFormula('A1*$B$1+C$2', 2, 1)).toBe('B3*$B$1+D$2');
  });
});

describe('parts of a workbook', () => {
  it('are written as they were read', () => {
    const text = '<a:b xmlns:a="x" y="1 &amp; &quot;2&quot;&#10;3"><c/>t &lt; u<d e="f">g</d></a:b>';
    const read = readXml(text, 'part');
    expect(readXml(writeXml(read), 'part')).toEqual(read);
    expect(textOf(read)).toBe('t < ug');
  });
  it('are refused with entities, broken, or nested without end', () => {
    const bomb = '<!DOCTYPE a [<!ENTITY b "bbbb"><!ENTITY c "&b;&b;">]><a>&c;</a>';
    expect(() => readXml(bomb, 'part')).toThrow(/declares entities/);
    expect(() => readXml('<a><b></a>', 'part')).toThrow(/cannot be read/);
    expect(() => readXml('<a>'.repeat(5000), 'part')).toThrow(/too deep/);
    expect(() => readXml('', 'part')).toThrow(/empty|cannot be read/);
  });
  it('hold texts that look like signs, and signs that XML cannot hold', () => {
    expect(inlineText('a _x000D_ <b>\u0001', '')).toBe('<is><t>a _x005F_x000D_ &lt;b&gt;\ufffd</t></is>');
    expect(inlineText(' two\nlines', 'x:')).toBe('<x:is><x:t xml:space="preserve"> two\nlines</x:t></x:is>');
  });
  it('count days as spreadsheets do', () => {
    expect(dayNumber('1900-03-01')).toBe(61);
    expect(dayNumber('2026-11-28')).toBe(46_354);
    expect(dayNumber('2026-11-28', true)).toBe(46_354 - 1462);
    expect(['yyyy-mm-dd', 'd.m.yy', 'mmm'].every(isDatePattern)).toBe(true);
    expect(['0.00" mm"', 'General', '#,##0 "days"', '[Red]0'].some(isDatePattern)).toBe(false);
  });
});

describe('what a form asks for', () => {
  const fields = new Map([
    ['Title', 'Sledge / long: "A"'],
    ['Revision', ''],
  ]);
  it('is filled whatever its capitals; what is not known or empty is said', () => {
    const filler = new FieldFiller(fields);
    expect(filler.fill('{ title } {Revision}{Who}{Who}')).toBe('Sledge / long: "A" {Who}{Who}');
    expect(filler.problems().map(({ code }) => code)).toEqual(['empty-field', 'unknown-field']);
    expect(filler.problems()[1].message).toContain('{Who}');
  });
  it('names the file without signs that file systems refuse', () => {
    expect(formFileName({ fileName: '{Title}.xlsx' }, new FieldFiller(fields))).toBe('Sledge _ long_ _A_.xlsx');
    expect(formFileName({ fileName: '..' }, new FieldFiller(fields))).toBe('list.xlsx');
    expect(formFileName({ fileName: `${'a'.repeat(400)}.XLSX` }, new FieldFiller(fields))).toHaveLength(125);
  });
});
