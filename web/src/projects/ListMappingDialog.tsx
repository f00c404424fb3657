import { Button, Group, Modal, Select } from '@mantine/core';
import { useState } from 'react';
import type { ListPreview } from '../../../contract/src/index.ts';
import { mappingProblem, type ColumnRole, type ListMapping } from '../../../core/src/sources/index.ts';
import { PreviewRows } from '../shell/PreviewRows.tsx';

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

export interface ListMappingDialogProps {
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
    <Modal
      opened
      onClose={onLeave}
      size="auto"
      title={<span className="title">What do the columns of {name} say?</span>}
    >
      <div className="quiet">
        {preview.of} rows; the first {preview.rows.length} are shown.{' '}
        {preview.remembered ? 'Read as the last list with these headings.' : 'Proposed by the headings.'}
      </div>
      <Select
        mt="sm"
        size="xs"
        w={220}
        label="Headings stand in"
        allowDeselect={false}
        value={String(mapping.headingRow)}
        onChange={(value) => setMapping({ ...mapping, headingRow: Number(value) })}
        data={[
          { value: '-1', label: 'no row' },
          ...preview.rows.map((_, at) => ({ value: String(at), label: `row ${at + 1}` })),
        ]}
      />
      <div className="mapping">
        <table>
          <thead>
            <tr>
              {mapping.roles.map((role, column) => (
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
            </tr>
          </thead>
          <PreviewRows rows={preview.rows} headingRow={mapping.headingRow} columns={mapping.roles.length} />
        </table>
      </div>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      <Group justify="flex-end" gap="sm">
        <Button variant="default" onClick={onLeave}>
          Leave
        </Button>
        <Button disabled={problem !== null} onClick={() => onTake(mapping)}>
          Bring the list in
        </Button>
      </Group>
    </Modal>
  );
}
