import fc from 'fast-check';
import { strToU8, zipSync, type Zippable } from 'fflate';
import { describe, expect, test } from 'vitest';
import { listOccurrences, partLabel, structureTotals, type Assembly } from '../assembly/index.ts';
import { makeBill } from '../bill/index.ts';
import { applyToPoint, meshBox, meshVolume } from '../geometry/index.ts';
import { bytesOf, group, part, stepOf, times } from '../../../testkit/stepFiles.ts';
import { parseTable, proposeMapping, readModel, readStructureList, readTable, unzipBounded } from './index.ts';
import { crc32 } from './zip.ts';
import { read3mf } from './threeMf.ts';
import { readGltf } from './gltf.ts';
import { gltf, gltfBinary, wedgeBytes } from '../../../testkit/gltf.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const lines = (assembly: Assembly) =>
  makeBill(assembly, { depth: 'parts-only', identity: 'part-number' }).rows.map(
    (row) => `${row.quantity} ${partLabel(assembly.components[row.components[0]])}`,
  );
const refusal = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    expect(error).toMatchObject({ name: 'Refusal' });
    return (error as Error).message;
  }
  return 'read without complaint';
};

const asText = (value: object) => bytes(JSON.stringify(value));
const foot = (first: number) => ({ name: `Foot.00${first}`, children: [first, first + 1] });
const table = gltf([
  { name: 'Table', children: [1, 4] },
  foot(2),
  { name: 'Bolt', mesh: 0, extras: { partNumber: 'B-1', coating: 'zinc' } },
  { name: 'Bolt.001', mesh: 0, translation: [2, 0, 0], extras: { partNumber: 'B-1', coating: 'zinc' } },
  foot(5),
  { name: 'Bolt.002', mesh: 0, extras: { partNumber: 'B-1', coating: 'zinc' } },
  { name: 'Bolt.003', mesh: 0, translation: [2, 0, 0], extras: { partNumber: 'B-1', coating: 'zinc' } },
]);

