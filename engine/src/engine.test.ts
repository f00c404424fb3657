import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { coaxialPack, screwedFlange } from '../../demo/machines.ts';
import { revisionA, revisionB, sledge } from '../../demo/sledge.ts';
import { productStep, sledgeStep } from '../../demo/writeDemo.ts';
import { prism, rod, rounded, volume } from '../../demo/solids.ts';
import { bytesOf, stepOf } from '../../testkit/stepFiles.ts';
import type { Product } from '../../demo/product.ts';
import { readFileSync } from 'node:fs';
import { isAssembly, listOccurrences, pathKey, structureTotals } from '../../core/src/assembly/index.ts';
import { boxDiagonal, meshBox, meshColour, meshVolume } from '../../core/src/geometry/index.ts';
import { textAlong, textMark, type Scene } from '../../core/src/marks/index.ts';
import { lookAt, sumLines, type DirectionName } from '../../core/src/views/index.ts';
import { sceneToSvg, unpackMesh } from '../../core/src/formats/index.ts';
import { decode, encode } from 'fast-png';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import {
  loadMeasures,
  loadShapeFindings,
  makeShapes,
  thumbnailKey,
  makeMeshes,
  explodeLook,
  makeView,
  memoryStore,
  meshKey,
  scenesToPdf,
  sceneToPng,
  startPool,
  type PackedModel,
  type Pool,
  readLogo,
} from './index.ts';

const demo = readFileSync('demo/files/hauling-sledge-A.step');
let pool: Pool;
beforeAll(() => {
  pool = startPool(process.env.SLEDGEBOARD_WORKER!);
});
afterAll(() => pool.close());
const read = (bytes: Uint8Array, fileName = 'a.step') => pool.read({ bytes, fileName });

/** Every part of the generator, once. */
function partsOf(product: Product, known = new Map<string, Product>()): Map<string, Product> {
  if (product.solids) known.set(product.number, product);
  for (const { product: inner } of product.contents ?? []) partsOf(inner, known);
  return known;
}

describe('the demo sledge', () => {
  test('the committed files are what the generator writes', () => {
    for (const options of [revisionA, revisionB])
      expect(readFileSync(`demo/files/hauling-sledge-${options.revision}.step`, 'utf8')).toBe(sledgeStep(options));
  });
  test('is rich enough: parts, pieces, levels, shared fasteners, mirrored pairs, tubes, a bought assembly', async () => {
    const { assembly } = await read(demo);
    const totals = structureTotals(assembly);
    expect(totals.parts).toBeGreaterThanOrEqual(45);
    expect(totals.leafOccurrences).toBeGreaterThanOrEqual(250);
    expect(Math.max(...listOccurrences(assembly, () => true).map(({ path }) => path.length))).toBeGreaterThanOrEqual(4);
    expect(assembly.components.filter(({ partNumber }) => partNumber.endsWith('-L')).length).toBeGreaterThanOrEqual(5);
    expect(
      new Set(
        assembly.components
          .filter(({ description }) => description.startsWith('TUBE'))
          .map(({ properties }) => properties.Length.value),
      ).size,
    ).toBeGreaterThanOrEqual(5);
    expect(
      assembly.components
        .filter((component) => isAssembly(component) && component.source === 'bought')
        .map(({ partNumber }) => partNumber),
    ).toEqual(['WN-350']);
    expect(assembly.findings).toEqual([]);
  });
  test('every shape comes out with the volume and the colour that the generator means', async () => {
    const content = await read(demo);
    const store = memoryStore();
    expect(await makeMeshes(content, { pool, store })).toEqual([]);
    const wanted = partsOf(sledge(revisionA));
    for (const { partNumber, shape } of content.assembly.components.filter((component) => component.shape)) {
      const mesh = unpackMesh((await store.get(meshKey(shape!)))!);
      const exact = wanted.get(partNumber)!.solids!.reduce((sum, solid) => sum + volume(solid), 0);
      expect([partNumber, Math.abs(meshVolume(mesh) / exact - 1) < 0.012], partNumber).toEqual([partNumber, true]);
      const [r, g, b] = wanted.get(partNumber)!.colour!.map((channel) => Math.round(channel * 255));
      const colour = meshColour(mesh)!;
      for (const [got, meant] of [
        [colour >> 16, r],
        [(colour >> 8) & 255, g],
        [colour & 255, b],
      ])
        expect(Math.abs(got - meant)).toBeLessThanOrEqual(1);
    }
  });
});

