import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Refusal } from '../assembly/index.ts';
import { bigStep } from '../../../testkit/bigStep.ts';
import { bytesOf, stepOf, tableProduct } from '../../../testkit/stepFiles.ts';
import { scanExchangeStructure } from './scan.ts';
import { sourceHash } from './scanInstances.generated.ts';

/** Everything that a scan finds, or the sentence with which it refuses. */
function outcome(bytes: Uint8Array, fast: boolean): unknown {
  try {
    const { count, ids, starts, ends, keywordOf, keywords, references, referenceStarts, remarks } =
      scanExchangeStructure(bytes, { fast });
    const cut = (column: ArrayLike<number>, size = count) => Array.from({ length: size }, (_, at) => column[at]);
    const names = cut(keywordOf).map((index) => keywords[index]);
    return {
      ids: cut(ids),
      starts: cut(starts),
      ends: cut(ends),
      names,
      references: cut(references, references.length),
      referenceStarts: cut(referenceStarts, count + 1),
      remarks,
    };
  } catch (error) {
    if (error instanceof Refusal) return error.message;
    throw error;
  }
}
const same = (bytes: Uint8Array) => expect(outcome(bytes, true)).toEqual(outcome(bytes, false));

const demo = readFileSync('demo/files/hauling-sledge-A.step');
const wrapped = (body: string) =>
  bytesOf(`ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n${body}ENDSEC;\nEND-ISO-10303-21;\n`);

describe('instances read many at a time are those read one by one', () => {
  test('in the demo and in a file of several windows', () => {
    same(demo);
    same(bigStep({ assemblies: 60, fan: 100, parts: 200 }));
  });

  test.each([1_048_500, 1_048_560, 1_048_576, 1_048_600, 1_100_000, 3_000_000])(
    'with a text of %i letters across the end of a window',
    (size) => {
      const rest = Array.from({ length: 3000 }, (_, at) => `#${at + 2}=A('',#${at + 1},(1.,2.));\n`).join('');
      same(wrapped(`#1=B('${'x'.repeat(size)}');\n${rest}`));
    },
  );

  test('with more references in one instance than are taken at once, and more instances', () => {
    const many = Array.from({ length: 140_000 }, (_, at) => `#${at + 2}=A();`).join('\n');
    const all = Array.from({ length: 140_000 }, (_, at) => `#${at + 2}`).join();
    same(wrapped(`#1=GROUP((${all}));\n${many}\n`));
  });

  test('in small letters, with comments, spaces, numbers beyond 32 bits and complex instances between', () => {
    const kinds = [
      (id: number) => `#${id}=POINT('',(1.,2.));`,
      (id: number) => `#${id} = POINT ( 'a' , ( 1. , 2. ) ) ;`,
      (id: number) => `#${id}=point('it''s',#${id});`,
      (id: number) => `#${id}=POINT(/* ; */'',#${id});`,
      (id: number) => `#${id}=(A()B(#${id},'x')C(\n(3)));`,
      (id: number) => `#${id}=(A());`,
      (id: number) => `#00${id}=PO2("0F",$,*,.T.,-1.E-3/4);`,
      (id: number) => `#${id + 5_000_000_000}=FAR(#${id + 5_000_000_000});`,
      (id: number) => `#${id}=NAME_${id}();`,
    ];
    fc.assert(
      fc.property(
        fc.array(fc.nat(kinds.length - 1), { maxLength: 60 }),
        fc.constantFrom('\n', '\r\n', '', ' \t'),
        (order, gap) => {
          same(wrapped(order.map((kind, at) => kinds[kind](at + 1) + gap).join('')));
        },
      ),
    );
  });

  test('with any byte changed: the same instances or the same refusal', () => {
    const whole = bytesOf(stepOf(tableProduct()));
    fc.assert(
      fc.property(fc.nat(whole.length - 1), fc.constantFrom(...Buffer.from('#=(;\'"/*,) \0A9')), (at, byte) => {
        const damaged = Uint8Array.from(whole);
        damaged[at] = byte;
        same(damaged);
      }),
      { numRuns: 1000 },
    );
  });
});

test('the compiled code is that of the source beside it', () => {
  expect(sourceHash).toBe(createHash('sha256').update(readFileSync('core/wasm/scanInstances.ts')).digest('hex'));
});
