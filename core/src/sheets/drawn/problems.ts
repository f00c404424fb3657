import { boxesOverlap, boxInside, type Box2 } from '../../geometry/index.ts';
import { balloonFaults, type BalloonFaults } from '../../balloons/index.ts';
import { missingGlyphs, type Mark } from '../../marks/index.ts';
import type { CellText } from '../../tables/index.ts';
import { directionName } from '../../views/index.ts';
import type { SheetLayout } from '../laid/layout.ts';
import type { LaidTable } from '../laid/listsOnSheet.ts';
import { linesLeftOut, linesShownTwice } from '../laid/longList.ts';
import type { LaidNote } from '../laid/notes.ts';
import type { SheetProblem, SheetTable } from '../records.ts';

/** What is looked at for problems. */
interface Looked {
  readonly layout: SheetLayout;
  readonly notes: readonly LaidNote[];
  readonly marks: readonly Mark[];
  /** All lists of the drawing. */
  readonly lists: readonly SheetTable[];
  /** Whether a list shows the bill that it names. */
  readonly isShown: (id: string, bill: LaidTable['bill']) => boolean;
}
type Say = (code: string, message: string, items?: readonly string[]) => void;

/** What a checker would mark on this sheet. */
export function findProblems(looked: Looked): SheetProblem[] {
  const problems: SheetProblem[] = [];
  const say: Say = (code, message, items = []) => problems.push({ code, message, items });
  sayCoverage(looked, say);
  sayLists(looked, say);
  sayViews(looked, say);
  saySections(looked, say);
  sayBalloons(looked, say);
  saySmallLists(looked, say);
  sayNotes(looked, say);
  sayDimensions(looked, say);
  sayGlyphs(looked, say);
  return problems;
}

const overlapAny = (some: readonly Box2[], others: readonly Box2[]): boolean =>
  some.some((one) => others.some((other) => boxesOverlap(one, other)));
const stripsOf = ({ measured }: LaidTable): Box2[] => measured.strips.map(({ box }) => box);
/** What nothing else may lie over, by name. */
const placedOn = ({ tables, titleBlock }: SheetLayout): [string, Box2][] => [
  ['The title block', titleBlock],
  ...tables.flatMap(stripsOf).map((box): [string, Box2] => ['The list', box]),
];

const faultWords: readonly (readonly [keyof BalloonFaults, string, string, string])[] = [
  [
    'overlapping',
    'balloons-overlap',
    'balloon lies',
    'balloons lie over one another; drag them apart or arrange them.',
  ],
  ['crossing', 'leaders-cross', 'leader crosses', 'leaders cross; drag their balloons or arrange them.'],
  ['through', 'leaders-through', 'leader runs through another balloon.', 'leaders run through another balloon.'],
  ['close', 'ends-close', 'leader ends', 'leaders end within 2 mm of one another.'],
  [
    'level',
    'leaders-level',
    'leader is nearly level or upright and reads as a dimension line.',
    'leaders are nearly level or upright and read as dimension lines.',
  ],
];

/** Least height of capitals on drawings that are to be copied (ISO 3098); mm. */
const LEAST_LETTERING = 2.5;

function sayCoverage({ layout: { coverage } }: Looked, say: Say): void {
  if (coverage.missing.length > 0)
    say(
      'missing-balloons',
      `${coverage.missing.length} of ${coverage.rows} lines have no balloon on ${coverage.elsewhere.length > 0 ? 'any' : 'this'} sheet.`,
      coverage.missing,
    );
  if (coverage.doubled.length > 0)
    say('doubled-balloons', `${coverage.doubled.length} lines have more than one balloon.`, coverage.doubled);
  if (coverage.hanging.length > 0)
    say('hanging-balloons', `${coverage.hanging.length} balloons point at a part that is gone or has no line.`);
}

function sayLists({ layout: { tables }, lists, isShown }: Looked, say: Say): void {
  for (const { measured, content } of tables)
    if (!measured.fits)
      say(
        'list-too-large',
        `The list of ${content.rows.length} lines does not fit this paper; let it go on on further sheets, or choose larger paper, fewer columns or another depth.`,
      );
  const first = tables.find(({ table }) => !table.typed);
  const whole = lists.filter(
    ({ onlyBallooned, bill, typed }) => !onlyBallooned && !typed && bill === first?.table.bill,
  );
  for (const [from, to] of first && !first.table.onlyBallooned ? linesLeftOut(whole, first.of) : [])
    say(
      'list-gap',
      `Lines ${from} to ${to} of the list stand on no sheet; pick a list that shows a part, show all lines there, and let it go on anew.`,
    );
  for (const [from, to] of first && !first.table.onlyBallooned ? linesShownTwice(whole, first.of) : [])
    say('list-twice', `Lines ${from} to ${to} of the list stand on two lists; take one of them away.`);
  if (tables.some(({ table, bill }) => table.bill !== undefined && !isShown(table.bill, bill)))
    say(
      'list-bill-gone',
      'The bill that a list shows is gone or not worked out yet; it shows that of the sheet instead.',
    );
  sayCells(tables, say);
  if (tables.some((one, at) => tables.slice(at + 1).some((other) => overlapAny(stripsOf(one), stripsOf(other)))))
    say('lists-overlap', 'Two lists lie over one another; hang one of them elsewhere.');
}