/** STEP text of a part whose one face has no edges: a sphere of radius 50, or a ring of radii 50 and 15. */
function edgelessPart(surface: string, start: string): string {
  return stepOf({ number: 'S', name: 'S', solids: [rod(10, 30)] })
    .replace(/MANIFOLD_SOLID_BREP\('',#\d+\)/, "MANIFOLD_SOLID_BREP('',#90006)")
    .replace(
      'ENDSEC;\nEND-ISO',
      [
        "#90000=CARTESIAN_POINT('',(0.,0.,0.));",
        "#90001=AXIS2_PLACEMENT_3D('',#90000,$,$);",
        `#90002=${surface};`,
        `#90003=VERTEX_POINT('',#90008);`,
        "#90004=FACE_BOUND('',#90007,.T.);",
        "#90005=ADVANCED_FACE('',(#90004),#90002,.T.);",
        "#90006=CLOSED_SHELL('',(#90005));",
        "#90007=VERTEX_LOOP('',#90003);",
        `#90008=CARTESIAN_POINT('',${start});`,
      ].join('\n') + '\nENDSEC;\nEND-ISO',
    );
}

describe('lines of round shapes as the kernel tessellates them', () => {
  const sumsOf = async (text: string, direction: 'front' | 'top' | 'isometric') => {
    const model = await read(bytesOf(text));
    const store = memoryStore();
    await makeMeshes(model, { pool, store });
    return sumLines((await makeView(lookAt(model.assembly, { direction }), { pool, store }, { hidden: true })).lines);
  };
  test('a rod has outlines but no line along the seam of its surface', async () => {
    const { visibleMm, tangentMm, hiddenMm } = await sumsOf(
      stepOf({ number: 'R', name: 'Rod', solids: [rod(10, 30)] }),
      'front',
    );
    expect([visibleMm, tangentMm, hiddenMm].map((value) => Math.round(value * 10) / 10)).toEqual([80, 0, 0]);
  });
  test('a rounded plate: its tangent edges are no full lines', async () => {
    const { visibleMm, tangentMm } = await sumsOf(
      stepOf({ number: 'P', name: 'Plate', solids: [prism(rounded(100, 60, 10), 0, 10)] }),
      'front',
    );
    expect([visibleMm, tangentMm].map((value) => Math.round(value * 10) / 10)).toEqual([220, 20]);
  });
  test.each(['front', 'top', 'isometric'] as const)('a sphere seen from %s is one circle', async (direction) => {
    const { visibleMm, hiddenMm } = await sumsOf(
      edgelessPart("SPHERICAL_SURFACE('',#90001,50.)", '(0.,0.,-50.)'),
      direction,
    );
    expect(Math.abs(visibleMm / (2 * Math.PI * 50) - 1)).toBeLessThan(0.03);
    expect(hiddenMm).toBeLessThan(10);
  });
  test('a ring from the top is two circles; from the front two half circles and two lines', async () => {
    const ring = edgelessPart("TOROIDAL_SURFACE('',#90001,50.,15.)", '(65.,0.,0.)');
    expect(Math.abs((await sumsOf(ring, 'top')).visibleMm / (2 * Math.PI * 100) - 1)).toBeLessThan(0.01);
    expect(Math.abs((await sumsOf(ring, 'front')).visibleMm / (2 * Math.PI * 15 + 200) - 1)).toBeLessThan(0.01);
  });
});

describe('meshes and views', () => {
  test('a shape that cannot be made is a finding that names its parts; the others are there', async () => {
    const good = await read(demo);
    const [first, second] = good.slices;
    const broken: PackedModel = {
      ...good,
      slices: [{ ...first, text: first.text.replace(/CLOSED_SHELL\('',\([^)]*\)\)/g, "CLOSED_SHELL('',())") }, second],
    };
    const store = memoryStore();
    const findings = await makeMeshes(broken, { pool, store });
    const using = good.assembly.components.filter(({ shape }) => shape === first.key).map(({ key }) => key);
    expect(findings).toEqual([
      {
        code: 'shape-failed',
        components: using,
        message: expect.stringMatching(
          /^The shape of “[^”]+” could not be made .*counted in the bill and drawn as a dashed box\.$/,
        ) as string,
      },
    ]);
    const [standIn, whole] = await Promise.all(
      [first.key, second.key].map(async (key) => (await store.get(meshKey(key)))!),
    );
    expect(Math.abs(boxDiagonal(meshBox(unpackMesh(standIn))) / boxDiagonal(first.boxMm) - 1)).toBeLessThan(0.003);
    expect(whole).not.toBeNull();
    expect(await makeMeshes(broken, { pool, store })).toEqual(findings); // said again when it is known already
  });
  test('a cancelled run stops with its reason', async () => {
    const model = await read(demo);
    const controller = new AbortController();
    const run = makeMeshes(model, { pool, store: memoryStore(), signal: controller.signal });
    controller.abort(new Error('cancelled'));
    await expect(run).rejects.toThrow('cancelled');
  });
  test('a view asked for twice is computed once', async () => {
    const model = await read(demo);
    const { assembly } = model;
    const store = memoryStore();
    await makeMeshes(model, { pool, store });
    const first = await makeView(lookAt(assembly, { direction: 'right' }), { pool, store });
    let asked = 0;
    const counting: Pool = { ...pool, view: (...args) => (asked++, pool.view(...args)) };
    expect(await makeView(lookAt(assembly, { direction: 'right' }), { pool: counting, store })).toEqual(first);
    expect(asked).toBe(0);
  });
  test('a large view is the same whether other threads help with it or none', async () => {
    const model = await read(new TextEncoder().encode(productStep(coaxialPack(), 'pack.step')));
    const store = memoryStore();
    await makeMeshes(model, { pool, store });
    const [helped, single] = [4, 1].map((threads) => startPool(process.env.SLEDGEBOARD_WORKER!, { threads }));
    const draw = (direction: DirectionName, by: Pool) =>
      makeView(lookAt(model.assembly, { direction }), { pool: by, store: { get: store.get, put: async () => {} } });
    try {
      expect(await draw('isometric', helped)).toEqual(await draw('isometric', single));
    } finally {
      await Promise.all([helped.close(), single.close()]);
    }
  });
  test('faces are shaded under the lines that a view has, without drawing those again', async () => {
    const model = await read(new TextEncoder().encode(productStep(screwedFlange(), 'flange.step')));
    const store = memoryStore();
    await makeMeshes(model, { pool, store });
    const drawn: string[] = [];
    const counting: Pool = {
      ...pool,
      view: (task, signal) => (drawn.push('lines'), pool.view(task, signal)),
      shade: (task, signal) => (drawn.push(task.shade), pool.shade(task, signal)),
    };
    const tools = { pool: counting, store };
    const only = [pathKey(listOccurrences(model.assembly, () => true).find(({ path }) => path.length > 0)!.path)];
    const look = (shade?: 'colours' | 'greys') =>
      lookAt(model.assembly, { direction: 'front', only, ...(shade ? { shade } : {}) });
    const plain = await makeView(look(), tools);
    const [greys, coloured] = [await makeView(look('greys'), tools), await makeView(look('colours'), tools)];
    expect(drawn).toEqual(['lines', 'greys', 'colours']);
    expect(plain.lines.shade).toBeUndefined();
    const { shade, shadeBox, ...same } = greys.lines;
    expect(same).toEqual(plain.lines);
    expect([...shadeBox!]).toEqual([...plain.lines.box]);
    expect(decode(shade!).width).toBeGreaterThan(100);
    expect(coloured.lines.shade).not.toEqual(shade);
  });
  test('a machine comes apart in a worker, which tells how far it is, and can be stopped', async () => {
    const bytes = new TextEncoder().encode(productStep(screwedFlange(), 'flange.step'));
    const model = await read(bytes);
    const tools = { pool, store: memoryStore() };
    await makeMeshes(model, tools);
    const look = lookAt(model.assembly, { direction: 'front' });
    const told: number[] = [];
    const { moves, locked } = await explodeLook(look, { levels: 1 }, tools, (done, of) => told.push(done / of));
    expect([moves.length, locked]).toEqual([242, []]);
    // Sixty screws up, sixty nuts down, every one along its hole.
    for (const { steps } of moves) expect([steps.length, steps[0][0], steps[0][1]]).toEqual([1, 0, 0]);
    expect(told.length).toBeGreaterThan(10);
    expect(told.every((share, at) => share <= 1 && (at === 0 || share > told[at - 1]))).toBe(true);
    const controller = new AbortController();
    const run = explodeLook(look, { levels: 1 }, { ...tools, signal: controller.signal });
    controller.abort(new Error('cancelled'));
    await expect(run).rejects.toThrow();
  });
  test('a refusal crosses the thread as a refusal', async () => {
    await expect(read(new Uint8Array(0))).rejects.toMatchObject({ name: 'Refusal', code: 'empty-file' });
  });
});

describe('what hangs on shapes', () => {
  test('of the demo: sizes as the generator means them, pictures, and no pair that is none', async () => {
    const model = await read(demo);
    const store = memoryStore();
    const findings = await makeShapes(model, { pool, store });
    const measures = await loadMeasures(model.assembly, { store });
    const of = (number: string) =>
      measures.get(model.assembly.components.find(({ partNumber }) => partNumber === number)!.shape!)!.sizes;
    for (const [number, wanted] of [
      ['SL-1412', { Length: 196, Diameter: 33.7, Wall: 2.6 }],
      ['SL-1410', { Length: 1900, Diameter: 40, Wall: 3 }],
      ['SL-1310', { Height: 18, Width: 84 }],
      ['WN-354', { Diameter: 25 }],
    ] as const) {
      for (const [name, value] of Object.entries(wanted))
        expect([number, name, of(number)[name]?.value]).toEqual([number, name, value]);
    }
    // Left and right of the demo are mirror images; where the shape has a plane of symmetry, they are one shape,
    // turned.
    for (const { code, message } of findings)
      expect([code, /-L” and “.*-R”|-R” and “.*-L”/.test(message)], message).toEqual([code, true]);
    expect(new Set(findings.map(({ code }) => code))).toEqual(new Set(['same-shape', 'mirrored-pair']));
    const picture = decode(
      (await store.get(
        thumbnailKey(model.assembly.components.find(({ partNumber }) => partNumber === 'SL-1310')!.shape!),
      ))!,
    );
    expect([picture.width, picture.height, picture.channels]).toEqual([96, 96, 4]);
    const opaque = picture.data.filter((value, at) => at % 4 === 3 && value > 0).length;
    expect(opaque).toBeGreaterThan(50);
    expect(opaque).toBeLessThan(96 * 96 * 0.5); // a slat, on nothing
    expect(await loadShapeFindings(model.assembly, { store })).toEqual(findings);
  });
  test('a second run makes nothing anew', async () => {
    const model = await read(
      bytesOf(stepOf({ number: 'P', name: 'Plate', solids: [prism(rounded(100, 60, 10), 0, 10)] })),
    );
    const store = memoryStore();
    const first = await makeShapes(model, { pool, store });
    let asked = 0;
    const counting: Pool = {
      ...pool,
      tessellate: (...args) => (asked++, pool.tessellate(...args)),
      measure: (...args) => (asked++, pool.measure(...args)),
      thumbnail: (...args) => (asked++, pool.thumbnail(...args)),
    };
    expect([await makeShapes(model, { pool: counting, store }), asked]).toEqual([first, 0]);
  });
  test('a volume that is not what the file says is a finding', async () => {
    const text = stepOf({ number: 'P', name: 'Plate', solids: [rod(10, 30)] }).replace(
      /VOLUME_MEASURE\(([\d.]+)\)/,
      'VOLUME_MEASURE(99999.)',
    );
    const findings = await makeShapes(await read(bytesOf(text)), { pool, store: memoryStore() });
    expect(
      findings.map(({ code, message }) => [code, /has \d+ % of the volume that the file says it has/.test(message)]),
    ).toEqual([['shape-differs', true]]);
  });
});

describe('workbooks', () => {
  test('the first sheet with rows, formulas by their results, dates as dates', async () => {
    const { default: excel } = await import('exceljs');
    const book = new excel.Workbook();
    book.addWorksheet('Empty');
    book.addWorksheet('Parts').addRows([
      ['Number', 'Qty', 'Due'],
      ['A-1', { formula: '1+1', result: 2 }, new Date('2026-03-02')],
      ['Ä-2', 7, null],
    ]);
    const bytes = new Uint8Array(await book.xlsx.writeBuffer());
    expect(await pool.table({ bytes, fileName: 'parts.xlsx' })).toEqual([
      ['Number', 'Qty', 'Due'],
      ['A-1', '2', '2026-03-02'],
      ['Ä-2', '7'],
    ]);
    const { assembly } = await read(bytes, 'parts.xlsx');
    expect(structureTotals(assembly)).toEqual({ leafOccurrences: 9, parts: 2, assemblies: 1 });
  });
  test('merged cells, validated ranges and links say nothing of a list, however large they are', async () => {
    const { default: excel } = await import('exceljs');
    const book = new excel.Workbook();
    const sheet = book.addWorksheet('Parts');
    sheet.addRows([
      ['Number', 'Qty'],
      ['A-1', 2],
    ]);
    const entries = unzipSync(new Uint8Array(await book.xlsx.writeBuffer()));
    const path = 'xl/worksheets/sheet1.xml';
    entries[path] = strToU8(
      strFromU8(entries[path]).replace(
        '</sheetData>',
        '</sheetData><mergeCells count="1"><mergeCell ref="C1:XFD1048576"/></mergeCells><dataValidations count="1"><dataValidation type="list" sqref="A1:XFD1048576"><formula1>"a,b"</formula1></dataValidation></dataValidations>',
      ),
    );
    expect(await pool.table({ bytes: zipSync(entries), fileName: 'parts.xlsx' })).toEqual([
      ['Number', 'Qty'],
      ['A-1', '2'],
    ]);
  });
  test('rows that reach to the last column, thousands of them, are refused', async () => {
    const row = (at: number) => `<row r="${at}"><c r="XFD${at}" t="inlineStr"><is><t>x</t></is></c></row>`;
    const { default: excel } = await import('exceljs');
    const book = new excel.Workbook();
    book.addWorksheet('Parts').addRow(['Number']);
    const entries = unzipSync(new Uint8Array(await book.xlsx.writeBuffer()));
    const path = 'xl/worksheets/sheet1.xml';
    const rows = Array.from({ length: 2000 }, (_, at) => row(at + 2)).join('');
    entries[path] = strToU8(strFromU8(entries[path]).replace('</sheetData>', `${rows}</sheetData>`));
    await expect(pool.table({ bytes: zipSync(entries), fileName: 'parts.xlsx' })).rejects.toMatchObject({
      code: 'too-many-cells',
    });
  });
  test('what is no workbook, or unpacks without end, is refused', async () => {
    await expect(read(zipSync({ 'a.txt': strToU8('x') }), 'parts.xlsx')).rejects.toMatchObject({
      code: 'not-a-workbook',
    });
    await expect(
      read(zipSync({ 'xl/workbook.xml': [new Uint8Array(250_000_000), { level: 1 }] }), 'parts.xlsx'),
    ).rejects.toMatchObject({ code: 'archive-too-large' });
  });
});

test('PDF: exact paper size, text that can be searched in every script shipped, fonts embedded', async () => {
  const source = { kind: 'note', id: '1' } as const;
  const scene: Scene = {
    widthMm: 420,
    heightMm: 297,
    title: 'Test',
    marks: [
      textMark(source, 'Deckslatte 18 × 84', 30, 30, 3.5),
      textMark(source, 'Ледобур', 30, 40, 3.5),
      { kind: 'circle', source, centre: [100, 100], radius: 6, pen: 0.25, opaque: true },
    ],
  };
  const folder = mkdtempSync(join(tmpdir(), 'sledge-pdf-'));
  writeFileSync(join(folder, 'sheet.pdf'), await scenesToPdf([scene], { title: scene.title }));
  const text = execFileSync('pdftotext', [join(folder, 'sheet.pdf'), '-'], { encoding: 'utf8' });
  const info = execFileSync('pdfinfo', [join(folder, 'sheet.pdf')], { encoding: 'utf8' });
  const fonts = execFileSync('pdffonts', [join(folder, 'sheet.pdf')], { encoding: 'utf8' })
    .trim()
    .split('\n')
    .slice(2);
  rmSync(folder, { recursive: true });
  expect(text).toContain('Deckslatte 18 × 84');
  expect(text).toContain('Ледобур');
  expect(info).toMatch(/Page size:\s+1190\.55 x 841\.89 pts \(A3\)/);
  expect(fonts.map((line) => line.split(/\s+/).slice(-5, -4))).toEqual(fonts.map(() => ['yes']));
});

describe('what is handed over', () => {
  const source = { kind: 'note', id: '1' } as const;
  const scene: Scene = {
    widthMm: 60,
    heightMm: 30,
    title: 'Figure',
    marks: [
      { kind: 'stretches', source, ends: Float64Array.of(13.333, 2, 13.333, 28), pen: 0.5 },
      { kind: 'stretches', source, ends: Float64Array.of(20, 11.117, 58, 11.117), pen: 0.5 },
      textMark(source, 'SL-3200 כננת 绞盘', 22, 20, 3.5),
    ],
  };
  /** Where the upright and the level line lie: middle of what is dark along a row and along a column. */
  function linesIn({ width, height, data, channels }: ReturnType<typeof decode>) {
    const dark = (x: number, y: number) => 255 - data[(y * width + x) * channels];
    const middle = (count: number, at: (step: number) => number) => {
      let sum = 0,
        weight = 0;
      for (let step = 0; step < count; step++) {
        sum += (step + 0.5) * at(step);
        weight += at(step);
      }
      return sum / weight;
    };
    const perMm = width / 60;
    const upright = middle(Math.round(18 * perMm), (x) => dark(x, Math.round(25 * perMm)));
    const level = middle(Math.round(14 * perMm), (y) => dark(Math.round(50 * perMm), y));
    return [upright / perMm, level / perMm, height];
  }
  test('PDF, SVG and PNG agree to 0.01 mm, read back', async () => {
    const png = linesIn(decode(await sceneToPng(scene, 1200)));
    expect(Math.abs(png[0] - 13.333)).toBeLessThan(0.01);
    expect(Math.abs(png[1] - 11.117)).toBeLessThan(0.01);
    const svg = sceneToSvg(scene);
    expect(svg).toContain('M13.333 2L13.333 28');
    expect(svg).toContain('M20 11.117L58 11.117');
    const folder = mkdtempSync(join(tmpdir(), 'sledge-out-'));
    writeFileSync(join(folder, 'figure.pdf'), await scenesToPdf([scene], { title: 'Figure' }));
    execFileSync('pdftoppm', ['-r', '1200', '-png', '-singlefile', join(folder, 'figure.pdf'), join(folder, 'page')]);
    const page = linesIn(decode(readFileSync(join(folder, 'page.png'))));
    rmSync(folder, { recursive: true });
    expect(Math.abs(page[0] - 13.333)).toBeLessThan(0.01);
    expect(Math.abs(page[1] - 11.117)).toBeLessThan(0.01);
  });
  test('a picture lies where it says, within its border, and text turned upright stands upright, in PDF and PNG alike', async () => {
    const png = encode({
      width: 2,
      height: 1,
      data: Uint8Array.of(200, 0, 0, 255, 0, 0, 200, 255),
      channels: 4,
      depth: 8,
    });
    const pictured: Scene = {
      widthMm: 60,
      heightMm: 30,
      title: 'Figure',
      marks: [
        {
          kind: 'picture',
          source,
          png,
          box: [10, 5, 30, 25],
          within: [
            [10, 5],
            [30, 5],
            [30, 15],
            [10, 15],
          ],
        },
        textAlong(source, 'HHHHHHHHHH', [45, 15], [0, -1], 3.5),
      ],
    };
    const folder = mkdtempSync(join(tmpdir(), 'sledge-picture-'));
    writeFileSync(join(folder, 'figure.pdf'), await scenesToPdf([pictured], { title: 'Figure' }));
    execFileSync('pdftoppm', ['-r', '254', '-png', '-singlefile', join(folder, 'figure.pdf'), join(folder, 'page')]);
    const pages = [decode(readFileSync(join(folder, 'page.png'))), decode(await sceneToPng(pictured, 254))];
    rmSync(folder, { recursive: true });
    for (const { width, data, channels } of pages) {
      const at = (x: number, y: number) => [
        ...data.subarray((y * 10 * width + x * 10) * channels, (y * 10 * width + x * 10) * channels + 3),
      ];
      const [left, right, below] = [at(11, 8), at(29, 8), at(11, 20)];
      expect([left[0] > left[2], right[2] > right[0]]).toEqual([true, true]);
      expect(below).toEqual([255, 255, 255]);
      // Upright the row of letters is much longer than it is wide.
      const dark: [number, number][] = [];
      for (let y = 0; y < 300; y++)
        for (let x = 320; x < 600; x++) if (data[(y * width + x) * channels] < 90) dark.push([x, y]);
      const reach = (axis: 0 | 1) =>
        dark.reduce((most, point) => Math.max(most, point[axis]), 0) -
        dark.reduce((least, point) => Math.min(least, point[axis]), Infinity);
      expect(reach(1)).toBeGreaterThan(4 * reach(0));
      expect(reach(0) / 10).toBeCloseTo(3.5, 0);
    }
  });
  test('the same sheet gives the same bytes, whenever it is asked for', async () => {
    const facts = { title: 'Figure', author: 'T. Halvorsdal', date: '2026-03-02' };
    const made = async () =>
      [await scenesToPdf([scene, scene], facts), await sceneToPng(scene, 150), sceneToSvg(scene)].map((one) =>
        Buffer.from(one as never).toString('base64'),
      );
    const first = await made();
    await new Promise((resolve) => setTimeout(resolve, 1100)); // dates in files have whole seconds
    expect(await made()).toEqual(first);
  });
  test('a set has a page and a bookmark per sheet, labelled with its number in the set; author and date of the title block', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'sledge-set-'));
    const pdf = join(folder, 'set.pdf');
    const facts = { title: 'Set', author: 'T. Halvorsdal', date: '2026-03-02' };
    writeFileSync(pdf, await scenesToPdf([scene, { ...scene, title: 'Details', widthMm: 90 }], facts, 3));
    const info = execFileSync('pdfinfo', ['-l', '2', '-isodates', pdf], { encoding: 'utf8' });
    const plain = readFileSync(pdf, 'latin1');
    rmSync(folder, { recursive: true });
    expect(info).toMatch(/Author:\s+T\. Halvorsdal/);
    expect(info).toMatch(/CreationDate:\s+2026-03-02T00:00:00/);
    expect(info.match(/Page +\d size:\s+[\d.]+/g)).toEqual(['Page    1 size:  170.079', 'Page    2 size:  255.118']);
    expect(plain).toMatch(/PageLabels[\s\S]{0,80}\/St 3/);
    expect(plain).toContain('/Title (3 Figure)');
    expect(plain).toContain('/Title (4 Details)');
  });
  test('a picture with more dots than there is memory for is refused, with what would do', async () => {
    const large = { ...scene, widthMm: 1189, heightMm: 841 };
    await expect(sceneToPng(large, 1200)).rejects.toThrow(/311 per inch is the most/);
    await expect(sceneToPng(scene, 5)).rejects.toThrow(/20 the least/);
  });
});

