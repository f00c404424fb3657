import { strToU8, zipSync } from 'fflate';
import { describe, expect, test, vi } from 'vitest';
import { occurrenceCounts, partLabel, Refusal, type Assembly } from '../assembly/index.ts';
import { makeBill } from '../bill/index.ts';
import { gltf, gltfBinary } from '../../../testkit/gltf.ts';
import { mutant, type Mutant } from '../../../testkit/mutants.ts';
import {
  bareProduct,
  bareStep,
  bareUsage,
  bytesOf,
  group,
  part,
  stepOf,
  tableProduct,
  times,
} from '../../../testkit/stepFiles.ts';
import { gltfPieces, layoutPieces, listPieces, stepPieces, threeMfPieces } from '../../../testkit/plainWalks.ts';
import { readModel } from './index.ts';

/** In all; `npm run test:long` takes more. */
const MUTANTS = Number(process.env.SLEDGEBOARD_MUTANTS ?? 2000);
vi.setConfig({ testTimeout: 60_000 + MUTANTS * 30 });

const names = ['TOP', 'FRAME', 'BEAM', 'LEG', 'BOLT', 'NUT', 'COVER'];
const joins = [
  [0, 1],
  [0, 1],
  [0, 6],
  [1, 2],
  [1, 2],
  [1, 3],
  [3, 4],
  [3, 4],
  [3, 5],
  [6, 4],
];
/** Structure alone, so that every damage meets it. */
const bare = bareStep(
  ...names.map((name, at) => bareProduct(10 + at * 10, `${name}-1`).replace("','',''", `','${name} of oak',''`)),
  ...joins.map(([parent, child], at) => bareUsage(200 + at, 10 + parent * 10, 10 + child * 10)),
);
const asset = gltf([
  { name: 'Table', children: [1, 4] },
  { name: 'Foot', children: [2, 3] },
  { name: 'Bolt', mesh: 0, extras: { partNumber: 'B-1', coating: 'zinc' } },
  { name: 'Bolt.001', mesh: 0, translation: [2, 0, 0], rotation: [0, 0.7071, 0, 0.7071] },
  { name: 'Top', mesh: 0, scale: [2, 2, 2] },
]);
const threeMf = `<?xml version="1.0" encoding="UTF-8"?>
<model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><metadata name="Title">Table</metadata>
<resources>
<object id="1" type="model" name="Bolt" partnumber="B-1"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/></vertices>
<triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="0" v2="3" v3="2"/><triangle v1="1" v2="2" v3="3"/></triangles></mesh></object>
<object id="2" type="model" name="Foot"><components><component objectid="1"/><component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 0 0"/></components></object>
</resources>
<build><item objectid="2"/><item objectid="1" transform="1 0 0 0 1 0 0 0 1 9 0 0"/></build></model>`;
const inZip = (model: Uint8Array) =>
  zipSync({
    '_rels/.rels': strToU8(
      '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r" Target="/3D/3dmodel.model" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>',
    ),
    '3D/3dmodel.model': model,
  });
const list = [
  'Level;Part number;Name;Quantity;Material;Mass kg',
  '1;A-1;"Frame; welded";2;Oak;12,5',
  '2;B-1;Bolt;8;Steel;0,1',
  '2;P-1;"Plate ""large""";1;Oak;3',
  '1;T-1;Top;1;Ash;7',
].join('\n');

const layout = `<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm" viewBox="0 0 200 100">
<symbol id="cap"><title>Cap</title><circle r="2"/></symbol>
<symbol id="lamp" viewBox="0 0 4 2"><title>Lamp</title><path d="M0 0H4V2Z"/></symbol>
<g id="north"><use href="#cap" x="5" data-colour="red"/><use href="#cap" x="9" y="3"/></g>
<use href="#lamp" transform="translate(40 20) rotate(30)" width="8" height="4"/><use href="#lamp" x="60"/>
</svg>`;

