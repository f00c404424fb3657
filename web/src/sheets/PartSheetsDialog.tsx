import { Checkbox, Group, Modal, SegmentedControl, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import type { ComponentKey } from '../../../core/src/assembly/index.ts';
import { count } from '../count.ts';
import { useMachine, usePicks } from '../data/openProject.ts';
import { DialogFoot } from '../controls/DialogFoot.tsx';

/** What is asked for. */
export interface PartSheets {
  readonly parts: readonly ComponentKey[];
  readonly together: boolean;
  /** Property that the numbers of the drawings are written into; null for none. */
  readonly column: string | null;
}

/** Rows that are shown at once; more are found by typing. */
const MOST_ROWS = 200;
/** Sheets at once. */
const MOST_PART_SHEETS = 100;

/** Which parts get sheets of their own, and how. */
export function PartSheetsDialog({ onClose, onMake }: { onClose: () => void; onMake: (asked: PartSheets) => void }) {
  const { assembly, bill } = useMachine();
  const { picked } = usePicks();
  const parts = useMemo(() => {
    const met = new Set<number>([assembly.root]); // a part may stand in several places of an indented list
    return bill.rows.flatMap((row) => {
      const [index] = row.components;
      if (index === undefined || met.has(index)) return [];
      met.add(index);
      return [{ item: row.item, component: assembly.components[index], index }];
    });
  }, [assembly, bill]);
  const [chosen, setChosen] = useState<ReadonlySet<ComponentKey>>(
    () => new Set(parts.flatMap(({ component, index }) => (index === picked ? [component.key] : []))),
  );
  const [words, setWords] = useState('');
  const [together, setTogether] = useState(false);
  const [writes, setWrites] = useState(false);
  const [column, setColumn] = useState('Drawing number');
  const wanted = words.trim().toLowerCase();
  const found = parts.filter(
    ({ item, component: { name, partNumber } }) =>
      !wanted || `${item} ${partNumber} ${name}`.toLowerCase().includes(wanted),
  );
  const toggle = (key: ComponentKey) => {
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    setChosen(next);
  };
  const isAll = found.length > 0 && found.every(({ component }) => chosen.has(component.key));
  return (
    <Modal opened onClose={onClose} title="Sheets of single parts" size={560}>
      <TextInput
        size="xs"
        label="Find"
        placeholder="number or name"
        data-autofocus
        value={words}
        onChange={(event) => setWords(event.currentTarget.value)}
      />
      <div className="partchoice" role="group" aria-label="Parts">
        <Checkbox
          size="xs"
          label={wanted ? `All ${found.length} that are found` : `All ${parts.length}`}
          checked={isAll}
          indeterminate={!isAll && chosen.size > 0}
          onChange={() => {
            const next = new Set(chosen);
            for (const { component } of found)
              if (isAll) next.delete(component.key);
              else next.add(component.key);
            setChosen(next);
          }}
        />
        {found.slice(0, MOST_ROWS).map(({ item, component: { key, name, partNumber } }) => (
          <Checkbox
            key={key}
            size="xs"
            label={`${item}  ${[partNumber, name].filter(Boolean).join('  ')}`}
            checked={chosen.has(key)}
            onChange={() => toggle(key)}
          />
        ))}
        {found.length > MOST_ROWS && (
          <p className="quiet">{found.length - MOST_ROWS} more; type a part of the name to find them.</p>
        )}
        {found.length === 0 && <p className="quiet">No line of the list reads so.</p>}
      </div>
      <SegmentedControl
        mt="sm"
        size="xs"
        aria-label="How many on a sheet"
        data={[
          { value: 'own', label: 'a sheet for each' },
          { value: 'together', label: 'six on a sheet' },
        ]}
        value={together ? 'together' : 'own'}
        onChange={(value) => setTogether(value === 'together')}
      />
      {!together && (
        <Group gap="xs" mt="sm" align="end">
          <Checkbox
            size="xs"
            mb={7}
            label="Write the numbers of the drawings into"
            checked={writes}
            onChange={(event) => setWrites(event.currentTarget.checked)}
          />
          <TextInput
            size="xs"
            aria-label="Property for the numbers of the drawings"
            disabled={!writes}
            maxLength={100}
            value={column}
            onChange={(event) => setColumn(event.currentTarget.value)}
          />
        </Group>
      )}
      {chosen.size > MOST_PART_SHEETS && (
        <p className="problem">
          Up to {MOST_PART_SHEETS} parts at once; {chosen.size} are chosen.
        </p>
      )}
      <DialogFoot
        disabled={chosen.size === 0 || chosen.size > MOST_PART_SHEETS || (writes && !together && column.trim() === '')}
        onDo={() => {
          onClose();
          onMake({
            // In the order of the list.
            parts: parts.map(({ component }) => component.key).filter((key) => chosen.has(key)),
            together,
            column: writes && !together ? column.trim() : null,
          });
        }}
        onClose={onClose}
      >
        {chosen.size === 0 ? 'Make them' : `Make sheets of ${count(chosen.size, 'part')}`}
      </DialogFoot>
    </Modal>
  );
}
