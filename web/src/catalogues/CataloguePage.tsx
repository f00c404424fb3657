import { Button, Modal, TextInput } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import { IconFileImport, IconPlus, IconSearch, IconTrash } from '@tabler/icons-react';
import { useDeferredValue, useMemo, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import type { TableChanges } from '../../../contract/src/index.ts';
import {
  catalogueText,
  doubledKeys,
  keyWords,
  type Catalogue,
  type CatalogueColumn,
  type CatalogueItem,
} from '../../../core/src/catalogues/index.ts';
import { count } from '../count.ts';
import { compareWithTable, type loadCatalogue } from '../data/api.ts';
import { EditingContext } from '../data/editing/Editing.tsx';
import { Notices, Standing } from '../shell/Notices.tsx';
import { Steps } from '../shell/Steps.tsx';
import { CatalogueGrid } from './CatalogueGrid.tsx';
import { CataloguesShell } from './CataloguesShell.tsx';
import { CatalogueColumnDialog, ColumnMenu } from './ColumnMenu.tsx';
import { TableChangesDialog } from './TableChangesDialog.tsx';
import { TableDrop } from './TableDrop.tsx';
import { useCatalogue, useLoadedCatalogue } from './useCatalogue.ts';

/** One catalogue, edited in place. */
export function CataloguePage() {
  const { id = '' } = useParams();
  const loaded = useLoadedCatalogue(id);
  if (loaded.data) return <Opened key={id} id={id} loaded={loaded.data} />;
  return (
    <CataloguesShell top={<h1 className="title ellipsis">Catalogue</h1>}>
      <main className="main centre">
        {loaded.error ? (
          <>
            <p>{loaded.error.message}</p>
            <Button component={Link} to="/catalogues">
              All catalogues
            </Button>
          </>
        ) : (
          <div className="quiet" role="status">
            Opening the catalogue …
          </div>
        )}
      </main>
    </CataloguesShell>
  );
}

const texts = new WeakMap<CatalogueItem, { readonly columns: readonly CatalogueColumn[]; readonly text: string }>();
/** All that an item says, as one text to search in. */
function searchText(item: CatalogueItem, columns: readonly CatalogueColumn[]): string {
  const known = texts.get(item);
  if (known?.columns === columns) return known.text;
  const text = columns
    .map(({ id, kind }) => catalogueText(item.values[id], kind))
    .join('\n')
    .toLowerCase();
  texts.set(item, { columns, text });
  return text;
}

/** Items in which every word stands somewhere. */
function useFound({ items, columns }: Catalogue, query: string): readonly CatalogueItem[] {
  const wanted = useDeferredValue(query);
  return useMemo(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    return words.length === 0
      ? items
      : items.filter((item) => words.every((word) => searchText(item, columns).includes(word)));
  }, [items, columns, wanted]);
}

