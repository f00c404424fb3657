import { Checkbox, Group, Modal, NumberInput, Select, TextInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import {
  dateForms,
  denominators,
  evaluateFormula,
  FormulaMismatch,
  formulasAreReady,
  readFormula,
  readyForFormulas,
  spanOf,
  toShown,
  toStored,
  unitOf,
  type Checked,
  type Column,
  type ColumnSource,
  type Format,
} from '../../../core/src/columns/index.ts';
import type { Bill } from '../../../core/src/bill/index.ts';
import { useMachine } from '../data/openProject.ts';
import { useBillEdit } from './useBillEdit.ts';
import { useNames, useSources } from './useNames.ts';
import { DialogFoot } from '../controls/DialogFoot.tsx';

interface ColumnDialogProps {
  /** A column of the bill, or a new one that is added when it is applied. */
  readonly column: Column;
  readonly isNew?: boolean;
  readonly onClose: () => void;
}

/**
 * How the values of a column read, and for a text pattern or formula what it is made of; with an example from this
 * list.
 */
export function ColumnDialog({ column, isNew = false, onClose }: ColumnDialogProps) {
  const { bill, billDocument } = useMachine();
  const { change } = useBillEdit();
  const nameOf = useNames();
  const sources = useSources('expressions');
  const [heading, setHeading] = useState(column.heading);
  const [typed, setTyped] = useState(column.expression === undefined ? null : toShown(column.expression, nameOf));
  const [format, setFormat] = useState<Format>(column.format ?? {});
  const [required, setRequired] = useState(column.required ?? false);
  const formulas = useFormulaReader(column.source === 'formula');
  const resolve = (name: string) =>
    sources.find(({ label }) => label === name)?.value ??
    sources.find(({ label }) => label.toLowerCase() === name.toLowerCase())?.value ??
    null;
  const expression: Checked<string> | null =
    typed === null
      ? null
      : checkExpression(
          column,
          typed,
          resolve,
          bill,
          formulas,
          sources.map(({ label }) => label),
        );
  const made: Column = {
    ...column,
    heading: heading.trim() || column.heading,
    ...(expression?.ok ? { expression: expression.content } : {}),
    format,
  };
  const examples =
    expression && !expression.ok
      ? []
      : [
          ...new Set(
            bill.rows
              .slice(0, 200)
              .map((row) => bill.cell(row, made).text)
              .filter(Boolean),
          ),
        ].slice(0, 4);
  const without =
    expression && !expression.ok ? [] : bill.rows.slice(0, 200).flatMap((row) => bill.cell(row, made).fault ?? []);
  const unitKnown = !format.unit || unitOf(format.unit) !== null;
  const apply = () => {
    const kept = Object.fromEntries(
      Object.entries(format).filter(([, value]) => value !== undefined && value !== ''),
    ) as Format;
    if (isNew)
      change(`add column ${made.heading}`, {
        kind: 'addColumn',
        column: { ...made, format: kept, ...(required ? { required } : {}) },
        at: billDocument.content.columns.length,
      });
    else
      change(`how ${made.heading} reads`, {
        kind: 'changeColumn',
        id: column.id,
        change: {
          heading: made.heading,
          format: Object.keys(kept).length > 0 ? kept : null,
          required: required || null,
          ...(expression?.ok ? { expression: expression.content } : {}),
        },
      });
    onClose();
  };
  return (
    <Modal
      opened
      onClose={onClose}
      title={
        isNew ? `New column: ${column.source === 'formula' ? 'a formula' : 'a text made of others'}` : column.heading
      }
      size={620}
    >
      <TextInput
        size="xs"
        label="Heading"
        value={heading}
        onChange={(event) => setHeading(event.currentTarget.value)}
        data-autofocus={isNew || undefined}
      />
      {typed !== null && (
        <ExpressionInput
          formula={column.source === 'formula'}
          value={typed}
          onChange={setTyped}
          checked={expression!}
          names={sources.map(({ label }) => label)}
        />
      )}
      <FormatFields format={format} onChange={setFormat} unitKnown={unitKnown} />
      <Checkbox
        mt="sm"
        size="xs"
        label="every line needs a value here"
        checked={required}
        onChange={({ currentTarget: { checked } }) => setRequired(checked)}
      />
      <p role="status">
        {examples.length > 0 ? (
          <>
            It reads <strong>{examples.join(' · ')}</strong>
          </>
        ) : (
          <span className="quiet">No line of this list has a value here.</span>
        )}
      </p>
      {without.length > 0 && (
        <p className="problem">
          {without.length} {without.length === 1 ? 'line has' : 'lines have'} no value: {without[0]}
        </p>
      )}
      <DialogFoot disabled={!unitKnown || (expression !== null && !expression.ok)} onDo={apply} onClose={onClose}>
        Apply
      </DialogFoot>
    </Modal>
  );
}

function useFormulaReader(wanted: boolean): boolean {
  const [ready, setReady] = useState(formulasAreReady);
  useEffect(() => {
    if (wanted && !ready) void readyForFormulas().then(() => setReady(true));
  }, [wanted, ready]);
  return ready;
}

/** Checks what was typed: names, the formula itself, and on the lines of this bill whether its dimensions fit. */
function checkExpression(
  column: Column,
  typed: string,
  resolve: (name: string) => string | null,
  bill: Bill,
  formulas: boolean,
  names: readonly string[],
): Checked<string> {
  const stored = toStored(typed, resolve, names);
  if (!stored.ok || column.source !== 'formula' || !formulas) return stored;
  const formula = readFormula(typed);
  if (!formula.ok) return formula;
  const read = readFormula(stored.content);
  if (!read.ok) return read;
  // Grease by the kilogram may have no value where bolts do; what fits no line at all is refused.
  let first: { message: string; references: readonly number[] } | null = null;
  for (const row of bill.rows.slice(0, 300)) {
    try {
      if (evaluateFormula(read.content, (reference) => bill.values(row, reference as ColumnSource)[0] ?? null) !== null)
        return stored;
    } catch (error) {
      if (!(error instanceof FormulaMismatch)) throw error;
      first ??= { message: `Line ${row.item}: ${error.message}`, references: error.references };
    }
  }
  return first === null ? stored : { ok: false, fault: { message: first.message, ...spanOf(typed, first.references) } };
}

interface ExpressionInputProps {
  readonly formula: boolean;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly checked: Checked<string>;
  readonly names: readonly string[];
}

function ExpressionInput({ formula, value, onChange, checked, names }: ExpressionInputProps) {
  return (
    <>
      <TextInput
        mt="xs"
        size="xs"
        label={formula ? 'Formula' : 'Text'}
        placeholder={formula ? '{Mass each} × {Total qty}' : '{Name}, L = {Length}'}
        value={value}
        onChange={(event) => onChange(event.currentTarget.value)}
        error={checked.ok || value === '' ? null : checked.fault.message}
        spellCheck={false}
      />
      {!checked.ok && value !== '' && (
        <div className="fault" aria-hidden>
          {value.slice(0, checked.fault.at)}
          <mark>{value.slice(checked.fault.at, checked.fault.at + checked.fault.length) || ' '}</mark>
          {value.slice(checked.fault.at + checked.fault.length)}
        </div>
      )}
      <div className="names" aria-label="Columns to put in">
        {names.map((name) => (
          <button key={name} onClick={() => onChange(`${value}{${name}}`)}>
            {name}
          </button>
        ))}
      </div>
      {formula && (
        <p className="quiet" style={{ margin: '4px 0' }}>
          Numbers, units (mm, kg, m², day), + − × ÷ ^, comparisons, parentheses; round floor ceil min max abs, if(…,
          then, else). What is rounded is a plain number: ceil(&#123;Length&#125; / 6 m).
        </p>
      )}
    </>
  );
}

interface FormatFieldsProps {
  readonly format: Format;
  readonly onChange: (format: Format) => void;
  readonly unitKnown: boolean;
}

function FormatFields({ format, onChange, unitKnown }: FormatFieldsProps) {
  const set = (part: Partial<Format>) => onChange({ ...format, ...part });
  const digits = (label: string, key: 'decimals' | 'significant') => (
    <NumberInput
      size="xs"
      w={120}
      label={label}
      min={key === 'decimals' ? 0 : 1}
      max={12}
      allowDecimal={false}
      value={format[key] ?? ''}
      onChange={(value) => set({ [key]: value === '' ? undefined : Number(value) })}
    />
  );
  const choice = <Value extends string>(
    label: string,
    value: Value | undefined,
    usual: string,
    options: readonly { value: Value; label: string }[],
    keep: (value: Value | undefined) => void,
    width = 150,
  ) => (
    <Select
      size="xs"
      w={width}
      label={label}
      data={[{ value: '', label: usual }, ...options]}
      value={value ?? ''}
      allowDeselect={false}
      onChange={(next) => keep(next ? (next as Value) : undefined)}
    />
  );
  const text = (label: string, key: 'yes' | 'no' | 'empty', placeholder: string) => (
    <TextInput
      size="xs"
      w={96}
      label={label}
      placeholder={placeholder}
      maxLength={40}
      value={format[key] ?? ''}
      onChange={(event) => set({ [key]: event.currentTarget.value || undefined })}
    />
  );
  return (
    <>
      <h3>Numbers</h3>
      <Group gap="sm" align="end">
        <TextInput
          size="xs"
          w={96}
          label="Unit"
          placeholder="as given"
          value={format.unit ?? ''}
          error={unitKnown ? null : 'not known'}
          onChange={(event) => set({ unit: event.currentTarget.value.trim() || undefined })}
        />
        {choice(
          'The unit stands',
          format.unitPlace,
          'behind the number',
          [
            { value: 'heading', label: 'in the heading' },
            { value: 'nowhere', label: 'nowhere' },
          ],
          (unitPlace) => set({ unitPlace }),
        )}
        {digits('Decimals', 'decimals')}
        {digits('Significant digits', 'significant')}
        {choice(
          'Decimal sign',
          format.decimalSign,
          'point',
          [{ value: ',', label: 'comma' }],
          (decimalSign) => set({ decimalSign }),
          110,
        )}
        {choice(
          'Inch fractions',
          format.fraction ? String(format.fraction.denominator) : undefined,
          'none',
          denominators.map((one) => ({ value: String(one), label: `down to 1/${one}` })),
          (one) =>
            set({
              fraction: one
                ? {
                    denominator: Number(one) as (typeof denominators)[number],
                    stacked: format.fraction?.stacked ?? false,
                  }
                : undefined,
            }),
          130,
        )}
        {format.fraction && (
          <Checkbox
            size="xs"
            label="raised and lowered figures"
            checked={format.fraction.stacked}
            onChange={({ currentTarget: { checked } }) => set({ fraction: { ...format.fraction!, stacked: checked } })}
          />
        )}
      </Group>
      <h3>Texts</h3>
      <Group gap="sm" align="end">
        {choice(
          'Dates',
          format.date,
          'as given',
          dateForms.map((form) => ({ value: form, label: form })),
          (date) => set({ date }),
        )}
        {text('Yes reads', 'yes', 'yes')}
        {text('No reads', 'no', 'no')}
        {text('Nothing reads', 'empty', 'empty')}
        {choice(
          'Stands',
          format.align,
          'as usual',
          [
            { value: 'left', label: 'left' },
            { value: 'centre', label: 'in the middle' },
            { value: 'right', label: 'right' },
          ],
          (align) => set({ align }),
          120,
        )}
        <Checkbox
          size="xs"
          label="capitals"
          checked={format.upperCase ?? false}
          onChange={({ currentTarget: { checked } }) => set({ upperCase: checked || undefined })}
        />
      </Group>
    </>
  );
}
