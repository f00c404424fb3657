import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { newBill, type BillDocument, type Command } from '../../core/src/documents/index.ts';
import { assemblyOf, leaf, node } from '../../testkit/assemblies.ts';
import { carryGestures, firstClash, readStored, type CarryOrder, type StepText, type StoredText } from './index.ts';

const bill = newBill(
  assemblyOf(node('TOP', [2, leaf('A', { name: 'Slat' })], [1, leaf('B', { name: 'Pin' })])),
  'list',
);
const stored: StoredText = { id: 'bill', kind: 'bill', version: 4, content: JSON.stringify(bill) };
const step = (command: unknown, version: number | null = 4, document = 'bill'): StepText => ({
  document,
  version,
  command: JSON.stringify(command),
});
const heading = (id: string, text: string): Command => ({ kind: 'renameColumn', id, heading: text });
const order = (...gestures: StepText[][]): CarryOrder => ({
  documents: [stored],
  gestures: gestures.map((steps) => ({ steps })),
  meanwhile: [],
  stays: null,
});
const whats = (wanted: CarryOrder) => carryGestures(wanted).outcomes.map(({ what }) => what);
const headings = (content: string) =>
  (readStored({ kind: 'bill', content }) as BillDocument).columns.map((column) => column.heading);

describe('gestures carried out together', () => {
  test('one after the other, each with its inverse and the version before it', () => {
    const { outcomes, documents } = carryGestures(
      order([step(heading('item', 'Pos'))], [step(heading('quantity', 'Pieces')), step(heading('name', 'Part'))]),
    );
    expect(outcomes.map((one) => one.what === 'done' && one.edits.map(({ fromVersion }) => fromVersion))).toEqual([
      [4],
      [5, 6],
    ]);
    expect(documents!.map(({ version, away }) => [version, away])).toEqual([[7, false]]);
    expect(headings(documents![0].content)).toEqual(expect.arrayContaining(['Pos', 'Pieces', 'Part']));
  });
  test('one that cannot be carried out leaves nothing of itself, and all of the others', () => {
    const { outcomes, documents } = carryGestures(
      order(
        [step(heading('item', 'Pos'))],
        [step(heading('quantity', 'half')), step(heading('gone', 'x'))],
        [step(heading('name', 'Part'))],
      ),
    );
    expect(outcomes.map(({ what }) => what)).toEqual(['done', 'refused', 'done']);
    expect(headings(documents![0].content)).not.toContain('half');
    expect(documents![0].version).toBe(6);
  });
  test('the second of two that touch the same clashes when it was made without the first', () => {
    expect(whats(order([step(heading('item', 'a'))], [step(heading('item', 'b'))]))).toEqual(['done', 'clash']);
    expect(whats(order([step(heading('item', 'a'))], [step(heading('item', 'b'), 5)]))).toEqual(['done', 'done']);
  });
  test('what others did meanwhile clashes with what touches the same only', () => {
    const meanwhile = [
      {
        document: 'bill',
        kind: 'bill' as const,
        fromVersion: 3,
        form: 2,
        command: JSON.stringify(heading('item', 'x')),
      },
    ];
    const late = (id: string) => whats({ ...order([step(heading(id, 'mine'), 3)]), meanwhile });
    expect([late('item'), late('name')]).toEqual([['clash'], ['done']]);
  });
  test('one for a version that does not exist clashes; one for a document that is not there is refused', () => {
    expect(whats(order([step(heading('item', 'a'), 9)], [step(heading('item', 'b'), 4, 'other')]))).toEqual([
      'clash',
      'refused',
    ]);
  });
  test('what is no command is told apart from what cannot be done', () => {
    const { outcomes } = carryGestures(order([step({ kind: 'dance' })], [step(heading('gone', 'x'))]));
    expect(outcomes.map((one) => one.what === 'refused' && one.code)).toEqual(['not-as-expected', 'edit-refused']);
  });
  test('the drawing’s list cannot be taken away', () => {
    const away = [step({ kind: 'setAway', away: true })];
    expect([whats({ ...order(away), stays: 'bill' }), whats(order(away))]).toEqual([['refused'], ['done']]);
  });
  test('more columns than a bill can hold: alone refused, together told to be tried one by one', () => {
    const column = (at: number) => ({ id: `c${at}`, source: 'name', heading: 'N' });
    const add = (from: number) =>
      step({ kind: 'setColumns', columns: Array.from({ length: 201 }, (_, at) => column(from + at)) });
    expect(whats(order([add(0)]))).toEqual(['refused']);
    const full = { ...bill, columns: Array.from({ length: 200 }, (_, at) => column(at)) };
    const more = step({ kind: 'addColumn', column: column(500), at: 0 });
    const atLimit = {
      ...order([more], [step(heading('c1', 'x'))]),
      documents: [{ ...stored, content: JSON.stringify(full) }],
    };
    expect(carryGestures(atLimit).documents).toBeNull();
  });
  test('together they come to the same as one after the other (a law)', () => {
    const ids = bill.columns.map(({ id }) => id);
    const gesture = fc.array(fc.tuple(fc.constantFrom(...ids), fc.string({ minLength: 1, maxLength: 8 })), {
      minLength: 1,
      maxLength: 3,
    });
    fc.assert(
      fc.property(fc.array(gesture, { minLength: 1, maxLength: 6 }), (gestures) => {
        const steps = gestures.map((one) => one.map(([id, text]) => step(heading(id, text), null)));
        let alone: StoredText = stored;
        for (const one of steps) {
          const carried = carryGestures({ ...order(one), documents: [alone] });
          alone = { ...alone, ...carried.documents![0] };
        }
        const [together] = carryGestures(order(...steps)).documents!;
        expect([together.version, JSON.parse(together.content)]).toEqual([alone.version, JSON.parse(alone.content)]);
      }),
      { seed: 5, numRuns: 100 },
    );
  });
});

