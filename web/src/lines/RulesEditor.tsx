import { Group, SegmentedControl, Select, TextInput } from '@mantine/core';
import {
  comparisons,
  needsOperand,
  type ColumnSource,
  type Comparison,
  type Rule,
  type RuleGroup,
} from '../../../core/src/columns/index.ts';
import { useSources } from './useNames.ts';
import { OneMore, TakeAway } from '../controls/listButtons.tsx';
import { ColumnSelect } from './ColumnSelect.tsx';

export type Rules = RuleGroup<ColumnSource>;
export const noRules: Rules = { holds: 'all', of: [] };

interface RulesEditorProps {
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
            <ColumnSelect source={rule.source} onChange={(source) => put(at, { ...rule, source })} />
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
        <OneMore onClick={() => onChange({ ...rules, of: [...rules.of, fresh] })}>Rule</OneMore>
        {!inner && rules.of.length > 0 && (
          <OneMore onClick={() => onChange({ ...rules, of: [...rules.of, { holds: 'any', of: [fresh, fresh] }] })}>
            Group of rules
          </OneMore>
        )}
      </Group>
    </div>
  );
}

const Away = ({ onClick }: { onClick: () => void }) => <TakeAway label="Take this rule away" onClick={onClick} />;
