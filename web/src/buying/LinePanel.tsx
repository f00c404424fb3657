import { NumberInput, SegmentedControl, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { LineChoice, RequirementLine } from '../../../core/src/buying/index.ts';
import type { PaneProps } from './paneProps.ts';
import { usePlanEdit } from './usePlanEdit.ts';
import { mm } from './words.ts';

/** How many of the picked line, and what is typed for it. */
export function LinePanel({ open, line }: PaneProps & { line: RequirementLine | null }) {
  if (!line)
    return (
      <div className="linepanel">
        <p className="quiet">Pick a line, a piece of a bar, or a part of the machine.</p>
      </div>
    );
  return <Picked key={line.key} open={open} line={line} />;
}

function Picked({ open, line }: Pick<PaneProps, 'open'> & { line: RequirementLine }) {
  const { changeLine } = usePlanEdit(open);
  const { content: plan } = open;
  const choice: LineChoice = Object.hasOwn(plan.lines, line.address) ? plan.lines[line.address] : {};
  const called = line.partNumber || line.name;
  const say = (what: string, fields: Parameters<typeof changeLine>[2]) =>
    changeLine(`${what} of ${called}`, line.address, fields);
  const spares = choice.spares ?? { by: 'percent' as const, value: line.source === 'bought' ? plan.sparePercent : 0 };
  const unit = line.unit ? ` ${line.unit}` : '';
  return (
    <section className="linepanel" aria-label="The picked line">
      <h2>
        {line.items.length > 0 && <span className="item">{line.items.join(', ')} </span>}
        {line.name || line.partNumber}
      </h2>
      <p>
        {line.needed === null
          ? line.kind === 'as required'
            ? 'As required.'
            : 'How much is needed is not known.'
          : `${round(line.needed)}${unit} needed${line.spares > 0 ? `, ${round(line.spares)} more as spares` : ''}${line.onHand > 0 ? `, ${round(line.onHand)} on hand` : ''}: ${round(line.toGet ?? 0)}${unit} to get.`}
        {line.pieces.length > 0 &&
          ` Cut from ${line.section}: ${line.pieces.map(({ count, lengthMm }) => `${count} × ${mm(lengthMm)} mm`).join(', ')}.`}
      </p>
      <div className="fields">
        <Amount
          label="Spares"
          value={spares.value}
          typed={choice.spares !== undefined}
          onType={(value) => say('spares', { spares: value === null ? null : { by: spares.by, value } })}
        />
        <SegmentedControl
          size="xs"
          aria-label="How spares are counted"
          data={[
            { value: 'percent', label: '%' },
            { value: 'pieces', label: line.unit || 'pieces' },
          ]}
          value={spares.by}
          onChange={(by) => say('spares', { spares: { by: by as 'percent', value: spares.value } })}
        />
        <Amount
          label="On hand"
          value={line.onHand}
          typed={choice.onHand !== undefined}
          onType={(onHand) => say('stock on hand', { onHand })}
        />
        <Amount
          label={`Unit cost [${plan.currency}]`}
          value={line.offer.unitPrice}
          typed={choice.unitCost !== undefined}
          onType={(unitCost) => say('unit cost', { unitCost })}
        />
        <Amount
          label="Lead time [days]"
          value={line.leadDays}
          typed={choice.leadDays !== undefined}
          onType={(leadDays) => say('lead time', { leadDays })}
        />
        <Text
          label="Supplier"
          value={line.supplier}
          onType={(supplier) => say('supplier', { supplier: supplier === '' ? null : supplier })}
        />
      </div>
    </section>
  );
}
const round = (value: number): string => Number(value.toFixed(3)).toLocaleString('en');

/** A number that is kept when it is left or with Enter; emptied, what was typed is taken back. */
export function Amount({
  label,
  value,
  typed,
  whole = false,
  onType,
}: {
  label: string;
  value: number | null;
  /** Whether it was typed here, and does not come from elsewhere. */
  typed: boolean;
  /** Whether only whole numbers are taken. @default false */
  whole?: boolean;
  onType: (value: number | null) => void;
}) {
  const [text, setText] = useState<number | string | null>(null);
  const keep = () => {
    if (text === null) return;
    const next = typeof text === 'number' ? text : null;
    if (next !== value && !(next === null && !typed)) onType(next);
    setText(null);
  };
  return (
    <NumberInput
      size="xs"
      label={label}
      description={typed ? 'typed here' : undefined}
      min={0}
      {...(whole ? { allowDecimal: false, max: 1_000_000 } : {})}
      hideControls
      value={text ?? value ?? ''}
      onChange={setText}
      onBlur={keep}
      onKeyDown={({ key }) => key === 'Enter' && keep()}
    />
  );
}

function Text({ label, value, onType }: { label: string; value: string; onType: (text: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  const keep = () => {
    if (text !== null && text.trim() !== value) onType(text.trim());
    setText(null);
  };
  return (
    <TextInput
      size="xs"
      label={label}
      value={text ?? value}
      onChange={({ currentTarget }) => setText(currentTarget.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === 'Enter' && keep()}
    />
  );
}
