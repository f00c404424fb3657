import { Group, Modal, NumberInput, Select, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { partLabel, type ComponentKey } from '../../../core/src/assembly/index.ts';
import { quantityWords, type QuantityKind, type QuantityRule } from '../../../core/src/bill/index.ts';
import { unitOf } from '../../../core/src/columns/index.ts';
import { useMachine } from '../data/openProject.ts';
import { noRules, RulesEditor } from '../lines/RulesEditor.tsx';
import { useBillEdit } from '../lines/useBillEdit.ts';
import { DialogFoot } from '../controls/DialogFoot.tsx';
import { OneMore, TakeAway } from '../controls/listButtons.tsx';

/** What the quantity counts: for how many machines, and which parts by a size, as required or fixed. */
export function QuantityDialog({ onClose }: { onClose: () => void }) {
  const {
    assembly,
    billDocument: {
      content: { recipe },
    },
  } = useMachine();
  const { change } = useBillEdit();
  const [machines, setMachines] = useState<number | string>(recipe.machines ?? 1);
  const [rules, setRules] = useState<readonly QuantityRule[]>(recipe.quantityRules ?? []);
  const [chosen, setChosen] = useState<Readonly<Record<ComponentKey, QuantityKind>>>(recipe.quantityOf ?? {});
  const sound = rules.every(({ is }) => is.kind !== 'sum' || (is.size !== '' && unitOf(is.unit) !== null));
  const apply = () => {
    const count = Math.max(1, Math.round(Number(machines) || 1));
    change(count === (recipe.machines ?? 1) ? 'what is counted' : `count for ${count} machines`, {
      kind: 'changeRecipe',
      change: {
        machines: count === 1 ? null : count,
        quantityRules: rules.length > 0 ? rules : null,
        quantityOf: Object.keys(chosen).length > 0 ? chosen : null,
      },
    });
    onClose();
  };
  const names = new Map(
    assembly.components.map((component) => [component.key, component.name || partLabel(component)]),
  );
  return (
    <Modal opened onClose={onClose} title="What is counted" size={680}>
      <NumberInput
        size="xs"
        w={220}
        label="Totals are for so many machines"
        min={1}
        max={1_000_000}
        allowDecimal={false}
        value={machines}
        onChange={setMachines}
      />
      <h3>By rule; everything else by the piece</h3>
      <div className="rules">
        {rules.map((rule, at) => (
          <div key={at} className="rulegroup">
            <Kind kind={rule.is} onChange={(is) => setRules(rules.with(at, { ...rule, is }))} />
            <TakeAway label="Take this way of counting away" onClick={() => setRules(rules.toSpliced(at, 1))} />
            <span className="quiet" style={{ flexBasis: '100%' }}>
              where
            </span>
            <RulesEditor rules={rule.when} onChange={(when) => setRules(rules.with(at, { ...rule, when }))} />
          </div>
        ))}
        <div>
          <OneMore
            onClick={() =>
              setRules([
                ...rules,
                {
                  when: { ...noRules, of: [{ source: 'name', comparison: 'contains', operand: '' }] },
                  is: { kind: 'sum', size: 'Length', unit: 'm' },
                },
              ])
            }
          >
            Another way of counting
          </OneMore>
        </div>
      </div>
      {Object.keys(chosen).length > 0 && <h3>Typed in the list</h3>}
      {(Object.entries(chosen) as [ComponentKey, QuantityKind][]).map(([key, kind]) => (
        <Group key={key} gap={8}>
          {names.get(key) ?? 'a component that is gone'}: {quantityWords(kind)}
          <TakeAway
            label="Count it as usual again"
            onClick={() => setChosen(Object.fromEntries(Object.entries(chosen).filter(([other]) => other !== key)))}
          />
        </Group>
      ))}
      {!sound && <p className="problem">A size to sum needs its name and a unit, such as Length in m.</p>}
      <DialogFoot disabled={!sound} onDo={apply} onClose={onClose}>
        Apply
      </DialogFoot>
    </Modal>
  );
}

const kindWords: Readonly<Record<QuantityKind['kind'], string>> = {
  each: 'by the piece',
  sum: 'a size, summed',
  'as required': 'as required',
  fixed: 'a fixed amount',
};

function Kind({ kind, onChange }: { kind: QuantityKind; onChange: (kind: QuantityKind) => void }) {
  const { assembly } = useMachine();
  const sizes = useMemo(
    () =>
      [
        ...new Set(
          assembly.components.flatMap(({ properties }) =>
            Object.entries(properties)
              .filter(([, { value }]) => typeof value === 'number')
              .map(([name]) => name),
          ),
        ),
      ].sort(),
    [assembly],
  );
  const begin = (to: QuantityKind['kind']): QuantityKind =>
    to === 'sum'
      ? { kind: 'sum', size: sizes.includes('Length') ? 'Length' : (sizes[0] ?? ''), unit: 'm' }
      : to === 'fixed'
        ? { kind: 'fixed', value: 1, unit: '' }
        : { kind: to };
  return (
    <Group gap={6} wrap="nowrap">
      <Select
        size="xs"
        aria-label="Counted"
        allowDeselect={false}
        data={Object.entries(kindWords).map(([value, label]) => ({ value, label }))}
        value={kind.kind}
        onChange={(to) => to && onChange(begin(to as QuantityKind['kind']))}
      />
      {kind.kind === 'sum' && (
        <>
          <Select
            size="xs"
            aria-label="Size"
            searchable
            allowDeselect={false}
            data={sizes}
            value={kind.size}
            onChange={(size) => size && onChange({ ...kind, size })}
          />
          <Unit unit={kind.unit} onChange={(unit) => onChange({ ...kind, unit })} />
        </>
      )}
      {kind.kind === 'fixed' && (
        <>
          <NumberInput
            size="xs"
            w={90}
            aria-label="Amount"
            min={0}
            value={kind.value}
            onChange={(value) => onChange({ ...kind, value: Number(value) || 0 })}
          />
          <Unit unit={kind.unit} onChange={(unit) => onChange({ ...kind, unit })} />
        </>
      )}
    </Group>
  );
}

const Unit = ({ unit, onChange }: { readonly unit: string; readonly onChange: (unit: string) => void }) => (
  <TextInput
    size="xs"
    w={70}
    aria-label="Unit"
    value={unit}
    onChange={(event) => onChange(event.currentTarget.value.trim())}
  />
);
