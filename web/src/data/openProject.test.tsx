// @vitest-environment jsdom
import { act, cleanup, render } from '@testing-library/react';
import { memo } from 'react';
import { afterEach, expect, test } from 'vitest';
import { assemblyOf, leaf, node } from '../../../testkit/assemblies.ts';
import { ShownMachine, useOwnPicks } from './ProjectContext.tsx';
import {
  DocumentsContext,
  DoingContext,
  useDocuments,
  useMachine,
  usePicking,
  usePicks,
  useProject,
  type Picking,
  type PickedPart,
} from './openProject.ts';

afterEach(cleanup);

const assembly = assemblyOf(node('TOP', [2, leaf('A')], [1, leaf('B')]));
const drawn: Record<string, number> = {};
let last: PickedPart & Picking;
const counted = (name: string, use: () => unknown) =>
  memo(function Counted() {
    use();
    drawn[name] = (drawn[name] ?? 0) + 1;
    return null;
  });
const parts = {
  Stored: counted('stored', useDocuments),
  Computed: counted('computed', useMachine),
  Changing: counted('changing', useProject),
  Verb: counted('verb', usePicking),
  Lit: counted('lit', () => (last = { ...usePicks(), ...usePicking() })),
};

/** As a project is shown, with what is picked kept beside the machine. */
function Shown() {
  const picked = useOwnPicks(assembly);
  return (
    <DoingContext.Provider value={doing}>
      <DocumentsContext.Provider value={documents}>
        <ShownMachine machine={machine} {...picked}>
          {below}
        </ShownMachine>
      </DocumentsContext.Provider>
    </DoingContext.Provider>
  );
}
const doing = { perform: () => true };
const documents = {} as never;
const machine = { assembly } as never;
const below = Object.entries(parts).map(([name, Part]) => <Part key={name} />);

test('an arrow key in a list, which picks the next part, redraws what is lit and nothing else', () => {
  render(<Shown />);
  expect(drawn).toEqual({ stored: 1, computed: 1, changing: 1, verb: 1, lit: 1 });
  act(() => last.pick(1));
  expect([last.picked, last.pickedPath]).toEqual([1, null]);
  act(() => last.pick(2));
  expect(last.picked).toBe(2);
  expect(drawn).toEqual({ stored: 1, computed: 1, changing: 1, verb: 1, lit: 3 });
});

test('what is picked is gone with its component', () => {
  render(<Shown />);
  act(() => last.pick(99));
  expect(last.picked).toBeNull();
  act(() => last.pick(null));
  expect(last.picked).toBeNull();
});
