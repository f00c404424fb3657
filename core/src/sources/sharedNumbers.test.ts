import { expect, test } from 'vitest';
import { block } from '../../../demo/solids.ts';
import type { Product } from '../../../demo/product.ts';
import { bareStep, bytesOf, group, part, stepOf, times } from '../../../testkit/stepFiles.ts';
import { alikeFindings, editAssembly, withShapeFindings, type Finding } from '../assembly/index.ts';
import { makeBill, noDecisions } from '../bill/index.ts';
import { newComponentEdits } from '../documents/index.ts';
import { readModel } from './readModel.ts';

const noticed = async (text: string, shapes = false): Promise<Finding[]> => [
  ...(await readModel(bytesOf(text), 'a.step', { shapes })).assembly.findings,
];
const told = async (text: string, shapes = false): Promise<string[]> =>
  (await noticed(text, shapes)).map(({ message }) => message);
const washer = (size: number, more: Partial<Product> = {}) => part('W-1', 'Washer', size, more);
const rack = (...products: Product[]) => stepOf(group('A', 'Rack', ...products.flatMap((one) => times(2, one))));
/** Products without any shape, in one assembly. */
const bare = (...descriptions: string[]) =>
  bareStep(
    "#10=PRODUCT('A','Rack','',(#2));",
    "#11=PRODUCT_DEFINITION_FORMATION('','',#10);",
    "#12=PRODUCT_DEFINITION('design','',#11,#3);",
    ...descriptions.flatMap((description, at) => [
      `#${20 + at * 10}=PRODUCT('W-1','Washer','${description}',(#2));`,
      `#${21 + at * 10}=PRODUCT_DEFINITION_FORMATION('','',#${20 + at * 10});`,
      `#${22 + at * 10}=PRODUCT_DEFINITION('design','',#${21 + at * 10},#3);`,
      `#${23 + at * 10}=NEXT_ASSEMBLY_USAGE_OCCURRENCE('${at}','','',#12,#${22 + at * 10},$);`,
    ]),
  );

test.each([[false], [true]])(
  'two washers of one number and name with different shapes are told before their shapes are made (read with shapes: %s)',
  async (shapes) =>
    expect(await told(rack(washer(10), washer(6)), shapes)).toEqual([
      'Number “W-1” stands on 2 products, all called “Washer”, and is counted as one part, but they differ in volume (1000 mm³, 216 mm³) and shape. Keep them apart if they are different parts.',
    ]),
);

test('what the file says different of them is named', async () =>
  expect(await told(bare('M10', 'M6', 'M6'))).toEqual([
    'Number “W-1” stands on 3 products, all called “Washer”, and is counted as one part, but they differ in description (“M10”, “M6”). Keep them apart if they are different parts.',
  ]));

test('where the file says nothing different, that is said', async () =>
  expect(await told(bare('', ''))).toEqual([
    'Number “W-1” stands on 2 products, all called “Washer”; the file says nothing that tells them apart. They are counted as one part: give one of them another number if they are not.',
  ]));

test('a writer that makes a product of every place fills no page: alike in everything, they are told together', async () => {
  const same = () => washer(10);
  const plate = () => part('P-1', 'Plate', 30);
  expect(await told(rack(same(), same(), same(), plate(), plate()))).toEqual([
    'The file has several products of one number, alike in everything it says, shape included: “W-1” (3), “P-1” (2). Each is counted as one part.',
  ]);
});

test('uses of one product are no finding', async () => expect(await told(rack(washer(10)))).toEqual([]));

test('kept apart, they are two lines, under any identity that they share', async () => {
  const { assembly } = await readModel(bytesOf(rack(washer(10), washer(6))), 'a.step', { shapes: true });
  const [, second] = assembly.findings[0].components!;
  const quantities = (keptApart: Record<string, string>, identity: 'part-number' | 'name') =>
    makeBill(
      editAssembly(assembly, { ...newComponentEdits, keptApart }, new Map()).assembly,
      { depth: 'parts-only', identity },
      noDecisions,
    ).rows.map(({ totalQuantity }) => totalQuantity);
  for (const identity of ['part-number', 'name'] as const) {
    expect(quantities({}, identity)).toEqual([4]);
    expect(quantities({ [second]: 'M6' }, identity)).toEqual([2, 2]);
  }
});

test('once the shapes are made they have the word, under the name that a decision knows', async () => {
  const { assembly } = await readModel(bytesOf(rack(washer(10), washer(6))), 'a.step', { shapes: true });
  const [product] = assembly.findings;
  const shapes = alikeFindings(assembly, []);
  expect(shapes.map(({ code, groups }) => [code, groups])).toEqual([
    ['same-number', product.components!.map((key) => [key])],
  ]);
  expect(withShapeFindings(assembly.findings, shapes)).toEqual([{ ...shapes[0], key: product.key }]);
  expect(withShapeFindings(assembly.findings, [])).toEqual([product]);
});

test('a part without a number is counted by its name, so names are looked at too', async () => {
  const unnumbered = (size: number): Product => ({ number: '', name: 'Spacer', solids: [block(size, size, size)] });
  expect(await told(rack(unnumbered(10), unnumbered(6)))).toEqual([
    'Name “Spacer” (without a number) stands on 2 products and is counted as one part, but they differ in volume (1000 mm³, 216 mm³) and shape. Keep them apart if they are different parts.',
  ]);
});
