import { describe, expect, test } from 'vitest';
import {
  copyOf,
  fileOf,
  printsOf,
  randomMachine,
  seeded,
  type Machine,
  type Writing,
} from '../../../testkit/revisions.ts';
import { listOccurrences, type Assembly, type ComponentKey, type ShapeKey } from '../assembly/index.ts';
import { add } from '../geometry/index.ts';
import {
  changesBetween,
  countChanges,
  isNoChange,
  laidOver,
  MOST_ROWS,
  mergeStructures,
  nothingAlike,
  recognise,
  withProjectKeys,
  type Answer,
} from './index.ts';

const SEEDS = Array.from({ length: 40 }, (_, seed) => seed);

/** Two files of a machine before and after, and what is recognised of the later one. */
function compared(before: Machine, after: Machine, writing: Writing = {}, answers: Answer[] = []) {
  const was = fileOf(before),
    is = fileOf(after, writing);
  const prints = printsOf([before, after], ['', writing.writer ?? '']);
  const pair = { before: was.assembly, after: is.assembly, prints };
  const recognition = recognise(pair, answers);
  const rekeyed = withProjectKeys(pair, recognition);
  return { was, is, pair, recognition, rekeyed, changes: changesBetween(was.assembly, rekeyed) };
}
/** Which thing each thing of the later file was taken for; null for new ones. */
const takenFor = ({ was, is, recognition }: ReturnType<typeof compared>): Map<number, number | null> =>
  new Map(is.ids.map((id, index) => [id, was.ids[recognition.components[index]] ?? null]));
const wrong = (found: Map<number, number | null>, before: Machine): [number, number | null][] =>
  [...found].filter(([id, taken]) => taken !== (before.has(id) ? id : null));

const pickOf = <Item>(random: () => number, items: readonly Item[]): Item => items[Math.floor(random() * items.length)];
const reached = (machine: Machine): number[] => fileOf(machine).ids;

/** Random changes to a machine: every thing is changed in one way at most. */
function edited(before: Machine, random: () => number, share: number): { after: Machine; said: Map<number, string> } {
  const after = copyOf(before);
  const said = new Map<number, string>();
  let next = before.size;
  for (const thing of [...after.values()]) {
    if (thing.id === 0 || random() > share) continue;
    const kind = pickOf(random, ['name', 'number', 'shape', 'material', 'move', 'more', 'fewer', 'add', 'remove']);
    const uses = [...after.values()].flatMap((parent) =>
      parent.contents.flatMap((usage, at) => (usage.child === thing.id ? [{ parent, usage, at }] : [])),
    );
    if (uses.length === 0) continue;
    const { parent, usage, at } = pickOf(random, uses);
    if (kind === 'name') thing.name = `Renamed ${thing.id}`;
    else if (kind === 'number') thing.number = `NEW-${thing.id}`;
    else if (kind === 'shape' && thing.shape !== null) thing.shape = 5000 + thing.id;
    else if (kind === 'material') thing.material = 'Birch';
    else if (kind === 'move') usage.at[0] += 5000;
    else if (kind === 'more') parent.contents.push({ ...usage, at: [9000 + thing.id, 0, 0] });
    else if (kind === 'fewer' && uses.length > 1) parent.contents.splice(at, 1);
    else if (kind === 'add') {
      after.set(next, {
        ...thing,
        id: next,
        number: `ADD-${next}`,
        name: `Added ${next}`,
        shape: 9000 + next,
        contents: [],
      });
      parent.contents.push({ child: next, label: '', at: [7000, next, 0], turned: false });
      said.set(next++, 'new');
      continue;
    } else if (kind === 'remove' && thing.shape !== null) {
      for (const other of after.values()) other.contents = other.contents.filter(({ child }) => child !== thing.id);
    } else continue;
    said.set(thing.id, kind);
  }
  return { after, said };
}

