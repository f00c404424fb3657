import { Button, Checkbox, Group, Modal } from '@mantine/core';
import { useState } from 'react';
import type { TableChanges } from '../../../contract/src/index.ts';
import {
  catalogueText,
  itemKey,
  keyWords,
  type Catalogue,
  type CatalogueColumn,
} from '../../../core/src/catalogues/index.ts';
import { addItems, type CatalogueCommand } from '../../../core/src/documents/index.ts';
import { count } from '../count.ts';

/** So many of each kind are shown; the others are counted. */
const SHOWN = 60;

/** The commands by which a table is taken over. @param without whether items that it does not have go */
function commandsOf(
  catalogue: Catalogue,
  { columns, added, changed, gone }: TableChanges,
  without: boolean,
  newId: () => string,
): CatalogueCommand[] {
  const known = new Set(catalogue.columns.map(({ id }) => id));
  const fresh = columns.filter(({ id }) => !known.has(id));
  const commands: CatalogueCommand[] = [];
  if (fresh.length > 0)
    commands.push({ kind: 'setCatalogueColumns', columns: [...catalogue.columns, ...fresh], key: catalogue.key });
  if (changed.length > 0)
    commands.push({
      kind: 'typeItems',
      items: Object.fromEntries(
        changed.map(({ id, values, columns: which }) => [
          id,
          Object.fromEntries(which.map((column) => [column, values[column] ?? null])),
        ]),
      ),
    });
  if (without && gone.length > 0) commands.push({ kind: 'changeItems', remove: gone, put: [] });
  const stay = without ? { items: catalogue.items.filter(({ id }) => !gone.includes(id)) } : catalogue;
  if (added.length > 0) commands.push(addItems(stay, added, newId));
  return commands;
}

interface TableChangesDialogProps {
  readonly name: string;
  readonly catalogue: Catalogue;
  readonly changes: TableChanges;
  readonly onTake: (commands: readonly CatalogueCommand[]) => void;
  readonly onLeave: () => void;
}

/** What a further table would change, before anything is taken over. */
export function TableChangesDialog({ name, catalogue, changes, onTake, onLeave }: TableChangesDialogProps) {
  const [without, setWithout] = useState(false);
  const { columns, key, added, changed, gone, same, problems } = changes;
  const columnOf = new Map<string, CatalogueColumn>([...catalogue.columns, ...columns].map((one) => [one.id, one]));
  const items = new Map(catalogue.items.map((item) => [item.id, item]));
  const nameOf = (values: TableChanges['added'][number]) => keyWords(itemKey({ key }, values) ?? 'without a key');
  const text = (values: TableChanges['added'][number] | undefined, id: string) =>
    catalogueText(values?.[id], columnOf.get(id)?.kind ?? 'text') || '–';
  const more = (all: number) => all > SHOWN && <p className="quiet">… and {all - SHOWN} more</p>;
  const commands = commandsOf(catalogue, changes, without, () => crypto.randomUUID());
  return (
    <Modal opened onClose={onLeave} size="xl" title={<span className="title">What {name} changes</span>}>
      <p>
        {count(added.length, 'new item')}, {changed.length} changed, {gone.length} that the table does not have, {same}{' '}
        as they are.
      </p>
      {problems.map((sentence) => (
        <p className="problem" key={sentence}>
          {sentence}
        </p>
      ))}
      {changed.length > 0 && (
        <>
          <h3>Changed</h3>
          <table className="changetable">
            <tbody>
              {changed.slice(0, SHOWN).flatMap(({ id, values, columns: which }) =>
                which.map((column) => (
                  <tr key={`${id} ${column}`}>
                    <td>{nameOf(values)}</td>
                    <td className="quiet">{columnOf.get(column)?.heading}</td>
                    <td>
                      <s>{text(items.get(id)?.values, column)}</s>
                    </td>
                    <td>{text(values, column)}</td>
                  </tr>
                )),
              )}
            </tbody>
          </table>
          {more(changed.length)}
        </>
      )}
      {added.length > 0 && (
        <>
          <h3>New</h3>
          <p>{added.slice(0, SHOWN).map(nameOf).join(' · ')}</p>
          {more(added.length)}
        </>
      )}
      {gone.length > 0 && (
        <>
          <h3>Not in the table</h3>
          <p>
            {gone
              .slice(0, SHOWN)
              .map((id) => nameOf(items.get(id)?.values ?? {}))
              .join(' · ')}
          </p>
          {more(gone.length)}
          <Checkbox
            label={`Take ${count(gone.length, 'item')} out of the catalogue`}
            checked={without}
            onChange={({ currentTarget: { checked } }) => setWithout(checked)}
          />
        </>
      )}
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={onLeave}>
          Leave
        </Button>
        <Button disabled={commands.length === 0} onClick={() => onTake(commands)}>
          {commands.length === 0 ? 'Nothing changes' : 'Take it over'}
        </Button>
      </Group>
    </Modal>
  );
}
