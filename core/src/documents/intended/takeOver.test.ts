import { describe, expect, test } from 'vitest';
import { copyOf, fileOf, printsOf, randomMachine, seeded, type Machine } from '../../../../testkit/revisions.ts';
import {
  componentsAlong,
  listOccurrences,
  pathKey,
  pathOf,
  treatmentFor,
  type Assembly,
  type PathKey,
} from '../../assembly/index.ts';
import { placesAgain, recognise, withProjectKeys } from '../../revisions/index.ts';
import { blankSheet } from '../../sheets/index.ts';
import {
  applyCommand,
  asPrinted,
  carryOut,
  newBill,
  newComponentEdits,
  newSheetSet,
  overtakenFindings,
  posesWithNew,
  projectBill,
  withFirstNumbers,
  type BillDocument,
  type Command,
  type DocumentKind,
  type ProjectDocument,
  type ProjectState,
} from '../index.ts';

/** A machine before and after, under the keys that documents know. */
function revised(machine: Machine, later: Machine): { before: Assembly; after: Assembly } {
  const before = fileOf(machine).assembly;
  const pair = { before, after: fileOf(later).assembly, prints: printsOf([machine, later], ['']) };
  return { before, after: withProjectKeys(pair, recognise(pair)) };
}
const numbered = (assembly: Assembly): BillDocument =>
  withFirstNumbers(newBill(assembly, 'Drawing list'), { assembly, treatments: [] });

function stateOf(before: Assembly, after: Assembly, bill = numbered(before)): ProjectState {
  const sheet = blankSheet('Assembly', { size: 'A3', landscape: true });
  return {
    original: after,
    edits: newComponentEdits,
    facts: new Map(),
    fileName: 'later.step',
    components: 'components',
    set: { id: 'set', content: newSheetSet },
    bills: [
      { id: 'bill', content: bill },
      { id: 'other', content: { ...bill, name: 'Buyer’s list' } },
    ],
    sheets: [
      { id: 'one', content: sheet },
      { id: 'two', content: { ...sheet, name: 'Details', bill: 'other' } },
    ],
    revision: { shown: 'B', first: 'A' },
    earlier: { original: before, facts: new Map() },
  };
}
const line = { revision: 'B', text: 'Slat more', date: '2026-04-01', by: 'I. Maarsund' };
const takeOver = (state: ProjectState, documents: readonly string[], retire = true) =>
  carryOut(
    state,
    { kind: 'takeOver', revision: 'B', documents, retire, clouds: true, line },
    { views: new Map(), newId: () => 'new' },
  );

/** All documents of a state by id, and what carrying steps out makes of them. */
function documentsOf(state: ProjectState): Map<string, { kind: DocumentKind; content: ProjectDocument }> {
  return new Map<string, { kind: DocumentKind; content: ProjectDocument }>([
    ['set', { kind: 'set', content: state.set.content }],
    ...state.bills.map(({ id, content }) => [id, { kind: 'bill', content }] as const),
    ...state.sheets.map(({ id, content }) => [id, { kind: 'sheet', content }] as const),
  ]);
}
function carried(documents: ReturnType<typeof documentsOf>, steps: readonly { document: string; command: Command }[]) {
  const now = new Map(documents);
  const inverses: { document: string; command: Command }[] = [];
  for (const { document, command } of steps) {
    const { kind, content } = now.get(document)!;
    const done = applyCommand(kind, content, command);
    if (!done.ok) throw new Error(done.reason);
    now.set(document, { kind, content: done.document });
    inverses.unshift({ document, command: done.inverse });
  }
  return { now, inverses };
}

/** A machine with a part less, one more, and another name. */
function changed(machine: Machine): Machine {
  const later = copyOf(machine);
  const parts = [...later.values()].filter(({ shape, id }) => shape !== null && id > 0);
  const [gone, renamed] = parts;
  for (const thing of later.values()) thing.contents = thing.contents.filter(({ child }) => child !== gone.id);
  renamed.name = 'Another name';
  const id = later.size;
  later.set(id, { id, number: 'NEW-1', name: 'New one', shape: 9000, material: 'Ash', contents: [] });
  later.get(0)!.contents.push({ child: id, label: '', at: [1, 2, 3], turned: false });
  return later;
}

