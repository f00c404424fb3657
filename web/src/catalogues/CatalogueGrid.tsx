import { notifications } from '@mantine/notifications';
import { useMemo, useRef, type ReactNode } from 'react';
import {
  catalogueText,
  typedItems,
  type Catalogue,
  type CatalogueColumn,
  type CatalogueItem,
  type ItemInput,
} from '../../../core/src/catalogues/index.ts';
import { addItems, spread, type CatalogueCommand } from '../../../core/src/documents/index.ts';
import { valueOfProperty } from '../../../core/src/columns/index.ts';
import { count } from '../count.ts';
import { keepCataloguePicture } from '../data/api.ts';
import { CellText } from '../shell/CellText.tsx';
import { CellInputField } from '../shell/CellInputField.tsx';
import { useTypedGrid, type Corners } from '../shell/useTypedGrid.ts';

const ROW = 30; // px
/** Texts of so many items tell how wide a column is. */
const LOOKED_AT = 400;
const NARROWEST = 70,
  WIDEST = 340;

interface CatalogueGridProps {
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
  const chooser = useRef<HTMLInputElement>(null);
  /** What is copied: a picture by its name, so that it can be put into another cell. */
  const textAt = (item: CatalogueItem | undefined, column: CatalogueColumn) =>
    !item
      ? ''
      : column.kind === 'picture'
        ? String(item.values[column.id]?.value ?? '')
        : catalogueText(item.values[column.id], column.kind);

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
  const cellsIn = ([from, to]: Corners) => ({
    chosen: items.slice(from.row, to.row + 1),
    across: columns.slice(from.column, to.column + 1),
  });
  /** A picture from a file, for all items that are selected. */
  const putPicture = async (file: File | null | undefined, column: CatalogueColumn, selected: Corners) => {
    const { chosen } = cellsIn(selected);
    if (!file) return;
    try {
      const text = `picture:${await keepCataloguePicture(file)}`;
      put(
        `picture of ${count(chosen.length, 'item')}`,
        chosen.map((item) => ({ item, column, text })),
      );
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  /** What is pasted beyond the last item becomes items. */
  const paste = (block: string[][], [from, to]: Corners) => {
    const wide = Math.max(0, ...block.map(({ length }) => length));
    const there = items.slice(from.row, from.row + Math.max(block.length, to.row - from.row + 1));
    const missing = Math.max(0, block.length - there.length);
    const { made, command } = fresh(missing);
    const across = columns.slice(from.column, from.column + Math.max(wide, to.column - from.column + 1));
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
  };
  const grid = useTypedGrid({
    // Below the last item one more can be typed.
    limits: { rows: items.length + 1, columns: columns.length },
    rows: items.length,
    lines: items.length + 1,
    lineOf: (row) => row,
    rowHeight: ROW,
    start: -1,
    textAt: ({ row, column }) => textAt(items[row], columns[column]),
    refuses: ({ row, column }) => {
      const isPicture = columns[column].kind === 'picture';
      if (isPicture && items[row]) chooser.current?.click();
      return isPicture;
    },
    onSpot: () => {},
    onTyped: (text, spot) => {
      const [item, column] = [items[spot.row], columns[spot.column]];
      if (item) return put(`type ${column.heading.toLowerCase()} ${text}`, [{ item, column, text }]);
      if (text.trim() === '') return;
      const { made, command } = fresh(1);
      put(`add ${text}`, [{ item: made[0], column, text }], [command]);
    },
    onFill: (text, selected, at) => {
      const { chosen } = cellsIn(selected);
      put(
        `type ${text || 'nothing'} into ${chosen.length} items`,
        chosen.map((item) => ({ item, column: columns[at], text })),
      );
    },
    onFillDown: (selected) => {
      const { chosen, across } = cellsIn(selected);
      if (chosen.length < 2) return;
      const top = across.map((column) => textAt(chosen[0], column));
      put(`fill down ${chosen.length} items`, spread([top], chosen.slice(1), across).map(asInput));
    },
    onEmpty: (label, selected) => {
      const { chosen, across } = cellsIn(selected);
      put(label, spread([['']], chosen, across).map(asInput));
    },
    onPaste: (block, selected, event) => {
      const [image] = event.clipboardData.files;
      const column = columns[grid.spot!.column];
      if (image && column.kind === 'picture') void putPicture(image, column, selected);
      else paste(block, selected);
    },
  });
  const { spot, virtual, goTo } = grid;
  const selected = grid.selected && cellsIn(grid.selected).chosen;
  return (
    <>
      <div {...grid.frame} aria-label="Items">
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
                  const state = grid.stateOf(index, at);
                  const field = grid.fieldOf(index, at);
                  if (field)
                    return (
                      <CellInputField
                        key={column.id}
                        label={column.heading}
                        width={widths[at]}
                        choices={column.kind === 'yes or no' ? ['yes', 'no'] : []}
                        {...field}
                      />
                    );
                  const text = textAt(item, column);
                  return (
                    <span
                      key={column.id}
                      role="gridcell"
                      title={text}
                      aria-selected={state !== null}
                      className={`cell gridcell${state ? ` ${state}` : ''}`}
                      style={{ width: widths[at], justifyContent: isNumeric(column) ? 'flex-end' : 'flex-start' }}
                      onPointerDown={(event) => {
                        if (event.button === 0) goTo({ row: index, column: at }, event.shiftKey);
                      }}
                      onDoubleClick={() => grid.begin()}
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
          if (spot && grid.selected) void putPicture(currentTarget.files?.[0], columns[spot.column], grid.selected);
          currentTarget.value = '';
        }}
      />
      {selected && selected.length > 0 && bar(selected)}
    </>
  );
}
