import { SegmentedControl } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Bar, Cell, ComposedChart, Line, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { driverMeasures, driversOf, type DriverMeasure } from '../../../core/src/buying/index.ts';
import { count } from '../count.ts';
import type { PaneProps } from './paneProps.ts';
import { lineOf } from './lineOf.ts';
import { days, money } from './words.ts';

const measureWords: Readonly<Record<DriverMeasure, string>> = { cost: 'Cost', mass: 'Mass', 'lead time': 'Lead time' };
/** So many bars are readable; the rest is one bar. */
const BARS = 18;
const BAR_HEIGHT = 26; // px

/** What drives cost, mass and lead time: largest first, with the share of all up to there. */
export default function DriversChart({ open, buying, picked, onPick }: PaneProps) {
  const [measure, setMeasure] = useState<DriverMeasure>('cost');
  const { order, requirement } = buying;
  const { drivers, unknown } = useMemo(
    () => driversOf(measure, order, requirement.lines),
    [measure, order, requirement],
  );
  const { currency } = open.content;
  const words = (amount: number): string =>
    measure === 'cost'
      ? `${money(amount)} ${currency}`
      : measure === 'mass'
        ? `${amount.toLocaleString('en', { maximumSignificantDigits: 4 })} kg`
        : days(amount);
  const keyOf = (key: string): string | null => {
    if (measure === 'mass') return key;
    const line = order.find((one) => one.key === key);
    return line ? lineOf(buying, line) : null;
  };
  const shown = drivers.slice(0, BARS).map((driver) => ({
    ...driver,
    percent: driver.cumulative * 100,
    line: keyOf(driver.key),
    label:
      measure === 'lead time'
        ? words(driver.amount)
        : `${words(driver.amount)}, ${(driver.cumulative * 100).toFixed(0)} % up to here`,
  }));
  const rest = drivers.slice(BARS);
  return (
    <div className="drivers">
      <SegmentedControl
        size="xs"
        aria-label="What the bars show"
        data={driverMeasures.map((value) => ({ value, label: measureWords[value] }))}
        value={measure}
        onChange={(value) => setMeasure(value as DriverMeasure)}
      />
      <p role="status">
        {drivers.length === 0
          ? 'Nothing is known to draw.'
          : measure === 'lead time'
            ? `The longest is ${days(drivers[0].amount)}.`
            : `${words(drivers.reduce((sum, { amount }) => sum + amount, 0))} in all; ${count(half(drivers), 'line')} ${half(drivers) === 1 ? 'makes' : 'make'} four fifths of it.`}
        {unknown > 0 && (
          <span className="quiet">
            {' '}
            {count(unknown, 'line')} of which it is not known {unknown === 1 ? 'is' : 'are'} not in it.
          </span>
        )}
        {rest.length > 0 && <span className="quiet"> {count(rest.length, 'smaller one')} not drawn.</span>}
      </p>
      {shown.length > 0 && (
        <div style={{ height: shown.length * BAR_HEIGHT + 20 }}>
          <ResponsiveContainer>
            <ComposedChart
              layout="vertical"
              data={shown}
              margin={{ left: 8, right: 8, top: 0, bottom: 0 }}
              barCategoryGap={5}
            >
              <XAxis type="number" xAxisId="amount" hide domain={[0, 'dataMax']} />
              <XAxis type="number" xAxisId="percent" hide domain={[0, 100]} orientation="top" />
              <YAxis
                type="category"
                dataKey="key"
                width={190}
                interval={0}
                tickLine={false}
                axisLine={false}
                tick={{ fontSize: 12, fill: 'var(--mantine-color-text)' }}
                tickFormatter={(key: string) => {
                  const title = shown.find((one) => one.key === key)?.title ?? '';
                  return title.length > 28 ? `${title.slice(0, 27)}…` : title;
                }}
              />
              <YAxis
                yAxisId="told"
                orientation="right"
                type="category"
                dataKey="key"
                width={measure === 'lead time' ? 80 : 190}
                interval={0}
                tickLine={false}
                axisLine={false}
                tick={{ fontSize: 12, fill: 'var(--mantine-color-text)' }}
                tickFormatter={(key: string) => shown.find((one) => one.key === key)?.label ?? ''}
              />
              <Tooltip
                cursor={{ fill: 'var(--hairline)', opacity: 0.4 }}
                contentStyle={{ background: 'var(--paper)', border: '1px solid var(--hairline)', fontSize: 12 }}
                labelFormatter={(key) => shown.find((one) => one.key === key)?.title ?? ''}
                formatter={(value, name) =>
                  name === 'percent'
                    ? [`${Number(value).toFixed(1)} %`, 'up to here']
                    : [words(Number(value)), measureWords[measure]]
                }
              />
              <Bar
                xAxisId="amount"
                dataKey="amount"
                isAnimationActive={false}
                cursor="pointer"
                onClick={(_, at) => onPick(shown[at].line)}
              >
                {shown.map(({ key, line }) => (
                  <Cell key={key} fill={line !== null && line === picked ? 'var(--signal)' : 'var(--lichen)'} />
                ))}
              </Bar>
              {measure !== 'lead time' && (
                <Line
                  xAxisId="percent"
                  dataKey="percent"
                  stroke="var(--quiet)"
                  strokeWidth={1}
                  dot={{ r: 2 }}
                  isAnimationActive={false}
                />
              )}
            </ComposedChart>
          </ResponsiveContainer>
        </div>
      )}
    </div>
  );
}

/** How many of them come to four fifths. */
const half = (drivers: readonly { readonly cumulative: number }[]): number =>
  drivers.findIndex(({ cumulative }) => cumulative >= 0.8 - 1e-9) + 1 || drivers.length;
