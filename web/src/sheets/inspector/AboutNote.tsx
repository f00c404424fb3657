import { Button, Group, NumberInput } from '@mantine/core';
import { lazy, Suspense, useMemo } from 'react';
import type { Assembly } from '../../../../core/src/assembly/index.ts';
import { isLayout } from '../../../../core/src/layouts/index.ts';
import { useMachine } from '../../data/openProject.ts';
import type { SheetNote } from '../../../../core/src/sheets/index.ts';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';

/** Comes when a note is picked: it is the largest piece of the page. */
const NoteEditor = lazy(() => import('./NoteEditor.tsx'));

/** Symbols of a layout that are offered to be counted in words. */
const MOST_COUNTED = 12;
function countedWords(assembly: Assembly): string[] {
  if (!isLayout(assembly)) return [];
  const names = assembly.components.filter((_, at) => at !== assembly.root).map(({ name }) => name);
  return [...new Set(names.filter((name) => name !== '' && !/[{}]/.test(name)))]
    .slice(0, MOST_COUNTED)
    .map((name) => `count of ${name}`);
}

/** A note: its words, what of them stands for something else, and how large they are. */
export function AboutNote({
  id,
  sheet,
  note,
  onThing,
  onMeasuring,
}: Pick<SheetInspectorProps, 'id' | 'sheet' | 'onThing' | 'onMeasuring'> & { note: SheetNote }) {
  const change = useChange(id);
  const { original } = useMachine();
  const counted = useMemo(() => countedWords(original), [original]);
  const put = (label: string, changed: Partial<SheetNote>) =>
    change(label, { kind: 'changeNotes', remove: [], put: [{ ...note, ...changed }] });
  return (
    <>
      <div className="quiet">Note</div>
      <Suspense fallback={<p className="quiet">Opening the text …</p>}>
        <NoteEditor
          key={note.id}
          text={note.text}
          counted={counted}
          onKeep={(text) => put('text of a note', { text })}
        />
      </Suspense>
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
      <Group gap="xs" mt="sm">
        <Button
          size="compact-sm"
          variant="default"
          disabled={sheet.views.length === 0}
          onClick={() => onMeasuring({ kind: 'leader', note: note.id })}
        >
          {note.leader ? 'Let it point elsewhere …' : 'Leader to a point …'}
        </Button>
        {note.leader && (
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => {
              const { leader: _, ...plain } = note;
              change('note without a leader', { kind: 'changeNotes', remove: [], put: [plain] });
            }}
          >
            No leader
          </Button>
        )}
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
