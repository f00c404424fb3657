import excel from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { billDecisions, newBill } from '../../../core/src/documents/index.ts';
import { makeBill } from '../../../core/src/bill/index.ts';
import { newColumn } from '../../../core/src/columns/index.ts';
import {
  fillForm,
  formList,
  headingsAbove,
  lookAtForm,
  proposeColumns,
  proposedMap,
  type FormLine,
  type FormMap,
} from '../../../core/src/forms/index.ts';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { logoPng, plateList, workshopForm, workshopMap } from '../../../testkit/forms.ts';

const fields = new Map([
  ['Title', 'Hauling sledge & mast'],
  ['Drawing number', 'HS-1'],
  ['Revision', 'B'],
  ['Owner', 'Camp'],
  ['Buyer', 'Ice & Co'],
]);
const form = await workshopForm();

/** Read by another program's reader. */
async function readBack(bytes: Uint8Array): Promise<excel.Workbook> {
  const book = new excel.Workbook();
  await book.xlsx.load(Buffer.from(bytes) as never);
  return book;
}
const filled = (map: Partial<FormMap> = {}, count = 9, bytes = form) =>
  fillForm(bytes, { ...workshopMap, ...map }, plateList(count), fields);
/** The workbook with its parts changed. */
const changed = (change: (name: string, text: string) => string, more: Record<string, string> = {}): Uint8Array => {
  const parts = unzipSync(form);
  for (const [name, bytes] of Object.entries(parts))
    if (/\.(xml|rels)$/.test(name)) parts[name] = strToU8(change(name, strFromU8(bytes)));
  for (const [name, text] of Object.entries(more)) parts[name] = strToU8(text);
  return zipSync(parts);
};
const SHEET = 'xl/worksheets/sheet1.xml';