describe('a logo', () => {
  const svg = (inside: string, size = 'width="200" height="100"') =>
    new TextEncoder().encode(`<svg xmlns="http://www.w3.org/2000/svg" ${size}>${inside}</svg>`);
  test('PNG and SVG become a PNG of their own shape; what an SVG would run or fetch is not there', async () => {
    const plain = encode({
      width: 3,
      height: 1,
      data: Uint8Array.of(255, 0, 0, 0, 255, 0, 0, 0, 255),
      channels: 3,
      depth: 8,
    });
    const fromPng = await readLogo(plain);
    expect(fromPng.ratio).toBeCloseTo(3, 2);
    expect(decode(fromPng.png).width).toBe(960);
    const drawn = await readLogo(
      svg(
        '<script>while(true){}</script><rect width="100" height="100" fill="#f00"/><image width="100" height="100" x="100" href="http://127.0.0.1:1/x.png"/>',
      ),
    );
    expect(drawn.ratio).toBeCloseTo(2, 2);
    const { data, width, channels } = decode(drawn.png);
    expect([...data.subarray(0, 3)]).toEqual([255, 0, 0]);
    expect(data[(width - 1) * channels + 3]).toBe(0);
  });
  test.each([
    ['no picture', new TextEncoder().encode('a list of parts')],
    ['a PNG cut short', Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0)],
    ['an SVG that is not closed', new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"><g>')],
    ['entities that grow', new TextEncoder().encode('<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg>&a;</svg>')],
    ['nothing', new Uint8Array()],
  ])('%s is refused in a sentence', async (_, bytes) => {
    await expect(readLogo(bytes)).rejects.toThrow('no PNG or SVG picture');
  });
  test('a picture within a drawing counts its dots: 400 million of one colour are a few kilobytes', async () => {
    const png = (width: number, height: number) => {
      const bytes = encode({ width: 1, height: 1, data: Uint8Array.of(255, 0, 0), channels: 3, depth: 8 }).slice();
      const head = new DataView(bytes.buffer, bytes.byteOffset);
      head.setUint32(16, width);
      head.setUint32(20, height);
      return Buffer.from(bytes).toString('base64');
    };
    const image = (kind: string, packed: string) =>
      `<g><image width="9" height="9" xlink:href=" data:image/${kind};base64,${packed}" xmlns:xlink="http://www.w3.org/1999/xlink"/></g>`;
    await expect(readLogo(svg(image('png', png(20_000, 20_000))))).rejects.toThrow('40 million dots');
    await expect(readLogo(svg(image('png', png(5000, 5000)).repeat(2)))).rejects.toThrow('40 million dots');
    await expect(readLogo(svg(image('jpeg', png(9, 9))))).rejects.toThrow('no PNG');
    await expect(readLogo(svg(image('svg+xml', 'PHN2Zy8+')))).rejects.toThrow('no PNG');
    expect((await readLogo(svg(image('png', png(1, 1))))).ratio).toBeCloseTo(2, 2);
  });
  test('what is too large or too long is refused', async () => {
    await expect(readLogo(new Uint8Array(2.1e6))).rejects.toThrow('2.1 MB');
    await expect(readLogo(svg('', 'width="5000" height="10"'))).rejects.toThrow('twenty times');
    await expect(readLogo(svg('', 'width="1" height="1000000"'))).rejects.toThrow('too high for its width');
    const vast = new Uint8Array(40);
    vast.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
    new DataView(vast.buffer).setUint32(16, 100_000);
    new DataView(vast.buffer).setUint32(20, 100_000);
    await expect(readLogo(vast)).rejects.toThrow('100000 × 100000');
  });
});
