import { ownValue, type Assembly } from '../../assembly/index.ts';
import { billTotals, type Bill } from '../../bill/index.ts';
import { propertyText } from '../../columns/index.ts';
import type { Box2, Vec2 } from '../../geometry/index.ts';
import { measureText, textMark, type Mark, type MarkSource } from '../../marks/index.ts';
import { arrowhead } from './arrows.ts';
import { countOf } from './liveCounts.ts';
import { LARGE, readNote, wrapRuns, type SetRun } from './noteText.ts';
import type { SheetNote } from '../records.ts';
import type { TitleBlock, TitleFields } from '../paper/titleBlock.ts';

/** What the words of a note may stand for. */
export interface NoteFacts {
  readonly fields: TitleFields;
  /** As the title block has it. */
  readonly scale: string;
  readonly sheet: number;
  readonly of: number;
  readonly bill: Bill;
  /** Properties and named sizes of its parts are words too. */
  readonly assembly: Assembly;
  /** Its further fields are words too. */
  readonly block: TitleBlock;
}

/**
 * Words in braces that stand for what they name, besides `{count 12}`, the quantity of the line with that number,
 * `{count of Cap where Colour = red}`, how often something stands in the machine, and `{Length of SL-1121}`, what a part
 * says under a name.
 */
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
  'mass',
] as const;

/** A note on paper. */
export interface LaidNote {
  readonly note: SheetNote;
  readonly box: Box2;
  /** As they read. */
  readonly lines: readonly string[];
  readonly set: readonly SetLine[];
  /** From the note to what it points at; nothing without a leader, or where that is gone. */
  readonly leader: readonly Vec2[];
}

/** A line of a note as it is set. */
interface SetLine {
  readonly runs: readonly SetRun[];
  /** From the left of the note; mm. */
  readonly indent: number;
  /** Before it, at the left of the note. */
  readonly label: string;
  /** Of capitals; mm. */
  readonly height: number;
  /** Middle of its capitals below the top of the note; mm. */
  readonly y: number;
}

/** From base line to base line, in heights of capitals (ISO 3098). */
const LINE = 1.6;
const ITEM = '– ';
const BESIDE = 1.5; // mm between a note and its leader

/** A text with what its words stand for put in; an unknown word stays as it is typed. */
export function saidText(text: string, { fields, scale, sheet, of, bill, block, assembly }: NoteFacts): string {
  const said: Readonly<Record<Exclude<(typeof noteWords)[number], 'lines' | 'pieces' | 'mass'>, string>> = {
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
    if (known === 'mass') {
      const { mass } = billTotals(bill, []);
      return mass === null ? '?' : `${Number(mass.toPrecision(5))} kg`;
    }
    if (known) return said[known];
    const own = block.further.find(({ label }) => label.trim().toLowerCase() === word);
    if (own) return own.value;
    const counted = /^count of (.+)$/i.exec(inside.trim())?.[1];
    const number = counted === undefined ? null : countOf(counted, assembly, bill);
    if (number !== null) return String(number);
    const item = /^count (.+)$/.exec(inside.trim())?.[1];
    const row = item && bill.rows.find((one) => one.item === item.trim());
    if (row) return String(row.quantity);
    const [, name, part] = /^(.+?) of (.+)$/.exec(inside.trim()) ?? [];
    const component =
      part && assembly.components.find((one) => one.partNumber === part.trim() || one.name === part.trim());
    const value = component && ownValue(component.properties, name.trim());
    return value ? propertyText(value) : whole;
  });
}

/**
 * Where a note lies, its lines broken at its width; see `readNote` for what its text may say.
 * @param target what its leader points at, on paper; null for nothing
 */
export function layOutNote(note: SheetNote, facts: NoteFacts, target: Vec2 | null = null): LaidNote {
  const { at, width, lettering } = note;
  const set: SetLine[] = [];
  let y = 0,
    number = 0;
  for (const { kind, large, runs } of readNote(note.text)) {
    number = kind === 'number' ? number + 1 : 0;
    const height = large ? lettering * LARGE : lettering;
    const label = kind === 'item' ? ITEM : kind === 'number' ? `${number}. ` : '';
    const indent = label === '' ? 0 : measureText(label, height).width;
    const said = runs.map(({ text, bold }) => ({ text: saidText(text, facts), bold }));
    wrapRuns(said, height, Math.max(width - indent, height)).forEach((line, row) => {
      set.push({ runs: line, indent, label: row === 0 ? label : '', height, y: y + (LINE * height) / 2 });
      y += LINE * height;
    });
  }
  return {
    note,
    set,
    lines: set.map(({ label, runs }) => label + runs.map(({ text }) => text).join('')),
    box: [at[0], at[1], at[0] + width, at[1] + y],
    leader: target ? leaderTo(note, set, target) : [],
  };
}

/** From the side of the first line that is nearer, short and level, and on to what is pointed at. */
function leaderTo({ at, width }: SheetNote, [first]: readonly SetLine[], target: Vec2): Vec2[] {
  const last = first.runs[first.runs.length - 1];
  const end = last
    ? first.indent + last.x + measureText(last.text, first.height, last.bold ? 'bold' : 'regular').width
    : 0;
  const isLeft = target[0] < at[0] + Math.min(end, width) / 2;
  const y = at[1] + first.y;
  const side = isLeft ? at[0] - BESIDE : at[0] + end + BESIDE;
  return [[side, y], [side + (isLeft ? -3 : 3), y], target];
}

export function drawNote({ note: { id, at }, set, leader }: LaidNote, pen: number): Mark[] {
  const source: MarkSource = { kind: 'note', id };
  const texts = set.flatMap(({ runs, indent, label, height, y }): Mark[] => [
    ...(label === '' ? [] : [textMark(source, label, at[0], at[1] + y, height)]),
    ...runs.map(({ text, bold, x }) =>
      textMark(source, text, at[0] + indent + x, at[1] + y, height, 'left', bold ? 'bold' : 'regular'),
    ),
  ]);
  return leader.length === 0
    ? texts
    : [
        ...texts,
        { kind: 'path', source, points: leader, closed: false, pen },
        arrowhead(source, leader[leader.length - 2], leader[leader.length - 1]),
      ];
}

/** A note in the upper left of the drawing space, to be put where it belongs. */
export const newNote = (id: string, frame: Box2): SheetNote => ({
  id,
  at: [frame[0] + 12, frame[1] + 12],
  width: 90,
  lettering: 3.5,
  text: '',
});