test('the first later edit that changed the same thing is the one that is named', () => {
  const edit = (id: string) => ({
    document: 'bill',
    kind: 'bill' as const,
    fromVersion: 1,
    form: 2,
    command: JSON.stringify(heading(id, 'x')),
    inverse: JSON.stringify(heading(id, 'y')),
  });
  expect(firstClash([edit('item')], [edit('name'), edit('item'), edit('item')])).toBe(1);
  expect(firstClash([edit('item')], [edit('name')])).toBeNull();
});

describe('a number belongs to one line alone', () => {
  const [a, b] = ['a', 'b'].map((letter) => letter.repeat(32));
  const [inOne, inTwo] = ['c', 'd'].map((letter) => `@${letter.repeat(32)}`);
  const give = (address: string, number: number | null): Command => ({
    kind: 'setNumbers',
    numbers: { [address]: number === null ? null : { number } },
  });
  const made = (command: Command, inverse: Command) => ({
    document: 'bill',
    kind: 'bill' as const,
    fromVersion: 1,
    form: 2,
    command: JSON.stringify(command),
    inverse: JSON.stringify(inverse),
  });
  const after = (mine: Command, theirs: Command) =>
    carryGestures({
      ...order([step(mine, 1)]),
      documents: [{ ...stored, version: 2 }],
      meanwhile: [made(theirs, theirs)],
    }).outcomes[0].what;
  test('who gives it to another line at the same moment comes second', () => {
    expect(after(give(a, 12), give(b, 12))).toBe('clash');
    expect(after(give(a, 12), give(b, 13))).toBe('done');
  });
  test('of one list: levels count by themselves, and what is taken away is free', () => {
    expect(after(give(a + inOne, 12), give(b + inTwo, 12))).toBe('done');
    expect(after(give(a + inOne, 12), give(b + inOne, 12))).toBe('clash');
    expect(after(give(a, 12), give(b, null))).toBe('done');
  });
  test('two in one go: the second is asked again', () =>
    expect(carryGestures(order([step(give(a, 12))], [step(give(b, 12))])).outcomes.map(({ what }) => what)).toEqual([
      'done',
      'clash',
    ]));
  test('taking a number back that another line has meanwhile names who has it', () => {
    const moved = made(give(a, 13), give(a, 12));
    expect(firstClash([moved], [made(give(b, 12), give(b, null))])).toBe(0);
    expect(firstClash([moved], [made(give(b, 14), give(b, null))])).toBeNull();
  });
});
