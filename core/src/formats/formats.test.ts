import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { makeBill } from '../bill/index.ts';
import { newColumn } from '../columns/index.ts';
import { textMark, type Scene } from '../marks/index.ts';
import { drawView, viewPlacement } from '../views/index.ts';
import { body, boxMesh } from '../../../testkit/shapes.ts';
import {
  billJson,
  billToText,
  packMesh,
  packRecord,
  packViewLines,
  sceneToSvg,
  unpackMesh,
  unpackRecord,
  unpackViewLines,
  viewToSvg,
} from './index.ts';

describe('packed records', () => {
  test('arrays and values come back as they were, from any offset', () => {
    fc.assert(
      fc.property(fc.float64Array(), fc.uint8Array(), fc.jsonValue(), fc.nat(7), (numbers, bytes, values, offset) => {
        const packed = packRecord(values, { numbers: Float64Array.from(numbers), bytes: Uint8Array.from(bytes) });
        const moved = new Uint8Array(packed.length + offset);
        moved.set(packed, offset);
        const back = unpackRecord(moved.subarray(offset));
        expect(back.values).toEqual(JSON.parse(JSON.stringify(values)));
        expect([...back.arrays.numbers]).toEqual([...numbers]);
        expect([...back.arrays.bytes]).toEqual([...bytes]);
      }),
    );
  });
  test('meshes and view lines', () => {
    const mesh = boxMesh(1, 2, 3);
    expect(unpackMesh(packMesh(mesh))).toEqual(mesh);
    const lines = drawView([body(mesh)], viewPlacement('isometric'));
    expect(unpackViewLines(packViewLines(lines))).toEqual(lines);
  });
  test('what is no packed record, or cut off, is refused', () => {
    expect(() => unpackRecord(Uint8Array.of(1, 2, 3, 4, 5, 6, 7, 8))).toThrow(
      'Not a packed record: it begins with 1 2 3 4.',
    );
    const packed = packRecord(null, { numbers: new Float64Array(10) });
    expect(() => unpackRecord(packed.slice(0, -16))).toThrow('The packed record is cut off inside “numbers”.');
  });
});

describe('the bill for other programs', () => {
  const assembly = assemblyOf(
    node(
      'TOP',
      [2, leaf('A-1', { name: 'Slat, 18 "thick"', material: '=1+1' })],
      [1, leaf('B-2', { name: 'Ледобур' })],
    ),
  );
  const bill = makeBill(assembly, { depth: 'structured', identity: 'part-number' });
  const columns = (['item', 'quantity', 'partNumber', 'name', 'property:Material'] as const).map((source) =>
    newColumn(source),
  );
  test('CSV: quoted where needed, and no cell runs as a formula', () => {
    const parsed = Papa.parse<string[]>(billToText(bill, columns, ',').trimEnd()).data;
    expect(parsed).toEqual([
      ['Item', 'Qty', 'Part number', 'Name', 'Material'],
      ['1', '2', 'A-1', 'Slat, 18 "thick"', "'=1+1"],
      ['2', '1', 'B-2', 'Ледобур', ''],
    ]);
  });
  test('TSV has the same cells', () => {
    expect(billToText(bill, columns, '\t').split('\r\n')[2]).toBe('2\t1\tB-2\tЛедобур\t');
  });
  test('JSON: totals, and a record per line', () => {
    expect(JSON.parse([...billJson(assembly, bill, 'x.step')].join(''))).toMatchObject({
      file: 'x.step',
      depth: 'structured',
      leafOccurrences: 3,
      parts: 2,
      assemblies: 1,
      rows: [
        {
          item: '1',
          level: 1,
          kind: 'part',
          partNumber: 'A-1',
          quantity: 2,
          totalQuantity: 2,
          properties: { Material: { value: '=1+1' } },
        },
        { item: '2', name: 'Ледобур' },
      ],
    });
  });
});

test('SVG: the size in mm, every text whole, and nothing of a name can break it', () => {
  const scene: Scene = {
    widthMm: 420,
    heightMm: 297,
    title: 'A & B',
    marks: [textMark({ kind: 'note', id: '"<x>' }, 'Ø40 <b> & "c"', 10, 10, 3.5)],
  };
  const svg = sceneToSvg(scene);
  expect(svg).toContain('width="420mm" height="297mm" viewBox="0 0 420 297"');
  expect(svg).toContain('>Ø40 &lt;b&gt; &amp; &quot;c&quot;</text>');
  expect(svg.match(/ x="([^"]+)"/)![1].split(' ')).toHaveLength([...'Ø40 <b> & "c"'].length);
});

test('a view as SVG draws hidden lines dashed and leaves hidden tangent ones out', () => {
  const lines = drawView([body(boxMesh(30, 20, 10))], viewPlacement('isometric'));
  const svgAs = (look: Parameters<typeof viewToSvg>[5]) =>
    viewToSvg(lines.ends, lines.kinds, lines.visible, lines.box, 'box', look);
  expect([svgAs({}), svgAs({ hidden: false })].map((svg) => svg.includes('stroke-dasharray'))).toEqual([true, false]);
});

test('smooth edges of a view stand in the SVG thin, like the others, or not', () => {
  // One edge of each kind.
  const svgAs = (tangent: 'thin' | 'full' | 'none') =>
    viewToSvg(Float64Array.of(0, 0, 10, 0, 0, 5, 10, 5), Uint8Array.of(0, 2), Uint8Array.of(1, 1), [0, 0, 10, 5], 'v', {
      tangent,
    });
  const paths = (svg: string) => svg.match(/<path d="[^"]*"/g)!.map((path) => path.split('M').length - 1);
  expect([paths(svgAs('thin')), paths(svgAs('full')), paths(svgAs('none'))]).toEqual([[1, 1], [2], [1]]);
});

test('signs that XML cannot hold do not stand in an SVG', () => {
  const scene: Scene = { widthMm: 10, heightMm: 10, title: 'a\u0000b\ud83d', marks: [] };
  expect(sceneToSvg(scene)).toContain('<title>a\ufffdb\ufffd</title>');
});