describe('glTF', () => {
  test.each([
    ['text', asText(table)],
    ['binary', gltfBinary(table)],
  ])('%s: nodes are structure, alike ones one component, extras are facts', (_, file) => {
    const { assembly, meshes, slices } = readGltf(file);
    expect(structureTotals(assembly)).toEqual({ leafOccurrences: 4, parts: 1, assemblies: 2 });
    expect(assembly.components.map(({ name, partNumber, properties }) => [name, partNumber, properties])).toEqual([
      ['Table', '', {}],
      ['Foot', '', {}],
      ['Wedge', 'B-1', { coating: { value: 'zinc' } }],
    ]);
    expect([meshes.length, slices.length, assembly.findings]).toEqual([1, 0, []]);
    expect(meshVolume(meshes[0].mesh) / (1e9 / 6)).toBeCloseTo(1, 6);
    expect([...new Set(meshes[0].mesh.faceColours)]).toEqual([0xff0000]);
  });
  test('y up becomes z up, metres become millimetres', () => {
    const { assembly, meshes } = readGltf(
      asText(
        gltf([
          { name: 'Top', children: [1] },
          { name: 'W', mesh: 0, translation: [1, 2, 3], rotation: [0, Math.SQRT1_2, 0, Math.SQRT1_2] },
        ]),
      ),
    );
    const [{ placement }] = listOccurrences(assembly, (index) => assembly.components[index].shape !== null);
    const at = (x: number, y: number, z: number) =>
      applyToPoint(placement, [x, y, z]).map((value) => Math.round(value));
    expect(at(0, 0, 0)).toEqual([1000, -3000, 2000]);
    expect(at(1000, 0, 0)).toEqual([1000, -2000, 2000]); // turned about what points up: x goes to −z there, which is y here
    expect(meshBox(meshes[0].mesh)).toEqual([0, -1000, 0, 1000, 0, 1000]);
  });
  test('several roots stand under an unnamed top; a matrix is a placement', () => {
    const two = gltf(
      [
        { name: 'A', mesh: 0 },
        { name: 'B', mesh: 0, matrix: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 5, 0, 0, 1] },
      ],
      { scenes: [{ nodes: [0, 1] }] },
    );
    const { assembly } = readGltf(asText(two));
    expect(assembly.components[assembly.root].name).toBe('');
    expect(assembly.components[assembly.root].usages.map(({ label, placement }) => [label, placement[3]])).toEqual([
      ['A', 0],
      ['B', 5000],
    ]);
  });
  test('buffers in other files and packed meshes cost the picture, not the line', () => {
    const elsewhere = readGltf(asText({ ...table, buffers: [{ byteLength: 72, uri: 'parts/wedge.bin' }] }));
    expect(elsewhere.assembly.findings).toEqual([
      {
        code: 'external-file',
        message:
          'Shapes stand in another file, “wedge.bin”, that was not given; they are counted but not drawn. Export as one binary file (.glb) to have them.',
      },
    ]);
    expect(lines(elsewhere.assembly)).toEqual(['4 B-1']);
    const packed = gltf([{ name: 'W', mesh: 0 }], {
      meshes: [
        {
          name: 'Wedge',
          primitives: [{ attributes: { POSITION: 0 }, extensions: { KHR_draco_mesh_compression: {} } }],
        },
      ],
    });
    expect(readGltf(asText(packed)).assembly.findings[0].message).toMatch(
      /“Wedge” is packed by KHR_draco_mesh_compression/,
    );
  });
  test.each<[string, Uint8Array, RegExp]>([
    ['a node that is missing', asText(gltf([{ name: 'Top', children: [7] }])), /refers to node 7, but it has 1/],
    ['a node in itself', asText(gltf([{ name: 'Top', children: [0] }])), /stands in two places or in itself/],
    ['a mesh that is missing', asText(gltf([{ name: 'Top', mesh: 3 }])), /refers to mesh 3/],
    ['no JSON', bytes('{"asset":'), /no valid JSON/],
    ['version 1', bytes('{"asset":{"version":"1.0"}}'), /version 1\.0; version 2 can be read/],
    [
      'a cut binary file',
      gltfBinary(table).subarray(0, 3000),
      /is cut off: it says it has \d+ bytes, but there are 3000/,
    ],
    ['no nodes', bytes('{"asset":{"version":"2.0"}}'), /no nodes/],
  ])('%s is refused', (_, file, words) => expect(refusal(() => readGltf(file))).toMatch(words));
  test('a damaged file is read or refused, never anything else', () => {
    const whole = gltfBinary(table);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1800 }), fc.integer({ min: 0, max: 255 }), (at, byte) => {
        const damaged = whole.slice();
        damaged[at] = byte;
        refusal(() => readGltf(damaged));
      }),
      { numRuns: 300 },
    );
  });
});

const model = (body: string, unit = 'millimeter', extra = '') =>
  `<?xml version="1.0"?><model unit="${unit}" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02" xmlns:p="http://schemas.microsoft.com/3dmanufacturing/production/2015/06">${extra}${body}</model>`;
const wedge = (id: number, attributes = '') =>
  `<object id="${id}" type="model" ${attributes}><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="10" y="0" z="0"/><vertex x="0" y="10" z="0"/><vertex x="0" y="0" z="10"/></vertices><triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="0" v2="3" v3="2"/><triangle v1="1" v2="2" v3="3"/></triangles></mesh></object>`;
const pack = (text: string, more: Zippable = {}) =>
  zipSync({
    '_rels/.rels': strToU8(
      '<Relationships><Relationship Target="/3D/3dmodel.model" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>',
    ),
    '3D/3dmodel.model': strToU8(text),
    ...more,
  });
const footObjects = `<resources><basematerials id="9"><base name="Ash" displaycolor="#AA8855FF"/></basematerials>${wedge(1, 'name="Bolt &amp; nut" partnumber="B-1" pid="9" pindex="0"')}<object id="2" name="Foot"><metadatagroup><metadata name="Supplier">Camp</metadata></metadatagroup><components><component objectid="1"/><component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 6 7"/></components></object></resources>`;

