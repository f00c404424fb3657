import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { coaxialPack } from '../../demo/machines.ts';
import { productStep } from '../../demo/writeDemo.ts';
import { sledgeboard as runHere, startSledgeboard } from '../../testkit/commandLine.ts';
import { group, part, stepOf, tableProduct, times } from '../../testkit/stepFiles.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'sledge-cli-'));
  writeFileSync(join(folder, 'table.step'), stepOf(tableProduct()));
});
afterAll(() => rmSync(folder, { recursive: true }));

const sledgeboard = (...args: string[]) => runHere(folder, ...args);
const table = () => join(folder, 'table.step');

describe('bill', () => {
  test('JSON by default, structured', async () => {
    const { status, stdout, stderr } = await sledgeboard('bill', table());
    expect([status, stderr]).toEqual([0, '']);
    expect(JSON.parse(stdout)).toMatchObject({
      file: 'table.step',
      sourceUnit: 'mm',
      depth: 'structured',
      leafOccurrences: 13,
      parts: 3,
      assemblies: 2,
      findings: [],
      rows: [
        { item: '1', level: 1, kind: 'assembly', partNumber: 'F-1', name: 'Foot', quantity: 4, totalQuantity: 4 },
        { item: '1.1', level: 2, kind: 'part', partNumber: 'B-1', quantity: 2, totalQuantity: 8 },
        { item: '1.2', partNumber: 'P-1', quantity: 1, totalQuantity: 4 },
        { item: '2', partNumber: 'T-1', quantity: 1, totalQuantity: 1 },
      ],
    });
  });
  test('CSV of every part once, into a file', async () => {
    const output = join(folder, 'bill.csv');
    expect(await sledgeboard('bill', table(), '--depth', 'parts-only', '--format', 'csv', '--output', output)).toEqual({
      status: 0,
      stdout: '',
      stderr: '',
    });
    expect(readFileSync(output, 'utf8')).toBe(
      'Item,Qty,Part number,Name\r\n1,8,B-1,Bolt\r\n2,4,P-1,Plate\r\n3,1,T-1,Top\r\n',
    );
  });
});

test('two products of one number and name are said by bill, sheet and compare, before any list is believed', async () => {
  const file = join(folder, 'washers.step');
  const washer = (size: number) => part('W-1', 'Washer', size, { description: `M${size}` });
  writeFileSync(file, stepOf(group('A', 'Rack', ...times(3, washer(10)), ...times(2, washer(6)))));
  const sentence =
    'Number “W-1” stands on 2 products, all called “Washer”, and is counted as one part, but they differ in description (“M10”, “M6”), volume (1000 mm³, 216 mm³) and shape. Keep them apart if they are different parts.';
  const bill = await sledgeboard('bill', file, '--depth', 'parts-only');
  expect(JSON.parse(bill.stdout)).toMatchObject({
    rows: [{ partNumber: 'W-1', totalQuantity: 5 }],
    findings: [{ code: 'one-number-on-products', message: sentence }],
  });
  expect((await sledgeboard('bill', file, '--format', 'csv')).stderr).toContain(sentence);
  expect((await sledgeboard('sheet', file, '--format', 'json')).stderr).toContain(sentence);
  expect((await sledgeboard('compare', file, table())).stderr).toContain(`washers.step: ${sentence}`);
});

test('parts of one shape are one line when the shape decides, whatever they are called', async () => {
  const file = join(folder, 'alike.step');
  writeFileSync(
    file,
    stepOf(
      group(
        'A-1',
        'Frame',
        ...times(2, part('L-1', 'Left plate', 10)),
        ...times(1, part('R-1', 'Right plate', 10)),
        ...times(1, part('P-1', 'Post', 60)),
      ),
    ),
  );
  const csv = async (merge: string) =>
    (await sledgeboard('bill', file, '--merge', merge, '--format', 'csv')).stdout.trim().split('\r\n').slice(1);
  expect(await csv('part-number')).toEqual(['1,2,L-1,Left plate', '2,1,R-1,Right plate', '3,1,P-1,Post']);
  expect(await csv('shape')).toEqual(['1,3,L-1,Left plate', '2,1,P-1,Post']);
});

