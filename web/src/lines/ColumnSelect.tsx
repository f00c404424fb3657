import { Select } from '@mantine/core';
import type { ColumnSource } from '../../../core/src/columns/index.ts';
import { useSources } from './useNames.ts';

/** One of the columns that rules and order can go by. */
export function ColumnSelect({
  source,
  onChange,
}: {
  readonly source: ColumnSource;
  readonly onChange: (source: ColumnSource) => void;
}) {
  return (
    <Select
      size="xs"
      aria-label="Column"
      searchable
      allowDeselect={false}
      data={useSources('rules')}
      value={source}
      onChange={(chosen) => chosen && onChange(chosen as ColumnSource)}
    />
  );
}