describe('3MF', () => {
  test('objects are components, shared by id; part numbers, materials, metadata and places', () => {
    const { assembly, meshes } = read3mf(
      pack(
        model(
          `${footObjects}<build><item objectid="2"/><item objectid="2" transform="0 1 0 -1 0 0 0 0 1 100 0 0"/></build>`,
        ),
      ),
    );
    expect(structureTotals(assembly)).toEqual({ leafOccurrences: 4, parts: 1, assemblies: 2 });
    expect(assembly.components[0]).toMatchObject({
      partNumber: 'B-1',
      name: 'Bolt & nut',
      properties: { Material: { value: 'Ash' } },
    });
    expect(assembly.components[1]).toMatchObject({ name: 'Foot', properties: { Supplier: { value: 'Camp' } } });
    expect(meshVolume(meshes[0].mesh)).toBeCloseTo(1000 / 6, 6);
    expect([...new Set(meshes[0].mesh.faceColours)]).toEqual([0xaa8855]);
    const places = listOccurrences(assembly, (index) => assembly.components[index].shape !== null).map(
      ({ placement }) => applyToPoint(placement, [0, 0, 0]).map(Math.round),
    );
    expect(places).toEqual([
      [0, 0, 0],
      [5, 6, 7],
      [100, 0, 0],
      [94, 5, 7],
    ]);
  });
  test('units become millimetres, also of places', () => {
    const { assembly, meshes } = read3mf(pack(model(`${footObjects}<build><item objectid="2"/></build>`, 'inch')));
    expect([
      assembly.sourceUnit,
      assembly.components[assembly.root].usages[1].placement[3],
      meshBox(meshes[0].mesh)[3],
    ]).toEqual(['inch', 127, 254]);
  });
  test('elements that are not read are found, by name and count', () => {
    const text = model(
      `<resources>${wedge(1, 'name="Bolt"')}<x:hidden id="7"><x:part/><x:part/></x:hidden></resources><build><item objectid="1"/></build>`,
    );
    const { assembly } = read3mf(pack(text.replace('<model ', '<model xmlns:x="urn:x" ')));
    expect(assembly.findings).toMatchObject([
      { code: 'unknown-elements', message: expect.stringContaining('hidden (1), part (2)') as string },
    ]);
  });
  test('three thousand parts of the package in a chain, and 140,000 places in one object', () => {
    const count = 3000;
    const more = Object.fromEntries(
      Array.from({ length: count }, (_, at) => [
        `3D/part${at}.model`,
        strToU8(
          model(
            at === count - 1
              ? `<resources>${wedge(1, 'name="Last"')}</resources><build/>`
              : `<resources><object id="1"><components><component objectid="1" p:path="/3D/part${at + 1}.model"/></components></object></resources><build/>`,
          ),
        ),
      ]),
    );
    const chain = pack(model('<resources/><build><item objectid="1" p:path="/3D/part0.model"/></build>'), more);
    expect(refusal(() => read3mf(chain))).toMatch(/levels deep/);
    const places = '<component objectid="1"/>'.repeat(140_000);
    const wide = model(
      `<resources>${wedge(1, 'name="Bolt"')}<object id="2"><components>${places}</components></object></resources><build><item objectid="2"/></build>`,
    );
    expect(structureTotals(read3mf(pack(wide)).assembly).leafOccurrences).toBe(140_000);
  });
  test('the model is found among relations of three megabytes', () => {
    const relations = `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${'<Relationship Id="a" Target="b" Type="c"/>'.repeat(75_000)}</Relationships>`;
    const text = model(`<resources>${wedge(1, 'name="Bolt"')}</resources><build><item objectid="1"/></build>`);
    expect(lines(read3mf(pack(text, { '_rels/.rels': strToU8(relations) })).assembly)).toEqual(['1 Bolt']);
  });
  test('objects in further parts of the package', () => {
    const text = model('<resources/><build><item objectid="5" p:path="/3D/other.model"/></build>');
    expect(
      lines(
        read3mf(
          pack(text, {
            '3D/other.model': strToU8(model(`<resources>${wedge(5, 'name="Plate"')}</resources><build/>`)),
          }),
        ).assembly,
      ),
    ).toEqual(['1 Plate']);
    expect(refusal(() => read3mf(pack(text)))).toMatch(/refers to “3D\/other\.model”, which it does not hold/);
  });
  test.each<[string, string, RegExp]>([
    ['an object that is missing', model('<resources/><build><item objectid="4"/></build>'), /refers to object 4/],
    [
      'an object in itself',
      model(
        '<resources><object id="1"><components><component objectid="1"/></components></object></resources><build><item objectid="1"/></build>',
      ),
      /Object 1 of the 3MF package contains itself/,
    ],
    [
      'a ring of objects',
      model(
        '<resources><object id="1"><components><component objectid="2"/></components></object><object id="2"><components><component objectid="1"/></components></object></resources><build><item objectid="1"/></build>',
      ),
      /contains itself/,
    ],
    [
      'an object twice',
      model(`<resources>${wedge(1)}${wedge(1)}</resources><build><item objectid="1"/></build>`),
      /Object 1 is defined twice/,
    ],
    [
      'damaged XML',
      model('<resources><object id="1"><mesh></object></resources><build/>'),
      /“3D\/3dmodel\.model” of the 3MF package is damaged/,
    ],
    ['an unknown unit', model('<resources/><build/>', 'ell'), /is in “ell”/],
    ['nothing to build', model(`<resources>${wedge(1)}</resources><build/>`), /no build items/],
  ])('%s is refused', (_, text, words) => expect(refusal(() => read3mf(pack(text)))).toMatch(words));
  test('entities that grow when they are read are not let in', () => {
    const bomb =
      '<?xml version="1.0"?><!DOCTYPE m [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]><model unit="millimeter"><resources><object id="1" name="&b;"/></resources></model>';
    expect(refusal(() => read3mf(pack(bomb)))).toMatch(/is damaged/);
  });
});

