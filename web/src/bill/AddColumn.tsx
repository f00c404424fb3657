import { Combobox, useCombobox } from '@mantine/core';
import { IconPlus } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { knownColumns } from '../../../core/src/columns/index.ts';
import { useProject } from '../data/ProjectContext.tsx';

/** A searchable list of everything known about the parts, each with an example from this machine. */
export function AddColumn() {
  const { assembly, billDocument, perform } = useProject();
  const [query, setQuery] = useState('');
  const combobox = useCombobox({ onDropdownClose: () => setQuery(''), onDropdownOpen: () => combobox.focusSearchInput() });
  const known = useMemo(() => knownColumns(assembly), [assembly]);
  const { columns } = billDocument.content;
  const offered = known.filter(({ id, heading, example }) => !columns.some((column) => column.id === id) && `${heading} ${example}`.toLowerCase().includes(query.toLowerCase()));
  const add = (id: string) => {
    const found = known.find((column) => column.id === id);
    if (found) perform(`add column ${found.heading}`, { document: billDocument.id, command: { kind: 'addColumn', column: { id, source: found.source, heading: found.heading }, at: columns.length } });
    combobox.closeDropdown();
  };
  return (
    <Combobox store={combobox} width={320} position="bottom-start" shadow="md" onOptionSubmit={add}>
      <Combobox.Target><button className="cell" style={{ border: 0, background: 'none', cursor: 'pointer', color: 'inherit', font: 'inherit', display: 'flex', alignItems: 'center', gap: 3 }} onClick={() => combobox.toggleDropdown()}><IconPlus size={15} />column</button></Combobox.Target>
      <Combobox.Dropdown>
        <Combobox.Search value={query} onChange={(event) => setQuery(event.currentTarget.value)} placeholder="Find a property" aria-label="Find a property" />
        <Combobox.Options mah={320} style={{ overflowY: 'auto' }}>
          {offered.map(({ id, heading, example, filled, of }) => (
            <Combobox.Option key={id} value={id}>
              <div>{heading}</div>
              <div className="quiet ellipsis" style={{ fontSize: 12 }}>{example ? `${example} …, ${filled} of ${of}` : 'computed'}</div>
            </Combobox.Option>
          ))}
          {offered.length === 0 && <Combobox.Empty>Nothing more is known by that name</Combobox.Empty>}
        </Combobox.Options>
      </Combobox.Dropdown>
    </Combobox>
  );
}
