import { Menu, TextInput } from '@mantine/core';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { IconChevronDown } from '@tabler/icons-react';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { alignmentOf, headingOf, isPerPiece, type Column } from '../../../core/src/columns/index.ts';
import type { BillCommand, ColumnChange } from '../../../core/src/documents/index.ts';
import { useMachine } from '../data/openProject.ts';
import { AddColumn } from '../lines/AddColumn.tsx';
import { ColumnDialog } from '../lines/ColumnDialog.tsx';
import { useBillEdit } from '../lines/useBillEdit.ts';

const NARROWEST = 36,
  WIDEST = 900, // px
  STEP = 10; // px by one press of Alt and an arrow

/** Headings: dragged to another place, drawn to another width, each with its own menu. */
export function Headings({ columns, widths }: { columns: readonly Column[]; widths: readonly number[] }) {
  const { billDocument } = useMachine();
  const { change } = useBillEdit();
  const all = billDocument.content.columns;
  const [asking, setAsking] = useState<Column | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  /** Puts a column where another one stands. */
  const move = (id: string, place: string | undefined) => {
    const to = all.findIndex((column) => column.id === place);
    const moved = all.find((column) => column.id === id);
    if (moved && to >= 0 && place !== id) change(`move column ${moved.heading}`, { kind: 'moveColumn', id, to });
  };
  const onDragEnd = ({ active, over }: DragEndEvent) => move(String(active.id), over ? String(over.id) : undefined);
  /** One stop of Tab for all headings: arrows go from one to the next. */
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    const buttons = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-heading]')];
    const at = buttons.indexOf(event.target as HTMLElement);
    if (way === 0 || at < 0) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.altKey) {
      const column = columns[at];
      const width = Math.max(NARROWEST, Math.min(WIDEST, Math.round(widths[at]) + way * STEP));
      change(`width of ${column.heading}`, { kind: 'changeColumn', id: column.id, change: { width } });
    } else buttons[(at + way + buttons.length) % buttons.length].focus();
  };
  return (
    <>
      <div className="billhead" role="row" onKeyDown={onKey}>
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={onDragEnd}
          accessibility={{ container: document.getElementById('overlays') ?? document.body }}
        >
          <SortableContext items={columns.map(({ id }) => id)} strategy={horizontalListSortingStrategy}>
            {columns.map((column, at) => (
              <Heading
                key={column.id}
                column={column}
                width={widths[at]}
                first={at === 0}
                last={all.length === 1}
                onMove={{
                  left: columns[at - 1] && (() => move(column.id, columns[at - 1].id)),
                  right: columns[at + 1] && (() => move(column.id, columns[at + 1].id)),
                }}
                onChange={change}
                onAsk={() => setAsking(column)}
              />
            ))}
          </SortableContext>
        </DndContext>
        <span role="columnheader" aria-label="Further columns">
          <AddColumn />
        </span>
      </div>
      {asking && <ColumnDialog column={asking} onClose={() => setAsking(null)} />}
    </>
  );
}

interface HeadingProps {
  readonly column: Column;
  readonly width: number;
  readonly first: boolean;
  /** Whether it is the only one. */
  readonly last: boolean;
  /** Where there is a column to change places with. */
  readonly onMove: { readonly left: (() => void) | undefined; readonly right: (() => void) | undefined };
  readonly onChange: (label: string, command: BillCommand) => void;
  readonly onAsk: () => void;
}