/** Damaged as it is, or (a package) inside and packed anew; `pieces` counts them without any reader. */
const samples: readonly {
  name: string;
  original: Uint8Array;
  pack?: (bytes: Uint8Array) => Uint8Array;
  pieces?: (text: string) => number | null;
}[] = [
  { name: 'bare.step', original: bytesOf(bare), pieces: stepPieces },
  { name: 'table.step', original: bytesOf(stepOf(tableProduct())), pieces: stepPieces },
  { name: 'table.gltf', original: bytesOf(JSON.stringify(asset, null, 1)), pieces: gltfPieces },
  { name: 'table.glb', original: gltfBinary(asset) },
  { name: 'table.3mf', original: bytesOf(threeMf), pack: inZip, pieces: threeMfPieces },
  { name: 'packed.3mf', original: inZip(bytesOf(threeMf)) },
  { name: 'list.csv', original: bytesOf(list), pieces: (text) => listPieces(text, ';') },
  { name: 'list.tsv', original: bytesOf(list.replaceAll(';', '\t')), pieces: (text) => listPieces(text, '\t') },
  { name: 'plan.svg', original: bytesOf(layout), pieces: layoutPieces },
];

/** Lines in both depths, in an order that does not depend on the file's. */
const billOf = (assembly: Assembly): string =>
  (['parts-only', 'structured'] as const)
    .map((depth) =>
      makeBill(assembly, { depth, identity: 'part-number' })
        .rows.map(({ quantity, level, components: [first] }) => {
          const component = assembly.components[first];
          return [quantity, level, partLabel(component), component.name].join('|');
        })
        .sort()
        .join('\n'),
    )
    .join('\n\n');

type Outcome = { assembly: Assembly; bill: string } | { refused: string };
async function outcomeOf(name: string, bytes: Uint8Array): Promise<Outcome> {
  try {
    const { assembly } = await readModel(bytes, name, { shapes: true });
    occurrenceCounts(assembly);
    return { assembly, bill: billOf(assembly) };
  } catch (error) {
    if (error instanceof Refusal) return { refused: error.message };
    throw error;
  }
}

const piecesIn = (assembly: Assembly): number => {
  const counts = occurrenceCounts(assembly);
  return assembly.components.reduce((sum, { usages }, at) => sum + (usages.length === 0 ? counts[at] : 0), 0);
};

describe.each(samples)('damaged $name', ({ name, original, pack = (bytes) => bytes, pieces }) => {
  test.skipIf(!pieces)('has, where it is read without a word, the pieces that a plain walk counts', async () => {
    const truth = await outcomeOf(name, pack(original));
    if ('refused' in truth) throw new Error(truth.refused);
    const findings = truth.assembly.findings.length;
    let judged = 0;
    for (let seed = 1; seed <= MUTANTS / samples.length; seed++) {
      const { kind, bytes } = mutant(original, seed + 1_000_000);
      const walked = pieces!(new TextDecoder().decode(bytes));
      const outcome = await outcomeOf(name, pack(bytes));
      if (walked === null || 'refused' in outcome || outcome.assembly.findings.length > findings) continue;
      judged++;
      expect(piecesIn(outcome.assembly), `seed ${seed + 1_000_000} (${kind})`).toBe(walked);
    }
    expect(judged).toBeGreaterThan(MUTANTS / samples.length / 20);
  });
  test('is read or refused in a sentence, never anything else', async () => {
    let refused = 0;
    for (let seed = 1; seed <= MUTANTS / samples.length; seed++) {
      const { kind, bytes } = mutant(original, seed);
      const outcome = await outcomeOf(name, pack(bytes)).catch((error: Error) => {
        throw new Error(`Seed ${seed} (${kind}): ${error.stack}`);
      });
      if (!('refused' in outcome)) continue;
      refused++;
      expect(outcome.refused, `seed ${seed}`).toMatch(/^\S.{15,}[.!?”)]$/s);
    }
    expect(refused).toBeGreaterThan(0);
  });
});

