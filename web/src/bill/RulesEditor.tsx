import { ActionIcon, Button, Group, Modal, SegmentedControl, Select, TextInput } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import {
  comparisons,
  needsOperand,
  rulesText,
  type ColumnSource,
  type Comparison,
  type Rule,
  type RuleGroup,
} from '../../../core/src/columns/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { after } from '../../../core/src/documents/index.ts';
import { billAfter, useBillEdit } from '../lines/useBillEdit.ts';
import { useNames, useSources } from '../lines/useNames.ts';

type Rules = RuleGroup<ColumnSource>;
export const noRules: Rules = { holds: 'all', of: [] };

export interface RulesEditorProps {
  readonly rules: Rules;
  readonly onChange: (rules: Rules) => void;
  /** A group inside another one has no further groups in it. @default false */
  readonly inner?: boolean;
}

/** Rules one under the other: “Material is Ash”, all or any of them, with groups one level deep. */
export function RulesEditor({ rules, onChange, inner = false }: RulesEditorProps) {
  const sources = useSources('rules');
  const put = (at: number, rule: Rule<ColumnSource> | Rules | null) =>
    onChange({ ...rules, of: rule === null ? rules.of.toSpliced(at, 1) : rules.of.with(at, rule) });
  const fresh: Rule<ColumnSource> = {
    source: (sources[0]?.value ?? 'name') as ColumnSource,
    comparison: 'contains',
    operand: '',
  };
  return (
    <div className="rules">
      {rules.of.length > 1 && (
        <SegmentedControl
          size="xs"
          value={rules.holds}
          onChange={(holds) => onChange({ ...rules, holds: holds as Rules['holds'] })}
          data={[
            { value: 'all', label: 'all of these hold' },
            { value: 'any', label: 'any of these holds' },
          ]}
        />
      )}
      {rules.of.map((rule, at) =>
        'of' in rule ? (
          <div key={at} className="rulegroup">
            <RulesEditor inner rules={rule} onChange={(next) => put(at, next)} />
            <Away onClick={() => put(at, null)} />
          </div>
        ) : (
          <Group key={at} gap={6} wrap="nowrap">
            <Select
              size="xs"
              aria-label="Column"
              searchable
              allowDeselect={false}
              data={sources}
              value={rule.source}
              onChange={(source) => source && put(at, { ...rule, source: source as ColumnSource })}
            />
            <Select
              size="xs"
              aria-label="Comparison"
              allowDeselect={false}
              w={170}
              data={[...comparisons]}
              value={rule.comparison}
              onChange={(comparison) => comparison && put(at, { ...rule, comparison: comparison as Comparison })}
            />
            {needsOperand(rule.comparison) && (
              <TextInput
                size="xs"
                aria-label="Value"
                placeholder="Ash, 20 mm, yes …"
                value={rule.operand}
                onChange={(event) => put(at, { ...rule, operand: event.currentTarget.value })}
              />
            )}
            <Away onClick={() => put(at, null)} />
          </Group>
        ),
      )}
      <Group gap={6}>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconPlus size={13} />}
          onClick={() => onChange({ ...rules, of: [...rules.of, fresh] })}
        >
          Rule
        </Button>
        {!inner && rules.of.length > 0 && (
          <Button
            size="compact-xs"
            variant="default"
            leftSection={<IconPlus size={13} />}
            onClick={() => onChange({ ...rules, of: [...rules.of, { holds: 'any', of: [fresh, fresh] }] })}
          >
            Group of rules
          </Button>
        )}
      </Group>
    </div>
  );
}

const Away = ({ onClick }: { onClick: () => void }) => (
  <ActionIcon size="sm" variant="subtle" color="ink" aria-label="Take this rule away" onClick={onClick}>
    <IconX size={14} />
  </ActionIcon>
);

/** Which lines the bill shows, with how many would be left before it is applied. */
export function FilterDialog({ onClose }: { onClose: () => void }) {
  const project = useProject();
  const { change } = useBillEdit();
  const nameOf = useNames();
  const [rules, setRules] = useState<Rules>(project.billDocument.content.recipe.filter ?? noRules);
  const filter = rules.of.length > 0 ? rules : null;
  const left = useMemo(() => {
    const next = after(project.billDocument.content, [{ kind: 'changeRecipe', change: { filter } }]);
    return next && project.bill.rows.length <= 3000 ? billAfter(project, next).rows.length : null;
  }, [project, filter]);
  const apply = () => {
    change(filter ? `show where ${rulesText(filter, nameOf)}`.slice(0, 180) : 'show every line', {
      kind: 'changeRecipe',
      change: { filter },
    });
    onClose();
  };
  return (
    <Modal opened onClose={onClose} title="Which lines are shown" size={640}>
      <p className="quiet">
        A line is listed when the rules hold for it; numbers do not change. A subassembly stays as long as something in
        it is listed.
      </p>
      <RulesEditor rules={rules} onChange={setRules} />
      {left !== null && (
        <p role="status">
          {left} {left === 1 ? 'line' : 'lines'} would be listed.
        </p>
      )}
      <Group mt="md" gap="xs">
        <Button size="compact-md" onClick={apply}>
          Apply
        </Button>
        <Button size="compact-md" variant="default" onClick={onClose}>
          Leave
        </Button>
        {filter && (
          <Button size="compact-md" variant="subtle" color="ink" onClick={() => setRules(noRules)}>
            Show every line
          </Button>
        )}
      </Group>
    </Modal>
  );
}
