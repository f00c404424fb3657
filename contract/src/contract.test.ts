import * as v from 'valibot';
import { describe, expect, test } from 'vitest';
import { newBill, newComponentEdits } from '../../core/src/documents/index.ts';
import { assemblyOf, leaf, node } from '../../testkit/assemblies.ts';
import { api, parseCommand, parseDocument } from './index.ts';

const key = '0123456789abcdef0123456789abcdef';
const balloon = {
  id: 'b',
  view: 'v',
  path: [`${key}.0`],
  anchor: [1, 2, 3],
  end: 'dot',
  offset: [1, 2],
  byHand: false,
};

describe('documents from the database', () => {
  test('a bill and component edits come back as they were', () => {
    const bill = newBill(assemblyOf(node('TOP', [1, leaf('A', { material: 'Ash' })])), 'list');
    expect(parseDocument('bill', JSON.parse(JSON.stringify(bill)))).toEqual(bill);
    expect(parseDocument('components', newComponentEdits)).toEqual(newComponentEdits);
  });
  test.each([
    [
      'a bill without columns',
      'bill',
      { version: 1, name: '', recipe: { depth: 'structured', identity: 'name' }, columns: [], ledger: {} },
    ],
    [
      'a bill of an unknown depth',
      'bill',
      {
        version: 1,
        name: '',
        recipe: { depth: 'deep', identity: 'name' },
        columns: [{ id: 'a', source: 'item', heading: '' }],
        ledger: {},
      },
    ],
    ['a bill of another version', 'bill', { version: 2 }],
    ['a treatment that is half said', 'components', { version: 1, treatments: { [key]: { ownLine: true } } }],
    ['nothing at all', 'sheet', null],
  ] as const)('%s is refused', (_, kind, value) => expect(() => parseDocument(kind, value)).toThrow(v.ValiError));
});

describe('commands from the page', () => {
  test.each([
    ['bill', { kind: 'setDepth', depth: 'structured' }],
    ['bill', { kind: 'addColumn', column: { id: 'm', source: 'property:Mass', heading: 'Mass' }, at: 2 }],
    ['bill', { kind: 'setNumbers', numbers: { [key]: { number: 3 }, [`${key}@${key}`]: null } }],
    ['sheet', { kind: 'changeView', id: 'v', change: { scale: 0.1 } }],
    ['sheet', { kind: 'setTable', table: null }],
    ['sheet', { kind: 'changeBalloons', remove: ['a'], put: [balloon] }],
    ['components', { kind: 'setTreatment', component: key, treatment: null }],
    [
      'components',
      {
        kind: 'typeValues',
        name: 'Material',
        components: { [key]: { value: 'Ash' } },
        places: { [`${key}.0/${key}.12`]: null },
      },
    ],
    ['components', { kind: 'setOrientation', orientation: { up: '+y', front: '+z' } }],
    ['components', { kind: 'decide', finding: 'same-shape x', decision: { answer: 'same' }, sameAs: { [key]: key } }],
  ] as const)('%s: %j', (kind, command) => expect(parseCommand(kind, command)).toEqual(command));
  test.each([
    ['a command of another document', 'bill', { kind: 'setPaper', paper: { size: 'A3', landscape: true } }],
    ['an unknown source', 'bill', { kind: 'addColumn', column: { id: 'm', source: 'weight', heading: '' }, at: 0 }],
    ['a number that is none', 'bill', { kind: 'setNumbers', numbers: { [key]: { number: 0 } } }],
    ['an address that is none', 'bill', { kind: 'setNumbers', numbers: { A1: { number: 1 } } }],
    ['a scale of nothing', 'sheet', { kind: 'changeView', id: 'v', change: { scale: 0 } }],
    ['a place beyond all paper', 'sheet', { kind: 'changeView', id: 'v', change: { centre: [Infinity, 0] } }],
    [
      'a path that is no path',
      'sheet',
      { kind: 'changeBalloons', remove: [], put: [{ ...balloon, path: ['../etc'] }] },
    ],
    ['a title of a million characters', 'sheet', { kind: 'setField', field: 'title', value: 'x'.repeat(1e6) }],
    [
      'a value for a place that is none',
      'components',
      { kind: 'typeValues', name: 'X', components: {}, places: { '../etc': { value: '' } } },
    ],
    ['a property of a name that is none', 'components', { kind: 'setOwnProperty', name: '', property: null }],
    ['a material heavier than any', 'components', { kind: 'setDensity', material: 'X', density: 1e9 }],
    [
      'an answer that nobody asked for',
      'components',
      { kind: 'decide', finding: 'f', decision: { answer: 'maybe' }, sameAs: {} },
    ],
    ['a field that does not exist', 'sheet', { kind: 'setField', field: 'constructor', value: 'x' }],
  ] as const)('%s is refused', (_, kind, command) => expect(() => parseCommand(kind, command)).toThrow(v.ValiError));
});

test('a gesture without steps, or with too many, is none', () => {
  const gesture = {
    gesture: 'g',
    session: 's',
    label: 'x',
    steps: [{ document: 'd', version: 1, command: { kind: 'setDepth' } }],
  };
  expect(v.safeParse(api.gestureSchema, gesture).success).toBe(true);
  for (const steps of [[], Array<unknown>(101).fill(gesture.steps[0])])
    expect(v.safeParse(api.gestureSchema, { ...gesture, steps }).success).toBe(false);
});
