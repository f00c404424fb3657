import equal from 'fast-deep-equal';
import { Checkbox, Group, Modal, NumberInput, Select, Table, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import {
  renumber,
  rowLabel,
  usualNumbering,
  type LevelNumbering,
  type Numbering,
  type RenumberOrder,
} from '../../../core/src/bill/index.ts';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { balloonRun } from '../../../core/src/sheets/index.ts';
import { useProject } from '../data/openProject.ts';
import { after } from '../../../core/src/documents/index.ts';
import { billAfter, useBillEdit } from './useBillEdit.ts';
import { DialogFoot } from '../controls/DialogFoot.tsx';
import { OneMore, TakeAway } from '../controls/listButtons.tsx';

const orderWords: Readonly<Record<RenumberOrder, string>> = {
  structure: 'the structure',
  shown: 'the order shown',
  balloons: 'the balloons around the views',
};
const SHOWN = 200;

/** New numbers as an act of its own: old and new side by side before anything changes. */
export function RenumberDialog({
  onClose,
  from,
}: {
  onClose: () => void;
  /** Id of the balloon with which the numbers begin. */
  from?: string;
}) {
  const project = useProject();
  const { bill, billDocument, bills, sheets } = project;
  const { change } = useBillEdit();
  const { recipe, ledger } = billDocument.content;
  const [numbering, setNumbering] = useState<Numbering>(recipe.numbering ?? usualNumbering);
  const [order, setOrder] = useState<RenumberOrder>(from === undefined ? 'shown' : 'balloons');
  const structure = useMemo(
    () =>
      billAfter(
        project,
        after(billDocument.content, [{ kind: 'changeRecipe', change: { filter: null, sort: null, groups: null } }])!,
      ),
    [project, billDocument],
  );
  const around = useMemo(
    () =>
      balloonRun(
        sheets.map(({ content }) => content),
        { assembly: project.assembly, bill },
        from,
      ),
    [project.assembly, sheets, bill, from],
  );
  const plan = useMemo(
    () => renumber({ bill, structure, ledger, numbering, order, balloons: around }),
    [bill, structure, ledger, numbering, order, around],
  );
  const depth = bill.rows.reduce((most, { level }) => Math.max(most, level), 1);
  const drawn = sheets.some(({ content }) => billShownBy(bills, content).id === billDocument.id);
  const changed = new Set(plan.changes.map(({ row }) => row));
  const concerned = drawn ? around.filter((row) => changed.has(row)).length : 0;
  const set = (part: Partial<Numbering>) => setNumbering({ ...numbering, ...part });
  const number = (label: string, key: 'start' | 'step' | 'width' | 'groupRange', least: number) => (
    <NumberInput
      size="xs"
      w={key === 'groupRange' ? 150 : 110}
      label={label}
      min={least}
      max={1_000_000}
      allowDecimal={false}
      value={numbering[key]}
      onChange={(value) => set({ [key]: Math.max(least, Math.round(Number(value) || least)) })}
    />
  );
  const apply = () => {
    change(
      `number by ${orderWords[order]}`,
      { kind: 'changeRecipe', change: { numbering } },
      { kind: 'setNumbers', numbers: plan.numbers },
    );
    onClose();
  };
  return (
    <Modal opened onClose={onClose} title="Renumber" size={720}>
      <Group gap="sm" align="end">
        <Select
          size="xs"
          w={230}
          label="Numbers follow"
          allowDeselect={false}
          data={(Object.keys(orderWords) as RenumberOrder[])
            .filter((one) => one !== 'balloons' || sheets.some(({ content }) => content.balloons.length > 0))
            .map((value) => ({ value, label: orderWords[value] }))}
          value={order}
          onChange={(value) => value && setOrder(value as RenumberOrder)}
        />
        {number('Start', 'start', 1)}
        {number('Step', 'step', 1)}
        <TextInput
          size="xs"
          w={90}
          label="Before it"
          placeholder="none"
          maxLength={20}
          value={numbering.prefix}
          onChange={(event) => set({ prefix: event.currentTarget.value })}
        />
        {number('Digits at least', 'width', 1)}
        <TextInput
          size="xs"
          w={120}
          label="Between levels"
          maxLength={5}
          value={numbering.separator}
          disabled={numbering.letters}
          onChange={(event) => set({ separator: event.currentTarget.value })}
        />
        <Checkbox
          size="xs"
          label="Lower levels as letters"
          checked={numbering.letters}
          onChange={({ currentTarget: { checked } }) => set({ letters: checked })}
        />
        {bill.sections.length > 0 && number('Groups begin at every', 'groupRange', 0)}
      </Group>
      {depth > 1 && <Levels numbering={numbering} depth={depth} onChange={(levels) => set({ levels })} />}
      <Reserved numbering={numbering} onChange={set} />
      <p role="status">
        {plan.changes.length === 0
          ? 'No number changes.'
          : `${plan.changes.length} of ${bill.rows.length} lines get another number${concerned > 0 ? `, and ${concerned} balloons show it` : ''}.`}
        {plan.pinned > 0 ? ` ${plan.pinned} are pinned and keep theirs.` : ''}
        {structure.rows.length > bill.rows.length ? ' Numbers of lines that are not shown are not given out.' : ''}
      </p>
      {plan.changes.length > 0 && (
        <div style={{ maxHeight: 260, overflow: 'auto' }}>
          <Table withRowBorders fz={13}>
            <Table.Thead>
              <Table.Tr>
                <Table.Th>Now</Table.Th>
                <Table.Th>Then</Table.Th>
                <Table.Th>Line</Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {plan.changes.slice(0, SHOWN).map(({ row, from, to }) => (
                <Table.Tr key={row}>
                  <Table.Td>{from || '–'}</Table.Td>
                  <Table.Td>
                    <strong>{to}</strong>
                  </Table.Td>
                  <Table.Td>{rowLabel(bill, bill.rows[row])}</Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
          {plan.changes.length > SHOWN && <p className="quiet">… and {plan.changes.length - SHOWN} more.</p>}
        </div>
      )}
      <DialogFoot
        disabled={plan.changes.length === 0 && equal(numbering, recipe.numbering ?? usualNumbering)}
        onDo={apply}
        onClose={onClose}
      >
        Apply
      </DialogFoot>
    </Modal>
  );
}

/** Start, step and digits of the levels below the first, where they have their own. */
function Levels({
  numbering,
  depth,
  onChange,
}: {
  numbering: Numbering;
  depth: number;
  onChange: (levels: readonly LevelNumbering[]) => void;
}) {
  const { levels = [], letters } = numbering;
  const put = (at: number, part: Partial<LevelNumbering>) => onChange(levels.with(at, { ...levels[at], ...part }));
  const number = (at: number, label: string, key: 'start' | 'step' | 'width') => (
    <NumberInput
      size="xs"
      w={80}
      aria-label={`${label} of level ${at + 2}`}
      min={1}
      max={10_000}
      allowDecimal={false}
      value={levels[at][key]}
      onChange={(value) => put(at, { [key]: Math.max(1, Math.round(Number(value) || 1)) })}
    />
  );
  return (
    <div className="rules" style={{ marginTop: 10 }}>
      {levels.map(({ prefix }, at) => (
        <Group key={at} gap={6}>
          {levels.length - 1 === at && depth > at + 2 ? `Level ${at + 2} and below` : `Level ${at + 2}`}: start
          {number(at, 'Start', 'start')}step{number(at, 'Step', 'step')}
          {!letters && (
            <>
              before it
              <TextInput
                size="xs"
                w={70}
                aria-label={`Before numbers of level ${at + 2}`}
                placeholder="none"
                maxLength={20}
                value={prefix}
                onChange={(event) => put(at, { prefix: event.currentTarget.value })}
              />
              digits{number(at, 'Digits', 'width')}
            </>
          )}
          {at === levels.length - 1 && (
            <TakeAway
              label={`Number level ${at + 2} like the one above`}
              onClick={() => onChange(levels.slice(0, -1))}
            />
          )}
        </Group>
      ))}
      {levels.length < depth - 1 && (
        <div>
          <OneMore onClick={() => onChange([...levels, { start: 1, step: 1, prefix: '', width: 1 }])}>
            Number level {levels.length + 2} in its own way
          </OneMore>
        </div>
      )}
    </div>
  );
}

/** Ranges of numbers that are kept free. */
function Reserved({
  numbering: { reserved },
  onChange,
}: {
  numbering: Numbering;
  onChange: (part: Partial<Numbering>) => void;
}) {
  const put = (at: number, part: Partial<{ from: number; to: number }>) =>
    onChange({ reserved: reserved.with(at, { ...reserved[at], ...part }) });
  return (
    <div className="rules" style={{ marginTop: 10 }}>
      {reserved.map(({ from, to }, at) => (
        <Group key={at} gap={6}>
          Kept free from
          <NumberInput
            size="xs"
            w={80}
            aria-label="First number kept free"
            min={1}
            value={from}
            onChange={(value) => put(at, { from: Number(value) || 1 })}
          />
          to
          <NumberInput
            size="xs"
            w={80}
            aria-label="Last number kept free"
            min={from}
            value={to}
            onChange={(value) => put(at, { to: Number(value) || from })}
          />
          <TakeAway
            label="Keep these free no longer"
            onClick={() => onChange({ reserved: reserved.toSpliced(at, 1) })}
          />
        </Group>
      ))}
      <div>
        <OneMore onClick={() => onChange({ reserved: [...reserved, { from: 90, to: 99 }] })}>Keep numbers free</OneMore>
      </div>
    </div>
  );
}
