import { ActionIcon, Button, Group, Menu, Modal, MultiSelect, Select } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconArrowDown, IconArrowUp, IconTrash } from '@tabler/icons-react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { partLabel } from '../../../core/src/assembly/index.ts';
import {
  changedSince,
  itemKey,
  keyWords,
  linkedOf,
  newCatalogue,
  unmatched,
  valuesToKeep,
  type Catalogue,
  type CatalogueLink,
  type Unmatched,
} from '../../../core/src/catalogues/index.ts';
import { propertyNameOf, knownColumns } from '../../../core/src/columns/index.ts';
import { addItems, itemsOfBill, type CatalogueCommand } from '../../../core/src/documents/index.ts';
import { count } from '../count.ts';
import { changeCatalogue, createCatalogue, listCatalogues } from '../data/api.ts';
import { freeName } from '../data/freeName.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { useBillEdit } from '../lines/useBillEdit.ts';
import { SuppliersDialog } from './SuppliersDialog.tsx';

const SHOWN = 40;

/** Which catalogues the bill takes values from, the first first, and what finds no item in them. */
export default function CataloguesDialog({ onClose }: { readonly onClose: () => void }) {
  const { billDocument, catalogues } = useMachine();
  const { change } = useBillEdit();
  const all = useQuery({ queryKey: ['catalogues'], queryFn: listCatalogues });
  const links = billDocument.content.catalogues ?? [];
  const put = (label: string, next: readonly CatalogueLink[]) =>
    change(label, { kind: 'setCatalogues', links: next.length > 0 ? next : null });
  const nameOf = (id: string) =>
    catalogues.get(id)?.name ?? all.data?.find((one) => one.id === id)?.name ?? 'a catalogue that is gone';
  const others = (all.data ?? []).filter(({ id }) => !links.some(({ catalogue }) => catalogue === id));
  return (
    <Modal opened onClose={onClose} size="xl" title={<span className="title">Catalogues of this bill</span>}>
      <p className="quiet">
        What a catalogue says stands above what the file says and below what is typed. Where several say something, the
        first counts. A value that changes there is in this bill at once.
      </p>
      {links.map((link, at) => (
        <OneLink
          key={link.catalogue}
          link={link}
          name={nameOf(link.catalogue)}
          catalogue={catalogues.get(link.catalogue)}
          onLink={(next) => put(`how ${nameOf(link.catalogue)} is used`, links.with(at, next))}
          onUp={
            at > 0
              ? () => put(`${nameOf(link.catalogue)} first`, links.toSpliced(at, 1).toSpliced(at - 1, 0, link))
              : null
          }
          onDown={
            at < links.length - 1
              ? () => put(`${nameOf(link.catalogue)} later`, links.toSpliced(at, 1).toSpliced(at + 1, 0, link))
              : null
          }
          onRemove={() => put(`no values from ${nameOf(link.catalogue)}`, links.toSpliced(at, 1))}
        />
      ))}
      {links.length > 0 && <KeptDay />}
      {all.isError && <p className="problem">{all.error.message}</p>}
      <Group mt="md" align="end">
        <Select
          label={links.length > 0 ? 'And after it' : 'Take values from'}
          placeholder={others.length > 0 ? 'choose a catalogue' : 'there is no other catalogue'}
          disabled={others.length === 0}
          value={null}
          data={others.map(({ id, name, items }) => ({ value: id, label: `${name}, ${count(items, 'item')}` }))}
          onChange={(id) => id && put(`values from ${nameOf(id)}`, [...links, { catalogue: id }])}
          w={320}
        />
        <NewFromBill onMade={(id, name) => put(`values from ${name}`, [...links, { catalogue: id }])} />
        <Button component={Link} to="/catalogues" variant="default">
          All catalogues
        </Button>
      </Group>
    </Modal>
  );
}