function Opened({ id, loaded }: { id: string; loaded: Awaited<ReturnType<typeof loadCatalogue>> }) {
  const { catalogue, editing, change } = useCatalogue(id, loaded);
  const [asked] = useSearchParams();
  const [query, setQuery] = useState(asked.get('find') ?? '');
  const [adding, setAdding] = useState(false);
  const [bringing, setBringing] = useState(false);
  const [changes, setChanges] = useState<{ readonly name: string; readonly changes: TableChanges } | null>(null);
  const found = useFound(catalogue, query);
  const doubled = useMemo(() => [...doubledKeys(catalogue).keys()].map(keyWords), [catalogue]);
  useDocumentTitle(`${catalogue.name} – Sledgeboard`);
  return (
    <EditingContext.Provider value={editing}>
      <CataloguesShell
        top={
          <>
            <h1 className="title">
              <NameInput
                key={catalogue.name}
                name={catalogue.name}
                onName={(name) => change(`rename to ${name}`, { kind: 'renameCatalogue', name })}
              />
            </h1>
            <span style={{ flex: 1 }} />
            <Steps />
          </>
        }
      >
        <main className="main">
          <section className="bill" aria-label="Catalogue">
            <div className="cataloguebar">
              <TextInput
                size="xs"
                w={280}
                leftSection={<IconSearch size={14} />}
                placeholder="Find in any column"
                aria-label="Find in any column"
                value={query}
                onChange={({ currentTarget: { value } }) => setQuery(value)}
              />
              <span className="quiet">
                {query ? `${found.length} of ${count(catalogue.items.length, 'item')}` : count(found.length, 'item')}
              </span>
              <span style={{ flex: 1 }} />
              <Button
                size="compact-sm"
                variant="default"
                leftSection={<IconPlus size={14} />}
                onClick={() => setAdding(true)}
              >
                Column
              </Button>
              <Button
                size="compact-sm"
                variant="default"
                leftSection={<IconFileImport size={14} />}
                onClick={() => setBringing(true)}
              >
                Bring a table in
              </Button>
            </div>
            {doubled.length > 0 && (
              <p className="problem cataloguefinding" role="status">
                {count(doubled.length, 'key')} {doubled.length === 1 ? 'stands' : 'stand'} in several items, so no part
                is found by {doubled.length === 1 ? 'it' : 'them'}: {doubled.slice(0, 5).join(' · ')}
                {doubled.length > 5 && ' …'}
              </p>
            )}
            <CatalogueGrid
              key={query === '' ? 'all' : 'found'}
              catalogue={catalogue}
              items={found}
              change={change}
              heading={(column) => <ColumnMenu catalogue={catalogue} column={column} change={change} />}
              bar={(selected) => (
                <div className="cellbar" role="toolbar" aria-label="Selected items">
                  <span>{count(selected.length, 'item')}</span>
                  <Button
                    size="compact-xs"
                    variant="default"
                    leftSection={<IconTrash size={13} />}
                    onClick={() =>
                      change(`take ${count(selected.length, 'item')} out`, {
                        kind: 'changeItems',
                        remove: selected.map((item) => item.id),
                        put: [],
                      })
                    }
                  >
                    Take out of the catalogue
                  </Button>
                </div>
              )}
            />
          </section>
        </main>
        <Notices />
        <Standing />
      </CataloguesShell>
      {adding && (
        <CatalogueColumnDialog
          title="A new column"
          column={{ id: crypto.randomUUID(), heading: '', kind: 'text', unit: '' }}
          taken={catalogue.columns.map(({ heading }) => heading)}
          onClose={() => setAdding(false)}
          onTake={(column) =>
            change(`add column ${column.heading}`, {
              kind: 'setCatalogueColumns',
              columns: [...catalogue.columns, column],
              key: catalogue.key,
            })
          }
        />
      )}
      {bringing && (
        <Modal
          opened
          onClose={() => setBringing(false)}
          title={<span className="title">Bring a table into this catalogue</span>}
        >
          <TableDrop
            words="Drop a table (XLSX or CSV), or click to choose one"
            take="Show what it changes"
            onTake={async (file, mapping) => {
              const told = await compareWithTable(file, mapping, id);
              setBringing(false);
              setChanges({ name: file.name, changes: told });
            }}
          />
        </Modal>
      )}
      {changes && (
        <TableChangesDialog
          name={changes.name}
          catalogue={catalogue}
          changes={changes.changes}
          onLeave={() => setChanges(null)}
          onTake={(commands) => {
            change(`bring in ${changes.name}`, ...commands);
            setChanges(null);
          }}
        />
      )}
    </EditingContext.Provider>
  );
}

function NameInput({ name, onName }: { readonly name: string; readonly onName: (name: string) => void }) {
  const [value, setValue] = useState(name);
  const done = () => {
    const next = value.trim();
    if (next !== '' && next !== name) onName(next);
    else setValue(name);
  };
  return (
    <input
      className="title namefield"
      aria-label="Name of the catalogue"
      value={value}
      maxLength={400}
      onChange={({ currentTarget: { value: typed } }) => setValue(typed)}
      onBlur={done}
      onKeyDown={({ key, currentTarget }) => {
        if (key === 'Enter') currentTarget.blur();
        if (key === 'Escape') setValue(name);
      }}
    />
  );
}