describe('a form with a list in it', () => {
  it('has typed values, living formulas, and below the list what stood there', async () => {
    const { write, problems, fileName } = filled();
    expect(problems).toEqual([]);
    expect(fileName).toBe('HS-1 rev B.xlsx');
    const book = await readBack(write());
    const sheet = book.getWorksheet('Parts')!;
    expect(sheet.getCell('A14').value).toBe(9);
    expect(sheet.getCell('B14').value).toBe('009');
    expect(sheet.getCell('E14').value).toBe(1.125);
    expect(sheet.getCell('F14').formula).toBe('D14*E14');
    expect(sheet.getCell('F14').numFmt).toBe('0.00');
    expect(sheet.getCell('C14').border.top?.style).toBe('thin');
    expect(sheet.getCell('C15').value).toBe('Sum');
    expect(sheet.getCell('D15').formula).toBe('SUM(D6:D14)');
    expect(sheet.getCell('A17').isMerged && sheet.getCell('F17').master.address).toBe('A17');
    expect(sheet.getCell('A17').value).toBe('Tolerances as agreed. Camp');
    expect(sheet.getCell('C1').value).toBe('Parts list of Hauling sledge & mast');
    expect(sheet.getCell('C2').text).toBe('Drawing HS-1');
    expect(sheet.getCell('F2').value).toBe('B');
    expect(sheet.headerFooter.oddFooter).toBe('&LHauling sledge && mast&RPage &P');
    expect(sheet.pageSetup.printArea).toBe('A1:F17');
    expect((sheet as unknown as { conditionalFormattings: { ref: string }[] }).conditionalFormattings[0].ref).toBe(
      'D6:D14',
    );
  });
  it('keeps the logo and follows on other sheets', async () => {
    const book = await readBack(filled().write());
    expect(book.getWorksheet('Parts')!.getImages()).toHaveLength(1);
    expect(new Uint8Array((book.model as unknown as { media: { buffer: Buffer }[] }).media[0].buffer)).toEqual(
      logoPng(),
    );
    const other = book.getWorksheet('Summary')!;
    expect(other.getCell('B1').formula).toBe('Parts!D15');
    expect(other.getCell('B2').formula).toBe('SUM(Parts!$D$6:$D$14)');
    expect(other.getCell('B1').result).toBeUndefined();
  });
  it('leaves parts that nobody fills as they came in, and gives the same bytes again', () => {
    const one = filled().write();
    expect(filled().write()).toEqual(one);
    const before = unzipSync(form),
      after = unzipSync(one);
    for (const name of ['xl/theme/theme1.xml', 'xl/media/image1.png', 'docProps/app.xml'])
      expect(after[name]).toEqual(before[name]);
    expect(Object.keys(after).sort()).toEqual(
      Object.keys(before)
        .filter((name) => !name.endsWith('/'))
        .sort(),
    );
  });
  it('takes no more rows than the list has, also of a form that keeps some ready', async () => {
    const sheet = (await readBack(filled({}, 1).write())).getWorksheet('Parts')!;
    expect(sheet.getCell('C7').value).toBe('Sum');
    expect(sheet.getCell('D7').formula).toBe('SUM(D6:D6)');
    const none = (await readBack(filled({}, 0).write())).getWorksheet('Parts')!;
    expect(none.getCell('C7').value).toBe('Sum');
  });
  it('begins at a named cell, and writes more than a thousand lines', async () => {
    const { write } = filled({ start: { name: 'FirstLine' } }, 2500);
    const sheet = (await readBack(write())).getWorksheet('Parts')!;
    expect(sheet.getCell('B2505').value).toBe('002500');
    expect(sheet.getCell('F2506').formula).toBe('SUM(F6:F2505)');
  });
  it('is read alike where a writer leaves names of cells out, shares formulas, or names elements with a prefix', async () => {
    const bytes = changed((name, text) => {
      if (name !== SHEET) return text;
      const bare = text
        .replace(/<f>D6\*E6<\/f>/, '<f t="shared" ref="F6:F6" si="0">D6*E6</f>')
        .replace(/(<row r="5".*?<\/row>)/s, (row) => row.replace(/ r="[A-Z]+5"/g, ''));
      return bare.replace(/<(\/?)([a-zA-Z]+)(?=[\s/>])/g, '<$1x:$2').replace('xmlns=', 'xmlns:x=');
    });
    const made = unzipSync(filled({}, 9, bytes).write());
    const text = strFromU8(made[SHEET]);
    expect(text).toContain('<x:c r="F14" s="5"><x:f>D14*E14</x:f></x:c>');
    expect(text).not.toContain('shared');
    expect(text).toContain('r="E5"');
  });
});

