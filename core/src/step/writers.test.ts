import { describe, expect, test } from 'vitest';
import { place } from '../../../demo/product.ts';
import { move } from '../../../demo/solids.ts';
import { structureTotals, type Assembly, type Component } from '../assembly/index.ts';
import {
  bareProduct,
  bareStep,
  bareUsage,
  beforeEnd,
  bytesOf,
  group,
  part,
  stepOf,
  tableProduct,
  times,
} from '../../../testkit/stepFiles.ts';
import { readStep } from './readAssembly.ts';

const read = (text: string, shapes = true): Assembly => readStep(bytesOf(text), { shapes }).assembly;
const named = (assembly: Assembly, partNumber: string): Component =>
  assembly.components.find((component) => component.partNumber === partNumber)!;
const table = stepOf(tableProduct());
/** Entity instance name of the n-th instance of a keyword. */
const idOf = (text: string, keyword: string, n = 0): string =>
  [...text.matchAll(new RegExp(`(#\\d+)=\\(?${keyword}\\(`, 'g'))][n][1];

describe('forms of a usage', () => {
  const two = (usage: string) => bareStep(bareProduct(10, 'TOP'), bareProduct(20, 'PART'), usage);
  const counts = (text: string) => structureTotals(read(text, false)).leafOccurrences;

  test('a complex instance', () => {
    expect(
      counts(
        two(
          "#30=(ASSEMBLY_COMPONENT_USAGE($)NEXT_ASSEMBLY_USAGE_OCCURRENCE()PRODUCT_DEFINITION_RELATIONSHIP('u1','left','',#12,#22)PRODUCT_DEFINITION_USAGE());",
        ),
      ),
    ).toBe(1);
  });
  test('a complex instance with a quantity', () => {
    const text = two(
      "#30=(ASSEMBLY_COMPONENT_USAGE($)NEXT_ASSEMBLY_USAGE_OCCURRENCE()PRODUCT_DEFINITION_RELATIONSHIP('u1','','',#12,#22)PRODUCT_DEFINITION_USAGE()QUANTIFIED_ASSEMBLY_COMPONENT_USAGE(#31));\n#31=(MEASURE_WITH_UNIT(COUNT_MEASURE(4.),#32)COUNT_MEASURE_WITH_UNIT());\n#32=(NAMED_UNIT(*));",
    );
    expect(counts(text)).toBe(4);
  });
  test('its label is the name, else the id', () => {
    const labels = (text: string) => read(text, false).components[0].usages.map(({ label }) => label);
    expect(labels(two("#30=NEXT_ASSEMBLY_USAGE_OCCURRENCE('u1','left post','',#12,#22,$);"))).toEqual(['left post']);
    expect(labels(two("#30=NEXT_ASSEMBLY_USAGE_OCCURRENCE('u1','','',#12,#22,$);"))).toEqual(['u1']);
  });
  test('a higher usage names one further down and is no piece of its own', () => {
    const deep = bareStep(
      bareProduct(10, 'TOP'),
      bareProduct(20, 'GROUP'),
      bareProduct(40, 'PART'),
      bareUsage(50, 10, 20),
      bareUsage(51, 20, 40),
      "#52=SPECIFIED_HIGHER_USAGE_OCCURRENCE('s','','',#12,#42,$,#50,#51);",
      "#53=(ASSEMBLY_COMPONENT_USAGE($)PRODUCT_DEFINITION_RELATIONSHIP('s2','','',#12,#42)PRODUCT_DEFINITION_USAGE()SPECIFIED_HIGHER_USAGE_OCCURRENCE(#50,#51));",
    );
    expect(counts(deep)).toBe(1);
  });
  test('other relations between two definitions are no usages', () => {
    expect(
      counts(
        bareStep(
          bareProduct(10, 'TOP'),
          bareProduct(20, 'PART'),
          bareUsage(30, 10, 20),
          "#31=MAKE_FROM_USAGE_OPTION('','','',#12,#22,1,'',#32);",
          '#32=MEASURE_WITH_UNIT(COUNT_MEASURE(1.),#33);',
          '#33=(NAMED_UNIT(*));',
        ),
      ),
    ).toBe(1);
  });
});