describe('archives', () => {
  test('an archive that unpacks to more than its bound is refused before it fills the memory', () => {
    const bomb = zipSync({ '3D/3dmodel.model': new Uint8Array(60_000_000) });
    expect(bomb.length).toBeLessThan(100_000);
    expect(refusal(() => unzipBounded(bomb, () => true, { bytes: 10_000_000, entries: 10 }))).toMatch(
      /unpacks to more than 10 MB/,
    );
    expect(
      refusal(() =>
        unzipBounded(
          zipSync(Object.fromEntries(Array.from({ length: 20 }, (_, at) => [`f${at}`, strToU8('x')]))),
          () => true,
          { bytes: 100, entries: 10 },
        ),
      ),
    ).toMatch(/or 10 entries/);
  });
  test('cut off or damaged, it is refused', () => {
    const whole = pack(model(`${footObjects}<build><item objectid="2"/></build>`));
    fc.assert(
      fc.property(fc.integer({ min: 30, max: whole.length - 200 }), (at) => {
        expect(refusal(() => read3mf(whole.subarray(0, at)))).not.toBe('read without complaint');
      }),
      { numRuns: 60 },
    );
  });
});

describe('structure lists', () => {
  const list = (text: string) => {
    const rows = parseTable(bytes(text));
    return readStructureList(rows, proposeMapping(rows)).assembly;
  };
  const tree = (assembly: Assembly, at = assembly.root, indent = ''): string[] =>
    assembly.components[at].usages.flatMap(({ child, quantity }) => [
      `${indent}${quantity} ${partLabel(assembly.components[child])}`,
      ...tree(assembly, child, `${indent}  `),
    ]);

  test('by a level column; a part seen before is a further use of it', () => {
    const assembly = list(
      'Level;Part number;Name;Qty;Material\n0;A-1;Table;1;\n1;F-1;Foot;4;\n2;B-1;Bolt;2;A4-70\n2;P-1;Plate;1;Steel\n1;B-1;Bolt;3;A4-70',
    );
    expect(tree(assembly)).toEqual(['4 F-1', '  2 B-1', '  1 P-1', '3 B-1']);
    expect(assembly.components.find(({ partNumber }) => partNumber === 'B-1')!.properties).toEqual({
      Material: { value: 'A4-70' },
    });
    expect(lines(assembly)).toEqual(['11 B-1', '4 P-1']);
  });
  test('by item numbers', () =>
    expect(tree(list('Item,Part number,Quantity\n1,F-1,4\n1.1,B-1,2\n1.2,P-1,1\n2,T-1,1'))).toEqual([
      '4 F-1',
      '  2 B-1',
      '  1 P-1',
      '1 T-1',
    ]));
  test('by parent and part, in any order of rows', () =>
    expect(
      tree(
        list('Parent\tPart number\tName\tQty\nF-1\tB-1\tBolt\t2\nA-1\tF-1\tFoot\t4\n\tA-1\tTable\t\nA-1\tT-1\tTop\t1'),
      ),
    ).toEqual(['4 F-1', '  2 B-1', '1 T-1']));
  test('flat, with headings in another language and below a title', () =>
    expect(lines(list('Stückliste Schlitten;;\n;;\nSachnummer;Benennung;Menge\nA-1;Kufe;2 Stk\nA-2;Brett;7'))).toEqual([
      '2 A-1',
      '7 A-2',
    ]));
  test('levels as some write them, quantity 0 is no piece', () =>
    expect(tree(list('Lvl,Number,Qty\n.1,F-1,1\n..2,B-1,2\n..2,X-1,0'))).toEqual(['2 B-1']));
  test.each<[string, string, RegExp]>([
    ['a level left out', 'Level,Number\n0,A\n2,B', /^Row 3: level 2 follows level 0/],
    ['a level that is none', 'Level,Number\n0,A\nx,B', /^Row 3: the level “x”/],
    ['half a piece', 'Number,Qty\nA,1.5', /^Row 2: the quantity “1\.5” is no whole number/],
    ['parts in each other', 'Parent,Number\nA,B\nB,A', /cyclic: “\w” contains “\w”/],
    ['no column of parts', 'Level,Qty\n1,2', /No column says which part a row is/],
    ['no rows', 'Number,Qty\n', /no rows with a part/],
  ])('%s is refused with its row', (_, text, words) => expect(refusal(() => list(text))).toMatch(words));
  test('a quotation mark that is never closed is refused with its row: it would swallow the rows behind it', () => {
    expect(refusal(() => list('Number,Name,Qty\nA,Slat,1\nB,"Beam,2\nC,Cord,3\n'))).toMatch(/^Row 3: a quotation mark/);
    expect(lines(list('Number,Name,Qty\nA,"Slat, ""long""",1\nB,Beam,2'))).toEqual(['1 A', '2 B']);
  });
  test.each([
    ['more cells than headings', 'Number,Name,Qty\nA,Slat,1\nB,Beam, long,2\n', /^Row 3 of the list has more cells/],
    ['a last row cut short', 'Number,Name,Qty\nA,Slat,1\nB,Be', /^Row 3, the last of the list, has 2 of 3 cells/],
    ['another encoding', 'Number,Name\nA,Größe', /^The list is not UTF-8; its texts were read as Windows-1252/],
  ])('%s is told', (_, text, sentence) => {
    const encoded = /ö/.test(text) ? Uint8Array.from(Buffer.from(text, 'latin1')) : bytes(text);
    expect(readTable(encoded).findings.map(({ message }) => message)).toEqual([expect.stringMatching(sentence)]);
  });
  test('an ordinary list has nothing to tell, nor one whose rows all leave out what is empty', () =>
    expect(readTable(bytes('Number,Name,Qty\nA,Slat\nB,Beam\n')).findings).toEqual([]));
  test('texts of other systems', () => {
    expect(parseTable(Uint8Array.of(0xff, 0xfe, ...Buffer.from('Größe;1\n', 'utf16le')))).toEqual([['Größe', '1']]);
    expect(parseTable(Uint8Array.from(Buffer.from('Größe;1\n', 'latin1')))).toEqual([['Größe', '1']]);
    expect(refusal(() => parseTable(Uint8Array.of(1, 2, 3, 0)))).toMatch(/binary data/);
  });
});