describe('what stands below the list of a form', () => {
  /** A form with everything that names cells: a table, remarks, links, rules for typing, a second print range, breaks. */
  const rich = async (): Promise<Uint8Array> => {
    const book = await readBack(form);
    const sheet = book.getWorksheet('Parts')!;
    sheet.addTable({
      name: 'Steps',
      ref: 'A12',
      headerRow: true,
      columns: [{ name: 'Step' }, { name: 'Who' }],
      rows: [
        ['Cut', 'Lind'],
        ['Weld', 'Aspvik'],
      ],
    });
    sheet.getCell('A10').note = 'Ask the store';
    sheet.getCell('A5').note = 'Numbers of the drawing';
    sheet.getCell('B10').value = { text: 'Terms', hyperlink: 'https://example.org/terms' };
    sheet.getCell('D6').dataValidation = { type: 'whole', operator: 'greaterThan', formulae: [0], allowBlank: true };
    sheet.getCell('C11').dataValidation = { type: 'list', formulae: ['$A$13:$A$14'], allowBlank: true };
    sheet.getRow(8).addPageBreak();
    sheet.autoFilter = 'A5:F6';
    sheet.getCell('H2').value = { formula: 'SUMIF(\'Parts\'!D:D,">2",$D$6:$D$6)+A13', result: 0 } as never;
    book.definedNames.add('Parts!$D$5:$D$6', 'Amounts');
    return new Uint8Array(await book.xlsx.writeBuffer());
  };

  it('moves down with all that names it; what is above stays', async () => {
    const parts = unzipSync(filled({}, 9, await rich()).write());
    const text = (name: string) => strFromU8(parts[name]);
    const sheet = (await readBack(zipSync(parts))).getWorksheet('Parts')!;
    expect(text('xl/comments1.xml').match(/ref="A\d+"/g)).toEqual(['ref="A5"', 'ref="A18"']);
    expect((sheet.getCell('B18').value as excel.CellHyperlinkValue).hyperlink).toBe('https://example.org/terms');
    expect(sheet.getCell('D14').dataValidation).toMatchObject({ type: 'whole' });
    expect(sheet.getCell('C19').dataValidation).toMatchObject({ type: 'list', formulae: ['$A$21:$A$22'] });
    expect(sheet.getCell('H2').formula).toBe('SUMIF(\'Parts\'!D:D,">2",$D$6:$D$14)+A21');
    const table = Object.keys(parts).find((name) => /tables\/table\d+\.xml$/.test(name))!;
    expect(text(table)).toMatch(/ref="A20:B22"/);
    expect(text(SHEET)).toMatch(/<autoFilter ref="A5:F14"/);
    expect(text(SHEET)).toMatch(/<brk id="16"/);
    expect(text('xl/workbook.xml')).toContain('Parts!$D$5:$D$14');
    const remarks = Object.keys(parts).find((name) => name.endsWith('.vml'))!;
    expect(text(remarks)).toMatch(/<x:Row>17<\/x:Row>/);
  });
  it('leaves formulas of single lines on their line, and lets fixed ranges over the list grow', async () => {
    const book = await readBack(form);
    const own = book.getWorksheet('Parts')!;
    own.spliceRows(7, 0, []);
    own.getCell('F6').value = { formula: 'SUM(D6:E6)/SUM($D$6:$D$7)+$D$8' } as never;
    own.getCell('F7').value = { formula: 'SUM(D7:E7)/SUM($D$6:$D$7)+$D$8' } as never;
    const bytes = new Uint8Array(await book.xlsx.writeBuffer());
    const sheet = (await readBack(filled({ ready: 2 }, 4, bytes).write())).getWorksheet('Parts')!;
    expect([6, 7, 8, 9].map((row) => sheet.getCell(row, 6).formula)).toEqual(
      [6, 7, 8, 9].map((row) => `SUM(D${row}:E${row})/SUM($D$6:$D$9)+$D$10`),
    );
  });
  it('moves a picture down that stands there, and none that stands above', async () => {
    const book = await readBack(form);
    const own = book.getWorksheet('Parts')!;
    const id = book.addImage({ buffer: Buffer.from(logoPng()) as never, extension: 'png' });
    own.addImage(id, { tl: { col: 1, row: 9 }, ext: { width: 20, height: 10 } });
    const bytes = new Uint8Array(await book.xlsx.writeBuffer());
    const images = (await readBack(filled({}, 9, bytes).write())).getWorksheet('Parts')!.getImages();
    expect(images.map(({ range }) => Math.floor(range.tl.row)).sort((a, b) => a - b)).toEqual([0, 17]);
  });
});