describe('where a part is used but defined in another file', () => {
  test('a reference section: it is counted under the name of that file, and the file is named', () => {
    const assembly = read(
      bareStep(bareProduct(10, 'TOP'), bareUsage(30, 10, 68)).replace(
        'DATA;',
        'REFERENCE;\n#70=<parts/guy%20collar.step#d1>;\nENDSEC;\nDATA;',
      ),
      false,
    );
    expect(assembly.components.map(({ name }) => name)).toContain('guy collar.step');
    expect(structureTotals(assembly).leafOccurrences).toBe(1);
    expect(assembly.findings).toEqual([
      {
        code: 'external-file',
        message:
          'The model refers to another file, “guy collar.step”, that was not given; what stands only there is missing. Bring that file in too if its parts matter.',
      },
    ]);
  });
  test('a document file: by its external identification', () => {
    const text = beforeEnd(
      table,
      "#900=DOCUMENT_FILE('doc7','','',#901,'',$);",
      "#901=DOCUMENT_TYPE('');",
      "#902=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('C:\\\\\\\\models\\\\\\\\sheave.stp',#903,#904,(#900));",
      "#903=IDENTIFICATION_ROLE('','');",
      "#904=EXTERNAL_SOURCE(IDENTIFIER(''));",
    );
    expect(read(text).findings.map(({ code, message }) => [code, message.includes('“sheave.stp”')])).toEqual([
      ['external-file', true],
    ]);
  });
});

