import { Button, Checkbox, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { treatmentFor, wordFor } from '../../../core/src/assembly/index.ts';
import { areAlike, type LikeChoice } from '../../../core/src/layouts/index.ts';
import { count } from '../count.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { bodiesByShape } from './machine.ts';
import { useMeshes } from './useMeshes.ts';

const CHOICES = [
  ['turned', 'turned ones too'],
  ['mirrored', 'mirrored ones too'],
  ['scaled', 'larger and smaller ones too'],
] as const satisfies readonly (readonly [keyof LikeChoice, string])[];

/** Says that a shape which is only drawn is a symbol, with all that are drawn like it. */
export function Declare({ component }: { /** Index into the original assembly. */ readonly component: number }) {
  const { original, assembly, treatments, counts, components, shapes, perform } = useProject();
  const bodies = useMemo(() => bodiesByShape(original), [original]);
  const { ready } = useMeshes(bodies, shapes.progress !== null);
  const [choice, setChoice] = useState<LikeChoice>({ turned: true, mirrored: false, scaled: false });
  const [name, setName] = useState('');
  const shape = original.components[component].shape;
  const alike = useMemo(() => {
    const meshes = new Map(ready);
    const own = shape ? meshes.get(shape) : undefined;
    if (!own) return [];
    return original.components.flatMap((one, index) => {
      const mesh = one.drawn && one.shape ? meshes.get(one.shape) : undefined;
      const isOpen = treatments[index] !== undefined && wordFor(treatments[index]) === 'left out';
      return mesh && isOpen && (index === component || areAlike(own, mesh, choice)) ? [index] : [];
    });
  }, [original, ready, shape, component, choice, treatments]);
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
        Drawn, and no symbol of the layout: not counted. {count(pieces, 'shape')} of the drawing{' '}
        {pieces === 1 ? 'is' : 'are'} like it.
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
