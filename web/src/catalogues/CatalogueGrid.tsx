import { notifications } from '@mantine/notifications';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent, type ReactNode } from 'react';
import {
  catalogueText,
  typedItems,
  type Catalogue,
  type CatalogueColumn,
  type CatalogueItem,
  type ItemInput,
} from '../../../core/src/catalogues/index.ts';
import { addItems, spread, type CatalogueCommand } from '../../../core/src/documents/index.ts';
import { blockToText, textToBlock } from '../../../core/src/formats/index.ts';
import { valueOfProperty } from '../../../core/src/columns/index.ts';
import { count } from '../count.ts';
import { keepCataloguePicture } from '../data/api.ts';
import { CellText } from '../shell/CellText.tsx';
import { CellInputField } from '../shell/CellInputField.tsx';
import { clampSpot, cornersOf, moveSpot, type Spot } from '../shell/gridSpots.ts';

const ROW = 30; // px
/** Texts of so many items tell how wide a column is. */
const LOOKED_AT = 400;
const NARROWEST = 70,
  WIDEST = 340;

export interface CatalogueGridProps {
  readonly catalogue: Catalogue;
  /** What is shown of it, in order. */
  readonly items: readonly CatalogueItem[];
  readonly change: (label: string, ...commands: CatalogueCommand[]) => boolean;
  /** Heading of a column. */
  readonly heading: (column: CatalogueColumn) => ReactNode;
  /** What can be done with the items that are selected. */
  readonly bar: (selected: readonly CatalogueItem[]) => ReactNode;
}

/** Of long texts the end is not seen; they are read in full when pointed at. */
function widthOf(column: CatalogueColumn, items: readonly CatalogueItem[]): number {
  const lengths = items.map(({ values }) => catalogueText(values[column.id], column.kind).length).sort((a, b) => a - b);
  const usual = lengths[Math.floor(lengths.length * 0.97)] ?? 0;
  return Math.round(
    Math.min(
      WIDEST,
      Math.max(
        NARROWEST,
        (column.heading.length + (isNumeric(column) ? column.unit.length + 3 : 0)) * 7 + 66,
        usual * 7.4 + 26,
      ),
    ),
  );
}
const asInput = ({ row, ...rest }: { row: CatalogueItem } & Omit<ItemInput, 'item'>): ItemInput => ({
  item: row,
  ...rest,
});
const isNumeric = ({ kind }: CatalogueColumn): boolean => kind === 'number' || kind === 'money';

