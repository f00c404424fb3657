import { Select } from '@mantine/core';
import { useState } from 'react';
import type { ListPreview } from '../../../contract/src/index.ts';
import { mappingProblem, type ColumnRole, type ListMapping } from '../../../core/src/sources/index.ts';
import { MappingDialog } from '../controls/MappingDialog.tsx';

const roleWords: Readonly<Record<ColumnRole, string>> = {
  ignore: 'nothing',
  level: 'level (0, 1, 2 …)',
  item: 'item number (1, 1.1 …)',
  parent: 'number of the parent',
  partNumber: 'part number',
  name: 'name',
  description: 'description',
  revision: 'revision',
  quantity: 'quantity',
  source: 'made or bought',
  property: 'a property',
};

interface ListMappingDialogProps {
  readonly name: string;
  readonly preview: ListPreview;
  readonly onTake: (mapping: ListMapping) => void;
  readonly onLeave: () => void;
}

/** What each column of a structure list says, chosen over its first rows. */
export function ListMappingDialog({ name, preview, onTake, onLeave }: ListMappingDialogProps) {
  const [mapping, setMapping] = useState<ListMapping>(preview.mapping);
  const problem = mappingProblem(mapping);
  const setRole = (column: number, role: string | null) =>
    setMapping({
      ...mapping,
      roles: mapping.roles.map((old, at) => (at === column ? ((role ?? 'ignore') as ColumnRole) : old)),
    });
  const options = Object.entries(roleWords).map(([value, label]) => ({ value, label }));
  return (
    <MappingDialog
      name={name}
      preview={preview}
      proposed={preview.remembered ? 'Read as the last list with these headings.' : 'Proposed by the headings.'}
      headingRow={mapping.headingRow}
      onHeadingRow={(headingRow) => setMapping({ ...mapping, headingRow })}
      columns={mapping.roles.map((role, column) => (
        <th key={column}>
          <Select
            size="xs"
            aria-label={`Column ${column + 1}`}
            allowDeselect={false}
            value={role}
            onChange={(value) => setRole(column, value)}
            data={options}
          />
        </th>
      ))}
      problem={problem}
      take="Bring the list in"
      onTake={() => onTake(mapping)}
      onLeave={onLeave}
    />
  );
}