describe('values of a list in a form', () => {
  const cells = (one: FormLine['cells'][number], kind: FormLine['kind'] = 'row', picture: Uint8Array | null = null) => {
    const list = plateList(1);
    const line: FormLine = { ...list.lines[0], kind, picture, cells: [one, null, null, null, null] };
    const columns = list.columns.with(1, { isThere: true, isPicture: picture !== null });
    return readBack(fillForm(form, workshopMap, { ...list, columns, lines: [line] }, fields).write());
  };
  const first = async (...given: Parameters<typeof cells>) =>
    (await cells(...given)).getWorksheet('Parts')!.getCell('A6');

  it('have their unit in the cell where no heading says it, and dates are dates', async () => {
    const size = await first({ kind: 'number', value: 12.5, pattern: '0.0" mm"' });
    expect([size.value, size.numFmt, size.border.top?.style]).toEqual([12.5, '0.0" mm"', 'thin']);
    const day = await first({ kind: 'date', value: '2026-11-28', pattern: 'dd.mm.yyyy' });
    expect([(day.value as Date).toISOString().slice(0, 10), day.numFmt]).toEqual(['2026-11-28', 'dd.mm.yyyy']);
    const text = await first({ kind: 'text', value: '=1+1' });
    expect(text.value).toBe('=1+1');
  });
  it('are bold in headings of groups and sums, which a form may do without', async () => {
    expect((await first({ kind: 'text', value: 'Steel' }, 'heading')).font.bold).toBe(true);
    expect((await first({ kind: 'text', value: 'Steel' })).font?.bold ?? false).toBe(false);
    const list = plateList(2);
    const lines = [{ ...list.lines[0], kind: 'heading' as const }, list.lines[1]];
    const without = fillForm(form, { ...workshopMap, groups: false }, { ...list, lines }, fields);
    expect((await readBack(without.write())).getWorksheet('Parts')!.getCell('A6').value).toBe(2);
  });
  it('have pictures in cells, in rows that are high enough, beside the logo', async () => {
    const sheet = (await cells(null, 'row', logoPng())).getWorksheet('Parts')!;
    const images = sheet.getImages();
    expect(images.map(({ range }) => [Math.floor(range.tl.col), Math.floor(range.tl.row)])).toEqual([
      [0, 0],
      [1, 5],
    ]);
    expect(sheet.getRow(6).height).toBeGreaterThanOrEqual(27);
  });
});

describe('what is said before a form is written', () => {
  it('names a column that the bill lacks by its heading and cell', () => {
    const list = plateList(2);
    const columns = list.columns.with(4, { isThere: false, isPicture: false });
    const { problems } = fillForm(form, workshopMap, { ...list, columns }, fields);
    expect(problems).toHaveLength(1);
    expect(problems[0]).toMatchObject({ code: 'no-such-column', at: 'E6 on “Parts”', stops: false });
    expect(problems[0].message).toContain('Mass [kg]');
  });
  it('names each text that is longer than its cell', () => {
    const list = plateList(3, (at) =>
      at === 1 ? 'Cross-bearer with slots for guy wires on both of its ends' : 'Plate',
    );
    const { problems } = fillForm(form, workshopMap, list, fields);
    expect(problems.map(({ code, at }) => [code, at])).toEqual([['too-long', 'C7 on “Parts”']]);
    expect(problems[0].message).toMatch(/it needs \d+ characters, and 34 have room/);
  });
  it('stops before a formula, and before what stands in rows that are filled', () => {
    const columns = [...workshopMap.columns, { to: 'F', heading: 'Total', from: 'Mass total' }];
    const list = plateList(1);
    const wider = {
      ...list,
      columns: [...list.columns, list.columns[0]],
      lines: [{ ...list.lines[0], cells: [...list.lines[0].cells, null] }],
    };
    const { problems } = fillForm(form, { ...workshopMap, columns }, wider, fields);
    expect(problems).toMatchObject([{ code: 'formula-overwritten', at: 'F6 on “Parts”', stops: true }]);
    expect(problems[0].message).toContain('=D6*E6');
    const over = fillForm(form, { ...workshopMap, columns, overwrite: true }, wider, fields);
    expect(over.problems.some(({ stops }) => stops)).toBe(false);
    const down = filled({ rows: 'fill' }, 5).problems;
    expect(down.map(({ code, at }) => `${code} ${at}`)).toEqual([
      'text-overwritten C7 on “Parts”',
      'formula-overwritten D7 on “Parts”',
      'text-overwritten A9 on “Parts”',
      'text-overwritten A9:F9 on “Parts”',
    ]);
  });
  it('says what is asked for and not known, or empty', () => {
    const { problems } = fillForm(form, workshopMap, plateList(1), new Map([['Title', '']]));
    expect(problems.map(({ code, at }) => `${code} ${at}`)).toContain('unknown-field C3 on “Parts”');
    expect(problems.some(({ code, message }) => code === 'empty-field' && message.includes('{Title}'))).toBe(true);
  });
});

