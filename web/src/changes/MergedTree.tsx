import { Switch, TextInput } from '@mantine/core';
import { IconArrowsMove, IconMinus, IconPencil, IconPlus, IconSearch } from '@tabler/icons-react';
import { useDeferredValue, useMemo, useState, type KeyboardEvent } from 'react';
import type { ComponentKey } from '../../../core/src/assembly/index.ts';
import {
  mergedMarks,
  type ChangedComponent,
  type MergedMark,
  type MergedChild,
  type MergedRow,
} from '../../../core/src/revisions/index.ts';
import { Thumb } from '../shell/Thumb.tsx';
import type { Compared } from './useCompared.ts';
import { useVirtualRows } from '../controls/useVirtualRows.ts';
import { Fold } from '../controls/Fold.tsx';

const ROW = 30;
/** Shape, word and colour of a mark: any one of them is enough. */
const marks: Readonly<Record<MergedMark, { readonly word: string; readonly Icon: typeof IconPlus }>> = {
  new: { word: 'new', Icon: IconPlus },
  gone: { word: 'gone', Icon: IconMinus },
  changed: { word: 'changed', Icon: IconPencil },
  moved: { word: 'moved', Icon: IconArrowsMove },
};

/** Two revisions as one structure; what changed is marked, and shown alone unless all is wanted. */
export function MergedTree({
  compared: { before, after, changes, merged },
  picked,
  onPick,
}: {
  readonly compared: Compared;
  readonly picked: ComponentKey | null;
  readonly onPick: (component: ComponentKey | null) => void;
}) {
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  const [all, setAll] = useState(false);
  const [kinds, setKinds] = useState<ReadonlySet<MergedMark>>(new Set(mergedMarks));
  const [query, setQuery] = useState('');
  const [reached, setReached] = useState<string | null>(null);
  const byKey = useMemo(() => new Map(changes.components.map((one) => [one.key, one])), [changes]);
  const componentOf = ({ was, is }: Pick<MergedRow, 'was' | 'is'>) =>
    is >= 0 ? after.components[is] : before.components[was];
  // Letters appear at once, also where many parts are looked through.
  const wanted = useDeferredValue(query).trim().toLowerCase();
  const found = useMemo(() => {
    if (wanted === '') return null;
    const components = [...before.components, ...after.components].filter(({ partNumber, name }) =>
      `${partNumber} ${name}`.toLowerCase().includes(wanted),
    );
    const keys = new Set(components.map(({ key }) => key));
    return { keys, holders: merged.holdersOf(keys) };
  }, [wanted, before, after, merged]);
  // What holds a change, or what is sought, is open until it is closed by hand; all else the other way round.
  const isOpen = ({ key, component, holdsMarked }: MergedRow) =>
    opened.has(key) || (!closed.has(key) && (found ? found.holders.has(component) : holdsMarked));
  const rows = useMemo(() => {
    const shown = (row: MergedChild) =>
      (all || (row.mark !== null && kinds.has(row.mark))) && (!found || found.keys.has(row.component));
    const holds = found && (({ component }: MergedChild) => found.holders.has(component));
    return merged.rows(isOpen, all && !found ? null : shown, holds ?? undefined);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- isOpen is made of opened, closed and found
  }, [merged, opened, closed, all, kinds, found]);
  const { scroller, virtual } = useVirtualRows(rows.length, ROW);
  const toggle = (row: MergedRow) => {
    const without = (set: ReadonlySet<string>) => new Set([...set].filter((key) => key !== row.key));
    if (isOpen(row)) {
      setOpened(without(opened));
      setClosed(new Set([...closed, row.key]));
    } else {
      setClosed(without(closed));
      setOpened(new Set([...opened, row.key]));
    }
  };
  // A component may stand in several rows: keys go on from the one that was reached last.
  const last = rows.findIndex(({ key, component }) => key === reached && component === picked);
  const at = last >= 0 ? last : rows.findIndex(({ component }) => component === picked);
  const keys = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined && rows.length > 0) {
      const next = Math.max(0, Math.min(rows.length - 1, at + step));
      setReached(rows[next].key);
      onPick(rows[next].component);
      virtual.scrollToIndex(next);
      event.preventDefault();
    } else if (
      at >= 0 &&
      rows[at].canOpen &&
      (event.key === 'ArrowRight') !== isOpen(rows[at]) &&
      event.key.startsWith('Arrow')
    ) {
      toggle(rows[at]);
      event.preventDefault();
    }
  };
  return (
    <section className="merged" aria-label="Both revisions as one structure">
      <div className="tree-head">
        <TextInput
          size="xs"
          className="wide"
          placeholder="Find a part"
          aria-label="Find a part"
          leftSection={<IconSearch size={14} />}
          value={query}
          onChange={({ target }) => setQuery(target.value)}
        />
        <Switch size="xs" label="What stayed too" checked={all} onChange={({ target }) => setAll(target.checked)} />
      </div>
      <div className="markfilter" role="group" aria-label="Which changes are shown">
        {mergedMarks.map((mark) => {
          const { word, Icon } = marks[mark];
          return (
            <button
              key={mark}
              className={`mark ${mark}`}
              aria-pressed={kinds.has(mark)}
              onClick={() =>
                setKinds((shown) => {
                  const next = new Set(shown);
                  if (!next.delete(mark)) next.add(mark);
                  return next;
                })
              }
            >
              <Icon size={13} />
              {word}
            </button>
          );
        })}
      </div>
      <div className="mergedhead">
        <span>Part</span>
        <span className="number">Was</span>
        <span className="number">Is</span>
        <span>What</span>
      </div>
      <div
        ref={scroller}
        className="rows"
        role="tree"
        aria-label="Parts of both revisions"
        tabIndex={0}
        onKeyDown={keys}
      >
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index];
            const component = componentOf(row);
            const mark = row.mark && marks[row.mark];
            const words = changeWords(byKey.get(row.component), row);
            return (
              <div
                key={row.key}
                role="treeitem"
                aria-level={row.level + 1}
                aria-selected={row.component === picked}
                aria-expanded={row.canOpen ? isOpen(row) : undefined}
                className={`mergedrow ${row.mark ?? ''} ${row.component === picked ? 'picked' : ''}`}
                style={{ transform: `translateY(${start}px)`, height: ROW }}
                onClick={() => {
                  setReached(row.key);
                  onPick(row.component === picked ? null : row.component);
                }}
              >
                <span className="name" style={{ paddingLeft: row.level * 14 }}>
                  <Fold isOpen={row.canOpen ? isOpen(row) : null} onClick={() => toggle(row)} />
                  <Thumb component={component} size={24} />
                  <span className="ellipsis">
                    {[...new Set([component.partNumber, component.name])].filter(Boolean).join(' ') || '(no name)'}
                  </span>
                </span>
                <span className="number">{row.quantityWas || '–'}</span>
                <span className="number">{row.quantityIs || '–'}</span>
                <span className="what ellipsis" title={words}>
                  {mark && (
                    <span className={`mark ${row.mark}`}>
                      <mark.Icon size={13} />
                      {mark.word}
                    </span>
                  )}
                  {words}
                </span>
              </div>
            );
          })}
        </div>
        {rows.length <= 1 && <p className="quiet nothing">Nothing here is otherwise.</p>}
      </div>
    </section>
  );
}

/** What of a component is otherwise, in words. */
function changeWords(changed: ChangedComponent | undefined, { mark }: Pick<MergedRow, 'mark'>): string {
  if (!changed || changed.kind !== 'changed' || mark === 'gone' || mark === 'new') return '';
  return changed.changes
    .filter(({ what }) => what !== 'quantity')
    .map(({ what, from, to }) =>
      what === 'shape'
        ? 'another shape'
        : `${what.startsWith('property:') ? what.slice('property:'.length) : what} ${from || '–'} → ${to || '–'}`,
    )
    .join('; ');
}
