import { billTotals, type Bill } from '../bill/index.ts';
import type { Box2 } from '../geometry/index.ts';
import { measureText, textMark, wrapText, type Mark } from '../marks/index.ts';
import type { SheetNote } from './records.ts';
import type { TitleBlock, TitleFields } from './titleBlock.ts';

/** What the words of a note may stand for. */
export interface NoteFacts {
  readonly fields: TitleFields;
  /** As the title block has it. */
  readonly scale: string;
  readonly sheet: number;
  readonly of: number;
  readonly bill: Bill;
  /** Its further fields are words too. */
  readonly block: TitleBlock;
}

/** Words in braces that stand for what they name, besides `{count 12}`: the quantity of the line with that number. */
export const noteWords = [
  'title',
  'drawing number',
  'revision',
  'date',
  'owner',
  'scale',
  'sheet',
  'lines',
  'pieces',
] as const;

/** A note on paper. */
export interface LaidNote {
  readonly note: SheetNote;
  readonly box: Box2;
  readonly lines: readonly string[];
}

/** From base line to base line, in heights of capitals (ISO 3098). */
const LINE = 1.6;
const ITEM = '– ';

/** The text of a note with what its words stand for put in; an unknown word stays as it is typed. */
export function noteText({ text }: SheetNote, { fields, scale, sheet, of, bill, block }: NoteFacts): string {
  const said: Readonly<Record<Exclude<(typeof noteWords)[number], 'lines' | 'pieces'>, string>> = {
    title: fields.title,
    'drawing number': fields.drawingNumber,
    revision: fields.revision,
    date: fields.date,
    owner: fields.owner,
    scale,
    sheet: `${sheet} / ${of}`,
  };
  return text.replace(/\{([^{}\n]{1,80})\}/g, (whole, inside: string) => {
    const word = inside.trim().toLowerCase();
    const known = noteWords.find((one) => one === word);
    // As they stand below the list; only where they are asked for, since a sheet is drawn at every move of the pointer.
    if (known === 'lines' || known === 'pieces') return String(billTotals(bill, [])[known]);
    if (known) return said[known];
    const own = block.further.find(({ label }) => label.trim().toLowerCase() === word);
    if (own) return own.value;
    const item = /^count (.+)$/.exec(inside.trim())?.[1];
    const row = item && bill.rows.find((one) => one.item === item.trim());
    return row ? String(row.quantity) : whole;
  });
}

/** Where a note lies, its lines broken at its width; lines that begin with a hyphen are items of a list. */
export function layOutNote(note: SheetNote, facts: NoteFacts): LaidNote {
  const { at, width, lettering } = note;
  const indent = measureText(ITEM, lettering).width;
  const lines = noteText(note, facts)
    .split('\n')
    .flatMap((line) => {
      const item = /^\s*[-–•]\s+(.*)$/.exec(line)?.[1];
      if (item === undefined) return wrapText(line, lettering, width);
      return wrapText(item, lettering, Math.max(width - indent, lettering)).map((one, row) =>
        row === 0 ? `${ITEM}${one}` : `\u2003${one}`,
      );
    });
  return { note, lines, box: [at[0], at[1], at[0] + width, at[1] + lines.length * LINE * lettering] };
}

export function drawNote({ note, lines }: LaidNote): Mark[] {
  const { id, at, lettering } = note;
  const indent = measureText(ITEM, lettering).width;
  return lines.flatMap((line, row) => {
    const goesOn = line.startsWith('\u2003');
    const text = goesOn ? line.slice(1) : line;
    const y = at[1] + (row + 0.5) * LINE * lettering;
    return text === '' ? [] : [textMark({ kind: 'note', id }, text, at[0] + (goesOn ? indent : 0), y, lettering)];
  });
}

/** A note in the upper left of the drawing space, to be put where it belongs. */
export const newNote = (id: string, frame: Box2): SheetNote => ({
  id,
  at: [frame[0] + 12, frame[1] + 12],
  width: 90,
  lettering: 3.5,
  text: '',
});