describe('forms that are not taken as they are', () => {
  it('refuses what is no workbook, in a sentence', () => {
    const plain = (text: string) => () => lookAtForm(strToU8(text));
    expect(plain('Item;Name')).toThrow(/no XLSX workbook/);
    expect(() => lookAtForm(new Uint8Array([0xd0, 0xcf, 0x11, 0xe0]))).toThrow(/old workbook/);
    expect(() => lookAtForm(zipSync({ 'a.txt': strToU8('a') }))).toThrow(/no XLSX workbook/);
    const vast = zipSync({ ...unzipSync(form), 'xl/worksheets/sheet9.xml': new Uint8Array(51e6) }, { level: 1 });
    expect(() => lookAtForm(vast)).toThrow(/sheet9.xml of the workbook has 51 MB/);
    expect(() => lookAtForm(form.slice(0, 3000))).toThrow(/damaged/);
    expect(() => lookAtForm(new Uint8Array(33 * 1024 * 1024))).toThrow(/may have/);
  });
  it('refuses a start in merged cells over rows, and columns that are covered', () => {
    expect(() => filled({ start: { sheet: 'Parts', cell: 'A2' } })).toThrow(/A1:B3.*several rows/);
    expect(() => filled({ start: { sheet: 'Parts', cell: 'C9' } })).toThrow(/covered by the merged cells A9:F9/);
    expect(() => filled({ start: { sheet: 'Nowhere', cell: 'A6' } })).toThrow(/“Parts”, “Summary”/);
    expect(() => filled({ start: { name: 'Nothing' } })).toThrow(/no cell named/);
    const twice = [workshopMap.columns[0], { ...workshopMap.columns[1], to: 'A' }];
    expect(() => filled({ columns: twice })).toThrow(/both go into column A/);
  });
  it('keeps macros and links to other workbooks out, and says so; formulas over links keep their value', async () => {
    const type = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships/externalLink';
    const bytes = changed(
      (name, text) => {
        if (name === 'xl/_rels/workbook.xml.rels')
          return text.replace(
            '</Relationships>',
            `<Relationship Id="rId90" Type="http://schemas.microsoft.com/office/2006/relationships/vbaProject" Target="vbaProject.bin"/><Relationship Id="rId91" Type="${type}" Target="externalLinks/externalLink1.xml"/></Relationships>`,
          );
        if (name === '[Content_Types].xml')
          return text
            .replace('sheet.main+xml', 'sheet.macroEnabled.main+xml')
            .replace('</Types>', '<Override PartName="/xl/externalLinks/externalLink1.xml" ContentType="x"/></Types>');
        if (name === 'xl/workbook.xml')
          return text.replace(
            '</sheets>',
            '</sheets><externalReferences><externalReference r:id="rId91"/></externalReferences>',
          );
        return name === 'xl/worksheets/sheet2.xml' ? text.replace('<f>1+1</f>', '<f>[1]Prices!A1</f>') : text;
      },
      { 'xl/vbaProject.bin': 'macro', 'xl/externalLinks/externalLink1.xml': '<externalLink/>' },
    );
    const made = filled({}, 2, bytes);
    expect(made.problems.map(({ message }) => message).join(' ')).toMatch(/macros.*links to other workbooks/s);
    const parts = unzipSync(made.write());
    expect(Object.keys(parts).filter((name) => /vba|externalLink/.test(name))).toEqual([]);
    expect(strFromU8(parts['[Content_Types].xml'])).not.toMatch(/macroEnabled|externalLink/);
    expect(strFromU8(parts['xl/workbook.xml'])).not.toContain('externalReference');
    expect((await readBack(made.write())).getWorksheet('Summary')!.getCell('B3').value).toBe(2);
  });
});

