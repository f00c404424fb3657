import { Button, Checkbox, Group, Select, SimpleGrid, TextInput } from '@mantine/core';
import { useState } from 'react';
import {
  MOST_TYPED,
  tablePlaces,
  withTypedSize,
  type SheetTable,
  type TablePlace,
  type TypedTable,
} from '../../../../core/src/sheets/index.ts';
import {
  INDENT_RANGE,
  LETTERING_RANGE,
  PADDING_RANGE,
  PEN_RANGE,
  PICTURE_RANGE,
  PITCH_RANGE,
  TOTAL_WIDTH_RANGE,
  type RowDirection,
  type TableHeading,
  type TablePens,
} from '../../../../core/src/tables/index.ts';
import { count } from '../../count.ts';
import { useDocuments, useMachine } from '../../data/openProject.ts';
import { ListColumns } from './ListColumns.tsx';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { LongListFields } from './LongListFields.tsx';
import { SizeInput } from './SizeInput.tsx';
import { useChange } from './useChange.ts';
import { placeWords } from '../words.ts';

const headingWords: Readonly<Record<TableHeading, string>> = {
  top: 'at the top',
  bottom: 'at the bottom',
  none: 'none',
};
const rowWords: Readonly<Record<RowDirection, string>> = { down: 'downwards', up: 'upwards' };

/** About a list on paper: where it hangs, how it is lettered, its heading, strips and columns. */
export function AboutList({ id, sheet, drawn, thing, onThing }: SheetInspectorProps) {
  const change = useChange(id);
  const laid = drawn.layout.tables.find(({ table }) => table.id === thing!.id);
  if (!laid) return null;
  const { table, content, measured } = laid;
  const put: PutTable = (label, changed, ...without) => {
    const next = Object.fromEntries(
      Object.entries({ ...table, ...changed }).filter(([key]) => !without.includes(key as keyof SheetTable)),
    ) as unknown as SheetTable;
    change(label, { kind: 'changeTables', remove: [], put: [next] });
  };
  /** A number that may be left to the program. */
  const size = (
    label: string,
    key:
      | 'lettering'
      | 'headingLettering'
      | 'pitch'
      | 'strips'
      | 'stripLines'
      | 'totalWidth'
      | 'padding'
      | 'indent'
      | 'pictures',
    fitted: string,
    [min, max]: readonly [number, number],
    digits = 1,
  ) => (
    <SizeInput
      key={`${key} ${table[key] ?? ''}`}
      label={label}
      fitted={fitted}
      value={table[key]}
      min={min}
      max={max}
      digits={digits}
      onValue={(value) =>
        value === null ? put(`${label.toLowerCase()} by itself`, {}, key) : put(label.toLowerCase(), { [key]: value })
      }
    />
  );
  return (
    <>
      <div className="quiet">{table.typed ? 'Table' : 'Parts list'}</div>
      <h2>{count(content.rows.length - (content.struck?.size ?? 0), table.typed ? 'row' : 'line')}</h2>
      {table.typed && <TypedFields typed={table.typed} onTyped={(typed) => put('size of a table', { typed })} />}
      <HangingFields table={table} drawn={drawn} put={put} />
      {table.at && (
        <p className="quiet">
          Put elsewhere by hand.{' '}
          <Button size="compact-xs" variant="default" onClick={() => put('list where it hangs', {}, 'at')}>
            Back where it hangs
          </Button>
        </p>
      )}
      {!table.typed && contents.map((flag) => <ListFlag key={flag.key} flag={flag} mt="xs" table={table} put={put} />)}
      <TitleInput
        key={table.title ?? ''}
        stored={table.title ?? ''}
        onTitle={(title) => (title ? put('title of the list', { title }) : put('no title of the list', {}, 'title'))}
      />
      <Group gap="xs" grow align="end">
        {size('Lettering, mm', 'lettering', String(measured.style.lettering), LETTERING_RANGE)}
        {size('Row pitch, mm', 'pitch', String(measured.style.pitch), PITCH_RANGE)}
      </Group>
      <Group gap="xs" grow align="end">
        {size('Heading, mm', 'headingLettering', String(measured.headingLettering), LETTERING_RANGE)}
        <Select
          mt={6}
          size="xs"
          label="Heading stands"
          data={Object.entries(headingWords).map(([value, label]) => ({ value, label }))}
          value={measured.heading}
          allowDeselect={false}
          onChange={(heading) =>
            heading && put(`heading ${headingWords[heading as TableHeading]}`, { heading: heading as TableHeading })
          }
        />
      </Group>
      <Group gap="xs" grow align="end">
        <Select
          mt={6}
          size="xs"
          label="Rows go"
          data={Object.entries(rowWords).map(([value, label]) => ({ value, label }))}
          value={measured.rows}
          allowDeselect={false}
          onChange={(rows) => rows && put(`rows ${rowWords[rows as RowDirection]}`, { rows: rows as RowDirection })}
        />
        {size('Strips', 'strips', String(measured.strips.length), [1, 50], 0)}
      </Group>
      {size('Most lines in a strip', 'stripLines', 'as many as there is room for', [1, 10_000], 0)}
      {!measured.fits && (
        <p className="problem">
          It does not fit its room so. {table.lettering === undefined ? '' : 'Its lettering stays as you set it. '}
          Let it go on on further sheets, or choose more strips, smaller lettering or larger paper.
        </p>
      )}
      <LongListFields sheet={id} laid={laid} onWhole={() => put('all lines of the list here', {}, 'lines')} />
      <Group gap="xs" grow align="end">
        {size(
          'Width, mm',
          'totalWidth',
          (measured.strips[0].box[2] - measured.strips[0].box[0]).toFixed(0),
          TOTAL_WIDTH_RANGE,
        )}
        {size('Padding, mm', 'padding', String(measured.padding), PADDING_RANGE)}
      </Group>
      <Group gap="xs" grow align="end">
        {size('Indent, mm', 'indent', '0', INDENT_RANGE)}
        {!table.typed && size('Pictures, mm', 'pictures', 'none', PICTURE_RANGE)}
      </Group>
      <Group gap="md" mt="xs">
        {letterings.map((flag) => (
          <ListFlag key={flag.key} flag={flag} table={table} put={put} />
        ))}
      </Group>
      <h3>Lines, mm</h3>
      <Pens
        pens={measured.pens}
        isOwn={table.pens !== undefined}
        onPens={(pens) => (pens ? put('lines of the list', { pens }) : put('usual lines of the list', {}, 'pens'))}
      />
      <ListColumns
        id={id}
        sheet={sheet}
        laid={laid}
        onTexts={(columnTexts) =>
          columnTexts.length > 0
            ? put('texts of a column', { columnTexts })
            : put('texts of a column', {}, 'columnTexts')
        }
      />
      <Button
        mt="sm"
        size="compact-sm"
        variant="default"
        onClick={() => {
          change('take away list', { kind: 'changeTables', remove: [table.id], put: [] });
          onThing(null);
        }}
      >
        Take away
      </Button>
    </>
  );
}

