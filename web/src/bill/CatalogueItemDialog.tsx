import { Button, Modal, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { catalogueText, type Catalogue, type CatalogueItem } from '../../../core/src/catalogues/index.ts';
import { listCatalogues } from '../data/api.ts';
import { useCatalogues } from '../data/useCatalogues.ts';

/** So many items are shown; the more one types the fewer there are. */
const SHOWN = 30;

/** Picks an item by typing, from a catalogue of the bill or any other one. */
export default function CatalogueItemDialog({
  first,
  onPick,
  onClose,
}: {
  /** Id of the catalogue that is looked in first. */
  readonly first: string | null;
  readonly onPick: (catalogue: string, item: CatalogueItem, name: string) => void;
  readonly onClose: () => void;
}) {
  const all = useQuery({ queryKey: ['catalogues'], queryFn: listCatalogues });
  const [chosen, setChosen] = useState(first);
  const id = chosen ?? all.data?.[0]?.id ?? null;
  const catalogue = useCatalogues(id === null ? [] : [id]).get(id ?? '');
  const [query, setQuery] = useState('');
  const found = useMemo(() => (catalogue ? matching(catalogue, query) : []), [catalogue, query]);
  return (
    <Modal opened onClose={onClose} size="lg" title={<span className="title">A line from a catalogue</span>}>
      <Select
        label="Catalogue"
        allowDeselect={false}
        value={id}
        data={(all.data ?? []).map((one) => ({ value: one.id, label: one.name }))}
        onChange={setChosen}
      />
      <TextInput
        mt="sm"
        label="Find an item"
        data-autofocus
        placeholder="grease, label, PU 40 …"
        value={query}
        onChange={({ currentTarget: { value } }) => setQuery(value)}
        onKeyDown={({ key }) => {
          if (key === 'Enter' && catalogue && found.length > 0) onPick(id!, found[0], wordsOf(catalogue, found[0]));
        }}
      />
      <div className="itemlist" role="listbox" aria-label="Items">
        {catalogue &&
          found.slice(0, SHOWN).map((item) => (
            <button
              key={item.id}
              role="option"
              aria-selected={false}
              onClick={() => onPick(id!, item, wordsOf(catalogue, item))}
            >
              {wordsOf(catalogue, item)}
            </button>
          ))}
        {catalogue && found.length === 0 && <p className="quiet">Nothing in this catalogue says that.</p>}
        {found.length > SHOWN && <p className="quiet">… and {found.length - SHOWN} more; type further</p>}
        {all.data?.length === 0 && <p className="quiet">There is no catalogue yet.</p>}
      </div>
      <Button mt="sm" variant="default" onClick={onClose}>
        Leave
      </Button>
    </Modal>
  );
}

/** What an item says, in the order of the columns. */
const wordsOf = ({ columns }: Catalogue, { values }: CatalogueItem): string =>
  columns
    .map(({ id, kind }) => catalogueText(values[id], kind))
    .filter(Boolean)
    .slice(0, 5)
    .join(' · ');

function matching(catalogue: Catalogue, query: string): readonly CatalogueItem[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const says = (item: CatalogueItem) =>
    catalogue.columns.map(({ id, kind }) => catalogueText(item.values[id], kind).toLowerCase());
  return catalogue.items.filter((item) => {
    const texts = words.length > 0 ? says(item) : [];
    return words.every((word) => texts.some((text) => text.includes(word)));
  });
}