test.each<[string, Uint8Array, RegExp]>([
  ['a.step', new Uint8Array(0), /empty \(0 bytes\)/],
  ['a.stp', bytes('solid cube'), /This is not a STEP file/],
  ['a.xyz', bytes('solid cube'), /This is no file that can be read: it begins with “solid cube”/],
  ['picture.3mf', Uint8Array.of(0x89, 0x50, 0x4e, 0x47), /the mark of a PNG picture/],
  ['list.3mf', zipSync({ 'a.txt': strToU8('x') }), /no 3D model/],
])('%s is refused by what it is', async (name, file, words) =>
  expect(
    await readModel(file, name, { shapes: false }).then(
      () => 'read',
      (error: Error) => error.message,
    ),
  ).toMatch(words),
);

test('different products under one number are a finding before any shape is made', async () => {
  const text = stepOf(
    group('A', 'Top', ...times(1, part('X-1', 'Plate', 10)), ...times(1, { ...part('X-1', 'Bracket', 12) })),
  );
  const { assembly } = await readModel(bytesOf(text), 'a.step', { shapes: false });
  expect(assembly.findings.map(({ code, message }) => [code, message])).toEqual([
    [
      'number-of-several',
      'Number “X-1” stands on 2 different products: “Plate”, “Bracket”. Counted by number they are one line; give one of them another number, or count by name.',
    ],
  ]);
});