type PutTable = (label: string, changed: Partial<SheetTable>, ...without: (keyof SheetTable)[]) => void;

/** Something that a list has or not, and what undo says when it comes and when it goes. */
interface ListFlagWords {
  readonly key: 'onlyBallooned' | 'struckRetired' | 'boldRows' | 'plainHeading' | 'narrowRows' | 'narrowHeading';
  readonly label: string;
  readonly words: readonly [comes: string, goes: string];
  /** What is ticked is that the list does not have it. */
  readonly isReversed?: boolean;
}
const contents: readonly ListFlagWords[] = [
  {
    key: 'onlyBallooned',
    label: 'Only what is ballooned on this sheet',
    words: ['list only what is ballooned', 'list every line'],
  },
  {
    key: 'struckRetired',
    label: 'Retired numbers, struck out',
    words: ['retired numbers in the list', 'no retired numbers in the list'],
  },
];
const letterings: readonly ListFlagWords[] = [
  { key: 'boldRows', label: 'Bold rows', words: ['bold rows', 'plain rows'] },
  { key: 'plainHeading', label: 'Bold heading', words: ['plain heading', 'bold heading'], isReversed: true },
  { key: 'narrowRows', label: 'Narrow rows', words: ['narrow rows', 'usual rows'] },
  { key: 'narrowHeading', label: 'Narrow heading', words: ['narrow heading', 'usual heading'] },
];

function ListFlag({
  flag: { key, label, words, isReversed = false },
  mt = 0,
  table,
  put,
}: {
  readonly flag: ListFlagWords;
  readonly mt?: string | number;
  readonly table: SheetTable;
  readonly put: PutTable;
}) {
  const [comes, goes] = words;
  return (
    <Checkbox
      mt={mt}
      size="xs"
      label={label}
      checked={(table[key] ?? false) !== isReversed}
      onChange={({ currentTarget: { checked } }) =>
        checked !== isReversed ? put(comes, { [key]: true }) : put(goes, {}, key)
      }
    />
  );
}

