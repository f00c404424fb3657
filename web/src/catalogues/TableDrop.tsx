import { Group, Loader, Text } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { IconFileImport } from '@tabler/icons-react';
import { useState } from 'react';
import type { CataloguePreview } from '../../../contract/src/index.ts';
import type { CatalogueMapping } from '../../../core/src/catalogues/index.ts';
import { previewCatalogue } from '../data/api.ts';
import { TableMappingDialog } from './TableMappingDialog.tsx';

const isTable = (name: string): boolean => /\.(csv|tsv|tab|txt|xlsx|xlsm)$/i.test(name);

interface TableDropProps {
  readonly words: string;
  /** What the button of the dialog says. */
  readonly take: string;
  /** Takes the table over, read so; a refusal is shown here and the dialog stays. */
  readonly onTake: (file: File, mapping: CatalogueMapping) => Promise<void>;
}

/** Takes a table, asks what its columns say, and hands both on. */
export function TableDrop({ words, take, onTake }: TableDropProps) {
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<string | null>(null);
  const [table, setTable] = useState<{ file: File; preview: CataloguePreview } | null>(null);
  const run = async (work: () => Promise<void>) => {
    setBusy(true);
    setRefused(null);
    try {
      await work();
    } catch (error) {
      setRefused((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const read = ([file]: File[]) =>
    void run(async () => {
      if (!file) return;
      if (!isTable(file.name)) throw new Error(`${file.name} is no table; save it as XLSX or CSV.`);
      setTable({ file, preview: await previewCatalogue(file) });
    });
  return (
    <>
      <Dropzone onDrop={read} multiple={false} disabled={busy} className="drop" aria-label={words}>
        <Group gap="sm" wrap="nowrap">
          {busy ? <Loader size={18} /> : <IconFileImport size={22} stroke={1.5} />}
          <Text>{busy ? 'Reading the rows …' : words}</Text>
        </Group>
      </Dropzone>
      {refused && (
        <p className="problem" role="alert">
          {refused}
        </p>
      )}
      {table && (
        <TableMappingDialog
          name={table.file.name}
          preview={table.preview}
          take={take}
          onLeave={() => setTable(null)}
          onTake={(mapping) =>
            void run(async () => {
              await onTake(table.file, mapping);
              setTable(null);
            })
          }
        />
      )}
    </>
  );
}