describe('a machine is recognised again', () => {
  test.each(SEEDS)('after random changes, each thing as what it was and new ones as new (seed %i)', (seed) => {
    const random = seeded(seed);
    const before = randomMachine(random, 10 + Math.floor(random() * 60));
    const { after } = edited(before, random, 0.3);
    const all = compared(before, after, { shuffle: random, noise: () => (random() - 0.5) * 1e-4 });
    expect(wrong(takenFor(all), before)).toEqual([]);
  });
  test.each(SEEDS)('and exactly what was changed is told (seed %i)', (seed) => {
    const random = seeded(seed + 1000);
    const before = randomMachine(random, 30);
    const { after, said } = edited(before, random, 0.3);
    const { changes, is, rekeyed } = compared(before, after, { shuffle: random });
    const idOf = new Map(rekeyed.components.map(({ key }, index) => [key, is.ids[index]]));
    for (const { kind, key, changes: of } of changes.components) {
      if (kind === 'gone') continue;
      const how = said.get(idOf.get(key)!);
      const told = of.map(({ what }) => what).filter((what) => what !== 'quantity');
      const expected = { name: ['name'], number: ['number'], shape: ['shape'], material: ['property:Material'] }[
        how ?? ''
      ];
      if (kind === 'new') expect(how).toBe('new');
      else expect(told).toEqual(expected ?? []);
    }
    const stillThere = new Set(reached(after));
    for (const [id, how] of said) {
      if (!stillThere.has(id)) continue;
      const key = rekeyed.components[is.ids.indexOf(id)].key;
      const told =
        how === 'move'
          ? changes.usages.some(({ kind, component }) => kind === 'moved' && component === key)
          : changes.components.some((one) => one.key === key);
      expect([id, how, told]).toEqual([id, how, true]);
    }
    expect(changes.components.filter(({ kind }) => kind === 'gone').length).toBe(
      reached(before).filter((id) => !stillThere.has(id)).length,
    );
  });
  test.each(SEEDS.slice(0, 20))(
    'from another order, another writer, other units and noise: no change (seed %i)',
    (seed) => {
      const random = seeded(seed + 2000);
      const before = randomMachine(random, 60);
      const { changes, rekeyed, was } = compared(before, before, {
        shuffle: random,
        noise: () => (random() - 0.5) * 1e-3,
        writer: 'other ',
      });
      expect([isNoChange(changes), changes.quantities]).toEqual([true, []]);
      // … and it is the same to the last digit, so nothing is drawn again.
      const shown = ({ components }: typeof rekeyed) =>
        new Map(
          components.map(({ key, shape, usages }) => [
            key,
            [shape, new Map(usages.map((usage) => [usage.key, usage.placement]))],
          ]),
        );
      expect(shown(rekeyed)).toEqual(shown(was.assembly));
    },
  );
  test.each(SEEDS.slice(0, 20))('with all names and numbers lost, by shape and place (seed %i)', (seed) => {
    const random = seeded(seed + 3000);
    const before = randomMachine(random, 40);
    const after = copyOf(before);
    for (const thing of after.values()) thing.number = thing.name = '';
    const all = compared(before, after, { shuffle: random });
    expect(wrong(takenFor(all), before)).toEqual([]);
    expect(all.recognition.confidence.filter((one) => one === 'doubtful')).toEqual([]);
  });
  test.each(SEEDS.slice(0, 20))('the other way round it is the mirror image (seed %i)', (seed) => {
    const random = seeded(seed + 4000);
    const before = randomMachine(random, 40);
    const { after } = edited(before, random, 0.3);
    const there = countChanges(compared(before, after).changes),
      back = countChanges(compared(after, before).changes);
    expect(back).toEqual({
      ...there,
      new: there.gone,
      gone: there.new,
      added: there.removed,
      removed: there.added,
    });
  });
});

/** A machine of few things: number, name and shape of parts, and what assemblies hold. */
function machineOf(...things: Partial<Machine extends Map<number, infer Thing> ? Thing : never>[]): Machine {
  return new Map(
    things.map((thing, id) => [
      id,
      { id, number: '', name: '', shape: null, material: 'Steel', contents: [], ...thing },
    ]),
  );
}
const usage = (child: number, x = child * 10, label = '') => ({
  child,
  label,
  at: [x, 0, 0] as [number, number, number],
  turned: false,
});

