import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, sortableKeyboardCoordinates, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Menu, TextInput } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { lineFacts } from '../../../core/src/bill/index.ts';
import { cellOf, isNumberColumn, type Column } from '../../../core/src/columns/index.ts';
import type { BillCommand } from '../../../core/src/documents/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { AddColumn } from './AddColumn.tsx';

const ROW = 30;

/** The list as it will read: columns are dragged, renamed and taken away at their headings. */
export function BillGrid() {
  const { assembly, bill, billDocument, perform, picked, pick } = useProject();
  const { columns } = billDocument.content;
  const widths = useMemo(() => columns.map((column) => columnWidth(column, bill.rows.slice(0, 400).map((row) => cellOf(lineFacts(assembly, row), column.source).text))), [columns, bill, assembly]);
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({ count: bill.rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 15 });
  const pickedRow = picked === null ? -1 : bill.rows.findIndex((row) => row.components.includes(picked));
  useEffect(() => {
    if (pickedRow >= 0) virtual.scrollToIndex(pickedRow, { align: 'auto' });
  }, [pickedRow]); // eslint-disable-line react-hooks/exhaustive-deps -- only when another line is picked
  const change = (label: string, command: BillCommand) => perform(label, { document: billDocument.id, command });
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }), useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }));
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    const to = columns.findIndex(({ id }) => id === over?.id);
    const moved = columns.find(({ id }) => id === active.id);
    if (moved && to >= 0 && over!.id !== active.id) change(`move column ${moved.heading}`, { kind: 'moveColumn', id: moved.id, to });
  };
  const onKey = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!step || event.target !== event.currentTarget) return;
    event.preventDefault();
    const row = bill.rows[Math.max(0, Math.min(bill.rows.length - 1, pickedRow + step))];
    if (row) pick(row.components[0]);
  };
  return (
    <div className="rows" ref={scroller} tabIndex={0} role="grid" aria-label="List" aria-rowcount={bill.rows.length} onKeyDown={onKey}>
      <div className="billhead" role="row">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={columns.map(({ id }) => id)} strategy={horizontalListSortingStrategy}>
            {columns.map((column, at) => <Heading key={column.id} column={column} width={widths[at]} last={columns.length === 1} onChange={change} />)}
          </SortableContext>
        </DndContext>
        <AddColumn />
      </div>
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const row = bill.rows[index];
          const facts = lineFacts(assembly, row);
          return (
            <div key={row.key} role="row" aria-selected={index === pickedRow} className={`billrow${index === pickedRow ? ' picked' : ''}`} style={{ top: start }} onClick={() => pick(row.components[0])}>
              {columns.map((column, at) => {
                const { text, differing } = cellOf(facts, column.source);
                const indent = column.source === 'item' ? (row.level - 1) * 14 : 0;
                return (
                  <span key={column.id} role="gridcell" title={column.source === 'item' && row.provisional ? 'Proposed; not taken over yet' : text} style={{ width: widths[at], paddingLeft: 10 + indent }}
                    className={`cell ellipsis${isNumberColumn(column.source) ? ' number' : ''}${column.source === 'item' ? ` item${row.provisional ? ' proposed' : ''}` : ''}`}>
                    {text}{differing > 1 && <span className="differs">{differing} values</span>}
                  </span>
                );
              })}
            </div>
          );
        })}
      </div>
      {bill.rows.length === 0 && <p className="quiet" style={{ padding: '0 20px' }}>Nothing is listed: every component is left out.</p>}
    </div>
  );
}

/** Wide enough for the heading and nearly all texts; long ones end in dots and are read in full when pointed at. */
function columnWidth(column: Column, texts: readonly string[]): number {
  const longest = texts.map((text) => text.length).sort((a, b) => a - b)[Math.floor(texts.length * 0.97)] ?? 0;
  return Math.round(Math.min(320, Math.max(column.heading.length * 8 + 44, longest * 7.2 + 26, column.source === 'item' ? 84 : 0)));
}

function Heading({ column, width, last, onChange }: { column: Column; width: number; last: boolean; onChange: (label: string, command: BillCommand) => void }) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: column.id });
  const [renaming, setRenaming] = useState<string | null>(null);
  const finish = () => {
    const heading = renaming?.trim();
    if (heading && heading !== column.heading) onChange(`rename ${column.heading}`, { kind: 'renameColumn', id: column.id, heading });
    setRenaming(null);
  };
  if (renaming !== null) {
    return <span className="cell" style={{ width }}><TextInput size="xs" autoFocus aria-label="Heading" value={renaming} onChange={(event) => setRenaming(event.currentTarget.value)} onBlur={finish} onKeyDown={(event) => {
      if (event.key === 'Enter') finish();
      if (event.key === 'Escape') setRenaming(null);
    }} /></span>;
  }
  return (
    <span ref={setNodeRef} {...attributes} {...listeners} role="columnheader" aria-roledescription="column, can be dragged" className={`cell${isNumberColumn(column.source) ? ' number' : ''}`} style={{ width, transform: CSS.Translate.toString(transform), transition }}>
      <span className="ellipsis">{column.heading}</span>
      <Menu position="bottom-start" shadow="md">
        <Menu.Target><button aria-label={`Column ${column.heading}`} onPointerDown={(event) => event.stopPropagation()} onKeyDown={(event) => event.stopPropagation()}><IconChevronDown size={14} /></button></Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => setRenaming(column.heading)}>Rename …</Menu.Item>
          <Menu.Item disabled={last} onClick={() => onChange(`take away column ${column.heading}`, { kind: 'removeColumn', id: column.id })}>Take away</Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </span>
  );
}