describe('taking a revision over', () => {
  test.each(Array.from({ length: 20 }, (_, seed) => seed))(
    'and undoing it is the identity on documents (seed %i)',
    (seed) => {
      const machine = randomMachine(seeded(seed), 30);
      const { before, after } = revised(machine, changed(machine));
      const state = stateOf(before, after);
      const documents = documentsOf(state);
      const { steps } = takeOver(state, seed % 2 ? ['one'] : ['bill', 'other', 'one', 'two']);
      const { now, inverses } = carried(documents, steps);
      expect(now).not.toEqual(documents);
      expect(carried(now, inverses).now).toEqual(documents);
    },
  );
  test('every line that stays keeps its number, new ones get the next, and those of what is gone are retired', () => {
    const machine = randomMachine(seeded(7), 30);
    const { before, after } = revised(machine, changed(machine));
    const state = stateOf(before, after);
    const bill = (assembly: Assembly, document: BillDocument) =>
      projectBill({ ...state, original: assembly, bill: document }).bill.rows;
    const was = bill(before, state.bills[0].content);
    const { now } = carried(documentsOf(state), takeOver(state, ['bill']).steps);
    const document = now.get('bill')!.content as BillDocument;
    const is = bill(after, document);
    const numberOf = new Map(was.map((row) => [row.addresses[0], row.item]));
    const added = is.filter((row) => !numberOf.has(row.addresses[0]));
    for (const row of is)
      expect([row.addresses[0], numberOf.get(row.addresses[0]) ?? row.item]).toEqual([row.addresses[0], row.item]);
    expect(added.map(({ item, provisional }) => [item, provisional])).toEqual([[String(was.length + 1), false]]);
    expect(Object.values(document.ledger).filter(({ retired }) => retired)).toHaveLength(1);
    // Beside the earlier revision it reads as it did.
    expect(bill(before, asPrinted(document)).map(({ item }) => item)).toEqual(was.map(({ item }) => item));
    const kept = carried(documentsOf(state), takeOver(state, ['bill'], false).steps).now.get('bill')!.content;
    expect(Object.values((kept as BillDocument).ledger).filter(({ retired }) => retired)).toEqual([]);
  });
  test('a sheet takes its list along, and its letter; all of them give the project its letter', () => {
    const machine = randomMachine(seeded(3), 20);
    const { before, after } = revised(machine, changed(machine));
    const state = stateOf(before, after);
    const one = carried(documentsOf(state), takeOver(state, ['two']).steps).now;
    const shown = (documents: typeof one) =>
      [...documents].map(([id, { content }]) => [id, (content as { revision?: string }).revision ?? 'A']);
    expect(shown(one)).toEqual([
      ['set', 'B'],
      ['bill', 'A'],
      ['other', 'B'],
      ['one', 'A'],
      ['two', 'B'],
    ]);
    expect(one.get('two')!.content).toMatchObject({ fields: { revision: 'B', date: '2026-04-01' } });
    expect(one.get('set')!.content).toMatchObject({
      fields: { revision: '' },
      block: { revisions: [{ ...line, of: 'B' }] },
    });
    const all = carried(documentsOf(state), takeOver(state, ['bill', 'one', 'two']).steps).now;
    expect(all.get('set')!.content).toMatchObject({ fields: { revision: 'B', date: '2026-04-01' } });
    expect(all.get('two')!.content).toMatchObject({ fields: {} });
  });
  test('a text typed over whose model changed is said', () => {
    const machine = randomMachine(seeded(11), 20);
    const later = copyOf(machine);
    const [part] = [...later.values()].filter(({ shape, id }) => shape !== null && id > 0);
    const earlierName = part.name;
    part.name = 'Plank';
    const { before, after } = revised(machine, later);
    const key = before.components.find(({ partNumber }) => partNumber === part.number)!.key;
    const bill = { ...numbered(before), overrides: { [key]: { name: 'Oak plank' } } } as BillDocument;
    const { problems } = takeOver(stateOf(before, after, bill), ['bill']);
    expect(problems.map(({ message }) => message)).toEqual([
      expect.stringContaining(`you wrote “Oak plank”, the model now says “Plank” (it said “${earlierName}”)`),
    ]);
  });
  test('… and stays a finding of the list until it is dealt with', () => {
    const machine = randomMachine(seeded(11), 20);
    const later = copyOf(machine);
    const [part] = [...later.values()].filter(({ shape, id }) => shape !== null && id > 0);
    part.name = 'Plank';
    const { before, after } = revised(machine, later);
    const key = before.components.find(({ partNumber }) => partNumber === part.number)!.key;
    const bill = { ...numbered(before), overrides: { [key]: { name: 'Oak plank' } } } as BillDocument;
    const state = stateOf(before, after, bill);
    const taken = carried(documentsOf(state), takeOver(state, ['bill']).steps).now.get('bill')!.content as BillDocument;
    const found = (document: BillDocument, original = after) =>
      overtakenFindings(projectBill({ ...state, original, bill: document }).bill, document).map(
        ({ code, overtaken }) => [code, overtaken],
      );
    const one = ['cell-overtaken', { address: key, reference: 'name' }];
    expect([found(bill), found(taken)]).toEqual([[], [one]]);
    const after1 = (command: Command) => {
      const done = applyCommand('bill', taken, command);
      if (!done.ok) throw new Error(done.reason);
      return found(done.document as BillDocument);
    };
    expect(after1({ kind: 'noteOvertaken', cells: { [key]: { name: null } } as never })).toEqual([]);
    expect(after1({ kind: 'typeCells', cells: { [key]: { name: null } } as never })).toEqual([]);
    expect(after1({ kind: 'typeCells', cells: { [key]: { name: 'Ash plank' } } as never })).toEqual([]);
    expect(after1({ kind: 'renameBill', name: 'Another' })).toEqual([one]);
    // Beside the earlier revision the model says what it said.
    expect(found(taken, before)).toEqual([]);
  });
  test('a balloon whose place is gone names the nearest other place of its part, under whatever parent', () => {
    const machine = randomMachine(seeded(5), 20);
    const later = copyOf(machine);
    // A part with several places loses one, and another one goes to another parent.
    const uses = [...machine.values()].flatMap(({ id, contents }) => contents.map((usage, at) => ({ id, usage, at })));
    const several = uses.find(({ usage }) => uses.filter((one) => one.usage.child === usage.child).length > 2)!;
    const single = uses.find(
      ({ usage, id }) =>
        id > 0 &&
        machine.get(usage.child)!.shape !== null &&
        uses.filter((one) => one.usage.child === usage.child).length === 1,
    )!;
    later.get(several.id)!.contents.splice(several.at, 1);
    const moved = later.get(single.id)!.contents;
    const [usage] = moved.splice(
      moved.findIndex(({ child }) => child === single.usage.child),
      1,
    );
    later.get(0)!.contents.push(usage);
    const { before, after } = revised(machine, later);
    const lost = listOccurrences(before, (index) => before.components[index].usages.length === 0).filter(
      ({ path }) => !componentsAlong(after, path),
    );
    expect(lost.length).toBeGreaterThan(1);
    const found = placesAgain(
      before,
      after,
      lost.map(({ path }) => pathKey(path)),
    );
    for (const { path, components } of lost) {
      const key = before.components[components.at(-1)!].key;
      const there = found.get(pathKey(path));
      const along = there && componentsAlong(after, pathOf(there));
      expect(along ? after.components[along.at(-1)!].key : null).toBe(key);
    }
  });
  test('a part that stands in another subassembly by now keeps its texts, and what was said of its place', () => {
    const thing = (
      id: number,
      shape: number | null,
      contents: Machine extends Map<number, infer T> ? T['contents' & keyof T] : never,
    ) => ({
      id,
      number: `HS-${id}`,
      name: `Thing ${id}`,
      shape,
      material: '',
      contents,
    });
    const use = (child: number, x: number) => ({
      child,
      label: '',
      at: [x, 0, 0] as [number, number, number],
      turned: false,
    });
    const machine: Machine = new Map([
      [0, thing(0, null, [use(1, 100), use(2, 500)])],
      [1, thing(1, null, [use(3, 0), use(4, 10)])],
      [2, thing(2, null, [use(4, 30)])],
      [3, thing(3, 3, [])],
      [4, thing(4, 4, [])],
    ]);
    const later = copyOf(machine);
    // It goes from one subassembly to the other and stays where it stands in the machine.
    later.get(1)!.contents = [use(4, 10)];
    later.get(2)!.contents = [use(4, 30), use(3, -400)];
    const { before, after } = revised(machine, later);
    const keyOf = (id: number) => before.components.find(({ partNumber }) => partNumber === `HS-${id}`)!.key;
    const pathIn = (assembly: Assembly) =>
      pathKey(
        listOccurrences(assembly, (index) => assembly.components[index].key === keyOf(3)).map(({ path }) => path)[0],
      );
    const [stood, stands] = [pathIn(before), pathIn(after)];
    expect(stands).not.toBe(stood);
    const list = {
      ...newBill(before, 'Drawing list'),
      recipe: { depth: 'structured', identity: 'part-number' },
    } as const;
    const numberedList = withFirstNumbers(list, { assembly: before, treatments: [] });
    const own = `${keyOf(3)}@${keyOf(1)}`;
    const state = stateOf(before, after, {
      ...numberedList,
      overrides: { [own]: { name: 'My own name' } },
    } as BillDocument);
    const whole = treatmentFor('listed whole');
    const point = { path: pathOf(stood), point: [0, 0, 0] } as const;
    const [one, two] = state.sheets;
    const view = { id: 'v', direction: 'front', scale: 1, centre: [100, 100], byHand: false, only: [stood] } as const;
    const note = {
      id: 'n',
      at: [10, 10],
      width: 40,
      lettering: 3.5,
      text: 'Here',
      leader: { view: 'v', point },
    } as const;
    const dimension = { id: 'd', view: 'v', offset: 20, kind: 'distance', from: point, to: point, along: 'x' } as const;
    const given: ProjectState = {
      ...state,
      edits: {
        ...state.edits,
        placeTreatments: { [stood]: whole } as never,
        typedAt: { [stood]: { Finish: { value: 'Oiled' } } },
        variants: { v: { name: 'V', without: [], withoutPlaces: [stood], exchanged: {}, typed: {} } },
      },
      set: {
        id: 'set',
        content: { ...newSheetSet, poses: [{ id: 'p', name: 'P', moves: [{ path: stood, steps: [[0, 0, 9]] }] }] },
      },
      sheets: [{ id: one.id, content: { ...one.content, views: [view], notes: [note], dimensions: [dimension] } }, two],
    };
    const documents = documentsOf(given).set('components', { kind: 'components', content: given.edits });
    const { steps } = takeOver(given, ['bill', 'one']);
    const { now, inverses } = carried(documents, steps);
    const rowsOf = (assembly: Assembly, bill: BillDocument) =>
      projectBill({ ...given, edits: newComponentEdits, original: assembly, bill }).bill.rows.map(
        ({ item, addresses, provisional }) => [addresses[0].slice(0, keyOf(3).length), item, provisional],
      );
    const bill = now.get('bill')!.content as BillDocument;
    const itemIn = (rows: ReturnType<typeof rowsOf>) =>
      rows.filter(([key]) => key === keyOf(3)).map(([, ...rest]) => rest);
    // Numbers count within their parent: there it gets the next one, and nobody else's changes.
    expect(itemIn(rowsOf(before, given.bills[0].content))).toEqual([['1.1', false]]);
    expect(itemIn(rowsOf(after, bill))).toEqual([['2.2', false]]);
    expect(rowsOf(before, asPrinted(bill))).toEqual(rowsOf(before, given.bills[0].content));
    expect(bill.overrides).toHaveProperty(`${keyOf(3)}@${keyOf(2)}`, { name: 'My own name' });
    const sheet = now.get('one')!.content as typeof one.content;
    expect(sheet.views[0].only).toEqual([stands]);
    expect(sheet.notes[0].leader!.point.path).toEqual(pathOf(stands));
    expect(sheet.dimensions![0]).toMatchObject({ from: { path: pathOf(stands) }, to: { path: pathOf(stands) } });
    expect((now.get('set')!.content as typeof newSheetSet).poses![0].moves[0].path).toBe(stands);
    const edits = now.get('components')!.content as typeof newComponentEdits;
    expect(edits.placeTreatments).toEqual({ [stood]: whole, [stands]: whole });
    expect(edits.typedAt).toHaveProperty(stands, { Finish: { value: 'Oiled' } });
    expect(edits.variants).toMatchObject({ v: { withoutPlaces: [stood, stands] } });
    expect(carried(now, inverses).now).toEqual(documents);
  });
  test('what shows the revision already is left alone, and said', () => {
    const machine = randomMachine(seeded(1), 10);
    const { before } = revised(machine, machine);
    const state = { ...stateOf(before, before), revision: { shown: 'A', first: 'A' } };
    const { steps, refused } = carryOut(
      state,
      { kind: 'takeOver', revision: 'A', documents: ['one'], retire: true, clouds: false, line: null },
      { views: new Map(), newId: () => 'new' },
    );
    expect([steps, refused]).toEqual([[], ['All of this shows that revision already.']]);
  });
});

