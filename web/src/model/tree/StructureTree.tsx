import { Button, Select, TextInput } from '@mantine/core';
import { IconSearch } from '@tabler/icons-react';
import { useCallback, useEffect, useMemo, useState, type KeyboardEvent, type MouseEvent } from 'react';
import { wordFor } from '../../../../core/src/assembly/index.ts';
import { cancelJob } from '../../data/api.ts';
import { count } from '../../count.ts';
import { useMachine, usePicking, usePicks } from '../../data/openProject.ts';
import { Thumb } from '../../shell/Thumb.tsx';
import { answers, filters, finds, searchText, type Filter } from './filters.ts';
import { structureGroups } from './uses.ts';
import { treeRows, type TreeRow } from './treeRows.ts';
import { useVirtualRows } from '../../controls/useVirtualRows.ts';
import { Fold } from '../../controls/Fold.tsx';

const ROW = 30;

interface StructureTreeProps {
  /** Components of `assembly` that are picked besides the first one. */ readonly also: ReadonlySet<number>;
  readonly onAlso: (also: ReadonlySet<number>) => void;
  /** Shows the findings; how many wait for a decision. */ readonly findings: {
    readonly open: number;
    readonly show: () => void;
  };
}

/** The structure as a table that folds; search and questions turn it into a flat list. Ctrl and Shift pick several. */
export function StructureTree({ also, onAlso, findings }: StructureTreeProps) {
  const { assembly, treatments, originals, counts, shapes } = useMachine();
  const { picked, pickedPath } = usePicks();
  const { pick } = usePicking();
  const [query, setQuery] = useState('');
  const [filter, setFilter] = useState<Filter>('everything');
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const searchable = useMemo(() => assembly.components.map(searchText), [assembly]);
  const groups = useMemo(() => structureGroups(assembly, originals, treatments), [assembly, originals, treatments]);
  const groupOf = useCallback((index: number) => groups[index], [groups]);
  const isFlat = query.trim() !== '' || filter !== 'everything';
  /** Of each component of the file, edited places with it. */
  const totals = useMemo(() => {
    const sums = new Float64Array(originals.length);
    originals.forEach((original, index) => (sums[original] += counts[index]));
    return sums;
  }, [originals, counts]);
  const rows = useMemo(() => {
    // An edited place is a component of its own; one line in a flat list stands for all places.
    const first = new Map<number, number>();
    for (const [index, original] of originals.entries())
      if (counts[index] > 0 && !first.has(original)) first.set(original, index);
    const listed = (index: number) =>
      first.get(originals[index]) === index &&
      groups[index] >= 0 &&
      finds(searchable[index], query) &&
      answers(filter, { component: assembly.components[index], count: counts[index], treatment: treatments[index] });
    return treeRows(assembly, open, isFlat ? listed : null, groupOf);
  }, [assembly, open, isFlat, searchable, query, filter, counts, treatments, originals, groups, groupOf]);
  const { scroller, virtual } = useVirtualRows(rows.length, ROW);
  const isPicked = (row: TreeRow) =>
    picked !== null &&
    groupOf(row.component) === groupOf(picked) &&
    (pickedPath === null || row.paths.length === 0 || row.paths.includes(pickedPath));
  const at = rows.findIndex(isPicked);
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' });
  }, [picked, pickedPath]); // eslint-disable-line react-hooks/exhaustive-deps -- follows the pick, not every opening of a branch
  const toggle = (key: string) =>
    setOpen((before) => {
      const after = new Set(before);
      if (!after.delete(key)) after.add(key);
      return after;
    });
  // A line that stands for a single place picks that place; several equal ones are picked together.
  const pickRow = (row: TreeRow) => pick(row.component, row.paths.length === 1 ? row.paths[0] : null);
  const choose = (
    index: number,
    { shiftKey, ctrlKey, metaKey }: Pick<MouseEvent, 'shiftKey' | 'ctrlKey' | 'metaKey'>,
  ) => {
    const row = rows[index];
    if (shiftKey && at >= 0)
      onAlso(new Set(rows.slice(Math.min(at, index), Math.max(at, index) + 1).map(({ component }) => component)));
    else if ((ctrlKey || metaKey) && picked !== null) {
      const more = new Set(also.size > 0 ? also : [picked]);
      if (!more.delete(row.component)) more.add(row.component);
      onAlso(more);
    } else {
      onAlso(new Set());
      pickRow(row);
    }
  };
  const onKey = (event: KeyboardEvent) => {
    const row = rows[at];
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 15, PageUp: -15 }[event.key];
    const next =
      event.key === 'Home'
        ? 0
        : event.key === 'End'
          ? rows.length - 1
          : step
            ? Math.max(0, Math.min(rows.length - 1, at + step))
            : null;
    if (next !== null && rows[next]) choose(next, { shiftKey: event.shiftKey, ctrlKey: false, metaKey: false });
    else if (row?.opens && ((event.key === 'ArrowRight' && !row.open) || (event.key === 'ArrowLeft' && row.open)))
      toggle(row.key);
    else if (event.key === 'ArrowLeft' && row?.level)
      pickRow(rows.slice(0, at).findLast(({ level }) => level < row.level)!);
    else if (event.key === 'a' && (event.ctrlKey || event.metaKey))
      onAlso(new Set(rows.map(({ component }) => component)));
    else if (event.key === 'Escape') {
      onAlso(new Set());
      pick(null);
    } else return;
    event.preventDefault();
  };
  return (
    <section className="tree" aria-label="Structure">
      <div className="tree-head">
        <TextInput
          className="wide"
          size="xs"
          leftSection={<IconSearch size={14} />}
          placeholder="Name, number, material: ash …"
          aria-label="Search the structure"
          value={query}
          onChange={(event) => setQuery(event.currentTarget.value)}
        />
        <Select
          size="xs"
          w={150}
          aria-label="Show"
          value={filter}
          allowDeselect={false}
          onChange={(value) => setFilter((value ?? 'everything') as Filter)}
          data={Object.entries(filters).map(([value, label]) => ({ value, label }))}
        />
        <button className={`findings${findings.open > 0 ? ' open' : ''}`} onClick={findings.show}>
          {findings.open > 0 ? `${findings.open} to decide` : 'Findings'}
        </button>
      </div>
      <div className="treehead" aria-hidden="true">
        <span>{isFlat ? `${rows.length} found` : count(counts.filter((used) => used > 0).length, 'component')}</span>
        <span>Number</span>
        <span className="number">Count</span>
        <span>Counts as</span>
      </div>
      <div
        className="rows"
        ref={scroller}
        tabIndex={0}
        role="tree"
        aria-multiselectable="true"
        aria-label="Structure of the machine"
        onKeyDown={onKey}
      >
        <div style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index];
            const component = assembly.components[row.component];
            const treatment = treatments[row.component];
            const lit = isPicked(row) || also.has(row.component);
            return (
              <div
                key={row.key}
                role="treeitem"
                aria-level={row.level + 1}
                aria-selected={lit}
                aria-expanded={row.opens ? row.open : undefined}
                className={`treerow${lit ? ' picked' : ''}`}
                style={{ top: start, paddingLeft: 8 + row.level * 16 }}
                onClick={(event) => choose(index, event)}
              >
                <span className="name">
                  <Fold isOpen={row.opens ? row.open : null} onClick={() => toggle(row.key)} />
                  <Thumb key={`${component.shape} ${shapes.progress === null}`} component={component} />
                  <span className="ellipsis" title={component.name}>
                    {component.name || component.partNumber || '(no name)'}
                  </span>
                </span>
                <span className="ellipsis quiet">{component.partNumber}</span>
                <span className="number">{isFlat ? totals[originals[row.component]] : row.quantity}</span>
                <span className="quiet ellipsis">
                  {treatment ? wordFor(treatment) : ''}
                  {originals[row.component] === row.component ? '' : ' · own'}
                </span>
              </div>
            );
          })}
        </div>
        {rows.length === 0 && (
          <p className="quiet" style={{ padding: '0 16px' }}>
            {query ? `Nothing here is called “${query}”.` : `Nothing is ${filters[filter]}.`}
          </p>
        )}
      </div>
      <ShapesProgress />
    </section>
  );
}

/** How far the shapes are; the structure can be worked on meanwhile. */
function ShapesProgress() {
  const {
    shapes: { progress, stopped },
  } = useMachine();
  if (stopped)
    return (
      <div className="shapes quiet" role="status">
        <span className="wide">Not all shapes are made: {stopped.reason}</span>
        <Button size="compact-xs" variant="default" onClick={stopped.goOn}>
          Go on
        </Button>
      </div>
    );
  if (!progress) return null;
  const { job, done, of, left, step } = progress;
  return (
    <div className="shapes quiet" role="status">
      <span className="wide">
        <progress value={done} max={Math.max(1, of)} /> {step}
        {of > 1 ? `: ${done} of ${of}` : ' …'}
        {left !== null && left > 2
          ? `, about ${left > 90 ? `${Math.round(left / 60)} minutes` : `${left} s`} left`
          : ''}
      </span>
      <Button size="compact-xs" variant="default" onClick={() => void cancelJob(job)}>
        Stop
      </Button>
    </div>
  );
}