/** The items of a catalogue, edited in place as a bill is; typing below the last one adds one. */
export function CatalogueGrid({ catalogue, items, change, heading, bar }: CatalogueGridProps) {
  const { columns } = catalogue;
  const widths = useMemo(() => {
    const some = catalogue.items.slice(0, LOOKED_AT);
    return columns.map((column) => widthOf(column, some));
  }, [columns, catalogue.items]);
  const [anchor, setAnchor] = useState<Spot | null>(null);
  const [focus, setFocus] = useState<Spot | null>(null);
  const [typing, setTyping] = useState<string | null>(null);
  const [wholeTyping, setWholeTyping] = useState(false);
  const scroller = useRef<HTMLDivElement>(null);
  const chooser = useRef<HTMLInputElement>(null);
  /** Below the last item one more can be typed. */
  const limits = { rows: items.length + 1, columns: columns.length };
  const virtual = useVirtualizer({
    count: limits.rows,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const spot = focus && clampSpot(focus, limits);
  const [from, to] = cornersOf(anchor && clampSpot(anchor, limits), spot);
  const selected =
    from && to
      ? { items: items.slice(from.row, to.row + 1), columns: columns.slice(from.column, to.column + 1) }
      : null;
  /** What is copied: a picture by its name, so that it can be put into another cell. */
  const textAt = (item: CatalogueItem | undefined, column: CatalogueColumn) =>
    !item
      ? ''
      : column.kind === 'picture'
        ? String(item.values[column.id]?.value ?? '')
        : catalogueText(item.values[column.id], column.kind);

  const goTo = (next: Spot, extend = false) => {
    const place = clampSpot(next, limits);
    setFocus(place);
    if (!extend) setAnchor(place);
    virtual.scrollToIndex(place.row, { align: 'auto' });
  };
  const put = (label: string, inputs: readonly ItemInput[], more: readonly CatalogueCommand[] = []) => {
    const { items: typed, refused } = typedItems(inputs);
    if (refused.length > 0) notifications.show({ message: refused.slice(0, 3).join(' '), color: 'orange' });
    const commands: CatalogueCommand[] = [...more];
    if (Object.keys(typed).length > 0) commands.push({ kind: 'typeItems', items: typed });
    if (commands.length > 0) change(label, ...commands);
  };
  /** So many new items behind the last, and the command that puts them there. */
  const fresh = (many: number): { readonly made: readonly CatalogueItem[]; readonly command: CatalogueCommand } => {
    const command = addItems(catalogue, Array<CatalogueItem['values']>(many).fill({}), () => crypto.randomUUID());
    return { command, made: command.kind === 'changeItems' ? command.put.map(({ item }) => item) : [] };
  };
  /** A picture from a file, for all items that are selected. */
  const putPicture = async (file: File | null | undefined, column: CatalogueColumn) => {
    if (!file || !selected) return;
    try {
      const text = `picture:${await keepCataloguePicture(file)}`;
      put(
        `picture of ${count(selected.items.length, 'item')}`,
        selected.items.map((item) => ({ item, column, text })),
      );
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  const begin = (text?: string) => {
    if (!spot) return;
    if (columns[spot.column].kind === 'picture') {
      if (items[spot.row]) chooser.current?.click();
      return;
    }
    setTyping(text ?? textAt(items[spot.row], columns[spot.column]));
    setWholeTyping(text === undefined);
  };
  const finish = (text: string, then: 'down' | 'right' | 'left' | 'fill' | null) => {
    setTyping(null);
    scroller.current?.focus();
    if (!spot || !selected) return;
    const column = columns[spot.column];
    const item = items[spot.row];
    if (then === 'fill')
      put(
        `type ${text || 'nothing'} into ${selected.items.length} items`,
        selected.items.map((one) => ({ item: one, column, text })),
      );
    else if (!item && text.trim() !== '') {
      const { made, command } = fresh(1);
      put(`add ${text}`, [{ item: made[0], column, text }], [command]);
    } else if (item && text !== textAt(item, column))
      put(`type ${column.heading.toLowerCase()} ${text}`, [{ item, column, text }]);
    if (then === 'down') goTo({ row: spot.row + 1, column: spot.column });
    if (then === 'right' || then === 'left')
      goTo(moveSpot(spot, { key: 'Tab', shiftKey: then === 'left', ctrlKey: false }, limits, 1) ?? spot);
  };
  const fillDown = () => {
    if (!selected || selected.items.length < 2) return;
    const top = selected.columns.map((column) => textAt(selected.items[0], column));
    put(
      `fill down ${selected.items.length} items`,
      spread([top], selected.items.slice(1), selected.columns).map(asInput),
    );
  };
  const empty = (label: string) =>
    selected && put(label, spread([['']], selected.items, selected.columns).map(asInput));
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || typing !== null || event.key === 'Tab') return; // Tab leaves the list
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW) - 2);
    const held = event.ctrlKey || event.metaKey;
    const next = moveSpot(
      spot ?? { row: event.key === 'ArrowDown' ? -1 : 0, column: 0 },
      { key: event.key, shiftKey: event.shiftKey, ctrlKey: held },
      limits,
      page,
    );
    if (next) goTo(next, event.shiftKey);
    else if (event.key === 'Enter' || event.key === 'F2') begin();
    else if (event.key === 'Escape') {
      setAnchor(null);
      setFocus(null);
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && selected) empty('empty cells');
    else if (held && event.key.toLowerCase() === 'a') {
      setAnchor({ row: 0, column: 0 });
      setFocus({ row: Math.max(0, items.length - 1), column: columns.length - 1 });
    } else if (held && event.key.toLowerCase() === 'd') fillDown();
    else if (event.key.length === 1 && !held && !event.altKey && spot) begin(event.key === ' ' ? '' : event.key);
    else return;
    event.preventDefault();
  };
  const onCopy = (event: ClipboardEvent) => {
    if (!selected || typing !== null) return;
    event.clipboardData.setData(
      'text/plain',
      blockToText(selected.items.map((item) => selected.columns.map((column) => textAt(item, column)))),
    );
    event.preventDefault();
  };
  const onCut = (event: ClipboardEvent) => {
    onCopy(event);
    if (typing === null) empty('cut cells');
  };
  /** What is pasted beyond the last item becomes items. */
  const onPaste = (event: ClipboardEvent) => {
    if (!from || !selected || typing !== null) return;
    const [image] = event.clipboardData.files;
    if (image && spot && columns[spot.column].kind === 'picture') {
      event.preventDefault();
      return void putPicture(image, columns[spot.column]);
    }
    const block = textToBlock(event.clipboardData.getData('text/plain'));
    const wide = Math.max(0, ...block.map(({ length }) => length));
    const there = items.slice(from.row, from.row + Math.max(block.length, selected.items.length));
    const missing = Math.max(0, block.length - there.length);
    const { made, command } = fresh(missing);
    const across = columns.slice(from.column, from.column + Math.max(wide, selected.columns.length));
    if (wide > across.length)
      notifications.show({
        message: `${count(wide - across.length, 'column')} of what was pasted did not fit beside the last one.`,
        color: 'orange',
      });
    put(
      `paste ${block.length} × ${wide} cells`,
      spread(block, [...there, ...made], across).map(asInput),
      missing > 0 ? [command] : [],
    );
    event.preventDefault();
  };
  return (
    <>
      <div
        className="rows billgrid"
        ref={scroller}
        tabIndex={0}
        role="grid"
        aria-label="Items"
        aria-multiselectable
        aria-rowcount={limits.rows}
        onKeyDown={onKey}
        onCopy={onCopy}
        onCut={onCut}
        onPaste={onPaste}
      >
        <div className="billhead" role="row">
          {columns.map((column, at) => (
            <span key={column.id} role="columnheader" className="cell" style={{ width: widths[at] }}>
              {heading(column)}
            </span>
          ))}
        </div>
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const item: CatalogueItem | undefined = items[index];
            return (
              <div
                key={item?.id ?? 'new'}
                role="row"
                aria-rowindex={index + 1}
                className={`billrow${item ? '' : ' newitem'}`}
                style={{ top: start }}
              >
                {columns.map((column, at) => {
                  const isFocus = spot?.row === index && spot.column === at;
                  const inside =
                    from && to && index >= from.row && index <= to.row && at >= from.column && at <= to.column;
                  if (isFocus && typing !== null)
                    return (
                      <CellInputField
                        key={column.id}
                        label={column.heading}
                        width={widths[at]}
                        text={typing}
                        whole={wholeTyping}
                        choices={column.kind === 'yes or no' ? ['yes', 'no'] : []}
                        onFinish={finish}
                        onLeave={() => {
                          setTyping(null);
                          scroller.current?.focus();
                        }}
                      />
                    );
                  const text = textAt(item, column);
                  return (
                    <span
                      key={column.id}
                      role="gridcell"
                      title={text}
                      aria-selected={Boolean(inside)}
                      className={`cell gridcell${isFocus ? ' focus' : inside ? ' inside' : ''}`}
                      style={{ width: widths[at], justifyContent: isNumeric(column) ? 'flex-end' : 'flex-start' }}
                      onPointerDown={(event) => {
                        if (event.button === 0) goTo({ row: index, column: at }, event.shiftKey);
                      }}
                      onDoubleClick={() => begin()}
                    >
                      <span className="ellipsis">
                        {item && column.kind === 'picture' ? (
                          <CellText text={text} value={valueOfProperty(item.values[column.id])} />
                        ) : item ? (
                          text
                        ) : at === 0 ? (
                          <span className="quiet">type here for a new item</span>
                        ) : (
                          ''
                        )}
                      </span>
                    </span>
                  );
                })}
              </div>
            );
          })}
        </div>
      </div>
      <input
        ref={chooser}
        type="file"
        hidden
        accept="image/png,image/svg+xml"
        aria-label="Picture for the picked items"
        onChange={({ currentTarget }) => {
          if (spot) void putPicture(currentTarget.files?.[0], columns[spot.column]);
          currentTarget.value = '';
        }}
      />
      {selected && selected.items.length > 0 && bar(selected.items)}
    </>
  );
}