describe('other sources', () => {
  test('a list and a glTF file give bills as a STEP file does', async () => {
    writeFileSync(join(folder, 'list.csv'), 'Level;Number;Name;Qty\n0;A-1;Table;1\n1;F-1;Foot;4\n2;B-1;Bolt;2\n');
    const gltf = {
      asset: { version: '2.0' },
      scenes: [{ nodes: [0] }],
      nodes: [{ name: 'Table', children: [1, 2] }, { name: 'Foot.001' }, { name: 'Foot.002' }],
    };
    writeFileSync(join(folder, 'table.gltf'), JSON.stringify(gltf));
    const csv = async (file: string) =>
      (await sledgeboard('bill', join(folder, file), '--depth', 'parts-only', '--format', 'csv')).stdout;
    expect(await csv('list.csv')).toBe('Item,Qty,Part number,Name\r\n1,8,B-1,Bolt\r\n');
    expect(await csv('table.gltf')).toBe('Item,Qty,Name\r\n1,2,Foot\r\n');
  });
  test('what has no shapes cannot be drawn, in one sentence', async () => {
    const { status, stdout, stderr } = await sledgeboard('view', join(folder, 'list.csv'));
    expect([status, stdout]).toEqual([1, '']);
    expect(stderr).toBe('The file has no solid or surface that can be drawn; its bill can still be made.\n');
  });
  test('a file of another kind is refused by what it begins with', async () => {
    writeFileSync(join(folder, 'photo.xyz'), Uint8Array.of(0x89, 0x50, 0x4e, 0x47));
    const { status, stderr } = await sledgeboard('bill', join(folder, 'photo.xyz'));
    expect(status).toBe(1);
    expect(stderr).toMatch(/^This is no file that can be read: it begins with the mark of a PNG picture\./);
  });
});

test('a sheet with a section in a plane: hatched, with the cutting line on the view that shows it; one that misses is said', async () => {
  const sheet = (...args: string[]) => sledgeboard('sheet', table(), '--views', 'top', '--format', 'svg', ...args);
  const plain = await sheet(),
    cut = await sheet('--section', 'y=5');
  expect([plain.status, cut.status]).toEqual([0, 0]);
  expect(plain.stdout).not.toContain('data-of="hatching');
  expect(cut.stdout).toContain('data-of="hatching');
  expect(cut.stdout).toContain('data-of="section');
  expect(cut.stdout).toContain('A–A');
  expect(await sheet('--section', 'y=5000')).toMatchObject({
    status: 1,
    stderr: 'A section at y=5000 cuts nothing of “A-1”.\n',
  });
  expect((await sheet('--section', 'q=5')).status).toBe(2);
});

