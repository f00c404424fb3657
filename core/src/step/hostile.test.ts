import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { structureTotals } from '../assembly/index.ts';
import { makeBill } from '../bill/index.ts';
import { bigStep } from '../../../testkit/bigStep.ts';
import {
  bareProduct,
  bareStep,
  bareUsage,
  beforeEnd,
  bytesOf,
  readOutcome,
  stepOf,
  tableProduct,
} from '../../../testkit/stepFiles.ts';
import { readStep } from './readAssembly.ts';

const table = stepOf(tableProduct());
const with_ = (...entities: string[]) => beforeEnd(table, ...entities);
const firstUsage = /NEXT_ASSEMBLY_USAGE_OCCURRENCE\('1','','',(#\d+),(#\d+),\$\)/;

describe('what nothing of the bill can be lost by is read', () => {
  const plain = readOutcome(table);
  test.each<[what: string, file: string | Uint8Array, codes: string[]]>([
    [
      'lists nested 200,000 deep in an entity of no interest',
      with_(`#90001=X(${'('.repeat(200_000)}${')'.repeat(200_000)});`),
      [],
    ],
    ['a number of five million digits', with_(`#90001=CARTESIAN_POINT('',(${'1'.repeat(5e6)},0.,0.));`), []],
    ['empty bytes after the end', `${table}${'\0'.repeat(999)}`, ['padding']],
    [
      'empty bytes instead of the end mark',
      `${table.replace('END-ISO-10303-21;\n', '')}${'\0'.repeat(999)}`,
      ['padding', 'no-end-mark'],
    ],
    ['an end-of-file character', `${table}\x1a`, ['padding']],
    ['no line ends at all', table.replace(/\n/g, ''), []],
    ['line ends of another system', table.replace(/\n/g, '\r\n'), []],
    [
      'space and comments between any two tokens',
      table.replace(/[^\n]*=.*/g, (line) =>
        line.replace(/('[^']*')|([=(,;)])/g, (_, text?: string, mark?: string) => text ?? ` ${mark} /* ; #12=( ' */ `),
      ),
      [],
    ],
    ['entity names in small letters', table.replace(/[A-Z_]{4,}(?=\()/g, (word) => word.toLowerCase()), []],
    ['numbers beyond 2³¹', table.replace(/#(\d+)/g, (_, id: string) => `#${5_000_000_000 + Number(id)}`), []],
    ['numbers with leading zeros', table.replace(/#(\d+)/g, '#000$1'), []],
    ['numbers with large gaps', table.replace(/#(\d+)/g, (_, id: string) => `#${Number(id) * 1_000_003}`), []],
  ])('%s', (_, file, codes) => {
    const read = readOutcome(file);
    expect(read.findings).toEqual(codes);
    expect(read.structure).toEqual(plain.structure);
  });

  test('names of five million letters, and names that look like entities', () => {
    const long = readOutcome(table.replace("'Bolt'", `'${'x'.repeat(5e6)}'`));
    expect(long.structure!.find(([number]) => number === 'B-1')![1]).toHaveLength(5e6);
    const odd = readOutcome(table.replace("'Bolt'", "'It''s; #12=X(''/* \\X2\\00E9\\X0\\'"));
    expect(odd.structure!.find(([number]) => number === 'B-1')![1]).toBe("It's; #12=X('/* é");
  });
});

describe('where something may be lost, the file is refused with the place', () => {
  test.each<[what: string, file: string | Uint8Array, words: RegExp]>([
    [
      'a quote missing in two places, so that an entity between them reads as text',
      with_(
        "#90001=CARTESIAN_POINT(',(1.,2.,3.));",
        "#90002=NEXT_ASSEMBLY_USAGE_OCCURRENCE('x','','',#1,#1,$);",
        "#90003=CARTESIAN_POINT(',(4.,5.,6.));",
      ),
      /^Line \d+: a text that begins here runs on into what follows it/,
    ],
    [
      'noise between two entities',
      table.replace(';\n#20=', ';\nxyz 123\n#20='),
      /^Line \d+: something stands here that is neither an entity nor the end/,
    ],
    ['an empty byte between two entities', table.replace(';\n#20=', ';\0\n#20='), /^Line \d+: something stands here/],
    [
      'a reference that no entity number can be',
      with_(`#90001=X(#${'9'.repeat(400)});`),
      /refers to an entity, which the file does not define/,
    ],
    [
      'an entity name of five million letters',
      with_(`#90001=${'X'.repeat(5e6)}();`),
      /^Line \d+: #90001 has an entity name of 5000000 letters/,
    ],
    [
      'the same numbers in two data sections',
      table.replace('ENDSEC;\nEND-ISO', 'ENDSEC;\nDATA;\n#1=X();\nENDSEC;\nEND-ISO'),
      /^Line \d+: #1 is defined twice/,
    ],
    [
      'no end of the data section',
      table.replace('ENDSEC;\nEND-ISO-10303-21;\n', ''),
      /^Line \d+: the file ends inside its DATA section, after #\d+/,
    ],
    ['a comment that is never closed', with_('/* #90001=X();'), /^Line \d+: a comment opened here/],
    ['a # without a number', with_('#90001=X(#);'), /^Line \d+: #90001 holds a # without a number/],
    ['a parenthesis too many', with_('#90001=X());'), /^Line \d+: #90001 closes a parenthesis that was never opened/],
    ['a parenthesis too few', with_('#90001=X((1.);'), /^Line \d+: #90001 ends before its parentheses are closed/],
    [
      'partial records that are none',
      with_('#90001=(X() , Y());'),
      /^Line \d+: #90001: something other than partial records/,
    ],
    [
      'a quantity that is not given',
      table.replace(firstUsage, "QUANTIFIED_ASSEMBLY_COMPONENT_USAGE('1','','',$1,$2,$,$)"),
      /^#\d+: the quantity is not given in a form that can be read/,
    ],
    [
      'half a piece',
      with_('#90001=MEASURE_WITH_UNIT(COUNT_MEASURE(0.5),#90002);', '#90002=(NAMED_UNIT(*));').replace(
        firstUsage,
        "QUANTIFIED_ASSEMBLY_COMPONENT_USAGE('1','','',$1,$2,$,#90001)",
      ),
      /^#\d+: the quantity 0\.5 is no whole number of pieces/,
    ],
    [
      'a formation that is none',
      table.replace(/(PRODUCT_DEFINITION\('design','',)#\d+/, '$1#1'),
      /leads to no PRODUCT/,
    ],
    [
      'a usage whose name is damaged',
      table.replace('NEXT_ASSEMBLY_USAGE', 'NEXT_ASSEMBLX_USAGE'),
      /^Line \d+: #\d+ is called NEXT_ASSEMBLX_USAGE_OCCURRENCE, which looks like a damaged name/,
    ],
    [
      'a usage of which half the name is gone',
      table.replace('NEXT_ASSEMBLY_USAGE', 'USAGE'),
      /#\d+ is called USAGE_OCCURRENCE/,
    ],
    ['two bytes per character', Uint8Array.from(Buffer.from(table, 'utf16le')), /begins with binary data/],
    ['an archive', Uint8Array.of(0x50, 0x4b, 3, 4, 0, 0), /the mark of a ZIP archive/],
    ['a PDF', bytesOf('%PDF-1.7'), /the mark of a PDF document/],
    ['nothing but empty bytes', new Uint8Array(1000), /begins with binary data/],
  ])('%s', (_, file, words) => expect(readOutcome(file).refused).toMatch(words));

  test('more levels than a machine has', () => {
    const chain = Array.from({ length: 20_000 }, (__, at) => [
      bareProduct(10 + at * 4, `P${at}`),
      at > 0 ? bareUsage(9 + at * 4, 6 + at * 4, 10 + at * 4) : '',
    ]).flat();
    expect(readOutcome(bareStep(...chain)).refused).toBe('The structure is 19999 levels deep; up to 512 can be read.');
  });
});

describe('size', () => {
  test('10¹⁴ occurrences of a shared structure are counted, not expanded', () => {
    const levels = Array.from({ length: 15 }, (_, level) => {
      // each level uses the one below ten times
      const id = 100 * (level + 1);
      return [
        bareProduct(id, `L${level}`),
        ...(level === 14 ? [] : Array.from({ length: 10 }, (__, at) => bareUsage(id + 10 + at, id, id + 100))),
      ];
    });
    const { assembly } = readStep(bytesOf(bareStep(...levels.flat())), { shapes: false });
    expect(structureTotals(assembly).leafOccurrences).toBe(1e14);
    expect(
      makeBill(assembly, { depth: 'parts-only', identity: 'part-number' }).rows.map((row) => row.quantity),
    ).toEqual([1e14]);
  });

  test('100,000 usages through shared definitions give the quantities that multiplying along the graph gives', () => {
    const plan = { assemblies: 500, fan: 200, parts: 700 };
    const { assembly } = readStep(bigStep(plan), { shapes: false });
    const totals = structureTotals(assembly);
    expect(totals.leafOccurrences).toBe(plan.assemblies * plan.fan - (plan.assemblies - 1)); // every place that holds no assembly
    const { rows } = makeBill(assembly, { depth: 'parts-only', identity: 'part-number' });
    expect(rows.reduce((sum, row) => sum + row.quantity, 0)).toBe(totals.leafOccurrences);
  });
});

describe('any damage to a real file', () => {
  const sledge = readFileSync('demo/files/hauling-sledge-A.step');
  const whole = readOutcome(sledge).structure;
  const outcome = (bytes: Uint8Array) => {
    const read = readOutcome(bytes);
    if (read.refused !== undefined) expect(read.refused).toMatch(/\p{L}/u);
    return read;
  };

  test('cut off anywhere: refused, or nothing was behind the cut', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: sledge.length - 1 }), (at) => {
        const read = outcome(sledge.subarray(0, at));
        if (read.refused === undefined) expect(read.structure).toEqual(whole);
      }),
      { numRuns: 60 },
    );
  });
  test('a byte changed: read or refused, never anything else, and no usage is lost in silence', () => {
    const count = (structure: typeof whole) => structure?.reduce((sum, [, , usages]) => sum + usages, 0);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: sledge.length - 1 }), fc.integer({ min: 0, max: 255 }), (at, byte) => {
        const damaged = Uint8Array.from(sledge);
        damaged[at] = byte;
        const read = outcome(damaged);
        if (read.refused === undefined) expect(count(read.structure)).toBe(count(whole));
      }),
      { numRuns: 250 },
    );
  });
  test('a stretch taken out or doubled: read or refused', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: sledge.length - 1 }),
        fc.integer({ min: 1, max: 5000 }),
        fc.boolean(),
        (at, size, doubled) => {
          outcome(
            doubled
              ? Buffer.concat([sledge.subarray(0, at + size), sledge.subarray(at)])
              : Buffer.concat([sledge.subarray(0, at), sledge.subarray(at + size)]),
          );
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('pieces of a file that were lost', () => {
  const lost = (from: string, to: string) => table.replace(from, to);
  test('a statement that runs into the next is refused, with its line', () => {
    const usage = firstUsage.exec(table)![0];
    const run = lost(`${usage};\n`, `${usage.slice(0, -2)}`);
    expect(readOutcome(run).refused).toMatch(/^Line \d+: /);
    const parameters = lost(usage, `${usage.slice(0, -1)},'','',$)`);
    expect(readOutcome(parameters).refused).toMatch(
      /^Line \d+: #\d+ \(NEXT_ASSEMBLY_USAGE_OCCURRENCE\) has 9 parameters where 6 belong/,
    );
  });
  test('empty bytes within the data are found', () => {
    const zeroed = readOutcome(table.replace(/,#(\d+),\$\);/, ',\0\0#$1,$);'));
    expect([zeroed.findings, zeroed.structure]).toEqual([['zero-bytes'], readOutcome(table).structure]);
    expect(readOutcome(table.replace(/;\n#30=/, ';\0\0\n#30=')).refused).toMatch(/^Line \d+: /);
  });
  test('a name whose first letter became the sign of a writer’s own names is refused; such names are passed over', () => {
    expect(readOutcome(lost('NEXT_ASSEMBLY_USAGE_OCCURRENCE', '!EXT_ASSEMBLY_USAGE_OCCURRENCE')).refused).toMatch(
      /^Line \d+: .*damaged name/,
    );
    const own = beforeEnd(table, "#99990=!STORE_PLACE('A 12',#30);");
    expect(readOutcome(own).structure).toEqual(readOutcome(table).structure);
  });
  test('a usage under another name is found', () => {
    const other = table.replace('NEXT_ASSEMBLY_USAGE_OCCURRENCE', 'SOMETHING_ELSE_THAT_JOINS');
    expect(readOutcome(other).findings).toContain('unknown-join');
  });
});
