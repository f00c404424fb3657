import { ActionIcon, Tooltip } from '@mantine/core';
import { IconChevronLeft, IconChevronRight } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { partLabel, pathKey, type PathKey, type RowIndex } from '../../../core/src/assembly/index.ts';
import { explainRow, rowLabel } from '../../../core/src/bill/index.ts';
import { pickedRowOf } from './gridSelection.ts';
import { count } from '../count.ts';
import { useMachine, usePicking, usePicks } from '../data/openProject.ts';
import { Thumb } from '../shell/Thumb.tsx';

interface WhyProps {
  /** Key of the row picked in the list. */
  readonly rowKey: string | null;
  /** Shows a place from near in the 3D picture. */
  readonly onFly: (path: PathKey) => void;
}

/**
 * Why the picked line has its quantity: its places, and the decisions on the way; arrows lead through them one by
 * one.
 */
export function Why({ rowKey, onFly }: WhyProps) {
  const { assembly, bill, decisions } = useMachine();
  const { picked, pickedPath } = usePicks();
  const { pick } = usePicking();
  const row = pickedRowOf(bill, picked, rowKey);
  const [shown, setShown] = useState<{ row: RowIndex; at: number } | null>(null);
  const why = useMemo(
    () => (row < 0 ? null : explainRow(assembly, bill, row, decisions)),
    [assembly, bill, row, decisions],
  );
  if (!why) return <div className="why quiet">Pick a line to see where its pieces are.</div>;
  const line = bill.rows[row];
  if (line.components.length === 0)
    return (
      <div className="why" role="region" aria-label="Why this quantity">
        <span className="quiet">Item {line.item}</span>
        <h2>{rowLabel(bill, line)}</h2>
        {why.remarks.map((remark) => (
          <p key={remark} className="quiet">
            {remark}
          </p>
        ))}
      </div>
    );
  const first = assembly.components[line.components[0]];
  const all = why.places.flatMap(({ occurrences }) => occurrences);
  const at = shown?.row === row && pickedPath ? shown.at : -1;
  const fly = (to: number) => {
    const next = (to + all.length) % all.length;
    setShown({ row, at: next });
    pick(all[next].components.at(-1)!, pathKey(all[next].path));
    onFly(pathKey(all[next].path));
  };
  return (
    <div className="why" role="region" aria-label="Why this quantity">
      <div className="inspector-head">
        <Thumb component={first} size={44} />
        <span className="quiet">Item {line.item}</span>
        {all.length > 0 && (
          <span className="fly">
            <Tooltip label="The place before">
              <ActionIcon
                size="sm"
                variant="default"
                aria-label="The place before"
                onClick={() => fly(at < 0 ? all.length - 1 : at - 1)}
              >
                <IconChevronLeft size={14} />
              </ActionIcon>
            </Tooltip>
            <span>{at < 0 ? count(all.length, 'place') : `${at + 1} of ${all.length}`}</span>
            <Tooltip label="The next place">
              <ActionIcon size="sm" variant="default" aria-label="The next place" onClick={() => fly(at + 1)}>
                <IconChevronRight size={14} />
              </ActionIcon>
            </Tooltip>
          </span>
        )}
      </div>
      <h2>
        Why {why.pieces} × {first.name || partLabel(first)}?
      </h2>
      {why.places.slice(0, 60).map(({ names, pieces, occurrences }) => (
        <button
          key={occurrences[0].components.join()}
          className="place"
          onClick={() => fly(all.indexOf(occurrences[0]))}
        >
          <span>{names.length > 0 ? names.join(' › ') : 'in the machine itself'}</span>
          <span className="number">{pieces}</span>
        </button>
      ))}
      {why.places.length > 60 && <p className="quiet">… and {why.places.length - 60} more ways.</p>}
      {why.more > 0 && <p className="quiet">… and {count(why.more, 'piece')} in further places.</p>}
      {why.remarks.map((remark) => (
        <p key={remark} className="quiet">
          {remark}
        </p>
      ))}
    </div>
  );
}
