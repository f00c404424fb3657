import { describe, expect, test } from 'vitest';
import { bytesOf, part, stepOf } from '../../../testkit/stepFiles.ts';
import { readStep } from './readAssembly.ts';

/**
 * Properties of a part whose file has these entities besides; `#900` is free, @DEF stands for its definition, @SHAPE
 * for its shape, @CTX for its context.
 */
function propertiesWith(...entities: string[]) {
  const text = stepOf(part('P', 'Plate'));
  const id = (keyword: string) => new RegExp(`(#\\d+)=${keyword}\\(`).exec(text)![1];
  const named = entities.map((entity) =>
    entity
      .replace(/@DEF/g, id('PRODUCT_DEFINITION'))
      .replace(/@SHAPE/g, id('PRODUCT_DEFINITION_SHAPE'))
      .replace(/@CTX/g, /(#\d+)=\(GEOMETRIC_REPRESENTATION_CONTEXT/.exec(text)![1]),
  );
  return readStep(bytesOf(text.replace('ENDSEC;\nEND-ISO', `${named.join('\n')}\nENDSEC;\nEND-ISO`)), { shapes: false })
    .assembly.components[0].properties;
}
/** A property named `name` on `target` with one representation item. */
const property = (item: string, name = 'prop', target = '@DEF') => [
  `#900=PROPERTY_DEFINITION('${name}','',${target});`,
  `#901=REPRESENTATION('',(#902),@CTX);`,
  '#903=PROPERTY_DEFINITION_REPRESENTATION(#900,#901);',
  `#902=${item};`,
];
const kilogram = '#910=(MASS_UNIT()NAMED_UNIT(*)SI_UNIT(.KILO.,.GRAM.));';

describe('every form of a property', () => {
  test('a text', () =>
    expect(propertiesWith(...property("DESCRIPTIVE_REPRESENTATION_ITEM('Finish','Oiled')"))).toEqual({
      Finish: { value: 'Oiled' },
    }));
  test('a measure with its unit', () =>
    expect(propertiesWith(...property("MEASURE_REPRESENTATION_ITEM('Mass',MASS_MEASURE(1.5),#910)"), kilogram)).toEqual(
      { Mass: { value: 1.5, unit: 'kg' } },
    ));
  test('a measure as a complex instance', () => {
    const item = "(MEASURE_REPRESENTATION_ITEM()MEASURE_WITH_UNIT(MASS_MEASURE(2.),#910)REPRESENTATION_ITEM('Mass'))";
    expect(propertiesWith(...property(item), kilogram)).toEqual({ Mass: { value: 2, unit: 'kg' } });
  });
  test('a derived unit reads as a drafter writes it', () => {
    const units = [
      '#910=DERIVED_UNIT((#911,#912));',
      '#911=DERIVED_UNIT_ELEMENT(#913,1.);',
      '#912=DERIVED_UNIT_ELEMENT(#914,-3.);',
      '#913=(MASS_UNIT()NAMED_UNIT(*)SI_UNIT(.KILO.,.GRAM.));',
      '#914=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.));',
    ];
    expect(
      propertiesWith(
        ...property("MEASURE_REPRESENTATION_ITEM('Density',POSITIVE_RATIO_MEASURE(7850.),#910)"),
        ...units,
      ),
    ).toEqual({ Density: { value: 7850, unit: 'kg·m^-3' } });
  });
  test('a number, a count, a yes or no', () => {
    expect(propertiesWith(...property("VALUE_REPRESENTATION_ITEM('Teeth',COUNT_MEASURE(32.))"))).toEqual({
      Teeth: { value: 32 },
    });
    expect(propertiesWith(...property("INTEGER_REPRESENTATION_ITEM('Teeth',32)"))).toEqual({ Teeth: { value: 32 } });
    expect(propertiesWith(...property("BOOLEAN_REPRESENTATION_ITEM('Spare',.T.)"))).toEqual({ Spare: { value: true } });
  });
  test('a property on the shape is one of the part', () => {
    expect(propertiesWith(...property("DESCRIPTIVE_REPRESENTATION_ITEM('Finish','Oiled')", 'prop', '@SHAPE'))).toEqual({
      Finish: { value: 'Oiled' },
    });
  });
  test('an item without a name of its own is called after the general property, else after the definition', () => {
    const item = "DESCRIPTIVE_REPRESENTATION_ITEM('','Oiled')";
    expect(propertiesWith(...property(item, 'Finish'))).toEqual({ Finish: { value: 'Oiled' } });
    expect(
      propertiesWith(
        ...property(item, 'user defined attribute'),
        "#920=GENERAL_PROPERTY('','Surface','');",
        "#921=GENERAL_PROPERTY_ASSOCIATION('','',#920,#900);",
      ),
    ).toEqual({ Surface: { value: 'Oiled' } });
  });
  test('validation properties are for readers, not for drafters', () => {
    expect(
      propertiesWith(
        ...property("DESCRIPTIVE_REPRESENTATION_ITEM('volume measure','1')", 'geometric validation property'),
      ),
    ).toEqual({});
  });
});

describe('findings that cost no line', () => {
  const table = stepOf(part('P', 'Plate', 10, { colour: [0.5, 0.5, 0.5] }));
  const codes = (text: string) => readStep(bytesOf(text)).assembly.findings.map(({ code }) => code);
  test('a colour that is missing', () =>
    expect(codes(table.replace(/(FILL_AREA_STYLE_COLOUR\('',)#\d+/, '$1#77777'))).toEqual(['dangling-style']));
  test('a byte order mark', () => expect(codes(`\ufeff${table}`)).toEqual(['byte-order-mark']));
  test('no length unit: millimetres are assumed and said', () =>
    expect(codes(table.replace(/GLOBAL_UNIT_ASSIGNED_CONTEXT\(\([^)]*\)\)/, ''))).toEqual(['no-length-unit']));
  test('bytes that are no UTF-8', () => {
    const bytes = bytesOf(table.replace("'Plate'", "'Pl~te'"));
    bytes[bytes.indexOf(126)] = 0xe4;
    const { assembly } = readStep(bytes);
    expect([assembly.components[0].name, assembly.findings.map(({ code }) => code)]).toEqual([
      'Pläte',
      ['text-coding'],
    ]);
  });
});
