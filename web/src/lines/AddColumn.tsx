import { Combobox, useCombobox } from '@mantine/core';
import { IconPlus } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { headingOf, knownColumns, newColumn, type Column } from '../../../core/src/columns/index.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { ColumnDialog } from './ColumnDialog.tsx';
import { useBillEdit } from './useBillEdit.ts';

/** Option that makes a property which no part has yet. */
const NEW = 'new property';

/**
 * A searchable list of everything known about the parts, each with an example from this machine; and columns made of
 * others.
 */
export function AddColumn() {
  const {
    components: {
      content: { variants },
    },
  } = useDocuments();
  const { assembly, billDocument } = useMachine();
  const { change } = useBillEdit();
  const [query, setQuery] = useState('');
  const [making, setMaking] = useState<Column | null>(null);
  const combobox = useCombobox({
    onDropdownClose: () => setQuery(''),
    onDropdownOpen: () => combobox.focusSearchInput(),
  });
  const known = useMemo(() => knownColumns(assembly), [assembly]);
  const { columns } = billDocument.content;
  const wanted = (words: string) => words.toLowerCase().includes(query.toLowerCase());
  const offered = known.filter(
    ({ id, heading, example }) => !columns.some((column) => column.id === id) && wanted(`${heading} ${example}`),
  );
  const hidden = columns.filter((column) => column.hidden && wanted(column.heading));
  const inVariants = Object.entries(variants).filter(
    ([id, { name }]) => !columns.some(({ source }) => source === `variant:${id}`) && wanted(name),
  );
  const name = query.trim().toLowerCase();
  const isNew =
    name !== '' &&
    name !== '__proto__' &&
    name.length <= 200 &&
    ![...known, ...columns].some(({ heading }) => heading.toLowerCase() === name);
  const choose = (value: string) => {
    combobox.closeDropdown();
    const column = columns.find(({ id }) => id === value);
    if (column)
      return change(`show column ${column.heading}`, { kind: 'changeColumn', id: column.id, change: { hidden: null } });
    if (value === NEW) {
      const name = query.trim();
      return change(`add column ${name}`, {
        kind: 'addColumn',
        column: newColumn(`property:${name}`),
        at: columns.length,
      });
    }
    if (value === 'pattern' || value === 'formula')
      return setMaking({
        id: crypto.randomUUID(),
        source: value,
        heading: value === 'pattern' ? 'Text' : 'Result',
        expression: '',
      });
    const variant = value.startsWith('variant:') ? variants[value.slice('variant:'.length)] : undefined;
    const made = variant
      ? { ...newColumn(value as Column['source']), heading: variant.name }
      : known.find(({ id }) => id === value);
    if (made)
      change(`add column ${made.heading}`, {
        kind: 'addColumn',
        column: {
          id: made.id,
          source: made.source,
          heading: made.heading,
          ...(made.format ? { format: made.format } : {}),
        },
        at: columns.length,
      });
  };
  return (
    <>
      <Combobox store={combobox} width={320} position="bottom-start" shadow="md" onOptionSubmit={choose}>
        <Combobox.Target>
          <button
            className="cell addcolumn"
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => combobox.toggleDropdown()}
          >
            <IconPlus size={15} />
            column
          </button>
        </Combobox.Target>
        <Combobox.Dropdown onKeyDown={(event) => event.stopPropagation()}>
          <Combobox.Search
            value={query}
            onChange={(event) => {
              setQuery(event.currentTarget.value);
              combobox.selectFirstOption(); // so that Enter takes the single hit
            }}
            placeholder="Find a property, or name a new one"
            aria-label="Find a property"
          />
          <Combobox.Options mah={320} style={{ overflowY: 'auto' }} aria-label="Properties" tabIndex={0}>
            {hidden.map((column) => (
              <Combobox.Option key={column.id} value={column.id}>
                <div>{headingOf(column)}</div>
                <div className="quiet" style={{ fontSize: 12 }}>
                  hidden
                </div>
              </Combobox.Option>
            ))}
            {offered.map(({ id, heading, example, filled, of }) => (
              <Combobox.Option key={id} value={id}>
                <div>{heading}</div>
                <div className="quiet ellipsis" style={{ fontSize: 12 }}>
                  {example ? `${example} …, ${filled} of ${of}` : 'computed'}
                </div>
              </Combobox.Option>
            ))}
            {inVariants.map(([id, { name }]) => (
              <Combobox.Option key={id} value={`variant:${id}`}>
                <div>{name}</div>
                <div className="quiet" style={{ fontSize: 12 }}>
                  quantity in this variant
                </div>
              </Combobox.Option>
            ))}
            {wanted('text made of other columns') && (
              <Combobox.Option value="pattern">
                <div>A text made of other columns …</div>
                <div className="quiet" style={{ fontSize: 12 }}>
                  &#123;Name&#125;, L = &#123;Length&#125;
                </div>
              </Combobox.Option>
            )}
            {wanted('formula') && (
              <Combobox.Option value="formula">
                <div>A formula …</div>
                <div className="quiet" style={{ fontSize: 12 }}>
                  &#123;Mass each&#125; × &#123;Total qty&#125;
                </div>
              </Combobox.Option>
            )}
            {isNew && (
              <Combobox.Option value={NEW}>
                <div>A new property “{query.trim()}”</div>
                <div className="quiet" style={{ fontSize: 12 }}>
                  no part has it yet; type its values in the list
                </div>
              </Combobox.Option>
            )}
            {offered.length + hidden.length + inVariants.length === 0 && !isNew && (
              <Combobox.Empty>The list has a column of that name already</Combobox.Empty>
            )}
          </Combobox.Options>
        </Combobox.Dropdown>
      </Combobox>
      {making && <ColumnDialog isNew column={making} onClose={() => setMaking(null)} />}
    </>
  );
}
