import { expect, test } from 'vitest';
import { bytesOf, group, part, readOutcome, stepOf, times } from '../../../testkit/stepFiles.ts';
import { readStep } from './readAssembly.ts';

const file = stepOf(group('A', 'Rack', ...times(2, part('B-1', 'Bolt'))));
const structure = [
  ['B-1', 'Bolt', 0],
  ['A', 'Rack', 2],
];
const findingsOf = (text: string) => readStep(bytesOf(text)).assembly.findings.map(({ message }) => message);
const sorted = (text: string) => {
  const { structure: read, findings, refused } = readOutcome(text);
  return { structure: read?.toSorted(([, , a], [, , b]) => a - b), findings, refused };
};

// ISO 10303-21:2016 puts signatures behind the end mark; some writers put them before it.
const signature = 'MIIBxwYJKoZIhvcNAQcCoIIBuDCC\nENDSECabcE/+E==';
test.each([
  ['with a semicolon', `SIGNATURE;\n${signature}\nENDSEC;\n`],
  ['as the standard writes it', `SIGNATURE ${signature}\nENDSEC;\n`],
  ['twice, with a comment between', `SIGNATURE;\n${signature}\nENDSEC;\n/* two */ SIGNATURE;\nAAAA\nENDSEC ;`],
])('a signature behind the end mark reads, %s', (_, section) =>
  expect(sorted(`${file}${section}`)).toEqual({ structure, findings: ['signed'], refused: undefined }),
);
test('what stands behind the end mark and is no signature is two files joined', () => {
  expect(readOutcome(`${file}${file}`).refused).toMatch(/Two files may have been joined/);
  expect(readOutcome(`${file}SIGNATURE;\nAAAA\nENDSEC;\n${file}`).refused).toMatch(/Two files may have been joined/);
});
test('a signature without an end is cut off', () =>
  expect(readOutcome(`${file}SIGNATURE;\nAAAA\n`).refused).toMatch(/SIGNATURE section has no ENDSEC/));

test('where no representation has a context, millimetres are assumed and said', () => {
  const contextless = file.replace(/(SHAPE_REPRESENTATION\('[^']*',\([^)]*\),)#\d+/g, '$1$');
  expect(contextless).not.toBe(file);
  expect(findingsOf(contextless)).toEqual(['The file gives no length unit; millimetres were assumed.']);
});
test('where only some have none, that is said too', () => {
  const once = file.replace(/(SHAPE_REPRESENTATION\('[^']*',\([^)]*\),)#\d+/, '$1$');
  expect(findingsOf(once)).toEqual([
    'One shape of the file gives no length unit, others do; millimetres were assumed for it.',
  ]);
});

test.each([
  ['AUTOMOTIVE_DESIGN', true],
  ['automotive_design { 1 0 10303 214 3 1 1 }', true],
  ['CONFIG_CONTROL_DESIGN', true],
  ['AP203_CONFIGURATION_CONTROLLED_3D_DESIGN_OF_MECHANICAL_PARTS_AND_ASSEMBLIES_MIM_LF { 1 0 10303 403 3 1 4 }', true],
  ['AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF { 1 0 10303 442 1 1 4 }', true],
  ['IFC4', false],
  ['STRUCTURAL_ANALYSIS_DESIGN', false],
])('the schema %s is known: %s', (schema, known) => {
  const findings = findingsOf(file.replace(/FILE_SCHEMA\(\(.*\)\);/, `FILE_SCHEMA(('${schema}'));`));
  expect(findings).toEqual(
    known
      ? []
      : [
          `The schema of the file is “${schema}”; AP203, AP214 and AP242 are known. It was read like these: check quantities and names, another schema may say them elsewhere.`,
        ],
  );
});
