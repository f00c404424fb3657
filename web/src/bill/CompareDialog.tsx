import { urlOf, routes } from '../../../contract/src/index.ts';
import { Button, Group, Modal, Select, Table } from '@mantine/core';
import { IconDownload } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { loadComparedLines } from '../data/api.ts';
import { useDocuments } from '../data/openProject.ts';
import { lineChange } from '../data/made/useWaiting.ts';

const kindWords = { added: 'only here', removed: 'only there', changed: 'differs' } as const;
const outputs = [
  ['csv', 'CSV'],
  ['xlsx', 'XLSX'],
  ['json', 'JSON'],
  ['text', 'Text'],
] as const;
/** More differences are in the files. */
const SHOWN = 500;

/** A list, or the open one in a variant: id of the bill, and of the variant where it is not the list as it is. */
interface Other {
  readonly bill: string;
  /** Empty for the machine as a whole. */
  readonly variant?: string;
}

/** Lines that only one of two lists has, and where they differ: two bills, or one in two variants. */
export function CompareDialog({ bill, onClose }: { bill: string; onClose: () => void }) {
  const { id: project, bills, components, summary } = useDocuments();
  const own = bills.find(({ id }) => id === bill)!.content;
  const variants = Object.entries(components.content.variants);
  const choices: (Other & { readonly label: string })[] = [
    ...bills.filter(({ id }) => id !== bill).map(({ id, content }) => ({ bill: id, label: content.name })),
    ...[['', { name: 'the machine as a whole' }] as const, ...variants]
      .filter(([variant]) => variants.length > 0 && variant !== (own.recipe.variant ?? ''))
      .map(([variant, { name }]) => ({ bill, variant, label: `This list, ${name}` })),
  ];
  const [at, setAt] = useState(0);
  const other = choices[at];
  const query = { was: other.bill, is: bill, wasVariant: other.variant };
  const { data: lines, error } = useQuery({
    queryKey: ['comparison', project, query, summary.changed],
    queryFn: () => loadComparedLines(project, query),
    staleTime: Infinity,
  });
  return (
    <Modal opened onClose={onClose} title={`“${own.name}” against another list`} size={760}>
      <Group align="flex-end" gap="xs">
        <Select
          size="xs"
          w={320}
          label="Compared with"
          allowDeselect={false}
          data={choices.map(({ label }, index) => ({ value: String(index), label }))}
          value={String(at)}
          onChange={(value) => value && setAt(Number(value))}
        />
        <span className="wide" />
        {outputs.map(([format, words]) => (
          <Button
            key={format}
            component="a"
            size="compact-sm"
            variant="default"
            leftSection={<IconDownload size={14} />}
            aria-label={`Comparison as ${words}`}
            href={urlOf(routes.revisions.comparison, { params: { id: project, format }, query })}
            download
          >
            {words}
          </Button>
        ))}
      </Group>
      <p role="status">
        {error
          ? error.message
          : !lines
            ? 'Comparing …'
            : lines.length === 0
              ? 'The two lists say the same.'
              : (['added', 'removed', 'changed'] as const)
                  .flatMap((kind) => {
                    const count = lines.filter((one) => one.kind === kind).length;
                    return count > 0 ? [`${count} ${kindWords[kind]}`] : [];
                  })
                  .join(', ')}
      </p>
      {lines && lines.length > 0 && (
        <div style={{ maxHeight: 380, overflow: 'auto' }} tabIndex={0} role="region" aria-label="Differences">
          <Table fz={13}>
            <Table.Thead>
              <Table.Tr>
                <Table.Th>Line</Table.Th>
                <Table.Th>What</Table.Th>
                <Table.Th>There → here</Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {lines.slice(0, SHOWN).map((line, index) => (
                <Table.Tr key={index}>
                  <Table.Td>
                    {line.item} {[line.partNumber, line.name].filter(Boolean).join('  ')}
                  </Table.Td>
                  <Table.Td>{kindWords[line.kind]}</Table.Td>
                  <Table.Td>{line.kind === 'changed' ? lineChange(line) : ''}</Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </div>
      )}
      {lines && lines.length > SHOWN && <p className="quiet">{lines.length - SHOWN} more are in the files.</p>}
    </Modal>
  );
}