/** Where a list hangs, and which bill it shows. */
function HangingFields({
  table,
  drawn,
  put,
}: Pick<SheetInspectorProps, 'drawn'> & { readonly table: SheetTable; readonly put: PutTable }) {
  const { bills } = useDocuments();
  const { billDocument } = useMachine();
  return (
    <>
      <Select
        size="xs"
        label="It hangs"
        data={[
          ...tablePlaces.map((place) => ({ value: place, label: placeWords[place] })),
          ...drawn.layout.tables
            .filter((other) => other.table.id !== table.id)
            .map((other) => ({
              value: `on ${other.table.id}`,
              label: `on the list of ${count(other.of, 'line')}${other.table.title ? `, ${other.table.title}` : ''}`,
            })),
        ]}
        value={table.onList === undefined ? table.place : `on ${table.onList}`}
        allowDeselect={false}
        onChange={(place) => {
          if (place?.startsWith('on ')) put('list on another list', { onList: place.slice(3) }, 'at');
          else if (place)
            put(`list ${placeWords[place as TablePlace]}`, { place: place as TablePlace }, 'at', 'onList');
        }}
      />
      {bills.length > 1 && !table.typed && (
        <Select
          mt="xs"
          size="xs"
          label="It shows"
          allowDeselect={false}
          value={table.bill ?? ''}
          data={[
            { value: '', label: 'what the sheet shows' },
            ...bills
              .filter((one) => one.id !== billDocument.id)
              .map(({ id: value, content: { name } }) => ({ value, label: name })),
          ]}
          onChange={(bill) =>
            bill ? put('another bill in the list', { bill }) : put('the bill of the sheet in the list', {}, 'bill')
          }
        />
      )}
    </>
  );
}

/** How many rows and columns a table has that is typed by hand; its cells are typed on the paper. */
function TypedFields({
  typed,
  onTyped,
}: {
  readonly typed: TypedTable;
  readonly onTyped: (typed: TypedTable) => void;
}) {
  const field = (label: string, key: 'rows' | 'columns', most: number) => (
    <SizeInput
      key={`${key} ${typed[key].length}`}
      label={label}
      fitted={String(typed[key].length)}
      value={typed[key].length}
      min={1}
      max={most}
      digits={0}
      onValue={(value) => value !== null && onTyped(withTypedSize(typed, { [key]: value }))}
    />
  );
  return (
    <>
      <Group gap="xs" grow>
        {field('Rows', 'rows', MOST_TYPED.rows)}
        {field('Columns', 'columns', MOST_TYPED.columns)}
      </Group>
      <p className="quiet">
        Double-click a cell, or press Enter, to type; Tab and arrows go on. Cells copied from a spreadsheet are pasted
        from there on. {'{drawing number}'}, {'{count 12}'} and the other words of notes stand for what they name.
      </p>
    </>
  );
}

const penWords: Readonly<Record<keyof TablePens, string>> = {
  frame: 'Around',
  heading: 'Heading',
  rows: 'Between rows',
  columns: 'Between columns',
};

/** Widths of the lines of a list; 0 leaves them out. */
function Pens({
  pens,
  isOwn,
  onPens,
}: {
  readonly pens: TablePens;
  readonly isOwn: boolean;
  readonly onPens: (pens: TablePens | null) => void;
}) {
  return (
    <SimpleGrid cols={2} spacing="xs" verticalSpacing={0}>
      {(Object.keys(penWords) as (keyof TablePens)[]).map((of) => (
        <SizeInput
          key={`${of} ${isOwn ? pens[of] : ''}`}
          label={penWords[of]}
          fitted={String(pens[of])}
          value={isOwn ? pens[of] : undefined}
          min={PEN_RANGE[0]}
          max={PEN_RANGE[1]}
          digits={2}
          onValue={(width) => onPens(width === null ? null : { ...pens, [of]: width })}
        />
      ))}
    </SimpleGrid>
  );
}

function TitleInput({ stored, onTitle }: { stored: string; onTitle: (title: string) => void }) {
  const [typed, setTyped] = useState(stored);
  const take = () => {
    if (typed.trim() !== stored) onTitle(typed.trim());
  };
  return (
    <TextInput
      mt="xs"
      size="xs"
      label="Title"
      placeholder="none"
      value={typed}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}