describe('what is said about parts besides their name', () => {
  const boltDefinition = idOf(table, 'PRODUCT_DEFINITION', 2); // table, foot, bolt in the order of writing
  const boltFormation = /=PRODUCT_DEFINITION\('design','',(#\d+)/.exec(
    table.slice(table.indexOf(`${boltDefinition}=`)),
  )![1];
  test('author and date, by AP214 and by AP203 names', () => {
    const who = [
      "#900=PERSON('1','Maarsund','Ida',$,$,$);",
      "#901=ORGANIZATION('','Camp workshop','');",
      '#902=PERSON_AND_ORGANIZATION(#900,#901);',
      "#903=PERSON_AND_ORGANIZATION_ROLE('creator');",
    ];
    const when = [
      '#910=DATE_AND_TIME(#911,#912);',
      '#911=CALENDAR_DATE(2026,3,2);',
      '#912=LOCAL_TIME(1,0,0.,#913);',
      '#913=COORDINATED_UNIVERSAL_TIME_OFFSET(0,$,.AHEAD.);',
      "#914=DATE_TIME_ROLE('creation_date');",
    ];
    const by214 = read(
      beforeEnd(
        table,
        ...who,
        ...when,
        `#920=APPLIED_PERSON_AND_ORGANIZATION_ASSIGNMENT(#902,#903,(${boltDefinition}));`,
        `#921=APPLIED_DATE_AND_TIME_ASSIGNMENT(#910,#914,(${boltDefinition}));`,
      ),
    );
    const by203 = read(
      beforeEnd(
        table,
        ...who,
        ...when,
        `#920=CC_DESIGN_PERSON_AND_ORGANIZATION_ASSIGNMENT(#902,#903,(${boltFormation}));`,
        `#921=CC_DESIGN_DATE_AND_TIME_ASSIGNMENT(#910,#914,(${boltDefinition}));`,
      ),
    );
    for (const assembly of [by214, by203])
      expect(assembly.components[2]).toMatchObject({
        partNumber: 'B-1',
        author: 'Ida Maarsund',
        created: '2026-02-03',
      });
    expect(by214.components[0].author).toBeUndefined();
  });
  test('the creator counts before the owner of the design; a nameless person is the organisation', () => {
    const people = [
      "#900=PERSON('1',$,$,$,$,$);",
      "#901=ORGANIZATION('','Camp workshop','');",
      '#902=PERSON_AND_ORGANIZATION(#900,#901);',
      "#903=PERSON_AND_ORGANIZATION_ROLE('design_owner');",
      "#904=PERSON('2','Halvorsdal','T.',$,$,$);",
      '#905=PERSON_AND_ORGANIZATION(#904,#901);',
      "#906=PERSON_AND_ORGANIZATION_ROLE('creator');",
    ];
    const owner = `#920=APPLIED_PERSON_AND_ORGANIZATION_ASSIGNMENT(#902,#903,(${boltDefinition}));`,
      creator = `#921=APPLIED_PERSON_AND_ORGANIZATION_ASSIGNMENT(#905,#906,(${boltDefinition}));`;
    expect(named(read(beforeEnd(table, ...people, owner)), 'B-1').author).toBe('Camp workshop');
    expect(named(read(beforeEnd(table, ...people, creator, owner)), 'B-1').author).toBe('T. Halvorsdal');
  });
  test('a material designation is the property Material', () => {
    expect(
      named(read(beforeEnd(table, `#900=MATERIAL_DESIGNATION('Steel S355',(${boltDefinition}));`)), 'B-1').properties,
    ).toEqual({ Material: { value: 'Steel S355' } });
  });
  test('properties of the product hold for its definition; nearer ones win; two under one name are both kept', () => {
    const product = idOf(table, 'PRODUCT', 2);
    const on = (id: number, target: string, value: string) => [
      `#${id}=PROPERTY_DEFINITION('p','',${target});`,
      `#${id + 1}=REPRESENTATION('',(#${id + 2}),#4);`,
      `#${id + 2}=DESCRIPTIVE_REPRESENTATION_ITEM('Finish','${value}');`,
      `#${id + 3}=PROPERTY_DEFINITION_REPRESENTATION(#${id},#${id + 1});`,
    ];
    expect(named(read(beforeEnd(table, ...on(900, product, 'Plain'))), 'B-1').properties).toEqual({
      Finish: { value: 'Plain' },
    });
    expect(
      named(read(beforeEnd(table, ...on(900, product, 'Plain'), ...on(910, boltDefinition, 'Zinc'))), 'B-1').properties,
    ).toEqual({ Finish: { value: 'Zinc' } });
    expect(
      named(
        read(
          beforeEnd(
            table,
            ...on(900, boltDefinition, 'Zinc'),
            ...on(910, boltDefinition, 'Oil'),
            ...on(920, boltDefinition, 'Oil'),
          ),
        ),
        'B-1',
      ).properties,
    ).toEqual({ Finish: { value: 'Zinc' }, 'Finish (2)': { value: 'Oil' } });
  });
  test('a property on a usage holds for that occurrence only', () => {
    const usage = idOf(table, 'NEXT_ASSEMBLY_USAGE_OCCURRENCE');
    const shape = new RegExp(`(#\\d+)=PRODUCT_DEFINITION_SHAPE\\('','',${usage}\\)`).exec(table)![1];
    for (const target of [usage, shape]) {
      const assembly = read(
        beforeEnd(
          table,
          `#900=PROPERTY_DEFINITION('p','',${target});`,
          "#901=REPRESENTATION('',(#902),#4);",
          "#902=DESCRIPTIVE_REPRESENTATION_ITEM('Torque','25 Nm');",
          '#903=PROPERTY_DEFINITION_REPRESENTATION(#900,#901);',
        ),
      );
      expect(
        assembly.components.flatMap(({ usages }) =>
          usages.flatMap(({ properties }) => (properties ? [properties] : [])),
        ),
      ).toEqual([{ Torque: { value: '25 Nm' } }]);
      expect(named(assembly, 'B-1').properties).toEqual({});
    }
  });
  test('layers, unless one layer holds everything', () => {
    const solids = [...table.matchAll(/(#\d+)=MANIFOLD_SOLID_BREP/g)].map((match) => match[1]);
    const layered = beforeEnd(
      table,
      `#900=PRESENTATION_LAYER_ASSIGNMENT('Fasteners','',(${solids[0]}));`,
      `#901=PRESENTATION_LAYER_ASSIGNMENT('Wood','',(${solids.slice(1).join(',')}));`,
    );
    expect(
      read(layered).components.map(({ partNumber, properties }) => [partNumber, properties.Layer?.value]),
    ).toContainEqual(['B-1', 'Fasteners']);
  });
  test('what the writer measured: volume in mm³, area in mm², centroid in mm, whatever the file uses', () => {
    const metres = stepOf(part('P', 'Plate', 10)).replace('SI_UNIT(.MILLI.,.METRE.)', 'SI_UNIT($,.METRE.)');
    const shape = idOf(metres, 'PRODUCT_DEFINITION_SHAPE');
    const context = idOf(metres, 'GEOMETRIC_REPRESENTATION_CONTEXT'),
      metre = idOf(metres, 'LENGTH_UNIT');
    const text = beforeEnd(
      metres,
      `#900=PROPERTY_DEFINITION('geometric validation property','centroid',${shape});`,
      `#901=REPRESENTATION('',(#902,#904),${context});`,
      "#902=CARTESIAN_POINT('centre point',(0.001,0.002,0.003));",
      '#903=PROPERTY_DEFINITION_REPRESENTATION(#900,#901);',
      "#904=MEASURE_REPRESENTATION_ITEM('surface area measure',AREA_MEASURE(0.5),#905);",
      '#905=DERIVED_UNIT((#906));',
      `#906=DERIVED_UNIT_ELEMENT(${metre},2.);`,
    );
    const [{ validation }] = read(text).components;
    expect(validation!.volume).toBeCloseTo(1000 * 1e9, 0);
    expect(validation!.area).toBeCloseTo(0.5e6, 6);
    expect(validation!.centroid!.map((value) => Math.round(value * 1e6) / 1e6)).toEqual([1, 2, 3]);
  });
});

describe('colours of single usages', () => {
  const red = (item: string, context = '') => [
    "#900=COLOUR_RGB('',1.,0.,0.);",
    "#901=FILL_AREA_STYLE_COLOUR('',#900);",
    "#902=FILL_AREA_STYLE('',(#901));",
    '#903=SURFACE_STYLE_FILL_AREA(#902);',
    "#904=SURFACE_SIDE_STYLE('',(#903));",
    '#905=SURFACE_STYLE_USAGE(.BOTH.,#904);',
    '#906=PRESENTATION_STYLE_ASSIGNMENT((#905));',
    context
      ? `#907=CONTEXT_DEPENDENT_OVER_RIDING_STYLED_ITEM('',(#906),${item},#908,(${context}));\n#908=STYLED_ITEM('',(#906),${item});`
      : `#907=STYLED_ITEM('',(#906),${item});`,
  ];
  const colours = (assembly: Assembly) =>
    assembly.components.flatMap(({ usages }) => usages.map(({ colour }) => colour ?? null));

  test('named through the place that a style is meant for', () => {
    const text = stepOf(group('TOP', 'Top', ...times(2, part('P', 'Plate'))));
    const solid = idOf(text, 'MANIFOLD_SOLID_BREP'),
      place2 = idOf(text, 'CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', 1);
    expect(colours(read(beforeEnd(text, ...red(solid, place2))))).toEqual([null, 0xff0000]);
  });
  test('a style of the shape itself is no colour of a usage', () => {
    const text = stepOf(group('TOP', 'Top', ...times(2, part('P', 'Plate'))));
    expect(colours(read(beforeEnd(text, ...red(idOf(text, 'MANIFOLD_SOLID_BREP')))))).toEqual([null, null]);
  });
});

describe('units', () => {
  const text = stepOf(group('TOP', 'Top', place(part('P', 'Plate'), move(2, 0, 0))));
  const unit = /\(LENGTH_UNIT\(\)NAMED_UNIT\(\*\)SI_UNIT\(\.MILLI\.,\.METRE\.\)\)/;
  const at = (replaced: string) => [read(replaced).sourceUnit, read(replaced).components[0].usages[0].placement[3]];
  test.each([
    ['.MICRO.', 'µm', 0.002],
    ['.CENTI.', 'cm', 20],
    ['.DECI.', 'dm', 200],
    ['$', 'm', 2000],
    ['.KILO.', 'km', 2_000_000],
  ])('%s metre', (prefix, name, x) => {
    const [unitName, placed] = at(text.replace('.MILLI.,.METRE.', `${prefix},.METRE.`));
    expect(unitName).toBe(name);
    expect(placed).toBeCloseTo(x, 9);
  });
  test('a foot defined by the inch', () => {
    const chain = beforeEnd(
      text.replace(unit, "(CONVERSION_BASED_UNIT('FOOT',#902)LENGTH_UNIT()NAMED_UNIT(#907))"),
      '#902=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(12.),#903);',
      "#903=(CONVERSION_BASED_UNIT('INCH',#904)LENGTH_UNIT()NAMED_UNIT(#907));",
      '#904=(LENGTH_MEASURE_WITH_UNIT()MEASURE_WITH_UNIT(LENGTH_MEASURE(2.54),#905));',
      '#905=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.CENTI.,.METRE.));',
      '#907=DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);',
    );
    const [name, x] = at(chain);
    expect(name).toBe('foot');
    expect(x).toBeCloseTo(609.6, 9);
  });
  test('an inch that nobody defines is still an inch; units defined by one another are none', () => {
    expect(
      at(
        beforeEnd(
          text.replace(unit, "(CONVERSION_BASED_UNIT('INCH',#902)LENGTH_UNIT()NAMED_UNIT(#907))"),
          "#902=DESCRIPTIVE_REPRESENTATION_ITEM('','');",
          '#907=DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);',
        ),
      ),
    ).toEqual(['inch', 50.8]);
    const circular = beforeEnd(
      text.replace(unit, "(CONVERSION_BASED_UNIT('ELL',#902)LENGTH_UNIT()NAMED_UNIT(#907))"),
      '#902=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(2.),#903);',
      "#903=(CONVERSION_BASED_UNIT('ELL',#902)LENGTH_UNIT()NAMED_UNIT(#907));",
      '#907=DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);',
    );
    expect(read(circular).findings.map(({ code }) => code)).toEqual(['no-length-unit']);
  });
});

test('an assembly with a shape of its own keeps it and its contents', () => {
  const own = stepOf(group('TOP', 'Top', place(part('P', 'Plate'), move(0, 0, 0))));
  const solid = idOf(own, 'MANIFOLD_SOLID_BREP');
  const drawn = own.replace(/(=SHAPE_REPRESENTATION\('',\(#\d+)\)/, `$1,${solid})`);
  expect(
    read(drawn).components.map(({ partNumber, shape, usages }) => [partNumber, shape !== null, usages.length]),
  ).toEqual([
    ['TOP', true, 1],
    ['P', true, 0],
  ]);
});