describe('view', () => {
  test('cut open: faces with their true size, whatever is seen; conditions that make no cut are refused in words', async () => {
    const cut = async (...args: string[]) => {
      const { status, stdout, stderr } = await sledgeboard('view', table(), '--direction', 'front', ...args);
      return { status, stderr, ...(status === 0 ? JSON.parse(stdout) : {}) };
    };
    const whole = await cut();
    expect(whole.cut).toBeUndefined();
    const half = await cut('--cut', 'y<5');
    const faces = half.cut as { partNumber: string; areaMm2: number; rings: [number, number][][]; hatched: boolean }[];
    expect(faces.length).toBeGreaterThan(0);
    for (const { areaMm2, rings, hatched } of faces) {
      const twice = rings.flatMap((ring) =>
        ring.map(([x, y], at) => x * ring[(at + 1) % ring.length][1] - y * ring[(at + 1) % ring.length][0]),
      );
      expect([twice.reduce((sum, one) => sum + one, 0) / 2, hatched]).toEqual([expect.closeTo(areaMm2, 3), true]);
    }
    const aside = await cut('--cut', 'x<5');
    expect(aside.cut.length).toBeGreaterThan(0);
    expect(aside.cut.every((face: { hatched: boolean }) => !face.hatched)).toBe(true);
    expect(await cut('--cut', 'y<-1e6')).toMatchObject({
      status: 0,
      cut: [],
      visibleMm: whole.visibleMm,
      stderr: 'The cut misses the machine: nothing is taken away.\n',
    });
    expect(await cut('--cut', 'y<1e6')).toMatchObject({
      status: 1,
      stderr: 'This cut takes the whole machine away; cut elsewhere, or from the other side.\n',
    });
    expect((await cut('--cut', 'y<0 & y>0')).stderr).toContain('would take nothing away');
    expect(await cut('--cut', 'y=0')).toMatchObject({ status: 2 });
    const { stdout: svg } = await sledgeboard(
      'view',
      table(),
      '--direction',
      'front',
      '--cut',
      'y<5',
      '--format',
      'svg',
    );
    expect(svg.match(/<path/g)!.length).toBeGreaterThan(
      (await sledgeboard('view', table(), '--direction', 'front', '--format', 'svg')).stdout.match(/<path/g)!.length,
    );
  });
  test('sums, box and segments; what is seen is counted', async () => {
    const { status, stdout } = await sledgeboard('view', table(), '--direction', 'top');
    const view = JSON.parse(stdout);
    expect(status).toBe(0);
    expect(view).toMatchObject({ direction: 'top', tangentMm: 0 });
    const sum = view.segments
      .filter((segment: unknown[]) => segment[5] === true)
      .reduce((total: number, [x1, y1, x2, y2]: number[]) => total + Math.hypot(x2 - x1, y2 - y1), 0);
    expect(sum).toBeCloseTo(view.visibleMm, 3);
    expect(view.visibleOccurrences).toBeGreaterThan(0);
    expect(view.visibleOccurrences).toBeLessThanOrEqual(13);
  });
  test('an exploded pose: what leaves, in its order, and how far', async () => {
    const { status, stdout } = await sledgeboard(
      'view',
      table(),
      '--pose',
      'exploded',
      '--levels',
      '1',
      '--direction',
      '1,-2,1',
    );
    const view = JSON.parse(stdout);
    const assembled = JSON.parse((await sledgeboard('view', table(), '--direction', '1,-2,1')).stdout);
    expect([status, view.pose, assembled.pose, assembled.moves]).toEqual([0, 'exploded', 'assembled', []]);
    expect(view.moves.map(({ order }: { order: number }) => order)).toEqual(
      view.moves.map((_: unknown, at: number) => at),
    );
    expect(view.moves.length).toBeGreaterThan(0);
    for (const { part, path, steps } of view.moves) {
      expect([typeof part, path.split('/').length]).toEqual(['string', 1]);
      expect(Math.hypot(...(steps[0] as number[]))).toBeGreaterThan(0);
    }
    const area = ({ box: [x0, y0, x1, y1] }: { box: number[] }) => (x1 - x0) * (y1 - y0);
    expect(area(view)).toBeGreaterThan(1.05 * area(assembled));
  });
  test('only some parts, or all but some; a part that is not there is said', async () => {
    const places = async (...args: string[]) =>
      JSON.parse((await sledgeboard('view', table(), ...args)).stdout).places.length;
    const [all, only, without] = [await places(), await places('--only', 'P-1'), await places('--without', 'P-1')];
    expect([only > 0, without > 0, only < all, without < all]).toEqual([true, true, true, true]);
    expect(await sledgeboard('view', table(), '--only', 'P-9')).toMatchObject({
      status: 1,
      stderr: expect.stringContaining('Nothing in this machine has the part number or name “P-9”'),
    });
    expect((await sledgeboard('view', table(), '--direction', '0,0,0')).status).toBe(2);
  });
  test('SVG, with the faces shaded under the lines where that is asked for', async () => {
    expect((await sledgeboard('view', table(), '--format', 'svg', '--shaded')).stdout).toMatch(
      /<image [^>]*href="data:image\/png;base64,iVBOR[\s\S]*<g fill="none"/,
    );
    expect((await sledgeboard('view', table(), '--format', 'svg')).stdout).not.toContain('<image');
    expect((await sledgeboard('view', table(), '--format', 'svg')).stdout).toMatch(
      /^<svg xmlns="http:\/\/www.w3.org\/2000\/svg" width="[\d.]+mm"/,
    );
  });
});