describe('what a few bytes claim to hold', () => {
  test('elements of an accessor that lie over one another are not read: 10⁸ of them took the memory of the process', () => {
    const buffer = Buffer.alloc(36).toString('base64');
    const file = {
      asset: { version: '2.0' },
      scenes: [{ nodes: [0] }],
      nodes: [{ mesh: 0 }],
      meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
      accessors: [{ bufferView: 0, componentType: 5126, count: 1e8, type: 'VEC3' }],
      bufferViews: [{ buffer: 0, byteLength: 36, byteStride: 0 }],
      buffers: [{ byteLength: 36, uri: `data:application/octet-stream;base64,${buffer}` }],
    };
    expect(readGltf(bytes(JSON.stringify(file))).meshes).toEqual([]);
  });
  test('an entry of an archive that is not what was packed is refused by its checksum', () => {
    const packed = zipSync({ 'a.txt': strToU8('forty-two bolts') }, { level: 0 });
    expect(new TextDecoder().decode(unzipBounded(packed, () => true).get('a.txt'))).toBe('forty-two bolts');
    const damaged = packed.slice();
    damaged[Buffer.from(packed).indexOf('forty')] ^= 1;
    expect(refusal(() => unzipBounded(damaged, () => true))).toMatch(/“a\.txt” is not what was packed/);
    expect(refusal(() => unzipBounded(packed.slice(0, -30), () => true))).toMatch(/damaged/);
  });
  test('the checksum is that of the standard', () => expect(crc32(bytes('123456789'))).toBe(0xcbf43926));
});

describe('what a file cannot hold is refused before it is made', () => {
  test('glTF meshes that take the same points again and again', () => {
    const corners = 30_000;
    const many = gltf([{ name: 'Top', mesh: 0 }], {
      meshes: [{ primitives: Array.from({ length: 3000 }, (_, at) => ({ attributes: { POSITION: at } })) }],
      accessors: Array.from({ length: 3000 }, () => ({
        bufferView: 0,
        componentType: 5126,
        count: corners,
        type: 'VEC3',
      })),
      bufferViews: [{ buffer: 0, byteLength: corners * 12 }],
      buffers: [
        {
          byteLength: corners * 12,
          uri: `data:application/octet-stream;base64,${Buffer.alloc(corners * 12).toString('base64')}`,
        },
      ],
    });
    expect(refusal(() => readGltf(asText(many)))).toContain('far more points than its buffers hold');
  });
  test('glTF primitives of one mesh that share their points take them once', () => {
    const corners = 30_000;
    const points = Buffer.alloc(corners * 12);
    points.set(wedgeBytes.subarray(0, 48));
    const shared = gltf([{ name: 'Top', mesh: 0 }], {
      meshes: [{ primitives: Array.from({ length: 3000 }, () => ({ attributes: { POSITION: 0 }, indices: 1 })) }],
      accessors: [
        { bufferView: 0, componentType: 5126, count: corners, type: 'VEC3' },
        { bufferView: 1, componentType: 5123, count: 12, type: 'SCALAR' },
      ],
      bufferViews: [
        { buffer: 0, byteLength: corners * 12 },
        { buffer: 0, byteOffset: corners * 12, byteLength: 24 },
      ],
      buffers: [
        {
          byteLength: corners * 12 + 24,
          uri: `data:application/octet-stream;base64,${Buffer.concat([points, wedgeBytes.subarray(48)]).toString('base64')}`,
        },
      ],
    });
    expect(readGltf(asText(shared)).meshes[0].mesh.triangles.length).toBe(3000 * 12);
  });
});

test('glTF nodes of no scene are found, by name', () => {
  const { assembly } = readGltf(
    asText(
      gltf([
        { name: 'Top', children: [1] },
        { name: 'Bolt', mesh: 0 },
        { name: 'Forgotten', mesh: 0 },
      ]),
    ),
  );
  expect(structureTotals(assembly).leafOccurrences).toBe(1);
  expect(assembly.findings).toMatchObject([
    { code: 'not-in-scene', message: expect.stringContaining('“Forgotten”') as string },
  ]);
});

test('glTF extras called like what every object has are properties', () => {
  const { assembly } = readGltf(
    asText(gltf([{ name: 'Top', mesh: 0, extras: { constructor: 'x', toString: 'y', valueOf: 3 } }])),
  );
  expect(assembly.components.flatMap(({ properties }) => Object.keys(properties)).sort()).toEqual([
    'constructor',
    'toString',
    'valueOf',
  ]);
});
