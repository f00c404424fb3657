import type { RowIndex } from '../../../core/src/assembly/index.ts';
import { ActionIcon, Autocomplete, Button, Checkbox, Group, NumberInput, Select, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import { useState, useRef } from 'react';
import type { Form } from '../../../contract/src/index.ts';
import { headingOf, type Column } from '../../../core/src/columns/index.ts';
import {
  cellName,
  columnNamed,
  proposeColumns,
  proposedMap,
  readCellName,
  type FormColumn,
  type FormField,
  type FormLook,
  type FormMap,
} from '../../../core/src/forms/index.ts';
import { headingsAbove, lookAtForm, mapForm } from '../data/forms.ts';
import { useMachine } from '../data/openProject.ts';
import { SheetPicture } from './SheetPicture.tsx';
import { OneMore } from '../controls/listButtons.tsx';

interface FormSetupProps {
  readonly form: Form;
  readonly onDone: (forms: Form[]) => void;
  readonly onLeave: () => void;
}

/** How a form is filled, said on a picture of it. */
export function FormSetup(props: FormSetupProps) {
  const { form } = props;
  const { data: look, error } = useQuery({
    queryKey: ['form', form.name, form.fileName],
    queryFn: () => lookAtForm(form.name),
  });
  if (error) return <p className="problem">{error.message}</p>;
  if (!look) return <p role="status">Looking at {form.fileName} …</p>;
  return <Setup {...props} look={look} />;
}

const blank = (look: FormLook): FormMap => ({
  version: 1,
  start: { sheet: look.sheets[0]?.name ?? '', cell: 'A1' },
  rows: 'insert',
  ready: 1,
  columns: [],
  fields: [],
  groups: true,
  overwrite: false,
  fileName: '{Drawing number} {Bill}.xlsx',
});

function Setup({ form, look, onDone, onLeave }: FormSetupProps & { readonly look: FormLook }) {
  const { billDocument } = useMachine();
  const { columns } = billDocument.content;
  const [map, setMap] = useState<FormMap>(
    () => (form.map as FormMap | null) ?? proposedMap(look, columns) ?? blank(look),
  );
  const [problem, setProblem] = useState<string | null>(null);
  const change = (more: Partial<FormMap>) => setMap((now) => ({ ...now, ...more }));
  const named =
    'name' in map.start ? look.names.find((one) => 'name' in map.start && one.name === map.start.name) : map.start;
  const [shown, setShown] = useState(named?.sheet ?? look.sheets[0]?.name ?? '');
  const sheet = look.sheets.find(({ name }) => name === shown) ?? look.sheets[0];
  const place = named ? readCellName(named.cell) : null;
  /** Of questions about headings the last one counts: an earlier one may be answered after it. */
  const asked = useRef(0);
  /** Another place has other headings above it; what was chosen under a heading of the same name stays. */
  const begin = async (start: FormMap['start'], at: { sheet: string; cell: string } | undefined) => {
    change({ start });
    setProblem(null);
    const mine = ++asked.current;
    if (!at || !readCellName(at.cell)) return;
    try {
      const found = await headingsAbove(form.name, at.sheet, at.cell);
      if (mine !== asked.current) return;
      const proposed = proposeColumns(
        found.filter(({ isFormula }) => !isFormula),
        columns,
      );
      if (proposed.length > 0)
        setMap((now) => ({
          ...now,
          columns: proposed.map(
            (one) => now.columns.find(({ to, heading }) => to === one.to && heading === one.heading) ?? one,
          ),
        }));
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const pick = (cell: { row: RowIndex; column: number }) => {
    const at = { sheet: sheet.name, cell: cellName(cell) };
    void begin(at, at);
  };
  const keep = async () => {
    try {
      onDone(await mapForm(form.name, map));
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  if (!sheet) return <p className="problem">Every sheet of this workbook is hidden, so no list can be seen in it.</p>;
  return (
    <div className="formsetup">
      <div className="formlook">
        <Group gap={4} mb={6} role="tablist" aria-label="Sheets of the form">
          {look.sheets.map(({ name }) => (
            <button
              key={name}
              role="tab"
              aria-selected={name === sheet.name}
              className={`sheettab${name === sheet.name ? ' open' : ''}`}
              onClick={() => setShown(name)}
            >
              {name}
            </button>
          ))}
          <span className="wide" />
          <span className="quiet">Click the cell where the first line begins.</span>
        </Group>
        <SheetPicture
          sheet={sheet}
          start={named?.sheet === sheet.name ? place : null}
          takes={new Map(map.columns.map(({ to, from }) => [to.toUpperCase(), from]))}
          onPick={pick}
        />
      </div>
      <div className="formfields">
        <Group gap="xs" align="end" wrap="nowrap">
          <TextInput
            size="xs"
            w={90}
            label="Begins at"
            value={'name' in map.start ? (named?.cell ?? '') : map.start.cell}
            error={place === null}
            onChange={({ currentTarget: { value } }) => {
              const at = { sheet: named?.sheet ?? sheet.name, cell: value.toUpperCase() };
              void begin(at, at);
            }}
          />
          {look.names.length > 0 && (
            <Select
              size="xs"
              label="or at a named cell"
              clearable
              data={[...new Set(look.names.map(({ name }) => name))]}
              value={'name' in map.start ? map.start.name : null}
              onChange={(name) => {
                const at = look.names.find((one) => one.name === name);
                if (name && at) setShown(at.sheet);
                void begin(name ? { name } : (named ?? { sheet: sheet.name, cell: 'A1' }), at ?? named);
              }}
            />
          )}
          <NumberInput
            size="xs"
            w={96}
            label="Rows kept ready"
            min={1}
            max={10_000}
            value={map.ready}
            onChange={(value) => change({ ready: Math.min(10_000, Math.max(1, Math.round(Number(value) || 1))) })}
          />
        </Group>
        <Select
          size="xs"
          mt="xs"
          label="Lines"
          allowDeselect={false}
          value={map.rows}
          onChange={(value) => value && change({ rows: value as FormMap['rows'] })}
          data={[
            { value: 'insert', label: 'put rows in: what stands below moves down' },
            { value: 'fill', label: 'fill the rows that are there' },
          ]}
        />
        <ColumnTable columns={map.columns} of={columns} onChange={(next) => change({ columns: next })} />
        <FieldTable fields={map.fields} look={look} sheet={sheet.name} onChange={(next) => change({ fields: next })} />
        <Checkbox
          size="xs"
          mt="xs"
          label="Headings of groups and sums stand in the list"
          checked={map.groups}
          onChange={({ currentTarget: { checked } }) => change({ groups: checked })}
        />
        <Checkbox
          size="xs"
          mt={4}
          label="Formulas and texts where the list goes may be written over"
          checked={map.overwrite}
          onChange={({ currentTarget: { checked } }) => change({ overwrite: checked })}
        />
        <TextInput
          size="xs"
          mt="xs"
          label="File name"
          description="{Title}, {Drawing number}, {Revision}, {Bill}, {Date} and so on are filled in."
          maxLength={300}
          value={map.fileName}
          onChange={({ currentTarget: { value } }) => change({ fileName: value })}
        />
        {look.keptOut.length > 0 && (
          <p className="problem calm">
            This workbook has {look.keptOut.join(', ')}; they are kept out of what is written.
          </p>
        )}
        {look.sending.length > 0 && (
          <p className="problem">
            {look.sending.length === 1 ? 'A formula reaches' : `${look.sending.length} formulas reach`} outside this
            workbook:{' '}
            {look.sending
              .slice(0, 4)
              .map(({ at, what }) => `${at} ${what}`)
              .join('; ')}
            {look.sending.length > 4 ? ' …' : ''}. They stay in what is written; take out those that are not meant to.
          </p>
        )}
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        <Group mt="md" gap="xs">
          <Button
            size="compact-md"
            disabled={map.columns.length === 0 || place === null || map.fileName.trim() === ''}
            onClick={() => void keep()}
          >
            Keep it so
          </Button>
          <Button size="compact-md" variant="default" onClick={onLeave}>
            Leave
          </Button>
        </Group>
      </div>
    </div>
  );
}

function ColumnTable({
  columns,
  of,
  onChange,
}: {
  readonly columns: readonly FormColumn[];
  /** Columns of the bill. */
  readonly of: readonly Column[];
  readonly onChange: (columns: readonly FormColumn[]) => void;
}) {
  const names = [...new Set(of.map(headingOf))];
  const change = (at: number, { unit, ...more }: Partial<FormColumn>) =>
    onChange(
      columns.map((column, one) => {
        if (one !== at) return column;
        const { unit: before, ...rest } = column;
        const now = unit ?? before;
        return { ...rest, ...more, ...(now ? { unit: now } : {}) };
      }),
    );
  return (
    <>
      <table className="formcolumns" aria-label="Columns of the form">
        <thead>
          <tr>
            <th>In</th>
            <th>Heading there</th>
            <th>takes from the bill</th>
            <th title="Numbers are converted to it and stand without it">Unit in heading</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {columns.map((column, at) => (
            <tr key={at}>
              <td>
                <TextInput
                  size="xs"
                  w={46}
                  aria-label={`Letters of column ${at + 1}`}
                  maxLength={3}
                  error={!/^[A-Za-z]{1,3}$/.test(column.to)}
                  value={column.to}
                  onChange={({ currentTarget: { value } }) => change(at, { to: value.toUpperCase() })}
                />
              </td>
              <td className="ellipsis" title={column.heading}>
                {column.heading}
              </td>
              <td>
                <Autocomplete
                  size="xs"
                  aria-label={`What column ${column.to} takes`}
                  data={names}
                  value={column.from}
                  maxLength={200}
                  error={columnNamed(of, column.from) ? undefined : 'not in this bill'}
                  onChange={(value) => change(at, { from: value })}
                />
              </td>
              <td>
                <TextInput
                  size="xs"
                  w={62}
                  aria-label={`Unit of column ${column.to}`}
                  placeholder="in cells"
                  maxLength={40}
                  value={column.unit ?? ''}
                  onChange={({ currentTarget: { value } }) => change(at, { unit: value })}
                />
              </td>
              <td>
                <ActionIcon
                  size="sm"
                  variant="subtle"
                  aria-label={`Nothing into column ${column.to}`}
                  onClick={() => onChange(columns.toSpliced(at, 1))}
                >
                  <IconX size={14} />
                </ActionIcon>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <OneMore onClick={() => onChange([...columns, { to: '', heading: '', from: names[0] ?? '' }])}>
        Another column
      </OneMore>
    </>
  );
}

function FieldTable({
  fields,
  look,
  sheet,
  onChange,
}: {
  readonly fields: readonly FormField[];
  readonly look: FormLook;
  readonly sheet: string;
  readonly onChange: (fields: readonly FormField[]) => void;
}) {
  const change = (at: number, more: Partial<FormField>) =>
    onChange(fields.map((field, one) => (one === at ? { ...field, ...more } : field)));
  return (
    <section aria-label="Texts of the project">
      <p className="quiet formhint">
        {look.placeholders.length > 0
          ? `The workbook asks for ${look.placeholders.map((name) => `{${name}}`).join(', ')}. `
          : 'Texts such as {Title} in the workbook are filled in. '}
        Further cells:
      </p>
      {fields.map((field, at) => (
        <Group key={at} gap={4} mb={4} wrap="nowrap">
          <TextInput
            size="xs"
            w={62}
            aria-label={`Cell of text ${at + 1}`}
            value={field.cell}
            error={readCellName(field.cell) === null}
            onChange={({ currentTarget: { value } }) => change(at, { cell: value.toUpperCase() })}
          />
          <Select
            size="xs"
            w={120}
            aria-label={`Sheet of text ${at + 1}`}
            allowDeselect={false}
            data={look.sheets.map(({ name }) => name)}
            value={field.sheet}
            onChange={(value) => value && change(at, { sheet: value })}
          />
          <TextInput
            size="xs"
            className="wide"
            aria-label={`Text ${at + 1}`}
            maxLength={2000}
            value={field.text}
            onChange={({ currentTarget: { value } }) => change(at, { text: value })}
          />
          <ActionIcon
            size="sm"
            variant="subtle"
            aria-label={`No text ${at + 1}`}
            onClick={() => onChange(fields.toSpliced(at, 1))}
          >
            <IconX size={14} />
          </ActionIcon>
        </Group>
      ))}
      <OneMore onClick={() => onChange([...fields, { sheet, cell: '', text: '{Title}' }])}>Another text</OneMore>
    </section>
  );
}
