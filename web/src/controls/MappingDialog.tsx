import { Button, Group, Modal, Select } from '@mantine/core';
import type { ReactNode } from 'react';
import { PreviewRows } from './PreviewRows.tsx';

interface MappingDialogProps {
  /** Of the table. */
  readonly name: string;
  readonly preview: { readonly rows: readonly (readonly string[])[]; readonly of: number };
  /** How it is read until something is said. */
  readonly proposed: string;
  /** Index, −1 for none. */
  readonly headingRow: number;
  readonly onHeadingRow: (row: number) => void;
  /** Beside where its headings stand. */
  readonly choices?: ReactNode;
  /** What is said of each column, in their order. */
  readonly columns: readonly ReactNode[];
  /** Why it cannot be taken so; null where it can. */
  readonly problem: string | null;
  /** On the button. */
  readonly take: string;
  readonly onTake: () => void;
  readonly onLeave: () => void;
}

/** What each column of a table says, chosen over its first rows. */
export function MappingDialog({
  name,
  preview,
  proposed,
  headingRow,
  onHeadingRow,
  choices,
  columns,
  problem,
  take,
  onTake,
  onLeave,
}: MappingDialogProps) {
  return (
    <Modal
      opened
      onClose={onLeave}
      size="auto"
      title={<span className="title">What do the columns of {name} say?</span>}
    >
      <div className="quiet">
        {preview.of} rows; the first {preview.rows.length} are shown. {proposed}
      </div>
      <Group mt="sm" gap="sm" align="end">
        <Select
          size="xs"
          w={choices ? 170 : 220}
          label="Headings stand in"
          allowDeselect={false}
          value={String(headingRow)}
          onChange={(value) => onHeadingRow(Number(value))}
          data={[
            { value: '-1', label: 'no row' },
            ...preview.rows.map((_, at) => ({ value: String(at), label: `row ${at + 1}` })),
          ]}
        />
        {choices}
      </Group>
      <div className="mapping">
        <table>
          <thead>
            <tr>{columns}</tr>
          </thead>
          <PreviewRows rows={preview.rows} headingRow={headingRow} columns={columns.length} />
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
        <Button disabled={problem !== null} onClick={onTake}>
          {take}
        </Button>
      </Group>
    </Modal>
  );
}