describe('of a machine', () => {
  test('a subassembly that was renamed and renumbered is not gone and new: it holds what it held', () => {
    const before = machineOf(
      { number: 'M', contents: [usage(1), usage(4)] },
      { number: 'MAST-1', name: 'Mast', contents: [usage(2), usage(3)] },
      { number: 'T', name: 'Tube', shape: 2 },
      { number: 'C', name: 'Cap', shape: 3 },
      { number: 'B', name: 'Body', shape: 4 },
    );
    const after = copyOf(before);
    Object.assign(after.get(1)!, { number: 'DM-7', name: 'Drill mast' });
    const { changes, recognition, is } = compared(before, after);
    expect(changes.components.map(({ kind, changes: of }) => [kind, of.map(({ what }) => what)])).toEqual([
      ['changed', ['number', 'name']],
    ]);
    expect([changes.usages, recognition.confidence[is.ids.indexOf(1)]]).toEqual([[], 'sure']);
  });
  test('two parts that exchanged their numbers are still themselves', () => {
    const before = machineOf(
      { number: 'M', contents: [usage(1), usage(2)] },
      { number: 'A', name: 'Left rail', shape: 1 },
      { number: 'B', name: 'Right rail', shape: 2 },
    );
    const after = copyOf(before);
    after.get(1)!.number = 'B';
    after.get(2)!.number = 'A';
    expect(takenFor(compared(before, after)).get(1)).toBe(1);
    expect(takenFor(compared(before, after)).get(2)).toBe(2);
  });
  test('equal bolts that swapped their order are where they were; one that moved is the one that is away', () => {
    const before = machineOf(
      { number: 'M', contents: [usage(1, 0), usage(1, 100), usage(1, 200)] },
      { number: 'BOLT', name: 'Bolt', shape: 1 },
    );
    const swapped = copyOf(before);
    swapped.get(0)!.contents.reverse();
    expect(isNoChange(compared(before, swapped).changes)).toBe(true);
    swapped.get(0)!.contents[0].at[1] = 7;
    expect(compared(before, swapped).changes.usages).toEqual([
      expect.objectContaining({ kind: 'moved', distanceMm: 7, turned: false }),
    ]);
  });
  test('what went from one subassembly to another has another parent', () => {
    const before = machineOf(
      { number: 'M', contents: [usage(1), usage(2)] },
      { number: 'A', name: 'Frame', contents: [usage(3), usage(4)] },
      { number: 'B', name: 'Deck', contents: [usage(4)] },
      { number: 'P', name: 'Lug', shape: 3 },
      { number: 'Q', name: 'Slat', shape: 4 },
    );
    const after = copyOf(before);
    after.get(2)!.contents.push(...after.get(1)!.contents.splice(0, 1));
    const { changes, is, rekeyed } = compared(before, after);
    const key = (id: number): ComponentKey => rekeyed.components[is.ids.indexOf(id)].key;
    expect(changes.usages).toEqual([
      { kind: 'other parent', component: key(3), parent: key(2), fromParent: key(1), label: '', quantity: 1 },
    ]);
    expect(changes.components).toEqual([]);
    expect(changes.quantities).toHaveLength(2);
  });
  test('another shape, number and name at the same place is doubtful at most; what the drafter says is sure', () => {
    const before = machineOf(
      { number: 'M', contents: [usage(1), usage(2)] },
      { number: 'A', name: 'Hook', shape: 1 },
      { number: 'Z', name: 'Eye', shape: 2 },
    );
    const after = copyOf(before);
    Object.assign(after.get(1)!, { number: 'B', name: 'Shackle', shape: 7 });
    const unsure = compared(before, after);
    expect(unsure.changes.components.map(({ kind }) => kind)).toEqual(['gone', 'new']);
    const answer = {
      was: unsure.was.assembly.components[unsure.was.ids.indexOf(1)].key,
      is: unsure.is.assembly.components[unsure.is.ids.indexOf(1)].key,
    };
    const told = compared(before, after, {}, [{ ...answer, same: true }]);
    expect(told.changes.components.map(({ changes }) => changes.map(({ what }) => what))).toEqual([
      ['shape', 'number', 'name'],
    ]);
    expect(told.recognition.confidence[told.is.ids.indexOf(1)]).toBe('sure');
  });
  test('what the drafter tells apart is apart, however alike', () => {
    const before = machineOf({ number: 'M', contents: [usage(1)] }, { number: 'A', name: 'Hook', shape: 1 });
    const { was } = compared(before, before);
    const { key } = was.assembly.components[was.ids.indexOf(1)];
    const { changes, rekeyed, is } = compared(before, before, {}, [{ was: key, is: key, same: false }]);
    expect(changes.components.map(({ kind }) => kind)).toEqual(['gone', 'new']);
    expect(rekeyed.components[is.ids.indexOf(1)].key).not.toBe(key);
  });
  test('a running number behind a name says nothing of a place, a word of the designer does', () => {
    const before = machineOf(
      { number: 'M', contents: [usage(1, 0, '7'), usage(1, 100, 'Bolt:8'), usage(1, 200, 'left')] },
      { number: 'BOLT', name: 'Bolt', shape: 1 },
    );
    const after = copyOf(before);
    const [one, two, left] = after.get(0)!.contents;
    Object.assign(one, { at: [10, 0, 0], label: 'Bolt:8' });
    Object.assign(two, { at: [110, 0, 0], label: '7' });
    left.at = [20, 0, 0];
    const { changes } = compared(before, after);
    expect(changes.usages.map(({ label, distanceMm }) => [label, distanceMm])).toEqual([
      ['Bolt:8', 10],
      ['7', 10],
      ['left', 180],
    ]);
  });
  test('a shape that only moved in its own coordinates has moved, and is no other shape', () => {
    const before = machineOf({ number: 'M', contents: [usage(1)] }, { number: 'A', name: 'Hook', shape: 1 });
    const { assembly } = fileOf(before);
    const prints = printsOf([before], ['', 'new ']);
    const [was, is] = ['shape 1', 'new shape 1'] as ShapeKey[];
    const { centroid, corner } = prints.get(was)!;
    prints.set(is, { ...prints.get(was)!, centroid: add(centroid, [0, 12, 0]), corner: add(corner, [0, 12, 0]) });
    const components = assembly.components.map((one) => (one.shape === was ? { ...one, shape: is } : one));
    const pair = { before: assembly, after: { ...assembly, components }, prints };
    const { components: changed, usages } = changesBetween(assembly, withProjectKeys(pair, recognise(pair)));
    expect([changed, usages]).toEqual([[], [expect.objectContaining({ kind: 'moved', distanceMm: 12 })]]);
  });
  test('a machine of which nothing is alike is another one', () => {
    const random = seeded(5);
    const before = randomMachine(random, 30);
    const other = copyOf(before);
    for (const thing of other.values()) {
      thing.number = `Q${thing.id * 7}`;
      thing.name = `Thing ${thing.id * 13}`;
      if (thing.shape !== null) thing.shape += 7000;
      for (const one of thing.contents) one.at[0] += 3333;
    }
    const { pair, recognition } = compared(before, other);
    expect(nothingAlike(recognition, pair)).toBe(true);
    const same = compared(before, before);
    expect(nothingAlike(same.recognition, same.pair)).toBe(false);
  });
});

