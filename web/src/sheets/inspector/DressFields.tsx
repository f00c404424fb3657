import { Group, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { balloonShapes, leaderMarks, type BalloonDress, type LeaderMark } from '../../../../core/src/balloons/index.ts';
import { markWords, shapeWords } from '../words.ts';

/** What is drawn around numbers, at the ends of leaders, and beside balloons; of all of a sheet or of picked ones. */
export function DressFields({
  dress,
  usual,
  onDress,
}: {
  readonly dress: BalloonDress;
  /** What an empty choice is called. */
  readonly usual: string;
  /** @param change null leaves it to the sheet, or to what is usual */
  readonly onDress: (
    label: string,
    change: { readonly [Key in keyof BalloonDress]?: BalloonDress[Key] | null },
  ) => void;
}) {
  return (
    <>
      <Group gap="xs" grow mt="xs">
        <Select
          size="xs"
          label="Around numbers"
          allowDeselect={false}
          value={dress.shape ?? ''}
          data={[
            ...(usual === '' ? [] : [{ value: '', label: usual }]),
            ...balloonShapes.map((value) => ({
              value: usual === '' && value === 'circle' ? '' : value,
              label: shapeWords[value],
            })),
          ]}
          onChange={(value) =>
            onDress('what is around numbers', { shape: (value || null) as BalloonDress['shape'] | null })
          }
        />
        <Select
          size="xs"
          label="Leaders end"
          allowDeselect={false}
          value={dress.mark ?? ''}
          data={[
            { value: '', label: usual === '' ? 'as suits' : usual },
            ...leaderMarks.map((value) => ({ value, label: markWords[value] })),
          ]}
          onChange={(value) => onDress('ends of leaders', { mark: (value || null) as LeaderMark | null })}
        />
      </Group>
      <Group gap="xs" grow align="end">
        {(['before', 'after'] as const).map((side) => (
          <BesideText
            key={`${side} ${dress[side] ?? ''}`}
            label={side === 'before' ? 'Text left of it' : 'Text right of it'}
            stored={dress[side] ?? ''}
            onText={(text) => onDress('text beside balloons', { [side]: text || null })}
          />
        ))}
      </Group>
    </>
  );
}

function BesideText({ label, stored, onText }: { label: string; stored: string; onText: (text: string) => void }) {
  const [typed, setTyped] = useState(stored);
  const take = () => {
    if (typed.trim() !== stored) onText(typed.trim());
  };
  return (
    <TextInput
      mt={6}
      size="xs"
      label={label}
      placeholder="{quantity}×"
      title="{quantity} stands for how many the list says"
      maxLength={40}
      value={typed}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}