describe('a part that is new in a pose', () => {
  const machine: Machine = new Map([
    [0, { id: 0, number: 'M', name: '', shape: null, material: '', contents: [at(1, 0), at(1, 100), at(2, 50)] }],
    [1, { id: 1, number: 'SLAT', name: 'Slat', shape: 1, material: '', contents: [] }],
    [2, { id: 2, number: 'BODY', name: 'Body', shape: 2, material: '', contents: [] }],
  ]);
  function at(
    child: number,
    x: number,
  ): { child: number; label: string; at: [number, number, number]; turned: boolean } {
    return { child, label: '', at: [x, 0, 0], turned: false };
  }
  const pathsOf = ({ components, root }: Assembly): PathKey[] =>
    components[root].usages.map(({ key }) => pathKey([key]));

  test('leaves its seat as its nearest neighbour of the same kind did, right behind it', () => {
    const later = copyOf(machine);
    later.get(0)!.contents.push(at(1, 210), at(2, 400));
    const { before, after } = revised(machine, later);
    const [, second, body] = pathsOf(before);
    const pose = {
      id: 'apart',
      name: 'Apart',
      moves: [
        { path: second, steps: [[0, 0, 300]] as const },
        { path: body, steps: [[0, 0, -50]] as const },
      ],
    };
    const [next] = posesWithNew([pose], before, after)!;
    const added = pathsOf(after).filter((path) => !pathsOf(before).includes(path));
    expect(next.moves.map(({ path, steps }) => [path, steps])).toEqual([
      [second, [[0, 0, 300]]],
      [added[0], [[0, 0, 300]]],
      [body, [[0, 0, -50]]],
      [added[1], [[0, 0, -50]]],
    ]);
  });
  test('stays where its neighbour stays', () => {
    const later = copyOf(machine);
    later.get(0)!.contents.push(at(1, 10));
    const { before, after } = revised(machine, later);
    const [, second] = pathsOf(before);
    const pose = { id: 'apart', name: 'Apart', moves: [{ path: second, steps: [[0, 0, 300]] as const }] };
    expect(posesWithNew([pose], before, after)).toBeNull();
  });
});
