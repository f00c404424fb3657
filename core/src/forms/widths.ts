import { measureText } from '../marks/index.ts';
import type { CellRange } from './references.ts';
import type { CellStyles } from './styles.ts';
import { childOf, within, type XmlElement } from './xml.ts';

/** Columns of a sheet without a width of their own, in characters (ECMA-376 part 1, 18.3.1.81). */
const USUAL_WIDTH = 8.43;
/** Of a row without a height of its own; points. */
export const USUAL_HEIGHT = 15;

/** Widths of a sheet's columns in characters of the workbook's usual letters. */
export function columnWidths(sheet: XmlElement): (column: number) => number {
  const format = childOf(sheet, 'sheetFormatPr')?.attributes;
  const usual = Number(format?.get('defaultColWidth') ?? format?.get('baseColWidth') ?? USUAL_WIDTH);
  const own = [...within(sheet, 'col')].map(({ attributes }) => ({
    min: Number(attributes.get('min')),
    max: Number(attributes.get('max')),
    width: attributes.get('hidden') === '1' ? 0 : Number(attributes.get('width') ?? usual),
  }));
  return (column) => own.find(({ min, max }) => column >= min && column <= max)?.width ?? usual;
}

const DIGIT = measureText('0', 1, 'regular').width;

/** Whether texts have room in cells of one row of the form. */
export class CellRoom {
  private readonly width: (column: number) => number;
  private readonly rooms = new Map<number, number>();
  constructor(
    sheet: XmlElement,
    private readonly styles: CellStyles | null,
    private readonly merged: readonly CellRange[],
    private readonly rowNumber: number,
    private readonly row: XmlElement | undefined,
  ) {
    this.width = columnWidths(sheet);
  }

  /** Characters that a cell has room for; the cells that are merged to it count. */
  roomOf(column: number): number {
    let room = this.rooms.get(column);
    if (room === undefined) {
      const area = this.merged.find(
        ({ from, to }) => from.row <= this.rowNumber && to.row >= this.rowNumber && from.column === column,
      );
      room = 0;
      for (let at = column; at <= (area?.to.column ?? column); at++) room += this.width(at);
      this.rooms.set(column, room);
    }
    return room;
  }

  /** Room and need in characters where a text has too little of it; null where it fits. */
  lacking(text: string, column: number, style: number): { readonly room: number; readonly need: number } | null {
    const room = this.roomOf(column);
    if (text.length * 0.5 <= room && text.length <= 4) return null;
    const size = this.styles ? this.styles.sizeOf(style) / this.styles.sizeOf(0) : 1;
    const lines = text.split('\n');
    const wide = (line: string) => (measureText(line, 1, 'regular').width / DIGIT) * size;
    const alignment = this.styles?.alignmentOf(style)?.attributes;
    if (isYes(alignment?.get('shrinkToFit'))) return null;
    if (isYes(alignment?.get('wrapText'))) {
      // A row without a fixed height grows with its texts.
      if (!isYes(this.row?.attributes.get('customHeight'))) return null;
      const high = Number(this.row!.attributes.get('ht') ?? USUAL_HEIGHT);
      const fit = Math.max(1, Math.floor(high / ((this.styles?.sizeOf(style) ?? 11) * 1.2)));
      const need = lines.reduce((sum, line) => sum + Math.max(1, Math.ceil(wide(line) / Math.max(1, room))), 0);
      return need <= fit ? null : { room: Math.floor(room * fit), need: Math.ceil(wide(text)) };
    }
    const need = Math.max(...lines.map(wide));
    return need <= room ? null : { room: Math.floor(room), need: Math.ceil(need) };
  }
}
const isYes = (value: string | undefined): boolean => value === '1' || value === 'true';