describe('explode', () => {
  test('lists what leaves in which order, what goes along with it, and what is held by what', async () => {
    const pack = join(folder, 'pack.step');
    writeFileSync(pack, productStep(coaxialPack(), 'pack.step'));
    const { status, stdout } = await sledgeboard('explode', pack, '--level', 'first');
    expect(status).toBe(0);
    const { moves, locked } = JSON.parse(stdout);
    expect(locked).toEqual([]);
    expect(moves.map(({ order }: { order: number }) => order)).toEqual([...moves.keys()]);
    const bearing = moves.filter(({ name }: { name: string }) => name === 'Bearing');
    expect(bearing).toHaveLength(2);
    // Its races and balls leave with it.
    expect(bearing[0].with.length).toBeGreaterThan(2);
    expect(bearing[0].with.every((path: string) => path.startsWith(bearing[0].path))).toBe(true);
    const all = JSON.parse((await sledgeboard('explode', pack)).stdout).moves;
    expect(all.length).toBeGreaterThan(moves.length);
    const whole = JSON.parse((await sledgeboard('explode', pack, '--whole', 'CP-30')).stdout).moves;
    expect(whole).toEqual(moves);
    expect((await sledgeboard('explode', pack, '--level', 'some')).status).toBe(2);
  });
});

describe('sheet', () => {
  test('as a set: every line has a balloon on some sheet, each says which of how many it is; the sheets that were asked for', async () => {
    const { status, stdout } = await sledgeboard('sheet', table(), '--auto', '--depth', 'parts-only');
    expect(status).toBe(0);
    const { coverage, sheets } = JSON.parse(stdout);
    expect(coverage).toEqual({ rows: 3, missing: [] });
    const items = sheets.flatMap(({ balloons }: { balloons: { item: string }[] }) => balloons.map(({ item }) => item));
    expect(new Set(items)).toEqual(new Set(['1', '2', '3']));
    expect(sheets.map(({ number, of }: { number: number; of: number }) => [number, of])).toEqual(
      sheets.map((_: unknown, at: number) => [at + 1, sheets.length]),
    );
    const asked = await sledgeboard('sheet', table(), '--sheets', 'cover,assembly,exploded');
    expect(JSON.parse(asked.stdout).sheets.map(({ name }: { name: string }) => name)).toEqual([
      'Cover',
      expect.any(String),
      'Exploded',
    ]);
    expect((await sledgeboard('sheet', table(), '--sheets', 'cover,back')).status).toBe(2);
    expect((await sledgeboard('sheet', table(), '--sheets', 'cover', '--auto')).status).toBe(2);
  });
  test('JSON describes what lies where', async () => {
    const { status, stdout } = await sledgeboard(
      'sheet',
      table(),
      '--depth',
      'parts-only',
      '--views',
      'isometric,front',
    );
    const sheet = JSON.parse(stdout);
    expect(status).toBe(0);
    expect(sheet.paper).toEqual({ widthMm: 420, heightMm: 297 });
    expect(sheet.titleBlock.box).toEqual([230, 245, 410, 287]);
    expect(sheet.views.map(({ name }: { name: string }) => name)).toEqual(['isometric', 'front']);
    expect(sheet.table.rows).toHaveLength(3);
    expect(sheet.coverage).toEqual({ rows: 3, ballooned: 3, missing: [], doubled: [], hanging: [], excused: [] });
    for (const { leader, anchor, centre, radius } of sheet.balloons) {
      expect(leader.at(-1)).toEqual(anchor);
      expect(Math.hypot(leader[0][0] - centre[0], leader[0][1] - centre[1])).toBeCloseTo(radius, 3);
    }
  });
  test('list and balloons as they are asked for; heights that nobody can read or draw are refused', async () => {
    const { stdout } = await sledgeboard(
      ...['sheet', table(), '--place', 'top-left', '--list-lettering', '2,5', '--heading', 'bottom'],
      ...['--rows', 'up', '--lettering', '7'],
    );
    const { table: list, balloons } = JSON.parse(stdout);
    expect([list.letteringMm, list.pitchMm, list.heading, list.direction]).toEqual([2.5, 5, 'bottom', 'up']);
    expect(list.box[0]).toBeCloseTo(20, 6);
    for (const balloon of balloons) expect([balloon.lettering, balloon.radius]).toEqual([7, 8.75]);
    const counted = JSON.parse((await sledgeboard('sheet', table(), '--content', 'item-quantity')).stdout);
    for (const { quantity } of counted.balloons) expect(quantity).toMatch(/^\d+$/);
    expect((await sledgeboard('sheet', table(), '--content', 'all')).status).toBe(2);
    for (const wrong of [
      ['--lettering', '0'],
      ['--list-lettering', '100'],
      ['--heading', 'left'],
    ])
      expect((await sledgeboard('sheet', table(), ...wrong)).status).toBe(2);
  });
  test('check says what is wrong on the sheet, and ends with 1 where anything is', async () => {
    const clean = await sledgeboard('check', table(), '--depth', 'parts-only');
    expect([clean.status, clean.stdout]).toEqual([0, '3 of 3 lines have a balloon, on one sheet.\n']);
    const small = await sledgeboard('check', table(), '--depth', 'parts-only', '--list-lettering', '1.8');
    expect(small.status).toBe(1);
    expect(small.stdout).toContain('The list is lettered 1.8 mm');
    expect(small.stderr).toBe('There is one thing to look at.\n');
    const file = join(folder, 'check.json');
    await sledgeboard('check', table(), '--depth', 'parts-only', '--list-lettering', '1.8', '--report', file);
    expect(JSON.parse(readFileSync(file, 'utf8'))).toMatchObject({
      lines: { ballooned: 3, needed: 3, missing: [] },
      sheets: [{ number: 1, problems: [{ code: 'small-list' }] }],
    });
  });
  test('as a house style says: its columns, paper, title block and unit of dimensions; what is typed wins', async () => {
    const style = join(folder, 'style.json');
    const says = {
      kind: 'sledgeboard house style',
      version: 1,
      name: 'Workshop',
      columns: [
        { id: 'a', source: 'item', heading: 'No.' },
        { id: 'b', source: 'partNumber', heading: 'Part' },
      ],
      sheet: {
        paper: { size: 'A2', landscape: true },
        further: [{ id: 'o', label: 'Order', value: 'A-12' }],
        dimensionLook: { unit: 'in', decimals: 3 },
      },
    };
    writeFileSync(style, JSON.stringify(says));
    const { status, stdout, stderr } = await sledgeboard('sheet', table(), '--style', style, '--depth', 'parts-only');
    expect([status, stderr]).toEqual([0, '']);
    const sheet = JSON.parse(stdout);
    expect(sheet.paper).toEqual({ widthMm: 594, heightMm: 420 });
    expect(sheet.table.columns).toEqual(['NO.', 'PART']);
    expect(sheet.titleBlock.box[3] - sheet.titleBlock.box[1]).toBe(42 + 10.5);
    expect(sheet.dimensions).toEqual([]);
    const typed = await sledgeboard('sheet', table(), '--style', style, '--paper', 'A4', '--depth', 'parts-only');
    expect(JSON.parse(typed.stdout).paper).toEqual({ widthMm: 210, heightMm: 297 });
    writeFileSync(style, JSON.stringify({ ...says, sheet: { paper: { size: 'A17', landscape: true } } }));
    const refused = await sledgeboard('sheet', table(), '--style', style);
    expect(refused.status).not.toBe(0);
    expect(refused.stderr).toMatch(/no house style that can be read: sheet\.paper/);
  });
  test('PDF on standard output', async () => {
    const pdf = (await sledgeboard('sheet', table(), '--format', 'pdf', '--paper', 'A4')).stdout;
    expect(pdf.slice(0, 5)).toBe('%PDF-');
  });
});

