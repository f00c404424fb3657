import { Button, Checkbox, TextInput } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import { treatmentFor, wordFor, type ComponentIndex } from '../../../core/src/assembly/index.ts';
import type { Mesh } from '../../../core/src/geometry/index.ts';
import type { LikeChoice } from '../../../core/src/layouts/index.ts';
import { count } from '../count.ts';
import { useDocuments, useDoing, useMachine } from '../data/openProject.ts';
import { solver } from '../data/made/solver.ts';
import { bodiesByShape } from './solid/machine.ts';
import { useMeshes } from './solid/useMeshes.ts';

const CHOICES = [
  ['turned', 'turned ones too'],
  ['mirrored', 'mirrored ones too'],
  ['scaled', 'larger and smaller ones too'],
] as const satisfies readonly (readonly [keyof LikeChoice, string])[];

interface Drawn {
  /** Index of its component. */
  readonly index: number;
  readonly mesh: Mesh;
  /** Whether it is the one that the others are compared with. */
  readonly own: boolean;
}

/** Indices of those that are like the own one, worked out beside the page; null until that is done. */
function useLikes(drawn: readonly Drawn[], choice: LikeChoice): readonly number[] | null {
  const [found, setFound] = useState<{ of: readonly Drawn[]; choice: LikeChoice; like: readonly number[] } | null>(
    null,
  );
  useEffect(() => {
    let isWanted = true;
    const own = drawn.find((one) => one.own);
    const answer = own
      ? solver().likesOf(
          own.mesh,
          drawn.map(({ mesh }) => mesh),
          choice,
        )
      : Promise.resolve([]);
    void answer.then((alike) => {
      const like = drawn.flatMap((one, at) => (alike[at] || one.own ? [one.index] : []));
      if (isWanted) setFound({ of: drawn, choice, like });
    });
    return () => void (isWanted = false);
  }, [drawn, choice]);
  return found?.of === drawn && found.choice === choice ? found.like : null;
}

/** Says that a shape which is only drawn is a symbol, with all that are drawn like it. */
export function Declare({
  component,
}: {
  /** Index into the original assembly. */ readonly component: ComponentIndex;
}) {
  const { components } = useDocuments();
  const { original, assembly, treatments, counts, shapes } = useMachine();
  const { perform } = useDoing();
  const bodies = useMemo(() => bodiesByShape(original), [original]);
  const { ready } = useMeshes(bodies, shapes.progress !== null);
  const [choice, setChoice] = useState<LikeChoice>({ turned: true, mirrored: false, scaled: false });
  const [name, setName] = useState('');
  const shape = original.components[component].shape;
  const drawn = useMemo(() => {
    const meshes = new Map(ready);
    return original.components.flatMap((one, index) => {
      const mesh = one.drawn && one.shape ? meshes.get(one.shape) : undefined;
      return mesh ? [{ index, mesh, own: one.shape === shape }] : [];
    });
  }, [original, ready, shape]);
  const like = useLikes(drawn, choice);
  const alike = useMemo(
    () => (like ?? []).filter((index) => treatments[index] !== undefined && wordFor(treatments[index]) === 'left out'),
    [like, treatments],
  );
  const pieces = alike.reduce((sum, index) => sum + counts[index], 0);
  const taken = assembly.components.some((one) => one.name === name.trim() && name.trim() !== '');
  const declare = () => {
    const keys = alike.map((index) => original.components[index].key);
    const each = <Value,>(value: Value) => Object.fromEntries(keys.map((key) => [key, value]));
    perform(
      `declare ${name.trim()} a symbol`,
      {
        document: components.id,
        command: { kind: 'setTreatments', components: each(treatmentFor('listed')), places: {} },
      },
      {
        document: components.id,
        command: { kind: 'typeValues', name: 'Name', components: each({ value: name.trim() }), places: {} },
      },
    );
  };
  return (
    <section className="counted" aria-label="Declare a symbol">
      <p>
        Drawn, and no symbol of the layout: not counted.{' '}
        {like === null
          ? 'Looking for shapes like it …'
          : `${count(pieces, 'shape')} of the drawing ${pieces === 1 ? 'is' : 'are'} like it.`}
      </p>
      {CHOICES.map(([key, words]) => (
        <Checkbox
          key={key}
          size="xs"
          mb={4}
          label={words}
          checked={choice[key]}
          onChange={({ currentTarget: { checked } }) => setChoice({ ...choice, [key]: checked })}
        />
      ))}
      <TextInput
        size="xs"
        label="Count them as"
        placeholder="Name of the symbol"
        maxLength={200}
        value={name}
        description={taken ? 'There is one of this name: they are counted with it.' : undefined}
        onChange={({ currentTarget: { value } }) => setName(value)}
        onKeyDown={({ key }) => key === 'Enter' && name.trim() && declare()}
      />
      <Button mt={6} size="compact-xs" disabled={!name.trim() || alike.length === 0} onClick={declare}>
        Declare it a symbol
      </Button>
    </section>
  );
}
