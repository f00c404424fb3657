import { SegmentedControl } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { OrderLine } from '../../../core/src/buying/index.ts';
import type { Catalogue } from '../../../core/src/catalogues/index.ts';
import { sayInCatalogue } from '../../../core/src/documents/index.ts';
import { changeCatalogue, listCatalogues, loadCatalogue } from '../data/api.ts';
import { count } from '../count.ts';
import type { PaneProps } from './paneProps.ts';
import { Amount } from './LinePanel.tsx';
import { lineOf } from './lineOf.ts';
import { usePlanEdit } from './usePlanEdit.ts';
import { amount } from './words.ts';
import { LineHeads } from './LineHeads.tsx';

/** What is not known, to be filled in where it is missed: for this plan, or in a catalogue for all projects. */
export function UnknownList({ open, buying, picked, onPick }: PaneProps) {
  const { content: plan } = open;
  const { changeLine } = usePlanEdit(open);
  const { data: catalogues = [] } = useQuery({ queryKey: ['catalogues'], queryFn: listCatalogues });
  const [into, setInto] = useState('plan');
  const missing = buying.order.filter(({ cost, address }) => cost === null && address !== null);
  const others = buying.problems.filter(({ code }) => code !== 'no-bars');
  const targets = plan.catalogues.flatMap((id) => catalogues.find((one) => one.id === id) ?? []);
  const fill = (line: OrderLine, what: 'unitCost' | 'leadDays', value: number) => {
    if (into === 'plan')
      return void changeLine(
        `${what === 'unitCost' ? 'unit cost' : 'lead time'} of ${line.partNumber || line.name}`,
        line.address!,
        { [what]: value },
      );
    void write(into, line, what, value, plan.currency).catch((error: Error) =>
      notifications.show({ message: error.message, color: 'orange' }),
    );
  };
  return (
    <div className="unknowns">
      {others.map(({ message }) => (
        <p key={message} className="problem">
          {message}
        </p>
      ))}
      {missing.length === 0 ? (
        <p className="quiet">Every line has a cost.</p>
      ) : (
        <>
          <p>
            {count(missing.length, 'line')} {missing.length === 1 ? 'has' : 'have'} no cost, and{' '}
            {missing.length === 1 ? 'is' : 'are'} in no sum. What is typed here is kept{' '}
            <SegmentedControl
              size="xs"
              aria-label="Where what is typed is kept"
              data={[
                { value: 'plan', label: 'for this plan' },
                ...targets.map(({ id, name }) => ({ value: id, label: `in ${name}` })),
              ]}
              value={into}
              onChange={setInto}
            />
          </p>
          <table className="order">
            <thead>
              <tr>
                <LineHeads />
                <th className="number">Each [{plan.currency}]</th>
                <th className="number">Days</th>
              </tr>
            </thead>
            <tbody>
              {missing.map((line) => {
                const key = lineOf(buying, line);
                return (
                  <tr
                    key={line.key}
                    className={key !== null && key === picked ? 'picked' : ''}
                    onClick={() => onPick(key)}
                  >
                    <td className="item">{line.items.join(', ')}</td>
                    <td>{line.partNumber}</td>
                    <td>
                      {line.name}
                      {line.kind === 'make' && <span className="quiet"> made</span>}
                      {line.quantity === null && <span className="quiet"> as required</span>}
                    </td>
                    <td className="number">{amount(line)}</td>
                    <td className="number field">
                      <Amount
                        label={`Unit cost of ${line.partNumber || line.name}`}
                        value={line.unitPrice}
                        typed={false}
                        onType={(value) => value !== null && fill(line, 'unitCost', value)}
                      />
                    </td>
                    <td className="number field">
                      <Amount
                        label={`Lead time of ${line.partNumber || line.name}`}
                        value={line.leadDays}
                        typed={false}
                        onType={(value) => value !== null && fill(line, 'leadDays', value)}
                      />
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}

/** Writes a price or a lead time into a catalogue. */
async function write(id: string, line: OrderLine, what: 'unitCost' | 'leadDays', value: number, currency: string) {
  const catalogue = (await loadCatalogue(id)).documents[0].content as Catalogue;
  const said =
    what === 'unitCost'
      ? sayInCatalogue(catalogue, line.partNumber, 'unitCost', { value, unit: currency }, newId)
      : sayInCatalogue(catalogue, line.partNumber, 'leadTime', { value, unit: 'days' }, newId);
  if (!said.ok) throw new Error(said.reason);
  await changeCatalogue(id, `type what ${line.partNumber} costs`, [said.command]);
}
const newId = () => crypto.randomUUID();
