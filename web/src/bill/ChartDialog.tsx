import { Group, Modal, SegmentedControl, Select } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Bar, BarChart, LabelList, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { chartMeasures, chartShares, type ChartMeasure, type ChartShare } from '../../../core/src/bill/index.ts';
import type { ColumnSource } from '../../../core/src/columns/index.ts';
import { useMachine } from '../data/openProject.ts';
import { useSources } from '../lines/useNames.ts';

const measureWords: Readonly<Record<ChartMeasure, string>> = { mass: 'Mass in kg', pieces: 'Pieces', lines: 'Lines' };
/** So many bars are readable; the rest is one bar. */
const BARS = 14;
const BAR_HEIGHT = 26; // px

/** What mass and how many pieces there are for each text of a column. */
export default function ChartDialog({ onClose }: { onClose: () => void }) {
  const { bill, billDocument } = useMachine();
  const sources = useSources('rules');
  const [source, setSource] = useState<ColumnSource>(() =>
    usualSource(billDocument.content.columns.map((column) => column.source)),
  );
  const [measure, setMeasure] = useState<ChartMeasure>('mass');
  const shares = useMemo(() => chartShares(bill, source, measure), [bill, source, measure]);
  const bars = useMemo(() => toBars(shares), [shares]);
  const without = shares.reduce((sum, share) => sum + share.without, 0);
  const total = shares.reduce((sum, { amount }) => sum + amount, 0);
  const name = sources.find(({ value }) => value === source)?.label ?? source;
  return (
    <Modal opened onClose={onClose} title={`${measureWords[measure]} by ${name}`} size={720}>
      <Group gap="sm" align="end">
        <Select
          size="xs"
          w={220}
          label="By"
          searchable
          allowDeselect={false}
          data={sources}
          value={source}
          onChange={(value) => value && setSource(value as ColumnSource)}
        />
        <SegmentedControl
          size="xs"
          aria-label="What the bars show"
          data={chartMeasures.map((value) => ({ value, label: measureWords[value] }))}
          value={measure}
          onChange={(value) => setMeasure(value as ChartMeasure)}
        />
      </Group>
      <p role="status">
        {total === 0
          ? 'Nothing is known to draw.'
          : `${amountText(total, measure)} in all, ${shares.length} ${shares.length === 1 ? 'kind' : 'kinds'}.`}
        {without > 0 && (
          <span className="quiet">
            {' '}
            {without} {without === 1 ? 'line' : 'lines'} of unknown mass {without === 1 ? 'is' : 'are'} not in it.
          </span>
        )}
      </p>
      {total > 0 && (
        <div style={{ height: bars.length * BAR_HEIGHT + 34 }}>
          <ResponsiveContainer>
            <BarChart
              layout="vertical"
              data={bars}
              margin={{ left: 8, right: 64, top: 0, bottom: 0 }}
              barCategoryGap={5}
            >
              <XAxis type="number" hide domain={[0, 'dataMax']} />
              <YAxis
                type="category"
                dataKey="title"
                width={190}
                interval={0}
                tickLine={false}
                axisLine={false}
                tick={{ fontSize: 12, fill: 'var(--mantine-color-text)' }}
                tickFormatter={(title: string) => (title.length > 28 ? `${title.slice(0, 27)}…` : title)}
              />
              <Tooltip
                cursor={{ fill: 'var(--hairline)', opacity: 0.4 }}
                contentStyle={{ background: 'var(--paper)', border: '1px solid var(--hairline)', fontSize: 12 }}
                formatter={(value) => [amountText(Number(value), measure), measureWords[measure]]}
              />
              <Bar dataKey="amount" fill="var(--lichen)" isAnimationActive={false}>
                <LabelList
                  dataKey="amount"
                  position="right"
                  fontSize={12}
                  fill="var(--mantine-color-text)"
                  formatter={(value) => amountText(Number(value), measure)}
                />
              </Bar>
            </BarChart>
          </ResponsiveContainer>
        </div>
      )}
    </Modal>
  );
}

/** Material where the list shows it, else the first property, else who makes it. */
const usualSource = (shown: readonly ColumnSource[]): ColumnSource =>
  shown.find((source) => source === 'property:Material') ??
  shown.find((source) => source.startsWith('property:')) ??
  'source';

function toBars(shares: readonly ChartShare[]): { title: string; amount: number }[] {
  const bars = shares.slice(0, BARS).map(({ title, amount }) => ({ title: title || 'not given', amount }));
  const rest = shares.slice(BARS);
  return rest.length === 0
    ? bars
    : [...bars, { title: `${rest.length} others`, amount: rest.reduce((sum, { amount }) => sum + amount, 0) }];
}

const amountText = (amount: number, measure: ChartMeasure): string =>
  measure === 'mass'
    ? `${amount.toLocaleString('en', { maximumSignificantDigits: 4 })} kg`
    : amount.toLocaleString('en');