/** Whether the bill says what catalogues say now, or what they said on a day; and what has changed since. */
function KeptDay() {
  const { edited, billDocument, catalogues } = useMachine();
  const { change } = useBillEdit();
  const { kept, catalogues: links, lines } = billDocument.content;
  const since = useMemo(() => (kept ? changedSince(kept, catalogues) : []), [kept, catalogues]);
  const keep = () => {
    const items = new Map<string, Set<string>>();
    for (const { from } of lines) {
      if (!from) continue;
      const known = items.get(from.catalogue) ?? new Set<string>();
      items.set(from.catalogue, known.add(from.item));
    }
    const date = new Date().toISOString().slice(0, 10);
    change(`keep values as of ${date}`, {
      kind: 'keepValues',
      kept: valuesToKeep(edited.assembly, linkedOf(links, catalogues), items, catalogues, date),
    });
  };
  if (!kept)
    return (
      <Group mt="sm" gap="sm">
        <Button size="compact-sm" variant="default" onClick={keep}>
          Keep the values of today
        </Button>
        <span className="quiet">for a list that is handed over: it stays as it was issued</span>
      </Group>
    );
  return (
    <section aria-label="Kept values">
      <Group mt="sm" gap="sm">
        <b>Values as of {kept.date}</b>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => change('live values', { kind: 'keepValues', kept: null })}
        >
          Take what they say now
        </Button>
      </Group>
      {since.length === 0 ? (
        <p className="quiet">Nothing has changed since.</p>
      ) : (
        <table className="changetable">
          <tbody>
            {since.slice(0, SHOWN).map(({ item, heading, was, is }) => (
              <tr key={`${item} ${heading}`}>
                <td>{item}</td>
                <td className="quiet">{heading}</td>
                <td>
                  <s>{was || '–'}</s>
                </td>
                <td>{is === null ? 'gone from the catalogue' : is || '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {since.length > SHOWN && <p className="quiet">… and {since.length - SHOWN} more</p>}
    </section>
  );
}

/** A catalogue of what the bill itself says of its parts. */
function NewFromBill({ onMade }: { readonly onMade: (id: string, name: string) => void }) {
  const { summary } = useDocuments();
  const { bill, billDocument } = useMachine();
  const queries = useQueryClient();
  const rows = bill.rows.filter(({ components, opened }) => components.length > 0 && !opened);
  const make = async () => {
    const known = await queries.fetchQuery({ queryKey: ['catalogues'], queryFn: listCatalogues });
    const name = freeName(
      `Parts of ${summary.name}`,
      known.map((one) => one.name),
    );
    const { columns, items } = itemsOfBill(bill, billDocument.content.columns, rows, newCatalogue, () =>
      crypto.randomUUID(),
    );
    try {
      const id = await createCatalogue({
        ...newCatalogue,
        name,
        columns,
        items: items.map((values) => ({ id: crypto.randomUUID(), values })),
      });
      await queries.invalidateQueries({ queryKey: ['catalogues'] });
      onMade(id, name);
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  return (
    <Button variant="default" disabled={rows.length === 0} onClick={() => void make()}>
      Make one of these {count(rows.length, 'part')}
    </Button>
  );
}

interface OneLinkProps {
  readonly link: CatalogueLink;
  readonly name: string;
  /** Not there before it has arrived, or where it is gone. */
  readonly catalogue: Catalogue | undefined;
  readonly onLink: (link: CatalogueLink) => void;
  readonly onUp: (() => void) | null;
  readonly onDown: (() => void) | null;
  readonly onRemove: () => void;
}

function OneLink({ link, name, catalogue, onLink, onUp, onDown, onRemove }: OneLinkProps) {
  const { edited } = useMachine();
  const [asking, setAsking] = useState(false);
  const names = useMemo(
    () => [
      ...new Set(
        knownColumns(edited.assembly).flatMap(({ source, filled }) =>
          filled > 0 ? (propertyNameOf(source) ?? []) : [],
        ),
      ),
    ],
    [edited.assembly],
  );
  const { by = ['Part number'] } = link;
  const offered = [...new Set([...names, ...by])];
  const keys = catalogue?.key.map((id) => catalogue.columns.find((column) => column.id === id)?.heading ?? id) ?? [];
  return (
    <section className="cataloguelink" aria-label={name}>
      <Group gap="xs" wrap="nowrap">
        <h3 style={{ margin: 0, flex: 1 }}>
          <Link to={`/catalogues/${link.catalogue}`}>{name}</Link>
        </h3>
        <ActionIcon
          variant="subtle"
          color="ink"
          aria-label={`${name} earlier`}
          disabled={!onUp}
          onClick={onUp ?? undefined}
        >
          <IconArrowUp size={16} />
        </ActionIcon>
        <ActionIcon
          variant="subtle"
          color="ink"
          aria-label={`${name} later`}
          disabled={!onDown}
          onClick={onDown ?? undefined}
        >
          <IconArrowDown size={16} />
        </ActionIcon>
        <ActionIcon variant="subtle" color="ink" aria-label={`No values from ${name}`} onClick={onRemove}>
          <IconTrash size={16} />
        </ActionIcon>
      </Group>
      {catalogue && (
        <>
          <Group gap="sm" align="end">
            {keys.map((heading, at) => (
              <Select
                key={heading}
                size="xs"
                w={220}
                label={`“${heading}” there is here`}
                allowDeselect={false}
                searchable
                value={by[at] ?? null}
                data={offered}
                onChange={(value) =>
                  value && onLink({ ...link, by: keys.map((_, one) => (one === at ? value : (by[one] ?? offered[0]))) })
                }
              />
            ))}
            <MultiSelect
              size="xs"
              style={{ flex: 1 }}
              label="Takes"
              placeholder={link.columns ? undefined : 'all that it says'}
              clearable
              value={[...(link.columns ?? [])]}
              data={catalogue.columns
                .filter(({ id }) => !catalogue.key.includes(id))
                .map(({ id, heading }) => ({ value: id, label: heading }))}
              onChange={(columns) => {
                const { columns: _, ...rest } = link;
                onLink(columns.length > 0 ? { ...rest, columns } : rest);
              }}
            />
          </Group>
          <NotFound link={link} catalogue={catalogue} />
          <Button size="compact-sm" variant="default" onClick={() => setAsking(true)}>
            Ask suppliers …
          </Button>
          {asking && <SuppliersDialog link={link} catalogue={catalogue} onClose={() => setAsking(false)} />}
        </>
      )}
    </section>
  );
}

/** What finds no item, or several, or one that is written otherwise. */
function NotFound({ link, catalogue }: { readonly link: CatalogueLink; readonly catalogue: Catalogue }) {
  const { edited, bill, billDocument } = useMachine();
  const queries = useQueryClient();
  const listed = useMemo(
    () => bill.rows.filter(({ opened }) => !opened).flatMap(({ components }) => components),
    [bill.rows],
  );
  const missing = useMemo(
    () => unmatched(edited.assembly, { link, catalogue }, listed),
    [edited.assembly, link, catalogue, listed],
  );
  const change = async (label: string, ...commands: CatalogueCommand[]) => {
    try {
      await changeCatalogue(link.catalogue, label, commands);
      await queries.invalidateQueries({ queryKey: ['catalogue versions'] });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  const keyOf = (at: number) => keyWords(itemKey(catalogue, catalogue.items[at].values) ?? '');
  const accept = (key: string, at: number) =>
    change(`${keyWords(key)} is ${keyOf(at)}`, { kind: 'acceptKeys', aliases: { [key]: catalogue.items[at].id } });
  const none = missing.filter(({ how }) => how === 'none');
  const others = missing.filter(({ how }) => how !== 'none');
  const putIn = () => {
    const wanted = new Set(none.map(({ component }) => component));
    const rows = bill.rows.filter(({ components, opened }) => !opened && components.some((one) => wanted.has(one)));
    const { columns, items } = itemsOfBill(bill, billDocument.content.columns, rows, catalogue, () =>
      crypto.randomUUID(),
    );
    return change(
      `put ${count(items.length, 'part')} in`,
      { kind: 'setCatalogueColumns', columns, key: catalogue.key },
      addItems(catalogue, items, () => crypto.randomUUID()),
    );
  };
  if (missing.length === 0) return <p className="quiet">Every part of the list is found in it.</p>;
  const nameOf = ({ component, key }: Unmatched) =>
    key === null ? partLabel(edited.assembly.components[component]) : keyWords(key);
  return (
    <>
      {others.length > 0 && (
        <ul className="notfound">
          {others.slice(0, SHOWN).map((one) => (
            <li key={one.key}>
              <span>
                <b>{nameOf(one)}</b>{' '}
                {one.how === 'alike' ? (
                  <>is written {one.items.map(keyOf).join(' or ')} there.</>
                ) : (
                  <>stands in {count(one.items.length, 'item')} there: make it one, or choose another key.</>
                )}
              </span>
              {one.how === 'alike' && one.items.length === 1 && (
                <Button size="compact-xs" variant="default" onClick={() => void accept(one.key!, one.items[0])}>
                  It is the same
                </Button>
              )}
              {one.how === 'alike' && one.items.length > 1 && (
                <Menu>
                  <Menu.Target>
                    <Button size="compact-xs" variant="default">
                      It is the same as …
                    </Button>
                  </Menu.Target>
                  <Menu.Dropdown>
                    {one.items.map((at) => (
                      <Menu.Item key={at} onClick={() => void accept(one.key!, at)}>
                        {keyOf(at)}
                      </Menu.Item>
                    ))}
                  </Menu.Dropdown>
                </Menu>
              )}
            </li>
          ))}
        </ul>
      )}
      {none.length > 0 && (
        <p>
          {count(none.length, 'part')} not in it: {none.slice(0, SHOWN).map(nameOf).join(' · ')}
          {none.length > SHOWN && ` and ${none.length - SHOWN} more`}{' '}
          <Button size="compact-xs" variant="default" onClick={() => void putIn()}>
            Put {none.length === 1 ? 'it' : `these ${none.length} parts`} in
          </Button>
        </p>
      )}
    </>
  );
}
