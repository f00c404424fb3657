import { describe, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { at, boxMesh } from '../../../../testkit/shapes.ts';
import { componentsAlong, listOccurrences, pathKey, type Assembly, type ShapeKey } from '../../assembly/index.ts';
import { makeBill, numbersToKeep, type Address } from '../../bill/index.ts';
import { newColumn } from '../../columns/index.ts';
import { blankSheet, layOutSheet, planSheet, usualPaper, type Sheet } from '../../sheets/index.ts';
import { drawView, findSpots, viewPlacement } from '../../views/index.ts';
import {
  applyCommand,
  carryOut,
  editedFor,
  heldSentences,
  looksFor,
  newBill,
  newComponentEdits,
  newSheetSet,
  projectBill,
  type DocumentKind,
  type DrawnLook,
  type PlainIntention,
  type Means,
  type ProjectDocument,
  type ProjectState,
} from '../index.ts';

/** Two feet of a block and two bolts each, and a top, side by side. */
const machine: Assembly = (() => {
  const foot = node('FOOT', [1, leaf('BLOCK')], [2, leaf('BOLT')]);
  const bare = assemblyOf(node('TOP', [2, foot], [1, leaf('PLATE')]));
  let place = 0;
  return {
    ...bare,
    components: bare.components.map((component) => ({
      ...component,
      shape: component.usages.length > 0 ? null : ('box' as ShapeKey),
      usages: component.usages.map((usage) => ({ ...usage, placement: at(150 * place++, 0, 0) })),
    })),
  };
})();
const keyOf = (number: string) => machine.components.find(({ partNumber }) => partNumber === number)!.key;
const indexOf = (number: string) => machine.components.findIndex(({ partNumber }) => partNumber === number);
const addressOf = (number: string) => keyOf(number) as unknown as Address;

function stateOf(sheet: Sheet = blankSheet('Assembly', usualPaper('A3'))): ProjectState {
  const blank = newBill(machine, 'Drawing list', [newColumn('item'), newColumn('quantity'), newColumn('name')]);
  const ledger = numbersToKeep(makeBill(machine, blank.recipe));
  return {
    original: machine,
    edits: newComponentEdits,
    facts: new Map(),
    fileName: 'top.step',
    components: 'edits',
    set: { id: 'set', content: newSheetSet },
    bills: [
      { id: 'list', content: { ...blank, ledger } },
      { id: 'buyer', content: { ...blank, name: 'Buyer', recipe: { ...blank.recipe, depth: 'single-level' }, ledger } },
    ],
    sheets: [{ id: 'sheet', content: sheet }],
  };
}
let ids = 0;
const newId = () => `new${++ids}`;
function drawn(state: ProjectState, intention: PlainIntention): Map<string, DrawnLook> {
  return new Map(
    looksFor(state, intention).map(({ look }) => {
      const bodies = look.things.map(({ path, placement }) => ({ mesh: boxMesh(60, 40, 30), placement, path }));
      const view = viewPlacement(look.direction);
      const lines = drawView(bodies, view);
      return [look.key, { lines, spots: findSpots(bodies, view, lines) }];
    }),
  );
}
/** The state after an intention; every step has to be taken by its document. */
function after(state: ProjectState, intention: PlainIntention, given: Partial<Means> = {}): ProjectState {
  const { steps } = carryOut(state, intention, { views: drawn(state, intention), newId, ...given });
  const of = <Content extends ProjectDocument>(kind: DocumentKind, id: string, content: Content): Content =>
    steps.reduce<Content>((document, step) => {
      if (step.document !== id) return document;
      const applied = applyCommand(kind, document, step.command);
      if (!applied.ok) throw new Error(applied.reason);
      return applied.document as Content;
    }, content);
  return {
    ...state,
    edits: of('components', state.components, state.edits),
    set: { id: state.set.id, content: of('set', state.set.id, state.set.content) },
    bills: state.bills.map(({ id, content }) => ({ id, content: of('bill', id, content) })),
    sheets: state.sheets.map(({ id, content }) => ({ id, content: of('sheet', id, content) })),
  };
}
const drawing: PlainIntention = { kind: 'makeDrawing', sheet: 'sheet', views: [{ direction: 'front' }] };
const finished = after(stateOf(), drawing);
const balloonsOf = ({ sheets }: ProjectState) => sheets[0].content.balloons;
/** Item numbers in the balloons of the sheet by the bill that it shows. */
function items(state: ProjectState): string[] {
  const shown = state.bills.find(({ id }) => id === (state.sheets[0].content.bill ?? 'list'))!;
  const { bill } = projectBill({ ...state, bill: shown.content });
  const occurrences = listOccurrences(machine, () => true);
  return balloonsOf(state)
    .map(({ path }) => occurrences.find((one) => one.path.join() === path.join())!)
    .map(({ components }) => bill.rows[bill.rowOf(components)].item)
    .sort();
}

describe('what is meant', () => {
  test('make the drawing: a view, a list, every line ballooned', () => {
    const [{ content }] = finished.sheets;
    expect([content.views.map(({ direction }) => direction), content.tables.length]).toEqual([['front'], 1]);
    expect(items(finished)).toEqual(['1', '2', '3']);
  });
  test('another depth: new lines are numbered and the balloons of this bill follow', () => {
    const state = after(finished, {
      kind: 'changeBill',
      bill: 'list',
      commands: [{ kind: 'setDepth', depth: 'single-level' }],
    });
    const list = projectBill({ ...state, bill: state.bills[0].content }).bill;
    expect(list.rows.map(({ provisional }) => provisional)).toEqual(list.rows.map(() => false));
    expect(items(state)).toEqual(list.rows.map(({ item }) => item).sort());
  });
  test('what another sheet of the set has a balloon for gets none here, when the list changes or balloons are arranged', () => {
    // The second sheet has the balloon of one line, the first those of the others.
    const [sheet] = finished.sheets;
    const [mine, ...theirs] = sheet.content.balloons;
    const set: ProjectState = {
      ...finished,
      sheets: [
        { ...sheet, content: { ...sheet.content, balloons: theirs } },
        { id: 'details', content: { ...sheet.content, balloons: [mine] } },
      ],
    };
    const itemsOn = (state: ProjectState, at: number) => items({ ...state, sheets: [state.sheets[at]] });
    const before = [itemsOn(set, 0), itemsOn(set, 1)];
    expect(before.map((each) => each.length)).toEqual([2, 1]);
    const arranged = after(set, { kind: 'placeBalloons', sheet: 'sheet' });
    expect([itemsOn(arranged, 0), itemsOn(arranged, 1)]).toEqual(before);
    const relisted = after(set, {
      kind: 'changeBill',
      bill: 'list',
      commands: [{ kind: 'changeRecipe', change: { sort: [{ source: 'name', descending: true }] } }],
    });
    expect([0, 1].map((at) => itemsOn(relisted, at).length)).toEqual([2, 1]);
    // A sheet that has none yet gets all that can be seen.
    const blank = { ...set, sheets: [set.sheets[0], { id: 'details', content: { ...sheet.content, balloons: [] } }] };
    expect(itemsOn(after(blank, { kind: 'placeBalloons', sheet: 'details' }), 1)).toHaveLength(3);
  });
  test('balloons for some lines only: those named, those that rules hold for; the others stay where they are', () => {
    const [sheet] = finished.sheets;
    const [first, second] = sheet.content.balloons;
    const one = { ...finished, sheets: [{ ...sheet, content: { ...sheet.content, balloons: [first] } }] };
    const { rows } = projectBill({ ...finished, bill: finished.bills[0].content }).bill;
    const rowFor = (item: string) => rows.find((row) => row.item === item)!;
    const wanted = items({ ...finished, sheets: [{ ...sheet, content: { ...sheet.content, balloons: [second] } }] })[0];
    const named = after(one, { kind: 'placeBalloons', sheet: 'sheet', lines: [rowFor(wanted).addresses[0]] });
    expect(items(named).sort()).toEqual([...items(one), wanted].sort());
    expect(balloonsOf(named)[0]).toEqual(first);
    const filter = {
      holds: 'all',
      of: [{ source: 'item', comparison: 'is', operand: wanted }],
    } as const;
    const ruled = after(one, { kind: 'placeBalloons', sheet: 'sheet', filter } as PlainIntention);
    expect(items(ruled).sort()).toEqual(items(named).sort());
    // Both together: what is named and what the rules leave.
    const none = after(one, { kind: 'placeBalloons', sheet: 'sheet', filter, lines: [] } as PlainIntention);
    expect(balloonsOf(none)).toEqual([first]);
  });
  test('a view that is taken away leaves its balloons to the others, where every other balloon stays', () => {
    const two = after(stateOf(), {
      ...drawing,
      views: [{ direction: 'front' }, { direction: 'isometric' }],
    } as PlainIntention);
    const [first, second] = two.sheets[0].content.views;
    // One of them stands in the second view.
    const [{ content }] = two.sheets;
    const split: ProjectState = {
      ...two,
      sheets: [
        {
          id: 'sheet',
          content: {
            ...content,
            balloons: content.balloons.map((one, at) => (at === 0 ? { ...one, view: second.id } : one)),
          },
        },
      ],
    };
    const [moves, ...stay] = balloonsOf(split);
    const gone = after(split, { kind: 'placeBalloons', sheet: 'sheet', without: second.id });
    expect(gone.sheets[0].content.views.map(({ id }) => id)).toEqual([first.id]);
    expect(items(gone)).toEqual(['1', '2', '3']);
    for (const balloon of stay) expect(balloonsOf(gone)).toContainEqual(balloon);
    expect(balloonsOf(gone).map(({ id }) => id)).not.toContain(moves.id);
  });
  test('a bill that no sheet shows changes alone, and one that is only renamed gives out no numbers', () => {
    const change = (bill: string, command: object): PlainIntention =>
      ({ kind: 'changeBill', bill, commands: [command] }) as PlainIntention;
    const buyer = change('buyer', { kind: 'setDepth', depth: 'parts-only' });
    expect(looksFor(finished, buyer)).toEqual([]);
    expect(balloonsOf(after(finished, buyer))).toEqual(balloonsOf(finished));
    const { steps } = carryOut(finished, change('list', { kind: 'renameBill', name: 'L' }), {
      views: new Map(),
      newId,
    });
    expect(steps).toHaveLength(1);
  });
  test('a sheet shows another bill: its balloons stand on the lines of that one', () => {
    const state = after(finished, { kind: 'showBill', sheet: 'sheet', bill: 'buyer' });
    expect(state.sheets[0].content.bill).toBe('buyer');
    expect(items(state)).toHaveLength(projectBill({ ...state, bill: state.bills[1].content }).bill.rows.length);
    const back = after(state, { kind: 'showBill', sheet: 'sheet', bill: 'list' });
    expect([back.sheets[0].content.bill, items(back)]).toEqual([undefined, ['1', '2', '3']]);
  });
  test('a balloon set by hand stays through all of it', () => {
    const [first, ...others] = balloonsOf(finished);
    const mine = { ...first, byHand: true, offset: [-90, 12] as const };
    const sheet = { ...finished.sheets[0].content, balloons: [mine, ...others] };
    const state = { ...finished, sheets: [{ id: 'sheet', content: sheet }] };
    for (const intention of [drawing, { kind: 'placeBalloons', sheet: 'sheet' } as const])
      expect(balloonsOf(after(state, intention))).toContainEqual(mine);
  });
  test('typed cells go to the ledger, the recipe or the texts, and can be said in every bill', () => {
    const name = finished.bills[0].content.columns.find(({ source }) => source === 'name')!.id;
    const line = addressOf('BOLT');
    const typed = after(finished, {
      kind: 'typeCells',
      bill: 'list',
      cells: [
        { line, column: name, text: 'Hexagon bolt' },
        { line, column: 'item', text: '40' },
      ],
    });
    expect(typed.bills[0].content.overrides).toEqual({ [line]: { name: 'Hexagon bolt' } });
    expect(typed.bills[0].content.ledger[line]).toEqual({ number: 40, pinned: true });
    const said = after(typed, { kind: 'sayEverywhere', bill: 'list', line, column: name });
    expect(said.edits.typed).toEqual({ [keyOf('BOLT')]: { Name: { value: 'Hexagon bolt' } } });
    expect(said.bills[0].content.overrides).toEqual({});
  });
  test('lines are joined, parted and merged as usual', () => {
    const joined = after(finished, { kind: 'joinLines', bill: 'list', lines: [addressOf('BOLT'), addressOf('PLATE')] });
    expect(items(joined)).toHaveLength(2);
    const parted = after(joined, { kind: 'partLine', bill: 'list', line: addressOf('BOLT') });
    expect(items(parted)).toHaveLength(3);
  });
  test('a pose is proposed, a view takes it on, and its balloons follow their parts', () => {
    const bolt = balloonsOf(finished).find(({ path }) => componentsAlong(machine, path)!.includes(indexOf('BOLT')))!;
    const [view] = finished.sheets[0].content.views;
    const moves = [{ path: pathKey(bolt.path), steps: [[0, 0, 40] as const, [0, 0, 60] as const] }];
    const pose: PlainIntention = {
      kind: 'proposePose',
      pose: 'apart',
      name: 'Exploded',
      levels: 1,
      view: { sheet: 'sheet', view: view.id },
    };
    const state = after(finished, pose, { exploded: { moves, locked: [] } });
    expect([state.set.content.poses, state.sheets[0].content.views[0].pose]).toEqual([
      [{ id: 'apart', name: 'Exploded', moves }],
      'apart',
    ]);
    const looks = [finished, state].map((one) => looksFor(one, { kind: 'placeBalloons', sheet: 'sheet' })[0].look);
    expect(looks[0].key).not.toBe(looks[1].key);
    const things = looks.map((look) => look.things.find(({ path }) => path === moves[0].path)!.placement[11]);
    expect(things[1] - things[0]).toBe(100);
    // Seen from the front, 100 mm up are so much on paper; everything else is where it was.
    const [before, later] = [finished, state].map(({ sheets: [{ content: sheet }], set }) => {
      const list = projectBill({ ...finished, bill: finished.bills[0].content }).bill;
      const poses = set.content.poses ?? [];
      const lines = new Map([[view.id, [...drawn(finished, drawing).values()][0].lines]]);
      const inputs = { sheet, shared: set.content.fields, poses, assembly: machine, bill: list, columns: [], lines };
      return layOutSheet(inputs).balloons;
    });
    for (const [at, { balloon, anchor }] of before.entries()) {
      const up = balloon.id === bolt.id ? 100 * view.scale : 0;
      expect(later[at].anchor[0]).toBeCloseTo(anchor[0], 9);
      expect(later[at].anchor[1]).toBeCloseTo(anchor[1] - up, 9);
    }
    // Without its pose the view shows the machine as assembled.
    const gone = { ...state, set: { id: 'set', content: { ...state.set.content, poses: [] } } };
    expect(looksFor(gone, { kind: 'placeBalloons', sheet: 'sheet' })[0].look.key).toBe(looks[0].key);
  });
  test('a machine that does not come apart is said, and so is what is held', () => {
    const pose: PlainIntention = { kind: 'proposePose', pose: 'p', name: 'Exploded', levels: 1 };
    expect(carryOut(finished, pose, { views: new Map(), newId, exploded: { moves: [], locked: [] } })).toMatchObject({
      steps: [],
      refused: [expect.stringContaining('nothing to take apart')],
    });
    const path = pathKey(balloonsOf(finished)[0].path);
    const exploded = { moves: [{ path, steps: [[0, 0, 5] as const] }], locked: [{ path, because: [] }] };
    expect(carryOut(finished, pose, { views: new Map(), newId, exploded }).problems).toMatchObject([
      { code: 'locked', message: expect.stringMatching(/^One thing is held from all sides and moved all the same: /) },
    ]);
  });
  test('what is held is said once for each component, with its count', () => {
    const held = machine.components[machine.root].usages.map(({ key }) => pathKey([key]));
    expect(heldSentences(machine, held)).toEqual([
      'FOOT is held from all sides in 2 places; it is moved all the same.',
      'PLATE is held from all sides; it is moved all the same.',
    ]);
  });
  test('what cannot be done is said in a sentence', () => {
    const means = { views: new Map(), newId };
    const said = (intention: PlainIntention) => carryOut(finished, intention, means);
    expect(said({ kind: 'partLine', bill: 'list', line: addressOf('BOLT') })).toEqual({
      steps: [],
      problems: [],
      refused: ['This line has one part only.'],
    });
    expect(() => said({ kind: 'placeBalloons', sheet: 'gone' })).toThrow('That sheet is no longer there.');
    expect(() => said({ kind: 'partLine', bill: 'list', line: 'gone' as Address })).toThrow('There is no line gone');
    expect(() => said({ kind: 'sayEverywhere', bill: 'list', line: addressOf('BOLT'), column: 'quantity' })).toThrow(
      'is no property of the components',
    );
  });
  test('the same comes out where the machine and the list are at hand already', () => {
    const intention: PlainIntention = {
      kind: 'changeBill',
      bill: 'list',
      commands: [{ kind: 'setDepth', depth: 'structured' }],
    };
    const edited = editedFor(finished, null);
    const next = { ...finished.bills[0].content, recipe: { ...finished.bills[0].content.recipe, depth: 'structured' } };
    const made = projectBill({ ...finished, bill: next as never }, edited).bill;
    const views = drawn(finished, intention);
    const counting = () => {
      let id = 0;
      return () => `n${++id}`;
    };
    expect(carryOut(finished, intention, { views, newId: counting(), machine: () => edited, made })).toEqual(
      carryOut(finished, intention, { views, newId: counting() }),
    );
  });
  test('views of a sheet that has some are its own; a blank one gets those that are asked for', () => {
    const of = (state: ProjectState) => looksFor(state, drawing).map(({ request }) => request.direction);
    const top: Sheet = planSheet({
      sheet: {
        ...blankSheet('S', usualPaper('A3')),
        views: [{ ...finished.sheets[0].content.views[0], direction: 'top' }],
      },
      shared: newSheetSet.fields,
      assembly: machine,
      bill: makeBill(machine, finished.bills[0].content.recipe),
      columns: finished.bills[0].content.columns,
      lines: new Map(
        [...drawn(stateOf(), drawing).values()].map(({ lines }) => [finished.sheets[0].content.views[0].id, lines]),
      ),
    });
    expect([of(stateOf()), of(stateOf(top))]).toEqual([['front'], ['top']]);
  });
});

describe('names that every object has', () => {
  test.each(['constructor', 'toString', '__proto__', 'hasOwnProperty'])(
    '%s is a property, a variant, a rule like any other',
    (name) => {
      const source = `property:${name}` as const;
      const columns = [newColumn('item'), newColumn('name'), newColumn(source)];
      const state = stateOf();
      const recipe = {
        depth: 'parts-only',
        identity: 'part-number',
        identityWith: [name],
        variant: name,
        sort: [{ source }],
      } as const;
      const { bill } = projectBill({ ...state, bill: { ...newBill(machine, 'x', columns), recipe } });
      expect(bill.rows.map((row) => bill.cell(row, columns[2]).text)).toEqual(['', '', '']);
    },
  );
});