describe('two machines as one structure', () => {
  const shown = (before: Machine, after: Machine, wanted: 'all' | 'marked' = 'all', open = () => true) => {
    const { was, rekeyed, changes } = compared(before, after);
    const rows = mergeStructures(was.assembly, rekeyed, changes).rows(
      open,
      wanted === 'all' ? null : ({ mark }) => mark !== null,
    );
    return rows.map(({ level, was: earlier, is, quantityWas, quantityIs, mark, holdsMarked }) => [
      '.'.repeat(level) + (is >= 0 ? rekeyed.components[is] : was.assembly.components[earlier]).partNumber,
      quantityWas,
      quantityIs,
      mark,
      holdsMarked,
    ]);
  };
  const before = machineOf(
    { number: 'M', contents: [usage(1), usage(2), usage(4)] },
    { number: 'A', name: 'Frame', contents: [usage(3, 0), usage(3, 50)] },
    { number: 'B', name: 'Deck', shape: 2 },
    { number: 'P', name: 'Lug', shape: 3 },
    { number: 'Q', name: 'Slat', shape: 4 },
  );
  const after = copyOf(before);
  after.get(0)!.contents.splice(1, 1);
  after.get(0)!.contents[1].at[1] = 9;
  after.get(1)!.contents.push(usage(3, 100));

  test('what is gone stands where it stood, what moved and what is held in another number is marked', () => {
    expect(shown(before, after)).toEqual([
      ['M', 1, 1, null, true],
      ['.A', 1, 1, null, true],
      ['..P', 2, 3, 'changed', false],
      ['.B', 1, 0, 'gone', false],
      ['.Q', 1, 1, 'moved', false],
    ]);
  });
  test('only what is marked is shown with what leads there; what is closed stands for what it holds', () => {
    expect(shown(before, before, 'marked')).toEqual([['M', 1, 1, null, false]]);
    expect(shown(before, after, 'marked').map(([name]) => name)).toEqual(['M', '.A', '..P', '.B', '.Q']);
    const { was, rekeyed, changes } = compared(before, after);
    const closed = mergeStructures(was.assembly, rekeyed, changes).rows(
      ({ key }) => !key.includes('/'),
      ({ mark }) => mark !== null,
    );
    expect(closed.map(({ level }) => level)).toEqual([0, 1, 1, 1]);
  });
  test('holders of a part are all that lead to it, in either machine', () => {
    const { was, rekeyed, changes } = compared(before, after);
    const { holdersOf } = mergeStructures(was.assembly, rekeyed, changes);
    const keyOf = (number: string) => was.assembly.components.find(({ partNumber }) => partNumber === number)!.key;
    const holders = (...numbers: string[]) => holdersOf(new Set(numbers.map(keyOf)));
    expect(holders('P')).toEqual(new Set([keyOf('A'), keyOf('M')]));
    expect(holders('B')).toEqual(new Set([keyOf('M')]));
    expect(holders('M')).toEqual(new Set());
  });
  test('assemblies that hold one another twice over many levels do not open into more rows than can be read', () => {
    const LEVELS = 20;
    const things = Array.from({ length: 2 * LEVELS }, (_, at) => {
      const below = at + 2 - (at % 2);
      return {
        number: `N${at}`,
        name: `Level ${at}`,
        ...(below < 2 * LEVELS ? { contents: [usage(below), usage(below + 1)] } : { shape: at }),
      };
    });
    const deep = machineOf(...things);
    const { was, rekeyed, changes } = compared(deep, deep);
    const rows = mergeStructures(was.assembly, rekeyed, changes).rows(() => true, null);
    expect(rows).toHaveLength(MOST_ROWS);
  });
});

