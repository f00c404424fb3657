import { Modal } from '@mantine/core';
import { comparePlans, type Buying } from '../../../core/src/buying/index.ts';
import { useBuying } from './useBuying.ts';
import type { StoredPlan } from './usePlanEdit.ts';
import { days, meters, money } from './words.ts';

/** Two plans side by side: cost, bars, waste. */
export function ComparePlansDialog({
  open,
  buying,
  other,
  onClose,
}: {
  open: StoredPlan;
  buying: Buying;
  other: StoredPlan;
  onClose: () => void;
}) {
  const { buying: there, job } = useBuying(other.content);
  const both = there && comparePlans(buying, there);
  const currencies = [open.content.currency, other.content.currency] as const;
  const row = (heading: string, [one, two]: readonly [string, string]) => (
    <tr key={heading}>
      <th scope="row">{heading}</th>
      <td className="number">{one}</td>
      <td className="number">{two}</td>
    </tr>
  );
  const each = <Of,>(pair: readonly [Of, Of], words: (value: Of, at: 0 | 1) => string): readonly [string, string] => [
    words(pair[0], 0),
    words(pair[1], 1),
  ];
  return (
    <Modal opened onClose={onClose} title={`${open.content.name} beside ${other.content.name}`} size={760}>
      {!both ? (
        <p className="quiet">Working the other plan out …</p>
      ) : (
        <>
          {job && <p className="quiet">{job.progress.step} …</p>}
          <table className="order compared">
            <thead>
              <tr>
                <th />
                <th className="number">{open.content.name}</th>
                <th className="number">{other.content.name}</th>
              </tr>
            </thead>
            <tbody>
              {row(
                'Cost',
                each(both.cost, (value, at) => `${money(value)} ${currencies[at]}`),
              )}
              {row('Lines whose cost is not known', each(both.unknown, String))}
              {row(
                'Lead time',
                each(both.days, (value) => (value === null ? 'not known' : days(value))),
              )}
              {row(
                'Bars',
                each(both.bars, (value, at) => `${value}, ${meters(both.boughtMm[at])}`),
              )}
              {row(
                'Waste',
                each(
                  both.wasteMm,
                  (value, at) => `${meters(value)}, ${((100 * value) / Math.max(1, both.boughtMm[at])).toFixed(1)} %`,
                ),
              )}
              {both.sections.map(({ key, title, bars, cost, wasteMm }) => (
                <tr key={key}>
                  <th scope="row">{title}</th>
                  {([0, 1] as const).map((at) => (
                    <td key={at} className="number">
                      {bars[at] ? (
                        <>
                          {bars[at]} mm
                          <br />
                          <span className="quiet">
                            {[
                              ...(cost[at] === null ? [] : [`${money(cost[at])} ${currencies[at]}`]),
                              ...(wasteMm[at] === null ? [] : [`waste ${meters(wasteMm[at])}`]),
                            ].join(', ')}
                          </span>
                        </>
                      ) : (
                        <span className="quiet">no plan</span>
                      )}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </Modal>
  );
}
