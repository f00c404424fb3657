import { Button, Group, Select, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { HouseStyle } from '../../../contract/src/index.ts';
import { styleSteps } from '../../../core/src/documents/index.ts';
import { sheetStyleOf, type Sheet, type SheetStyle } from '../../../core/src/sheets/index.ts';
import { keepStyle, loadStyles } from '../data/api.ts';
import { currentStyle } from '../data/currentStyle.ts';
import { useProject } from '../data/ProjectContext.tsx';

/** What of sheets is kept as a house style, and taken over from one. */
export function StyleField({ sheet }: { sheet: Sheet }) {
  const { set, sheets, billDocument, perform } = useProject();
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: ['styles'], queryFn: loadStyles });
  const [name, setName] = useState<string | null>(null);
  const styles = data?.styles ?? [];
  const take = (style: HouseStyle) => {
    const steps = styleSteps(set, sheets, style.sheet as SheetStyle);
    if (steps.length > 0) perform(`sheets as in ${style.name}`, ...steps);
    else notifications.show({ message: `The sheets are as ${style.name} says already.` });
  };
  const keep = async () => {
    const wanted = name?.trim();
    if (!wanted) return;
    const before = styles.find((style) => style.name === wanted);
    const style: HouseStyle = {
      // Its columns stay where there is such a style.
      ...(before ?? currentStyle(billDocument.content, wanted)),
      sheet: sheetStyleOf(set.content, sheet) as HouseStyle['sheet'],
    };
    try {
      queries.setQueryData(['styles'], await keepStyle(style));
      notifications.show({ message: `${wanted} is kept, with paper, title block, angle and dimensions.` });
      setName(null);
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  const withSheets = styles.filter((style) => style.sheet);
  return (
    <>
      <h3>House style</h3>
      {withSheets.length > 0 && (
        <Select
          size="xs"
          label="Paper, title block, angle and dimensions as in"
          placeholder="a style"
          value={null}
          data={withSheets.map((style) => style.name)}
          onChange={(chosen) => {
            const style = withSheets.find((one) => one.name === chosen);
            if (style) take(style);
          }}
        />
      )}
      {name === null ? (
        <Button mt={6} size="compact-sm" variant="default" onClick={() => setName(withSheets[0]?.name ?? 'Workshop')}>
          Keep these as a style …
        </Button>
      ) : (
        <Group gap={4} mt={6} align="end" wrap="nowrap">
          <TextInput
            size="xs"
            flex={1}
            label="Name of the style"
            maxLength={150}
            autoFocus
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') void keep();
              if (event.key === 'Escape') setName(null);
            }}
          />
          <Button size="compact-sm" disabled={!name.trim()} onClick={() => void keep()}>
            Keep
          </Button>
        </Group>
      )}
    </>
  );
}
