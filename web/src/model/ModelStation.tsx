import { TextInput, Badge, Popover } from '@mantine/core';
import { IconChevronDown, IconChevronRight, IconSearch } from '@tabler/icons-react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { wordFor } from '../../../core/src/assembly/index.ts';
import { propertyText } from '../../../core/src/columns/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { ComponentInspector } from './ComponentInspector.tsx';
import { Machine3D } from './Machine3D.tsx';
import { treeRows } from './treeRows.ts';

/** Structure left, machine right; picking lights both. */
export function ModelStation() {
  const { picked } = useProject();
  return (
    <main className="main">
      <StructureTree />
      <Machine3D />
      {picked !== null && <ComponentInspector component={picked} />}
    </main>
  );
}

const ROW = 30;

function StructureTree() {
  const { assembly, components: { content: { treatments } }, picked, pick, counts } = useProject();
  const [query, setQuery] = useState('');
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const words = query.trim().toLowerCase();
  const searchable = useMemo(() => assembly.components.map((component) =>
    [component.partNumber, component.name, component.description, ...Object.values(component.properties).map(propertyText)].join('\n').toLowerCase()), [assembly]);
  const rows = useMemo(() => treeRows(assembly, open, words ? (index) => searchable[index].includes(words) : null), [assembly, open, words, searchable]);
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 });
  const at = rows.findIndex((row) => row.component === picked);
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' });
  }, [picked]); // eslint-disable-line react-hooks/exhaustive-deps -- follows the pick, not every opening of a branch
  const toggle = (key: string) => setOpen((before) => {
    const after = new Set(before);
    if (!after.delete(key)) after.add(key);
    return after;
  });
  const onKey = (event: KeyboardEvent) => {
    const row = rows[at];
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) pick(rows[Math.max(0, Math.min(rows.length - 1, at + step))]?.component ?? null);
    else if (row?.opens && ((event.key === 'ArrowRight' && !row.open) || (event.key === 'ArrowLeft' && row.open))) toggle(row.key);
    else return;
    event.preventDefault();
  };
  return (
    <section className="tree" aria-label="Structure">
      <div className="tree-head">
        <TextInput className="wide" size="xs" leftSection={<IconSearch size={14} />} placeholder="Name, number, material …" aria-label="Search the structure" value={query} onChange={(event) => setQuery(event.currentTarget.value)} />
        <span className="quiet">{words ? `${rows.length} found` : `${assembly.components.length} components`}</span>
        <Findings />
      </div>
      <div className="rows" ref={scroller} tabIndex={0} role="tree" aria-label="Structure of the machine" onKeyDown={onKey}>
        <div style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index];
            const component = assembly.components[row.component];
            const treatment = treatments[component.key];
            return (
              <div key={row.key} role="treeitem" aria-level={row.level + 1} aria-selected={row.component === picked} aria-expanded={row.opens ? row.open : undefined} className={`treerow${row.component === picked ? ' picked' : ''}`} style={{ top: start, paddingLeft: 8 + row.level * 18 }} onClick={() => pick(row.component)}>
                <span className="name">
                  <button className="fold" tabIndex={-1} style={{ visibility: row.opens ? 'visible' : 'hidden' }} aria-label={row.open ? 'Close' : 'Open'} onClick={(event) => { event.stopPropagation(); toggle(row.key); }}>
                    {row.open ? <IconChevronDown size={15} /> : <IconChevronRight size={15} />}
                  </button>
                  <span className="ellipsis" title={component.name}>{component.name || component.partNumber}</span>
                </span>
                <span className="ellipsis quiet">{component.partNumber}</span>
                <span className="number">{words ? counts[row.component] : row.quantity}</span>
                <span className="quiet">{treatment ? wordFor(treatment) : ''}</span>
              </div>
            );
          })}
        </div>
        {rows.length === 0 && <p className="quiet" style={{ padding: '0 16px' }}>Nothing is called “{query}”.</p>}
      </div>
    </section>
  );
}

/** What the program noticed while reading; quiet when there is nothing. */
function Findings() {
  const { findings } = useProject();
  if (findings.length === 0) return <span className="quiet">no findings</span>;
  return (
    <Popover position="bottom-end" width={340} shadow="md">
      <Popover.Target><Badge component="button" color="signal" variant="light" style={{ cursor: 'pointer' }}>{findings.length} {findings.length === 1 ? 'finding' : 'findings'}</Badge></Popover.Target>
      <Popover.Dropdown>{findings.map(({ code, message }, at) => <p key={`${code} ${at}`} className="problem">{message}</p>)}</Popover.Dropdown>
    </Popover>
  );
}
