import { Button, Group, NumberInput, Textarea } from '@mantine/core';
import { useRef, useState } from 'react';
import { noteWords, type SheetNote } from '../../../core/src/sheets/index.ts';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';

const SIGNS = ['Ø', '°', '±', '×'] as const;

/** A note: its words, what of them stands for something else, and how large they are. */
export function AboutNote({ id, note, onThing }: Pick<SheetInspectorProps, 'id' | 'onThing'> & { note: SheetNote }) {
  const change = useChange(id);
  const [text, setText] = useState(note.text);
  const area = useRef<HTMLTextAreaElement>(null);
  const put = (label: string, changed: Partial<SheetNote>) =>
    change(label, { kind: 'changeNotes', remove: [], put: [{ ...note, ...changed }] });
  const keep = (words: string) => words !== note.text && put('text of a note', { text: words });
  /** At the cursor. */
  const insert = (words: string) => {
    const at = area.current?.selectionStart ?? text.length;
    const next = text.slice(0, at) + words + text.slice(area.current?.selectionEnd ?? at);
    setText(next);
    keep(next);
    area.current?.focus();
  };
  return (
    <>
      <div className="quiet">Note</div>
      <Textarea
        ref={area}
        mt="xs"
        size="xs"
        label="Text"
        description="A line that begins with a hyphen is an item of a list."
        autosize
        minRows={3}
        maxRows={14}
        maxLength={4000}
        data-autofocus
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
        onBlur={() => keep(text)}
      />
      <Group gap={4} mt={6}>
        {SIGNS.map((sign) => (
          <Button key={sign} size="compact-xs" variant="default" onClick={() => insert(sign)}>
            {sign}
          </Button>
        ))}
      </Group>
      <p className="quiet" style={{ marginTop: 8 }}>
        Words that are put in, and stay true:
      </p>
      <Group gap={4}>
        {[...noteWords, 'count 1'].map((word) => (
          <Button key={word} size="compact-xs" variant="default" onClick={() => insert(`{${word}}`)}>
            {word}
          </Button>
        ))}
      </Group>
      <Group gap="xs" mt="xs" grow>
        {(
          [
            ['Width, mm', 'width', note.width, 5, 2000],
            ['Height of letters, mm', 'lettering', note.lettering, 1, 100],
          ] as const
        ).map(([label, field, value, min, max]) => (
          <NumberInput
            key={`${field} ${value}`}
            size="xs"
            label={label}
            min={min}
            max={max}
            decimalScale={2}
            defaultValue={value}
            onBlur={(event) => {
              const typed = Number(event.currentTarget.value);
              if (typed >= min && typed <= max && typed !== value) put(label.toLowerCase(), { [field]: typed });
            }}
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          />
        ))}
      </Group>
      <Button
        mt="sm"
        size="compact-sm"
        variant="default"
        onClick={() => {
          change('take away note', { kind: 'changeNotes', remove: [note.id], put: [] });
          onThing(null);
        }}
      >
        Take away
      </Button>
    </>
  );
}
