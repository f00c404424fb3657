import { Button, Group, Menu, Modal, Select, TextInput } from '@mantine/core';
import { IconChevronDown, IconKey } from '@tabler/icons-react';
import { useState } from 'react';
import {
  catalogueKinds,
  MOST_CATALOGUE,
  type Catalogue,
  type CatalogueColumn,
} from '../../../core/src/catalogues/index.ts';
import type { CatalogueCommand } from '../../../core/src/documents/index.ts';
import { kindWords } from './words.ts';

type Change = (label: string, ...commands: CatalogueCommand[]) => boolean;

/** A heading with what can be done with its column. */
export function ColumnMenu({
  catalogue: { columns, key },
  column,
  change,
}: {
  readonly catalogue: Catalogue;
  readonly column: CatalogueColumn;
  readonly change: Change;
}) {
  const [editing, setEditing] = useState(false);
  const at = columns.findIndex(({ id }) => id === column.id);
  const isKey = key.includes(column.id);
  const put = (label: string, next: readonly CatalogueColumn[], nextKey: readonly string[] = key) =>
    change(label, { kind: 'setCatalogueColumns', columns: next, key: nextKey });
  const move = (to: number) => {
    const others = columns.toSpliced(at, 1);
    put(`move column ${column.heading}`, others.toSpliced(to, 0, column));
  };
  const { heading, kind, unit } = column;
  return (
    <>
      <Menu position="bottom-start" shadow="md">
        <Menu.Target>
          <button className="headbutton" data-heading title={isKey ? 'Parts are found by this column' : heading}>
            {isKey && <IconKey size={13} aria-label="key" />}
            <span className="ellipsis">
              {heading}
              {unit && (kind === 'number' || kind === 'money') ? ` [${unit}]` : ''}
            </span>
            <IconChevronDown size={13} />
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => setEditing(true)}>Heading, kind and unit …</Menu.Item>
          <Menu.Item disabled={at <= 0} onClick={() => move(at - 1)}>
            To the left
          </Menu.Item>
          <Menu.Item disabled={at === columns.length - 1} onClick={() => move(at + 1)}>
            To the right
          </Menu.Item>
          {isKey ? (
            <Menu.Item
              disabled={key.length === 1}
              onClick={() =>
                put(
                  `parts not found by ${heading}`,
                  columns,
                  key.filter((id) => id !== column.id),
                )
              }
            >
              Parts are not found by it
            </Menu.Item>
          ) : (
            <>
              <Menu.Item onClick={() => put(`parts found by ${heading}`, columns, [column.id])}>
                Parts are found by it
              </Menu.Item>
              {key.length < MOST_CATALOGUE.key && (
                <Menu.Item onClick={() => put(`parts found by ${heading} too`, columns, [...key, column.id])}>
                  … by it and the other together
                </Menu.Item>
              )}
            </>
          )}
          <Menu.Item
            disabled={isKey || columns.length === 1}
            onClick={() =>
              put(
                `take column ${heading} out`,
                columns.filter(({ id }) => id !== column.id),
              )
            }
          >
            Take it out
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {editing && (
        <CatalogueColumnDialog
          title={`Column ${heading}`}
          column={column}
          taken={columns.filter(({ id }) => id !== column.id).map((one) => one.heading)}
          onClose={() => setEditing(false)}
          onTake={(next) =>
            put(
              `change column ${next.heading}`,
              columns.map((one) => (one.id === column.id ? next : one)),
            )
          }
        />
      )}
    </>
  );
}

/** Heading, kind and unit of a column. */
export function CatalogueColumnDialog({
  title,
  column,
  taken,
  onTake,
  onClose,
}: {
  readonly title: string;
  readonly column: CatalogueColumn;
  /** Headings of the other columns. */
  readonly taken: readonly string[];
  readonly onTake: (column: CatalogueColumn) => void;
  readonly onClose: () => void;
}) {
  const [next, setNext] = useState(column);
  const heading = next.heading.trim();
  const problem =
    heading === ''
      ? 'A column needs a heading.'
      : taken.some((one) => one.toLowerCase() === heading.toLowerCase())
        ? 'The catalogue has a column of that heading already.'
        : heading === '__proto__'
          ? 'This is no name for a column.'
          : null;
  const hasUnit = next.kind === 'number' || next.kind === 'money';
  return (
    <Modal opened onClose={onClose} title={<span className="title">{title}</span>}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (problem) return;
          onTake({ ...next, heading, unit: hasUnit ? next.unit.trim() : '' });
          onClose();
        }}
      >
        <TextInput
          label="Heading"
          data-autofocus
          value={next.heading}
          maxLength={200}
          error={problem}
          onChange={({ currentTarget: { value } }) => setNext({ ...next, heading: value })}
        />
        <Group grow align="start" mt="sm">
          <Select
            label="What stands in it"
            allowDeselect={false}
            value={next.kind}
            data={catalogueKinds.map((value) => ({ value, label: kindWords[value] }))}
            onChange={(kind) => kind && setNext({ ...next, kind: kind as CatalogueColumn['kind'] })}
          />
          {hasUnit && (
            <TextInput
              label={next.kind === 'money' ? 'Currency' : 'Unit'}
              placeholder={next.kind === 'money' ? 'EUR' : 'mm'}
              value={next.unit}
              maxLength={40}
              onChange={({ currentTarget: { value } }) => setNext({ ...next, unit: value })}
            />
          )}
        </Group>
        <Group justify="flex-end" mt="md">
          <Button variant="default" onClick={onClose}>
            Leave
          </Button>
          <Button type="submit" disabled={problem !== null}>
            Take it
          </Button>
        </Group>
      </form>
    </Modal>
  );
}
