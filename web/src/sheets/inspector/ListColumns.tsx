import { Group, NumberInput, Select } from '@mantine/core';
import { useState } from 'react';
import { headingOf } from '../../../../core/src/columns/index.ts';
import { sheetSteps } from '../../../../core/src/documents/index.ts';
import { withColumnWidth, type LaidTable, type Sheet } from '../../../../core/src/sheets/index.ts';
import {
  CHARACTERS_RANGE,
  SHARE_RANGE,
  WIDTH_RANGE,
  type ColumnText,
  type ColumnWidth,
  type Overflow,
  type Upright,
} from '../../../../core/src/tables/index.ts';
import { useChange } from './useChange.ts';

type Unit = 'fit' | 'mm' | 'figures' | 'share';
const unitWords: Readonly<Record<Unit, string>> = {
  fit: 'what fits',
  mm: 'mm',
  figures: 'figures',
  share: 'share of what is left',
};
const alignWords = { left: 'left', centre: 'centred', right: 'right' } as const;
const uprightWords: Readonly<Record<Upright, string>> = {
  top: 'at the top',
  middle: 'in the middle',
  bottom: 'at the bottom',
};
const overflowWords: Readonly<Record<Overflow, string>> = {
  wrap: 'go on below',
  shrink: 'are lettered smaller',
  cut: 'are cut off',
};
const ranges: Readonly<Record<Exclude<Unit, 'fit'>, readonly [number, number]>> = {
  mm: WIDTH_RANGE,
  figures: CHARACTERS_RANGE,
  share: SHARE_RANGE,
};

/** One column of a list at a time: how wide it is, and how its texts stand. */
export function ListColumns({
  id,
  sheet,
  laid: { table, columns, measured },
  onTexts,
}: {
  readonly id: string;
  readonly sheet: Sheet;
  readonly laid: LaidTable;
  readonly onTexts: (texts: NonNullable<LaidTable['table']['columnTexts']>) => void;
}) {
  const change = useChange(id);
  const [picked, setPicked] = useState<string | null>(null);
  const at = Math.max(
    0,
    columns.findIndex((one) => one.id === picked),
  );
  const column = columns[at];
  if (!column) return null;
  const said = table.columnWidths?.find((one) => one.column === column.id);
  const text = table.columnTexts?.find((one) => one.column === column.id);
  const setWidth = (width: ColumnWidth | null) =>
    change(
      width === null ? 'fit a column' : 'width of a column',
      ...sheetSteps(sheet, withColumnWidth(sheet, table.id, column.id, width)),
    );
  const setText = (changed: { readonly [Key in keyof ColumnText]: ColumnText[Key] | null }) => {
    const next = Object.fromEntries(
      Object.entries({ ...text, column: column.id, ...changed }).filter(([, value]) => value !== null),
    ) as unknown as { column: string } & ColumnText;
    const others = (table.columnTexts ?? []).filter((one) => one.column !== column.id);
    onTexts(Object.keys(next).length > 1 ? [...others, next] : others);
  };
  const choice = (label: string, key: keyof ColumnText, words: Readonly<Record<string, string>>, usual: string) => (
    <Select
      mt={6}
      size="xs"
      label={label}
      allowDeselect={false}
      value={text?.[key] ?? ('' as string)}
      data={[{ value: '', label: usual }, ...Object.keys(words).map((value) => ({ value, label: words[value] }))]}
      onChange={(value) => setText({ [key]: value || null })}
    />
  );
  return (
    <>
      <h3>Columns</h3>
      <Select
        size="xs"
        aria-label="Which column"
        allowDeselect={false}
        value={column.id}
        data={columns.map((one) => ({ value: one.id, label: headingOf(one) || 'without heading' }))}
        onChange={setPicked}
      />
      <WidthField
        key={`${column.id} ${JSON.stringify(said)}`}
        said={said}
        fitted={measured.widths[at]}
        onWidth={setWidth}
      />
      <Group gap="xs" grow>
        {choice('Texts', 'align', alignWords, 'as in the bill')}
        {choice('Heading', 'headingAlign', alignWords, 'as its texts')}
      </Group>
      <Group gap="xs" grow>
        {choice('In high rows', 'upright', uprightWords, 'as usual')}
        {choice('Long texts', 'overflow', overflowWords, 'as usual')}
      </Group>
    </>
  );
}

function WidthField({
  said,
  fitted,
  onWidth,
}: {
  said: ColumnWidth | undefined;
  fitted: number;
  onWidth: (width: ColumnWidth | null) => void;
}) {
  const kept: Unit = !said ? 'fit' : 'width' in said ? 'mm' : 'characters' in said ? 'figures' : 'share';
  const value = !said ? undefined : 'width' in said ? said.width : 'characters' in said ? said.characters : said.share;
  const [typed, setTyped] = useState<number | string>(value ?? '');
  const widthIn = (unit: Exclude<Unit, 'fit'>, wanted: number): ColumnWidth =>
    unit === 'mm' ? { width: wanted } : unit === 'figures' ? { characters: wanted } : { share: wanted };
  const choose = (unit: Unit) => {
    if (unit === 'fit') return onWidth(null);
    const [least, most] = ranges[unit];
    const begins = unit === 'mm' ? Number(fitted.toFixed(1)) : unit === 'figures' ? 12 : 1;
    onWidth(widthIn(unit, Math.min(most, Math.max(least, begins))));
  };
  const take = () => {
    if (kept === 'fit' || typed === '') return;
    const [least, most] = ranges[kept];
    const wanted = Number(typed);
    if (wanted !== value && wanted >= least && wanted <= most) onWidth(widthIn(kept, wanted));
  };
  return (
    <Group gap="xs" grow align="end">
      <Select
        mt={6}
        size="xs"
        label="Wide"
        allowDeselect={false}
        value={kept}
        data={(Object.keys(unitWords) as Unit[]).map((unit) => ({ value: unit, label: unitWords[unit] }))}
        onChange={(unit) => unit && choose(unit as Unit)}
      />
      <NumberInput
        mt={6}
        size="xs"
        aria-label="How wide"
        disabled={kept === 'fit'}
        placeholder={fitted.toFixed(1)}
        decimalScale={1}
        value={typed}
        onChange={setTyped}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
    </Group>
  );
}