describe('two machines laid over one another', () => {
  const pathsOf = (list: readonly { readonly path: readonly string[] }[]) =>
    list.map(({ path }) => path.join('/')).sort();

  test.each(SEEDS)('stand once where nothing changed, and apart where something did: %i', (seed) => {
    const random = seeded(4000 + seed);
    const before = randomMachine(random, 30);
    const { after } = edited(before, random, 0.3);
    const { was, rekeyed } = compared(before, after);
    const over = laidOver(was.assembly, rekeyed),
      back = laidOver(rekeyed, was.assembly);
    expect(pathsOf(over.was)).toEqual(pathsOf(back.is));
    expect(pathsOf(over.is)).toEqual(pathsOf(back.was));
    expect(pathsOf(over.stays)).toEqual(pathsOf(back.stays));
    // Every body by itself against every one of the other side, by what and where it is.
    const bodies = (assembly: Assembly) =>
      listOccurrences(assembly, (index) => assembly.components[index].shape !== null).map(
        ({ path, placement, components }) => ({
          path: path.join('/'),
          shape: assembly.components[components.at(-1)!].shape,
          placement,
        }),
      );
    const [were, are] = [bodies(was.assembly), bodies(rekeyed)];
    const alone = are.filter(
      (one) =>
        !were.some(
          (other) =>
            other.path === one.path &&
            other.shape === one.shape &&
            other.placement.every((value, at) => Math.abs(value - one.placement[at]) < 0.02),
        ),
    );
    expect(over.is.map(({ path }) => path.join('/'))).toEqual(alone.map(({ path }) => path));
    expect(over.stays.length + over.is.length).toBe(are.length);
  });

  test('one machine over itself stands once', () => {
    const { assembly } = fileOf(randomMachine(seeded(9), 40));
    const { stays, was, is } = laidOver(assembly, assembly);
    expect([was, is]).toEqual([[], []]);
    expect(stays.length).toBeGreaterThan(20);
  });
});
