import { describe, expect, test } from 'vitest';
import { LOTS, type PackedLot } from '../../../core/src/views/index.ts';
import { packMesh } from '../../../core/src/formats/index.ts';
import { at, boxMesh, cylinderMesh } from '../../../testkit/shapes.ts';
import run from './worker.ts';
import { helperWork, sharedWork, shareable } from './sharedView.ts';
import type { Task, ViewTask } from './tasks.ts';
import { ViewHelp } from './viewHelp.ts';

const packed = (value: number): PackedLot => ({ lines: Float64Array.of(value), meetings: new Float64Array(0) });

describe('a view that threads share out', () => {
  test('each lot is given once; what a helper made reaches who draws the view', () => {
    const view = shareable(2);
    const helper = helperWork(view.seat()!.seat);
    const drawing = sharedWork(view);
    const taken = [drawing.take(), helper.take(), helper.take(), drawing.take()];
    expect(taken).toEqual([0, 1, 2, 3]);
    helper.give(2, packed(22));
    helper.give(1, packed(11));
    for (let lot = drawing.take(); lot < LOTS; lot = drawing.take());
    expect(helper.isOver()).toBe(true);
    expect([...drawing.others()].map(([lot, { lines }]) => [lot, lines[0]])).toEqual([
      [2, 22],
      [1, 11],
    ]);
  });
  test('a helper that fell over is not waited for: its lot is missing', () => {
    const view = shareable(2);
    const seats = [view.seat()!, view.seat()!];
    const [one, other] = seats.map(({ seat }) => helperWork(seat));
    const drawing = sharedWork(view);
    one.take();
    other.take();
    other.give(1, packed(5));
    while (drawing.take() < LOTS);
    seats[0].onEnd();
    seats[1].onEnd();
    expect([...drawing.others().keys()]).toEqual([1]);
  });
  test('one that never began is not waited for either; nobody is asked once all lots are taken', () => {
    const view = shareable(3);
    expect(view.seat()).not.toBeNull();
    const drawing = sharedWork(view);
    while (drawing.take() < LOTS);
    expect(drawing.others().size).toBe(0);
    expect(view.seat()).toBeNull();
  });
});

test('what a helper made on its thread is what the view shows, which then makes no lot itself', async () => {
  const meshes = [
    { key: 'plate', bytes: packMesh(boxMesh(60, 40, 10)) },
    { key: 'pin', bytes: packMesh(cylinderMesh(8, 30)) },
  ];
  const bodies = [
    { mesh: 0, placement: at(0, 0, 0), path: 'plate' as never },
    { mesh: 1, placement: at(20, 20, 0), path: 'pin' as never },
    { mesh: 1, placement: at(45, 20, 5), path: 'other' as never },
  ];
  const task = {
    meshes,
    bodies,
    direction: 'isometric',
    cut: null,
    window: null,
    moves: [],
    hidden: false,
    aside: false,
  } as const;
  const alone = await run({ kind: 'view', ...task });
  const helpedBy = async (helper: typeof task) => {
    const { control, ports, seat } = shareable(1);
    await run({ kind: 'help', ...helper, seat: seat()!.seat });
    expect(Atomics.load(new Int32Array(control), 0)).toBeGreaterThanOrEqual(LOTS);
    return run({ kind: 'view', ...task, sharedOut: { control, ports } });
  };
  expect(await helpedBy(task)).toEqual(alone);
  // One that knows of the plate alone leaves nothing else to be seen: the lines are truly its own.
  expect(await helpedBy({ ...task, bodies: bodies.slice(0, 1) })).not.toEqual(alone);
});

describe('who helps with a view', () => {
  const bytes = new Uint8Array(2_000_000);
  const view = (mesh = bytes) => ({
    meshes: [{ key: 'a', bytes: mesh }],
    bodies: [{ mesh: 0, placement: [], path: '' as never }],
    direction: 'front' as const,
    cut: null,
    window: null,
    moves: [],
    hidden: false,
    aside: false,
  });
  /** Threads that do what they are told when they are told to end it. */
  const threads = (help: ViewHelp) => {
    const given: { readonly task: Task; readonly end: () => void }[] = [];
    const run = <Content>(task: Task): Promise<Content> =>
      help.count(new Promise<Content>((resolve) => given.push({ task, end: () => resolve({} as Content) })));
    return { given, run, kinds: () => given.map(({ task }) => task.kind) };
  };
  const soon = () => new Promise((resolve) => setTimeout(resolve, 60));

  test('threads that have nothing else to do, after a moment for what else comes', async () => {
    const help = new ViewHelp(4);
    const { run, kinds, given } = threads(help);
    const drawn = help.view(view(), run);
    expect(kinds()).toEqual(['view']);
    for (let other = 0; other < 2; other++) void run({ kind: 'logo', bytes });
    await soon();
    expect(kinds()).toEqual(['view', 'logo', 'logo', 'help']);
    // Other work is done: its thread helps too.
    given[1].end();
    await soon();
    expect(kinds()).toEqual(['view', 'logo', 'logo', 'help', 'help']);
    // The view is drawn: no lot is left to help with.
    const drawing = sharedWork((given[0].task as ViewTask).sharedOut!);
    while (drawing.take() < LOTS);
    given[0].end();
    await drawn;
    given[2].end();
    await soon();
    expect(kinds()).toHaveLength(5);
  });
  test('nobody with a small one, nor where there are few threads', async () => {
    for (const [count, mesh] of [
      [4, new Uint8Array(1000)],
      [3, bytes],
    ] as const) {
      const help = new ViewHelp(count);
      const { run, kinds, given } = threads(help);
      void help.view(view(mesh), run);
      await soon();
      expect(kinds()).toEqual(['view']);
      expect((given[0].task as { sharedOut?: unknown }).sharedOut).toBeUndefined();
    }
  });
});