function Heading({ column, width, first, last, onMove, onChange, onAsk }: HeadingProps) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: column.id });
  const [renaming, setRenaming] = useState<string | null>(null);
  const [drawn, setDrawn] = useState<number | null>(null);
  const drag = useRef<{ x: number; width: number } | null>(null);
  const finish = () => {
    const heading = renaming?.trim();
    if (heading && heading !== column.heading)
      onChange(`rename ${column.heading}`, { kind: 'renameColumn', id: column.id, heading });
    setRenaming(null);
  };
  if (renaming !== null) {
    return (
      <span className="cell" style={{ width }}>
        <TextInput
          size="xs"
          autoFocus
          aria-label="Heading"
          value={renaming}
          onChange={(event) => setRenaming(event.currentTarget.value)}
          onBlur={finish}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') finish();
            if (event.key === 'Escape') setRenaming(null);
          }}
        />
      </span>
    );
  }
  const set = (label: string, part: ColumnChange) =>
    onChange(`${label} ${column.heading}`, { kind: 'changeColumn', id: column.id, change: part });
  const widen = {
    onPointerDown: (event: PointerEvent) => {
      event.stopPropagation();
      (event.target as Element).setPointerCapture(event.pointerId);
      drag.current = { x: event.clientX, width };
    },
    onPointerMove: (event: PointerEvent) => {
      if (drag.current)
        setDrawn(Math.max(NARROWEST, Math.min(WIDEST, drag.current.width + event.clientX - drag.current.x)));
    },
    onPointerUp: () => {
      if (drag.current && drawn !== null && drawn !== drag.current.width) set('width of', { width: Math.round(drawn) });
      drag.current = null;
      setDrawn(null);
    },
  };
  const align = alignmentOf(column);
  return (
    <span
      ref={setNodeRef}
      {...attributes}
      {...listeners}
      role="columnheader"
      tabIndex={-1}
      aria-roledescription="column, can be dragged"
      className="cell"
      style={{
        width: drawn ?? width,
        transform: CSS.Translate.toString(transform),
        transition,
        justifyContent: align === 'right' ? 'flex-end' : 'flex-start',
      }}
    >
      <span className="ellipsis">{headingOf(column)}</span>
      <Menu position="bottom-start" shadow="md">
        <Menu.Target>
          <button
            aria-label={`Column ${column.heading}`}
            data-heading
            tabIndex={first ? 0 : -1}
            title="Arrows go to the next heading, with Alt they change the width"
            onPointerDown={(event) => event.stopPropagation()}
          >
            <IconChevronDown size={14} />
          </button>
        </Menu.Target>
        <Menu.Dropdown
          onPointerDown={(event) => event.stopPropagation()}
          onKeyDown={(event) => event.stopPropagation()}
        >
          <Menu.Item onClick={() => setRenaming(column.heading)}>Rename …</Menu.Item>
          <Menu.Item onClick={onAsk}>
            {column.expression === undefined ? 'How its values read …' : 'What it is made of, and how it reads …'}
          </Menu.Item>
          {column.total !== true && (
            <Menu.Item onClick={() => set('sum of', { total: true })}>
              {isPerPiece(column) ? 'Sum over all pieces below' : 'Sum below'}
            </Menu.Item>
          )}
          {isPerPiece(column) && column.total !== 'one each' && (
            <Menu.Item onClick={() => set('sum of one each of', { total: 'one each' })}>
              Sum of one of each line below
            </Menu.Item>
          )}
          {column.total && <Menu.Item onClick={() => set('no sum of', { total: null })}>No sum below</Menu.Item>}
          <Menu.Item disabled={column.width === undefined} onClick={() => set('fit', { width: null })}>
            Fit the width to what is in it
          </Menu.Item>
          <Menu.Item disabled={!onMove.left} onClick={onMove.left}>
            One place to the left
          </Menu.Item>
          <Menu.Item disabled={!onMove.right} onClick={onMove.right}>
            One place to the right
          </Menu.Item>
          <Menu.Item onClick={() => set('hide', { hidden: true })} disabled={last}>
            Hide
          </Menu.Item>
          <Menu.Item
            disabled={last}
            onClick={() => onChange(`take away column ${column.heading}`, { kind: 'removeColumn', id: column.id })}
          >
            Take away
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <span className="widen" {...widen} title="Draw to another width" />
    </span>
  );
}
