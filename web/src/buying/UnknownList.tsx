import { SegmentedControl } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { OrderLine } from '../../../core/src/buying/index.ts';
import { catalogueIndex, type Catalogue } from '../../../core/src/catalogues/index.ts';
import type { CatalogueCommand } from '../../../core/src/documents/index.ts';
import { changeCatalogue, listCatalogues, loadCatalogue } from '../data/api.ts';
import { count } from '../count.ts';
import type { PaneProps } from './paneProps.ts';
import { Amount } from './LinePanel.tsx';
import { lineOf } from './lineOf.ts';
import { usePlanEdit } from './usePlanEdit.ts';
import { amount } from './words.ts';

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
                <th>Item</th>
                <th>Part number</th>
                <th>Name</th>
                <th className="number">Qty</th>
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

const HEADINGS = { unitCost: /^unit cost$/i, leadDays: /^lead time$/i } as const;

/** Writes a price or a lead time into a catalogue: of the item of that number, or of a new one. */
async function write(
  id: string,
  line: OrderLine,
  what: keyof typeof HEADINGS,
  value: number,
  currency: string,
): Promise<void> {
  const catalogue = (await loadCatalogue(id)).documents[0].content as Catalogue;
  const column = catalogue.columns.find(({ heading }) => HEADINGS[what].test(heading.trim()));
  if (!column)
    throw new Error(
      `${catalogue.name} has no column ${what === 'unitCost' ? 'Unit cost' : 'Lead time'}; add it there first.`,
    );
  if (line.partNumber === '')
    throw new Error(`${line.name} has no part number, so no catalogue can find it; keep it for this plan.`);
  const said = { value, unit: what === 'unitCost' ? currency : column.unit || 'days' };
  const match = catalogueIndex(catalogue).find(line.partNumber);
  if (match.how === 'several')
    throw new Error(`${catalogue.name} has ${line.partNumber} several times; settle that there first.`);
  const command: CatalogueCommand =
    match.how === 'found'
      ? { kind: 'typeItems', items: { [catalogue.items[match.item].id]: { [column.id]: said } } }
      : {
          kind: 'changeItems',
          remove: [],
          put: [
            {
              item: {
                id: crypto.randomUUID(),
                values: { [catalogue.key[0]]: { value: line.partNumber }, [column.id]: said },
              },
              at: catalogue.items.length,
            },
          ],
        };
  await changeCatalogue(id, `type what ${line.partNumber} costs`, [command]);
}
