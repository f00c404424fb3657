import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { place } from '../../../demo/product.ts';
import { move, turn } from '../../../demo/solids.ts';
import { isAssembly, listOccurrences, structureTotals, type Assembly } from '../assembly/index.ts';
import { applyToPoint } from '../geometry/index.ts';
import { readStep } from './readAssembly.ts';
import { bytesOf, group, part, readOutcome, stepOf, tableProduct, times } from '../../../testkit/stepFiles.ts';

const read = (text: string): Assembly => readStep(bytesOf(text)).assembly;
const reasonOf = (text: string | Uint8Array): string => {
  try {
    readStep(typeof text === 'string' ? bytesOf(text) : text);
  } catch (error) {
    return (error as Error).message;
  }
  return 'read without complaint';
};
const table = stepOf(tableProduct());

/** The same file as another export would write it: every entity number and the order of entities changed. */
function renumbered(text: string, seed: number): string {
  const [head, data] = text.split('DATA;\n');
  const lines = data.slice(0, data.indexOf('\nENDSEC;')).split('\n');
  const order = [...lines.keys()].sort((a, b) => ((a * 7919 + seed) % 1009) - ((b * 7919 + seed) % 1009) || a - b);
  const numbers = new Map(order.map((line, at) => [line + 1, at * 3 + 11 + seed]));
  const moved = order.map((line) => lines[line].replace(/#(\d+)/g, (_, id: string) => `#${numbers.get(Number(id))}`));
  return `${head}DATA;\n${moved.join('\n')}\nENDSEC;\nEND-ISO-10303-21;\n`;
}

describe('structure', () => {
  test('two bolts in a foot that is used four times are eight bolts', () => {
    const assembly = read(table);
    expect(structureTotals(assembly)).toEqual({ leafOccurrences: 13, parts: 3, assemblies: 2 });
    expect(assembly.components.filter(isAssembly).map(({ partNumber, usages }) => [partNumber, usages.length])).toEqual(
      [
        ['A-1', 5],
        ['F-1', 3],
      ],
    );
    expect(assembly.findings).toEqual([]);
  });

  test('number, name, description, revision, source and properties come from the file', () => {
    const [component] = read(
      stepOf(
        part('SL-1', "Runner's sole, 10 × 44", 10, {
          description: 'Kufe; “glatt”',
          revision: 'C',
          bought: true,
          properties: { Material: 'PE-UHMW', Length: { value: 2360, unit: 'mm' }, Mass: { value: 0.4, unit: 'kg' } },
        }),
      ),
    ).components;
    expect(component).toMatchObject({
      partNumber: 'SL-1',
      name: "Runner's sole, 10 × 44",
      description: 'Kufe; “glatt”',
      revision: 'C',
      source: 'bought',
      properties: {
        Material: { value: 'PE-UHMW' },
        Length: { value: 2360, unit: 'mm' },
        Mass: { value: 0.4, unit: 'kg' },
      },
    });
  });

  test('placements compose from the part up to the machine', () => {
    const pin = part('PIN', 'Pin');
    const arm = group('ARM', 'Arm', place(pin, move(100, 0, 0)));
    const assembly = read(stepOf(group('TOP', 'Top', place(arm, turn('z', 90, 0, 0, 7)))));
    const [occurrence] = listOccurrences(assembly, (index) => assembly.components[index].shape !== null);
    expect(applyToPoint(occurrence.placement, [0, 0, 0]).map((value) => Math.round(value * 1e6) / 1e6)).toEqual([
      0, 100, 7,
    ]);
  });

  test('either order of the two representations of a placement gives the same machine', () => {
    const swapped = table
      .replace(
        /\(REPRESENTATION_RELATIONSHIP\('','',(#\d+),(#\d+)\)REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION\((#\d+)\)/g,
        (_, a: string, b: string, transformation: string) =>
          `(REPRESENTATION_RELATIONSHIP('','',${b},${a})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(${transformation})`,
      )
      .replace(
        /ITEM_DEFINED_TRANSFORMATION\('','',(#\d+),(#\d+)\)/g,
        (_, a: string, b: string) => `ITEM_DEFINED_TRANSFORMATION('','',${b},${a})`,
      );
    expect(swapped).not.toBe(table);
    expect(read(swapped).components.flatMap(({ usages }) => usages.map(({ placement }) => placement))).toEqual(
      read(table).components.flatMap(({ usages }) => usages.map(({ placement }) => placement)),
    );
  });

  test('a placement given by a mapped item is read when there is no other', () => {
    const text = stepOf(group('TOP', 'Top', place(part('P', 'Plate'), move(30, 40, 50))));
    const child = /SHAPE_DEFINITION_REPRESENTATION\(#\d+,(#\d+)\)/g;
    // Children are written after their parent's own representation
    const representations = [...text.matchAll(child)].map((match) => match[1]);
    const target = /ITEM_DEFINED_TRANSFORMATION\('','',(#\d+),(#\d+)\)/.exec(text)!;
    const mapped = text
      .replace(/#\d+=CONTEXT_DEPENDENT_SHAPE_REPRESENTATION[^;]*;\n/, '')
      .replace(
        /SHAPE_REPRESENTATION\('',\((#\d+)\),/,
        (_, origin: string) => `SHAPE_REPRESENTATION('',(${origin},#90001),`,
      )
      .replace(
        'ENDSEC;\nEND-ISO',
        `#90000=REPRESENTATION_MAP(${target[1]},${representations[1]});\n#90001=MAPPED_ITEM('',#90000,${target[2]});\nENDSEC;\nEND-ISO`,
      );
    const assembly = read(mapped);
    expect(assembly.findings).toEqual([]);
    expect(assembly.components[assembly.root].usages[0].placement).toEqual([1, 0, 0, 30, 0, 1, 0, 40, 0, 0, 1, 50]);
  });

  test('inches and metres become millimetres', () => {
    const text = stepOf(group('TOP', 'Top', place(part('P', 'Plate'), move(2, 0, 0))));
    const metres = text.replace('SI_UNIT(.MILLI.,.METRE.)', 'SI_UNIT($,.METRE.)');
    expect([read(metres).sourceUnit, read(metres).components[0].usages[0].placement[3]]).toEqual(['m', 2000]);
    const inches = text
      .replace(
        /\(LENGTH_UNIT\(\)NAMED_UNIT\(\*\)SI_UNIT\(\.MILLI\.,\.METRE\.\)\)/,
        "(CONVERSION_BASED_UNIT('INCH',#90002)LENGTH_UNIT()NAMED_UNIT(#90003))",
      )
      .replace(
        'ENDSEC;\nEND-ISO',
        '#90001=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));\n#90002=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#90001);\n#90003=DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);\nENDSEC;\nEND-ISO',
      );
    expect([read(inches).sourceUnit, read(inches).components[0].usages[0].placement[3]]).toEqual(['inch', 50.8]);
  });

  test('a usage may carry a quantity', () => {
    const text = stepOf(group('TOP', 'Top', place(part('P', 'Plate'), move(0, 0, 0))));
    const counted = text
      .replace(
        /NEXT_ASSEMBLY_USAGE_OCCURRENCE\('1','','',(#\d+),(#\d+),\$\)/,
        "QUANTIFIED_ASSEMBLY_COMPONENT_USAGE('1','','',$1,$2,$,#90001)",
      )
      .replace(
        'ENDSEC;\nEND-ISO',
        '#90001=MEASURE_WITH_UNIT(COUNT_MEASURE(12.),#90002);\n#90002=(NAMED_UNIT(*));\nENDSEC;\nEND-ISO',
      );
    expect(structureTotals(read(counted)).leafOccurrences).toBe(12);
  });

  test('a product definition with documents is a product definition', () => {
    const text = table.replace(
      /=PRODUCT_DEFINITION\('design','',(#\d+),(#\d+)\)/g,
      "=PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS('design','',$1,$2,())",
    );
    expect(text).not.toBe(table);
    expect(read(text)).toEqual(read(table));
  });

  test('several roots stand under an unnamed top', () => {
    const step = stepOf(tableProduct())
      .replace(/NEXT_ASSEMBLY_USAGE_OCCURRENCE\('\d+','','',#\d+,#\d+,\$\)/g, "DOCUMENT_TYPE('')")
      .replace(/#\d+=CONTEXT_DEPENDENT_SHAPE_REPRESENTATION[^;]*;\n/g, '');
    const assembly = read(step);
    expect(assembly.components[assembly.root]).toMatchObject({ name: '', partNumber: '' });
    expect(assembly.components[assembly.root].usages).toHaveLength(5); // table, foot, bolt, plate, top
  });

  test('comments, line ends and lower case between any two tokens change nothing', () => {
    const airy = table.replace(/=PRODUCT\('/g, " /* a ; ' comment */ =\r\n  Product (\t'").replace('DATA;', 'data ;');
    expect(read(airy)).toEqual(read(table));
  });

  test('edition 3: several data sections, anchors, references and a signature', () => {
    const cut = table.indexOf('\n#40=');
    const split = `${table.slice(0, cut)}\nENDSEC;\nDATA('second',('AUTOMOTIVE_DESIGN'));${table.slice(cut)}`
      .replace(
        'DATA;',
        `ANCHOR;\n<a>=#1;\n<b>='text; (';\n<c>=(#1,"0FF");\nENDSEC;\nREFERENCE;\n@7=<other.step#x>;\nENDSEC;\nDATA('first',('AUTOMOTIVE_DESIGN'));`,
      )
      .replace('END-ISO', 'SIGNATURE;\nMIIBE+/ENDSEX==\nENDSEC;\nEND-ISO');
    expect(read(split)).toEqual(read(table));
  });
});

describe('keys', () => {
  test('a fresh export with other entity numbers and another order gives the same keys', () => {
    const keysOf = (assembly: Assembly) =>
      assembly.components.flatMap(({ key, usages }) => [key, ...usages.map((usage) => usage.key)]).sort();
    const shapesOf = (assembly: Assembly) =>
      assembly.components.map(({ partNumber, shape }) => `${partNumber} ${shape}`).sort();
    for (const seed of [1, 2, 3]) {
      expect(keysOf(read(renumbered(table, seed)))).toEqual(keysOf(read(table)));
      expect(shapesOf(read(renumbered(table, seed)))).toEqual(shapesOf(read(table)));
    }
  });

  test('equal shapes share one slice, different ones do not', () => {
    const content = readStep(
      bytesOf(
        stepOf(
          group(
            'TOP',
            'Top',
            ...times(3, part('A', 'One', 10)),
            ...times(1, part('B', 'Other', 10)),
            ...times(1, part('C', 'Large', 20)),
          ),
        ),
      ),
    );
    expect(content.slices).toHaveLength(2);
  });

  test('parts with one number and two names are two components with keys of their own', () => {
    const { components } = read(
      stepOf(group('TOP', 'Top', ...times(1, part('X', 'Left')), ...times(1, part('X', 'Right')))),
    );
    expect(new Set(components.map(({ key }) => key)).size).toBe(3);
  });
});

describe('what is refused, and with which words', () => {
  test.each([
    ['0 bytes', new Uint8Array(0), 'The file is empty (0 bytes). Export it again and check that it was copied whole.'],
    [
      'a picture',
      Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10),
      'This is not a STEP file: it must begin with “ISO-10303-21;”, but begins with the mark of a PNG picture.',
    ],
    [
      'another text',
      'solid cube',
      'This is not a STEP file: it must begin with “ISO-10303-21;”, but begins with “solid cube”.',
    ],
    [
      'a missing reference',
      table.replace(/(#\d+=PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE\('A','',)#\d+/, '$1#77777'),
      /^Line \d+: #\d+ \(PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE\) refers to #77777, which the file does not define\./,
    ],
    [
      'an entity defined twice',
      table.replace('ENDSEC;\nEND-ISO', "#5=PRODUCT('X','X','',(#3));\nENDSEC;\nEND-ISO"),
      /#5 is defined twice/,
    ],
    ['a missing semicolon', table.replace(/;\n#40=/, '\n#40='), /^Line \d+: the semicolon after #39 is missing\.$/],
    ['an open quote', table.replace("'T-1'", "'T-1"), /Line \d+/],
    [
      'a usage of something that is no product',
      table.replace(/(NEXT_ASSEMBLY_USAGE_OCCURRENCE\('1','','',#\d+,)#\d+/, '$1#1'),
      /does not join two product definitions/,
    ],
    [
      'a file without products',
      "ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.,0.));\nENDSEC;\nEND-ISO-10303-21;\n",
      /no product definition/,
    ],
    ['text after the end', `${table}\nISO-10303-21;`, /text after END-ISO-10303-21/],
  ])('%s', (_, file, words) => {
    if (typeof words === 'string') expect(reasonOf(file)).toBe(words);
    else expect(reasonOf(file)).toMatch(words);
  });

  test('a cyclic structure is named', () => {
    const ids = [...table.matchAll(/NEXT_ASSEMBLY_USAGE_OCCURRENCE\('\d+','','',(#\d+),(#\d+),\$\)/g)];
    const [, foot] = ids[0],
      top = ids.find((match) => match[1] !== foot)![1]; // what is inside is written first
    const cyclic = table.replace(
      'ENDSEC;\nEND-ISO',
      `#90001=NEXT_ASSEMBLY_USAGE_OCCURRENCE('x','','',${foot},${foot},$);\nENDSEC;\nEND-ISO`,
    );
    expect(reasonOf(cyclic)).toBe(
      'The structure is cyclic: “F-1” contains “F-1” again. Ask for a new export; nothing was stored.',
    );
    const closed = table.replace(
      'ENDSEC;\nEND-ISO',
      `#90001=NEXT_ASSEMBLY_USAGE_OCCURRENCE('x','','',${foot},${top},$);\nENDSEC;\nEND-ISO`,
    );
    expect(reasonOf(closed)).toMatch(/^The structure is cyclic: “A-1” contains “F-1” contains “A-1” again/);
  });

  test('cut off anywhere inside its sections, a file is refused', () => {
    const last = table.lastIndexOf('ENDSEC;') + 'ENDSEC'.length;
    fc.assert(
      fc.property(fc.integer({ min: 0, max: last }), (at) => {
        expect(() => readStep(bytesOf(table.slice(0, at)), { shapes: false })).toThrowError(
          expect.objectContaining({ name: 'Refusal' }),
        );
      }),
      { numRuns: 200 },
    );
  });

  test('without its end mark but whole, a file is read with a finding', () => {
    const text = table.replace('END-ISO-10303-21;\n', '');
    expect(read(text)).toEqual({
      ...read(table),
      findings: [
        {
          code: 'no-end-mark',
          message: 'The file has no END-ISO-10303-21 mark after its last section; every section is complete.',
        },
      ],
    });
  });

  test('a mutated file is read or refused, never anything else', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: table.length - 1 }),
        fc.constantFrom('', ';', '(', ')', "'", '#', '=', ',', '$', '9', 'É'),
        (at, put) => {
          try {
            readStep(bytesOf(table.slice(0, at) + put + table.slice(at + 1)));
          } catch (error) {
            expect(error).toMatchObject({ name: 'Refusal' });
          }
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe('files of edition 3, and what files leave open', () => {
  const table = stepOf(tableProduct());
  test('anchors with tags that hold semicolons, quotes and doubled quotes are passed over', () => {
    const anchors = table.replace(
      /DATA;/,
      `ANCHOR;\n<a>=#1{tag:'x;y'};\n<b>=#1{t:"A;B"}{u:'it''s; so'};\nENDSEC;\nDATA;`,
    );
    expect(readOutcome(anchors)).toEqual(readOutcome(table));
  });
  test('without any unit millimetres are assumed, and said', () => {
    const bare = table.replace(/GLOBAL_UNIT_ASSIGNED_CONTEXT\(\([^)]*\)\)/g, '');
    expect(readOutcome(bare)).toEqual({ ...readOutcome(table), findings: ['no-length-unit'] });
  });
});