describe('a STEP file that gives another bill', () => {
  const statements = (text: string) => text.split(/;\r?\n/).map((statement) => statement.trim());
  /** Entity name and count of parameters at the top level, by a plain walk. */
  const shapeOf = (statement: string): string | null => {
    const begun = /^#\d+\s*=\s*([A-Z_0-9]+)\s*\(/.exec(statement);
    if (!begun) return null;
    let depth = 1,
      commas = 0,
      quoted = false;
    for (const sign of statement.slice(begun[0].length)) {
      if (sign === "'") quoted = !quoted;
      else if (quoted) continue;
      else if (sign === '(') depth++;
      else if (sign === ')') depth--;
      else if (sign === ',' && depth === 1) commas++;
    }
    return depth === 0 && !quoted ? `${begun[1]} ${commas}` : null;
  };
  const known = new Set(statements(bare).map(shapeOf));
  const withoutTexts = (text: string) => text.replace(/'[^']*'/g, "''");
  /** Either only texts differ, or every statement has a form that the original has too: a file of another machine. */
  const isAnotherMachine = ({ bytes }: Mutant): boolean => {
    const text = new TextDecoder('latin1').decode(bytes);
    return withoutTexts(text) === withoutTexts(bare) || statements(text).every((one) => known.has(shapeOf(one)));
  };
  test('says so in a finding, unless it is a well-formed file of another machine', async () => {
    const truth = await outcomeOf('bare.step', bytesOf(bare));
    if ('refused' in truth) throw new Error(truth.refused);
    const counts = { refused: 0, same: 0, found: 0, other: 0 };
    for (let seed = 1; seed <= MUTANTS; seed++) {
      const made = mutant(bytesOf(bare), seed);
      const outcome = await outcomeOf('bare.step', made.bytes);
      if ('refused' in outcome) counts.refused++;
      else if (outcome.bill === truth.bill) counts.same++;
      else if (outcome.assembly.findings.length > truth.assembly.findings.length) counts.found++;
      else {
        counts.other++;
        expect(isAnotherMachine(made), `seed ${seed} (${made.kind}) gives another bill without a finding`).toBe(true);
      }
    }
    expect(counts.refused).toBeGreaterThan(MUTANTS / 3);
    expect(counts.found).toBeGreaterThan(0);
  });
  test.each([
    ['a name that is absent', "PRODUCT('BOLT-1',$,", 'odd-name'],
    ['a number that is a number', "PRODUCT(12,'BOLT of oak',", 'odd-name'],
    ['a control sign in a name', "PRODUCT('BOLT-1','BO\u0007LT',", 'unfit-signs'],
    ['half of a pair of code units', "PRODUCT('BOLT-1','BO\\X2\\D83D\\X0\\LT',", 'unfit-signs'],
    ['a directive that is cut off', "PRODUCT('BOLT-1','BO\\X2\\00E4LT',", 'broken-text'],
  ])('%s is found', async (_, product, code) => {
    const outcome = await outcomeOf('bare.step', bytesOf(bare.replace("PRODUCT('BOLT-1','BOLT of oak',", product)));
    expect('assembly' in outcome && outcome.assembly.findings.map((finding) => finding.code)).toContain(code);
  });
  test('an entity of an unknown name that joins two parts is found, with its line', async () => {
    const other = bare.replace('#209=NEXT_ASSEMBLY_USAGE_OCCURRENCE', '#209=QUITE_ANOTHER_KIND_OF_JOIN');
    const outcome = await outcomeOf('bare.step', bytesOf(other));
    const messages = 'assembly' in outcome ? outcome.assembly.findings.map(({ message }) => message).join('\n') : '';
    expect(messages).toContain('Line 41: #209 is called QUITE_ANOTHER_KIND_OF_JOIN and joins two parts');
  });
});

test('names that are too long are shortened, stay different, and stand whole among the properties', async () => {
  const [one, other] = ['x'.repeat(600), `${'x'.repeat(599)}y`];
  const product = group('A-1', 'N'.repeat(5000), ...times(1, part(one, 'One')), ...times(1, part(other, 'Other')));
  const { assembly } = await readModel(bytesOf(stepOf(product)), 'long.step', { shapes: false });
  const numbers = assembly.components.map(({ partNumber }) => partNumber);
  expect(new Set(numbers).size).toBe(3);
  expect(Math.max(...numbers.map((number) => number.length))).toBeLessThanOrEqual(400);
  expect(assembly.components[assembly.root].properties['Full name'].value).toBe('N'.repeat(5000));
  expect(assembly.components.map(({ properties }) => properties['Full number']?.value)).toEqual(
    expect.arrayContaining([one, other]),
  );
  expect(assembly.findings.map(({ code }) => code)).toContain('long-names');
});
