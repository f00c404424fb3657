import { boxHeight, boxInside, boxWidth, growBox, uniteBoxes2, type Box2 } from '../../geometry/index.ts';
import { layOutSheet } from './layout.ts';
import type { LaidTable } from './listsOnSheet.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import { blankSheet, type Sheet, type SheetTable } from '../records.ts';
import type { Strip } from '../../tables/index.ts';

/** Of what is lettered on drawings that are to be copied (ISO 3098); mm. */
const USUAL_LETTERING = 2.5,
  USUAL_PITCH = 1.68; // heights of capitals
/** Of a sheet with views, a list takes so much of its width, and where one strip is wide so much of its height. */
const SHARE = 0.62,
  WIDE = 0.4,
  SHARE_OF_HEIGHT = 0.38;
/** A list that goes on over more sheets than this is no list for paper. */
const MOST_SHEETS = 60;
/** No sheet has room for more lines: further ones are not looked at. */
const MOST_LINES = 3000;

/** Whether a list leaves too little room on its sheet for views, or could only be lettered too small. */
export const isLong = ({ table, measured: { fits, style, strips, box } }: LaidTable, frame: Box2): boolean =>
  !fits ||
  (table.lettering === undefined && style.lettering < USUAL_LETTERING) ||
  (strips.length > 1 && boxWidth(box) > boxWidth(frame) * SHARE);

/** A list that goes on on further sheets. */
interface LongList {
  /** What of it stays. */
  readonly here: SheetTable;
  /** The lists of further sheets, one each, in order. */
  readonly rest: readonly SheetTable[];
}

/**
 * Divides a list that is too long for its sheet: what fits beside the views stays, the rest goes on on sheets of the same
 * paper that hold nothing else. Its lettering stays where it was set.
 * @param isBeside whether there are views on the sheet, or will be
 * @param asAsked where it fits, only its first strip stays
 * @returns null where it fits, and where nothing of it fits even alone on a sheet
 */
export function divideList(
  inputs: SheetInputs,
  list: SheetTable,
  newId: () => string,
  isBeside = inputs.sheet.views.length > 0,
  asAsked = false,
): LongList | null {
  const { lines: { after = 0, upTo: _ } = {}, ...plain } = list;
  const lettering = list.lettering ?? USUAL_LETTERING;
  // The same on all its sheets.
  const look = { ...plain, lettering, pitch: list.pitch ?? lettering * USUAL_PITCH };
  const alone = blankSheet('', inputs.sheet.paper);
  const laid = (sheet: Sheet, table: SheetTable) => {
    const { tables, frame } = layOutSheet({ ...inputs, sheet: { ...sheet, tables: [table], balloons: [] } });
    return { ...tables[0], frame };
  };
  /** How many lines of a list its sheet has room for, and of how many. */
  const measured = (sheet: Sheet, table: SheetTable, isBeside: boolean) => {
    const after = table.lines?.after ?? 0;
    const upTo = (lines: number): SheetTable => ({ ...table, lines: { ...table.lines, upTo: after + lines } });
    const { of: all, content, measured: made, frame } = laid(sheet, upTo(MOST_LINES));
    const of = all - after;
    const looked = content.rows.length;
    const isTooWide = ({ box }: Strip) =>
      isBeside && boxWidth(uniteBoxes2(made.strips[0].box, box)) > boxWidth(frame) * SHARE;
    const lacks = made.strips.findIndex(
      (strip, at) => !boxInside(strip.box, growBox(frame, 1e-3)) || (at > 0 && isTooWide(strip)),
    );
    let fit = lacks < 0 ? looked : lacks === 0 ? 0 : made.strips[lacks - 1].to;
    if (isBeside && boxWidth(made.strips[0].box) > boxWidth(frame) * WIDE)
      for (let high = 0, row = 0; row < fit; row++)
        if ((high += made.rowHeights[row]) > boxHeight(frame) * SHARE_OF_HEIGHT) fit = row;
    // That it goes on elsewhere is said below it, and takes room too.
    if (fit < of) while (fit > 0 && !laid(sheet, upTo(fit)).measured.fits) fit--;
    return { of, fit, firstStrip: made.strips[0].to };
  };
  const from = (after: number): Pick<SheetTable, 'lines'> => ({ lines: { ...(after > 0 ? { after } : {}) } });
  const whole = measured(inputs.sheet, { ...look, ...from(after) }, isBeside);
  const first = asAsked && whole.fit === whole.of ? { ...whole, fit: whole.firstStrip } : whole;
  if (first.fit === first.of || first.fit === 0) return null;
  let done = after + first.fit;
  const here: SheetTable = { ...look, lines: { ...from(after).lines, upTo: done } };
  const rest: SheetTable[] = [];
  const { at: __, onlyBallooned: ___, onList: ____, ...hanging } = look;
  for (let left = first.of - first.fit; left > 0;) {
    const { of, fit } = measured(alone, { ...hanging, ...from(done) }, false);
    if (fit === 0 || rest.length === MOST_SHEETS) return null;
    rest.push({ ...hanging, id: newId(), lines: { after: done, ...(fit < of ? { upTo: done + fit } : {}) } });
    done += fit;
    left = of - fit;
  }
  return { here, rest };
}

/** The sheets on which a list goes on. */
export const listSheets = ({ paper, bill }: Sheet, name: string, rest: readonly SheetTable[]): Sheet[] =>
  rest.map((table) => ({ ...blankSheet(name, paper), ...(bill === undefined ? {} : { bill }), tables: [table] }));

/** From where to where each of these lists goes, those that show nothing left out; in order. */
const partsOf = (tables: readonly SheetTable[], of: number): (readonly [number, number])[] =>
  tables
    .map(({ lines: { after = 0, upTo = of } = {} }) => [after, Math.min(upTo, of)] as const)
    .filter(([from, to]) => from < to)
    .sort(([one], [other]) => one - other);

/**
 * Lines of a list that stand on none of these lists; [first, last] from 1 each. Nothing unless one of them shows a part.
 * @param of how many lines there are
 */
export function linesLeftOut(tables: readonly SheetTable[], of: number): readonly (readonly [number, number])[] {
  if (tables.length === 0 || tables.some(({ lines }) => !lines)) return [];
  const parts = partsOf(tables, of);
  const gaps: [number, number][] = [];
  let done = 0;
  for (const [from, to] of parts) {
    if (from > done) gaps.push([done + 1, Math.min(from, of)]);
    done = Math.max(done, to);
  }
  if (done < of) gaps.push([done + 1, of]);
  return gaps.filter(([first, last]) => first <= last);
}

/**
 * Lines of a list that stand on more than one of these lists that each show a part; [first, last] from 1 each.
 * @param of how many lines there are
 */
export function linesShownTwice(tables: readonly SheetTable[], of: number): readonly (readonly [number, number])[] {
  if (tables.some(({ lines }) => !lines)) return [];
  const parts = partsOf(tables, of);
  const twice: [number, number][] = [];
  let done = 0;
  for (const [from, to] of parts) {
    if (from < done && Math.min(to, done) > from) twice.push([from + 1, Math.min(to, done)]);
    done = Math.max(done, to);
  }
  return twice;
}