/** Texts of lists that are not there whole, or that can hardly be read. */
function sayCells(tables: readonly LaidTable[], say: Say): void {
  for (const { measured, items } of tables) {
    const where = (is: (cell: CellText) => boolean) =>
      measured.cells.flatMap((row, at) => (row.some(is) ? [items[at]] : []));
    const cut = where(({ isCut }) => isCut),
      small = where(({ lettering }) => lettering < Math.min(LEAST_LETTERING, measured.style.lettering) - 1e-6);
    if (cut.length > 0)
      say(
        'cells-cut',
        `In ${cut.length} lines of the list a text is cut off; make its column wider, or let it wrap.`,
        cut,
      );
    if (small.length > 0)
      say(
        'cells-small',
        `In ${small.length} lines of the list a text is lettered smaller than ${LEAST_LETTERING} mm to fit its column.`,
        small,
      );
  }
}

function sayViews({ layout }: Looked, say: Say): void {
  for (const { view, box } of layout.views) {
    if (!boxInside(box, layout.frame))
      say(
        'view-outside',
        `The ${directionName(view.direction)} view reaches over the frame; move it or make it smaller.`,
      );
    for (const [name, other] of placedOn(layout))
      if (boxesOverlap(box, other))
        say('view-covered', `${name} lies over the ${directionName(view.direction)} view; move one of them.`);
  }
}

function saySections({ layout: { views, cuttingLines } }: Looked, say: Say): void {
  for (const { view, lines } of views) {
    const { section } = view;
    if (!section) continue;
    const name = section.letter ? `Section ${section.letter}–${section.letter}` : 'A view that is cut open';
    if (lines.kinds.length === 0)
      say('section-empty', `${name} takes everything away; look at it from the other side.`);
    else if (lines.cutOccurrences?.length === 0 && lines.cutWhole?.length === 0)
      say('section-misses', `${name} cuts nothing of the machine; move its cutting line.`);
    const open = lines.cutOpen?.length ?? 0;
    if (open > 0)
      say(
        'section-open',
        `${name} goes through ${open === 1 ? 'a part whose shape is' : `${open} parts whose shapes are`} open there: nobody knows what is matter, so nothing is hatched.`,
      );
    const parent = views.find((other) => other.view.id === section.of);
    if (parent && !cuttingLines.some((line) => line.section === view.id))
      say(
        'cutting-line-turned',
        `The cutting line of ${name.replace('Section', 'section')} does not lie in the view that shows it, since that was turned.`,
      );
  }
}

function sayBalloons({ layout }: Looked, say: Say): void {
  const placed = placedOn(layout);
  const bad = layout.balloons.filter(
    ({ box }) => !boxInside(box, layout.frame) || placed.some(([, other]) => boxesOverlap(box, other)),
  );
  if (bad.length > 0)
    say(
      'balloon-misplaced',
      'Balloons stand on the list, the title block or outside the frame.',
      bad.map(({ item }) => item),
    );
  const readable = layout.balloons.filter(({ row }) => row >= 0);
  // What shares a leader has none of its own that could be wrong.
  const faults = balloonFaults(readable.map((one) => (one.leader.length > 0 ? one : { ...one, anchor: one.centre })));
  for (const [kind, code, one, several] of faultWords) {
    const items = faults[kind].map((at) => readable[at].item);
    if (items.length > 0) say(code, `${items.length} ${items.length === 1 ? one : several}`, items);
  }
  const small = layout.balloons.filter(({ lettering }) => lettering < LEAST_LETTERING - 1e-6);
  if (small.length > 0)
    say(
      'small-numbers',
      `${small.length} numbers in balloons are lettered smaller than ${LEAST_LETTERING} mm; they are too long, or balloons too small.`,
      small.map(({ item }) => item),
    );
}

function saySmallLists({ layout: { tables } }: Looked, say: Say): void {
  for (const { measured } of tables)
    if (measured.style.lettering < LEAST_LETTERING - 1e-6)
      say(
        'small-list',
        `The list is lettered ${measured.style.lettering} mm; on paper that is to be read less than ${LEAST_LETTERING} mm is too small.`,
      );
}

function sayNotes({ layout: { frame, titleBlock }, notes }: Looked, say: Say): void {
  for (const { note, box } of notes)
    if (!boxInside(box, frame) || boxesOverlap(box, titleBlock))
      say(
        'note-misplaced',
        `The note “${note.text.slice(0, 30)}” lies over the title block or reaches out of the frame; move it or make it narrower.`,
      );
}

function sayDimensions({ layout }: Looked, say: Say): void {
  const gone = layout.dimensions.filter(({ value }) => value === null).length;
  if (gone > 0)
    say(
      'hanging-dimensions',
      `${gone} ${gone === 1 ? 'dimension is' : 'dimensions are'} taken from something that is gone, left out of its view, or taken apart in its pose.`,
    );
  const placed = placedOn(layout);
  for (const { text, box, value } of layout.dimensions)
    if (value !== null && (!boxInside(box, layout.frame) || placed.some(([, other]) => boxesOverlap(box, other))))
      say('dimension-misplaced', `The dimension ${text} lies over the list or the title block, or outside the frame.`);
}

function sayGlyphs({ marks }: Looked, say: Say): void {
  const glyphs = missingGlyphs(marks);
  if (glyphs.length > 0)
    say(
      'missing-glyphs',
      `No lettering font has ${glyphs.slice(0, 8).join(' ')}${glyphs.length > 8 ? ' …' : ''}; boxes stand in their place.`,
    );
}
