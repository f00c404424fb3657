import { Refusal } from '../core/src/assembly/index.ts';
import { readStep } from '../core/src/step/index.ts';
import { move, block } from '../demo/solids.ts';
import { place, ProductWriter, type Placed, type Product } from '../demo/product.ts';
import { StepWriter } from '../demo/stepWriter.ts';

/** For tests: the STEP text of a product and everything in it. */
export function stepOf(product: Product): string {
  const step = new StepWriter();
  const writer = new ProductWriter(step);
  writer.write(product);
  writer.finish();
  return step.finish('test.step', '2026-01-01T00:00:00');
}

export const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);

export const part = (number: string, name: string, size = 10, extra: Partial<Product> = {}): Product => ({
  number,
  name,
  solids: [block(size, size, size)],
  ...extra,
});
export const group = (number: string, name: string, ...contents: Placed[]): Product => ({ number, name, contents });
export const times = (count: number, product: Product): Placed[] =>
  Array.from({ length: count }, (_, at) => place(product, move(at * 20, 0, 0)));

/** A table: four feet of two bolts and a plate each, and a top. */
export function tableProduct(): Product {
  const bolt = part('B-1', 'Bolt', 4),
    plate = part('P-1', 'Plate', 10),
    top = part('T-1', 'Top', 60);
  const foot = group('F-1', 'Foot', ...times(2, bolt), ...times(1, plate));
  return group('A-1', 'Table', ...times(4, foot), place(top, move(0, 0, 50)));
}

/** The file with these entities at the end of its last data section. */
export const beforeEnd = (text: string, ...entities: string[]): string =>
  text.replace(/ENDSEC;\nEND-ISO/, () => `${entities.join('\n')}\nENDSEC;\nEND-ISO`);

/**
 * What comes of reading: number, name and count of usages per component and the codes of findings, or the sentence of
 * the refusal. Anything but a refusal is thrown on.
 */
export function readOutcome(file: string | Uint8Array): {
  structure?: [number: string, name: string, usages: number][];
  findings?: string[];
  refused?: string;
} {
  try {
    const { assembly } = readStep(typeof file === 'string' ? bytesOf(file) : file, { shapes: false });
    return {
      structure: assembly.components.map(({ partNumber, name, usages }) => [partNumber, name, usages.length]),
      findings: assembly.findings.map(({ code }) => code),
    };
  } catch (error) {
    if (error instanceof Refusal) return { refused: error.message };
    throw error;
  }
}

/** A file of these entities, besides the contexts #1 (application), #2 (of products) and #3 (of definitions). */
export const bareStep = (...entities: string[]): string =>
  [
    'ISO-10303-21;',
    'HEADER;',
    "FILE_DESCRIPTION((''),'2;1');",
    "FILE_NAME('','2026-01-01T00:00:00',(''),(''),'','','');",
    "FILE_SCHEMA(('AUTOMOTIVE_DESIGN'));",
    'ENDSEC;',
    'DATA;',
    "#1=APPLICATION_CONTEXT('design');",
    "#2=PRODUCT_CONTEXT('',#1,'mechanical');",
    "#3=PRODUCT_DEFINITION_CONTEXT('part definition',#1,'design');",
    ...entities,
    'ENDSEC;',
    'END-ISO-10303-21;',
    '',
  ].join('\n');

/** Product, formation and definition of a number at #id, #id+1 and #id+2. */
export const bareProduct = (id: number, number: string): string =>
  `#${id}=PRODUCT('${number}','','',(#2));\n#${id + 1}=PRODUCT_DEFINITION_FORMATION('A','',#${id});\n#${id + 2}=PRODUCT_DEFINITION('design','',#${id + 1},#3);`;
/** A usage at #id of one product of bareProduct in another. */
export const bareUsage = (id: number, parent: number, child: number): string =>
  `#${id}=NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#${parent + 2},#${child + 2},$);`;