describe('as a program of its own', () => {
  test('it starts, reads, writes and ends with its code, also a second time, when its compiled code is there', () => {
    const first = startSledgeboard(folder, 'bill', table(), '--format', 'csv');
    expect([first.status, first.stderr]).toEqual([0, '']);
    expect(first.stdout).toMatch(/^Item,Qty,Part number,Name\r\n1,4,F-1,Foot\r\n/);
    expect(startSledgeboard(folder, 'bill', table(), '--format', 'csv')).toEqual(first);
  });
  test('it draws, with the shapes made on threads of its own', () => {
    const { status, stdout } = startSledgeboard(folder, 'sheet', table(), '--format', 'pdf', '--paper', 'A4');
    expect([status, stdout.slice(0, 5)]).toEqual([0, '%PDF-']);
  });
  test('a file that is refused: one sentence and 1', () => {
    const { status, stdout, stderr } = startSledgeboard(folder, 'bill', '/nowhere/gone.step');
    expect([status, stdout, stderr]).toEqual([
      1,
      '',
      'There is no file or folder /nowhere/gone.step; check the name.\n',
    ]);
  });
});

describe('what goes wrong', () => {
  test('a misspelt command or option names the nearest, and where all of them stand', async () => {
    const said = async (...args: string[]) => (await sledgeboard(...args)).stderr;
    expect(await said('bil', table())).toMatch(/unknown command 'bil'\n\(Did you mean bill\?\)/);
    expect(await said('bill', table(), '--colums', 'Name')).toContain('(Did you mean --columns?)');
    expect(await said('sheet', table(), '--list-letering', '3')).toContain('(Did you mean --list-lettering?)');
    expect(await said('sheet', table(), '--direction', 'front')).toContain('--help lists all options');
  });
  test('-o is --output', async () => {
    const output = join(folder, 'short.csv');
    expect(await sledgeboard('bill', table(), '--format', 'csv', '-o', output)).toMatchObject({
      status: 0,
      stdout: '',
    });
    expect(readFileSync(output, 'utf8')).toContain('F-1');
  });
  test.each([
    [
      'no file of that name',
      ['bill', '/nowhere/gone.step'],
      1,
      'There is no file or folder /nowhere/gone.step; check the name.\n',
    ],
    ['a folder', ['bill', '.'], 1, '. is a folder; name a file.\n'],
  ])('%s: exit code and one sentence', async (_, args, status, stderr) =>
    expect(await sledgeboard(...args)).toEqual({ status, stdout: '', stderr }),
  );
  test('a file that is refused: the sentence, no stack trace, nothing on standard output', async () => {
    writeFileSync(join(folder, 'cut.step'), stepOf(tableProduct()).slice(0, 3000));
    const { status, stdout, stderr } = await sledgeboard('sheet', join(folder, 'cut.step'));
    expect([status, stdout, stderr.trim().split('\n').length]).toEqual([1, '', 1]);
    expect(stderr).toMatch(/^Line \d+: the file ends inside/);
  });
  test.each([
    [['bill']],
    [['draw', 'x.step']],
    [['bill', 'x.step', '--depth', 'flat']],
    [['view', 'x.step', '--direction', 'inside']],
    [['sheet', 'x.step', '--views', 'front,inside']],
    [['sheet', 'x.step', '--paper', 'B5']],
  ])('%j is wrong usage: exit code 2', async (args) => {
    expect(await sledgeboard(...args)).toMatchObject({ status: 2, stdout: '' });
  });
});