const slat = leaf('WS-1', {
  name: 'Deck slat',
  properties: { Length: { value: 2660, unit: 'mm' }, Finish: { value: 'oiled' } },
});
const runner = leaf('WS-2', { name: 'Runner', properties: { Length: { value: 'by hand' } } });
const assembly = assemblyOf(node('sledge', [12, slat], [2, runner]));
const document = newBill(assembly, 'Bill', [
  ...(['item', 'quantity', 'partNumber', 'name', 'massEach', 'property:Length'] as const).map((source) =>
    newColumn(source, source),
  ),
  { ...newColumn('property:Finish', 'f'), hidden: true },
]);
const bill = makeBill(assembly, document.recipe, billDecisions(document, []), { columns: document.columns });

describe('a list for a form', () => {
  it('has numbers in the unit that the heading says, and says which are none', () => {
    const columns = [
      { to: 'A', heading: 'Length [m]', from: 'Length', unit: 'm' },
      { to: 'B', heading: 'Finish', from: 'finish' },
    ];
    const list = formList(bill, document.columns, { columns, groups: true });
    expect(list.lines.map(({ cells }) => cells[0])).toEqual([
      { kind: 'number', value: 2.66, pattern: 'General' },
      { kind: 'text', value: 'by hand' },
    ]);
    // A hidden column of the bill is there for the form.
    expect(list.lines[0].cells[1]).toEqual({ kind: 'text', value: 'oiled' });
    expect(list.problems).toHaveLength(1);
    expect(list.problems[0].message).toMatch(/Length \[m\].*Runner.*by hand.*no number in m/);
  });
  it('goes by headings: those of the bill, usual words, or their own where the bill has nothing', () => {
    const proposed = proposeColumns(
      [
        { to: 'A', heading: 'Pos.' },
        { to: 'B', heading: 'Part No.' },
        { to: 'C', heading: 'LENGTH (mm)', unit: 'mm' },
        { to: 'D', heading: 'Lead time' },
      ],
      document.columns,
    );
    expect(proposed.map(({ from, unit }) => [from, unit])).toEqual([
      ['Item', undefined],
      ['Part number', undefined],
      ['Length', 'mm'],
      ['Lead time', undefined],
    ]);
  });
});

describe('what a form looks like', () => {
  const look = lookAtForm(form);
  it('shows cells where they are, with texts, merged areas, fills and the logo', () => {
    const [sheet] = look.sheets;
    expect(sheet.cells.find(({ row, column }) => row === 1 && column === 3)).toMatchObject({
      columns: 4,
      text: 'Parts list of {Title}',
      bold: true,
      size: 16,
    });
    expect(sheet.cells.find(({ text }) => text === 'Qty')).toMatchObject({ row: 5, column: 4, fill: '#dce6dc' });
    expect(sheet.widths[2]).toBeGreaterThan(sheet.widths[0]);
    expect(sheet.pictures[0].source).toMatch(/^data:image\/png;base64,/);
    expect(look.names).toEqual([{ name: 'FirstLine', sheet: 'Parts', cell: 'A6' }]);
    expect(look.placeholders).toEqual(['Title', 'Drawing number', 'Buyer', 'Owner']);
  });
  it('proposes where the list begins and what goes where, without the form’s own formulas', () => {
    const map = proposedMap(look, document.columns)!;
    expect(map.start).toEqual({ name: 'FirstLine' });
    expect(map.columns.map(({ to, unit }) => [to, unit])).toEqual([
      ['A', undefined],
      ['B', undefined],
      ['C', undefined],
      ['D', undefined],
      ['E', 'kg'],
    ]);
    expect(headingsAbove(form, 'Parts', 'A6').map(({ heading }) => heading)).toContain('Part No.');
    expect(headingsAbove(form, 'Parts', 'A1')).toEqual([]);
  });
});
