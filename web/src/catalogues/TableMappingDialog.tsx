import { Checkbox, Group, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { CataloguePreview } from '../../../contract/src/index.ts';
import {
  catalogueKinds,
  MOST_CATALOGUE,
  proposeCatalogue,
  type CatalogueMapping,
  type ReadColumn,
} from '../../../core/src/catalogues/index.ts';
import { MappingDialog } from '../controls/MappingDialog.tsx';
import { kindWords } from './words.ts';

interface TableMappingDialogProps {
  readonly name: string;
  readonly preview: CataloguePreview;
  /** What the button says. */
  readonly take: string;
  readonly onTake: (mapping: CatalogueMapping) => void;
  readonly onLeave: () => void;
}

/** What each column of a table says, chosen over its first rows. */
export function TableMappingDialog({ name, preview, take, onTake, onLeave }: TableMappingDialogProps) {
  const [mapping, setMapping] = useState<CatalogueMapping>(preview.mapping);
  /** Nothing is taken before somebody has said what 1,234 is. */
  const [asked, setAsked] = useState(preview.isUnsure);
  const change = (at: number, changed: Partial<ReadColumn>) =>
    setMapping({
      ...mapping,
      columns: mapping.columns.map((column, one) => (one === at ? { ...column, ...changed } : column)),
    });
  const setKey = (at: number, on: boolean) =>
    setMapping({
      ...mapping,
      key: on ? [...mapping.key, at].slice(-MOST_CATALOGUE.key) : mapping.key.filter((one) => one !== at),
    });
  const named = mapping.columns.filter(({ use }) => use).map(({ heading }) => heading.trim().toLowerCase());
  const problem = mapping.key.every((at) => !mapping.columns[at]?.use)
    ? 'Say by which column parts are found.'
    : named.includes('')
      ? 'A column that is taken over needs a heading.'
      : new Set(named).size < named.length
        ? 'Two columns have one heading; name one of them otherwise, or leave it out.'
        : asked
          ? 'Say which sign stands before the decimals.'
          : null;
  return (
    <MappingDialog
      name={name}
      preview={preview}
      proposed={preview.remembered ? 'Read as the last table with these headings.' : 'Proposed by headings and cells.'}
      headingRow={mapping.headingRow}
      onHeadingRow={(row) => {
        // Other headings: what the cells below them are is told anew.
        const { isUnsure: _, ...next } = proposeCatalogue(preview.rows, row);
        setMapping({ ...next, decimalSign: mapping.decimalSign });
      }}
      choices={
        <Select
          size="xs"
          w={230}
          label="Before the decimals stands"
          allowDeselect={false}
          placeholder="1,234: a thousand, or one?"
          value={asked ? null : mapping.decimalSign}
          error={asked}
          onChange={(value) => {
            if (!value) return;
            setAsked(false);
            setMapping({ ...mapping, decimalSign: value as CatalogueMapping['decimalSign'] });
          }}
          data={[
            { value: '.', label: 'a point: 1,234.50' },
            { value: ',', label: 'a comma: 1.234,50' },
          ]}
        />
      }
      columns={mapping.columns.map((column, at) => (
        <th key={at} style={{ minWidth: 150, verticalAlign: 'top' }}>
          <Checkbox
            size="xs"
            label="taken over"
            aria-label={`Column ${at + 1} taken over`}
            checked={column.use}
            onChange={({ currentTarget: { checked } }) => change(at, { use: checked })}
          />
          <TextInput
            size="xs"
            mt={4}
            aria-label={`Heading of column ${at + 1}`}
            disabled={!column.use}
            value={column.heading}
            maxLength={200}
            onChange={({ currentTarget: { value } }) => change(at, { heading: value })}
          />
          <Group gap={4} mt={4} wrap="nowrap">
            <Select
              size="xs"
              aria-label={`Kind of column ${at + 1}`}
              disabled={!column.use}
              allowDeselect={false}
              value={column.kind}
              onChange={(value) => value && change(at, { kind: value as ReadColumn['kind'] })}
              // A table holds no pictures.
              data={catalogueKinds
                .filter((value) => value !== 'picture')
                .map((value) => ({ value, label: kindWords[value] }))}
            />
            {(column.kind === 'number' || column.kind === 'money') && (
              <TextInput
                size="xs"
                w={64}
                aria-label={`Unit of column ${at + 1}`}
                placeholder={column.kind === 'money' ? 'EUR' : 'unit'}
                value={column.unit}
                maxLength={40}
                onChange={({ currentTarget: { value } }) => change(at, { unit: value })}
              />
            )}
          </Group>
          <Checkbox
            size="xs"
            mt={4}
            label="parts are found by it"
            aria-label={`Parts are found by column ${at + 1}`}
            disabled={!column.use}
            checked={mapping.key.includes(at)}
            onChange={({ currentTarget: { checked } }) => setKey(at, checked)}
          />
        </th>
      ))}
      problem={problem}
      take={take}
      onTake={() => onTake(mapping)}
      onLeave={onLeave}
    />
  );
}
