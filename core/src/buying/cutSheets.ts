import { barLayout, type CutBar, type CutPlan } from '../cutting/index.ts';
import {
  boxMark,
  lineMark,
  measureText,
  textMark,
  wrapText,
  type Mark,
  type Scene,
  type Weight,
} from '../marks/index.ts';
import { planWorth, type CutGroup, type PlannedGroup } from './cutGroups.ts';
import { barsText } from './buying.ts';
import type { RequirementLine } from './records.ts';

/** What stands on every page. */
interface CutListFacts {
  readonly title: string;
  /** What it is for, such as 3 machines. */
  readonly what: string;
  readonly date: string;
  readonly currency: string;
}

/** mm, A4 across: bars are long. */
const PAGE = { width: 297, height: 210, left: 20, right: 12, top: 14, bottom: 16 } as const;
const WIDTH = PAGE.width - PAGE.left - PAGE.right;
const TEXT = 2.5,
  LARGE = 5,
  HEADING = 3.5; // heights of capitals
const PITCH = 1.9;
const BAR = 9; // height of a drawn bar
/** Room between a text in a piece and its ends. */
const ASIDE = 0.8;
/** A cut thinner than this on paper would not be seen. */
const THINNEST_CUT = 0.25;
/** One box to tick per bar; more are told in words. */
const MOST_TICKS = 20;
const TICK = 3.4;

const source = { kind: 'note', id: 'cut list' } as const;
const mm = (value: number): string => String(Number(value.toFixed(1)));

/**
 * The workshop's cut list: section by section the bars in the order in which they are cut, drawn to length, with boxes to
 * tick, and for each the pieces with the marks at which they end.
 */
export function drawCutList(
  planned: readonly PlannedGroup[],
  lines: readonly RequirementLine[],
  facts: CutListFacts,
): Scene[] {
  const pages: Mark[][] = [];
  const lineOf = new Map(lines.map((line) => [line.key, line]));
  let y = 0;
  const page = () => {
    pages.push([]);
    y = PAGE.top;
    say([facts.title, 'cut list'].filter(Boolean).join(', '), LARGE, 'bold');
    say([facts.what, facts.date].filter(Boolean).join(' · '), TEXT);
    y += 3;
  };
  const put = (...marks: Mark[]) => void pages[pages.length - 1].push(...marks);
  const say = (text: string, lettering: number, weight: Weight = 'regular', indent = 0) => {
    for (const line of wrapText(text, lettering, WIDTH - indent, weight)) {
      y += lettering * PITCH;
      put(textMark(source, line, PAGE.left + indent, y - lettering / 2, lettering, 'left', weight));
    }
  };
  const room = (height: number) => {
    if (y + height > PAGE.height - PAGE.bottom) page();
  };
  page();
  const groups = planned.filter(({ plan }) => plan !== null && plan.bars.length > 0);
  if (groups.length === 0) say('Nothing is cut from bars.', TEXT);
  for (const { group, plan } of groups) {
    const bars = barsOf(group, plan!, lineOf);
    room(22 + (bars[0]?.height ?? 0));
    put(lineMark(source, [PAGE.left, y], [PAGE.left + WIDTH, y], 0.35));
    y += 1.5;
    say([group.section, group.material].filter(Boolean).join(', '), HEADING, 'bold');
    say(groupWords({ group, plan: plan! }, facts.currency), TEXT);
    y += 2;
    for (const bar of bars) {
      room(bar.height);
      put(...bar.draw(y));
      y += bar.height;
    }
    y += 3;
  }
  return pages.map((marks, at) => ({
    widthMm: PAGE.width,
    heightMm: PAGE.height,
    title: `Cut list, page ${at + 1}`,
    marks: [
      ...marks,
      textMark(source, `${at + 1} / ${pages.length}`, PAGE.left + WIDTH, PAGE.height - 8, TEXT, 'right'),
    ],
  }));
}

function groupWords({ group, plan }: { group: CutGroup; plan: CutPlan }, currency: string): string {
  const { kerfMm, trimMm } = group.problem!;
  const count = plan.bars.reduce(
    (sum, bar) => sum + bar.pieces.reduce((all, one) => all + one.count, 0) * bar.count,
    0,
  );
  return [
    `${barsText({ group, plan })} mm`,
    `${count} ${count === 1 ? 'piece' : 'pieces'}`,
    `saw ${mm(kerfMm)}${trimMm > 0 ? `, ends trimmed by ${mm(trimMm)}` : ''}`,
    `waste ${mm(plan.wasteMm)} mm (${((100 * plan.wasteMm) / plan.boughtMm).toFixed(1)} %)`,
    ...(plan.measure === 'price' ? [`${plan.cost.toFixed(2)} ${currency}`] : []),
    planWorth(plan),
  ].join(' · ');
}

interface DrawnBar {
  readonly height: number;
  readonly draw: (y: number) => Mark[];
}

function barsOf(group: CutGroup, plan: CutPlan, lineOf: ReadonlyMap<string, RequirementLine>): DrawnBar[] {
  const longest = Math.max(...plan.bars.map(({ stock }) => group.stock[stock].lengthMm));
  let number = 0;
  return plan.bars.map((bar) => {
    const first = number + 1;
    number += bar.count;
    return drawnBar(group, bar, { first, last: number, longest }, lineOf);
  });
}

function drawnBar(
  group: CutGroup,
  bar: CutBar,
  { first, last, longest }: { first: number; last: number; longest: number },
  lineOf: ReadonlyMap<string, RequirementLine>,
): DrawnBar {
  const { lengthMm } = group.stock[bar.stock];
  const scale = WIDTH / longest;
  const stretches = barLayout(group.problem!, bar);
  const itemOf = (piece: number): string => {
    const line = lineOf.get(group.pieces[piece].line);
    return line ? line.items.join(', ') || line.partNumber || line.name : '';
  };
  // What is cut where, one line per kind of piece, with the marks from the left end at which its pieces end.
  const texts = bar.pieces.map(({ piece, count }) => {
    const { lengthMm: length, ends: leaning, line } = group.pieces[piece];
    const found = lineOf.get(line);
    const ends = stretches.filter((one) => one.piece === piece).map(({ to }) => to);
    const lean = leaning.some((angle) => angle > 0)
      ? `, ends ${leaning.map((angle) => `${angle}°`).join(' / ')} from square`
      : '';
    const called = [found?.partNumber, found?.name].filter(Boolean).join(' ');
    return [
      `${count} × ${mm(length)} mm${lean}`,
      ...(found && found.items.length > 0 ? [`item ${itemOf(piece)}`] : []),
      called,
      marksWords(ends),
    ].join(' · ');
  });
  const wrapped = texts.flatMap((text) => wrapText(text, TEXT, WIDTH - 4));
  const isKept = bar.leftOverMm > 0 && bar.leftOverMm >= group.problem!.leastLeftOverMm;
  const heading = [
    `Bar ${first}${last > first ? ` to ${last}` : ''}`,
    `${mm(lengthMm)} mm`,
    ...(group.stock[bar.stock].number ? [group.stock[bar.stock].number] : []),
    ...(bar.leftOverMm > 0 ? [`${isKept ? 'left over' : 'waste'} ${mm(bar.leftOverMm)}`] : []),
  ].join(' · ');
  const height = TEXT * PITCH + 1.2 + BAR + wrapped.length * TEXT * PITCH + 5;
  return {
    height,
    draw: (top) => {
      const marks: Mark[] = [
        textMark(source, heading, PAGE.left, top + TEXT * PITCH - TEXT / 2, TEXT, 'left', 'bold'),
        ...ticks(bar.count, top + TEXT * PITCH - TEXT / 2),
      ];
      const y0 = top + TEXT * PITCH + 1.2,
        y1 = y0 + BAR;
      marks.push(boxMark(source, [PAGE.left, y0, PAGE.left + lengthMm * scale, y1], 0.25));
      for (const { kind, from, to, piece } of stretches) {
        const x0 = PAGE.left + from * scale,
          x1 = PAGE.left + to * scale;
        if (kind === 'piece') {
          marks.push(boxMark(source, [x0, y0, x1, y1], 0.5), ...label(itemOf(piece), mm(to - from), x0, x1, y0));
        } else if (kind === 'kerf') {
          // A cut is black, as wide as it is, but never too thin to be seen.
          const wide = Math.max(THINNEST_CUT, x1 - x0);
          marks.push(lineMark(source, [(x0 + x1) / 2, y0], [(x0 + x1) / 2, y1], wide));
        } else if (kind === 'left-over') {
          marks.push(...label('left over', mm(to - from), x0, x1, y0));
        } else marks.push(lineMark(source, [x0, y1], [x1, y0], 0.18));
      }
      let y = y1 + 0.8;
      for (const line of wrapped) {
        y += TEXT * PITCH;
        marks.push(textMark(source, line, PAGE.left + 4, y - TEXT / 2, TEXT));
      }
      return marks;
    },
  };
}

/** More marks than this are told by their step: they are equally far from one another. */
const MOST_MARKS = 8;
/** Where pieces of one kind end, from the left end of the bar. */
function marksWords(ends: readonly number[]): string {
  const [first] = ends,
    last = ends[ends.length - 1];
  if (ends.length <= MOST_MARKS) return `marks at ${ends.map(mm).join(', ')}`;
  // The step is told more finely: whoever adds it up must not end beside the last one.
  return `${ends.length} marks from ${mm(first)} to ${mm(last)}, every ${Number(((last - first) / (ends.length - 1)).toFixed(3))}`;
}

/** Number and length in a piece, as far as there is room for them: the length goes first. */
function label(item: string, length: string, x0: number, x1: number, y: number): Mark[] {
  const room = x1 - x0 - 2 * ASIDE,
    middle = (x0 + x1) / 2;
  const fits = (text: string, lettering: number, weight: Weight) => measureText(text, lettering, weight).width <= room;
  const both = fits(item, TEXT, 'bold') && fits(length, 2, 'regular');
  if (both)
    return [
      textMark(source, item, middle, y + BAR * 0.32, TEXT, 'centre', 'bold'),
      textMark(source, length, middle, y + BAR * 0.72, 2, 'centre'),
    ];
  return fits(item, TEXT, 'bold') ? [textMark(source, item, middle, y + BAR / 2, TEXT, 'centre', 'bold')] : [];
}

/** Boxes to tick, at the right, one per bar. */
function ticks(count: number, y: number): Mark[] {
  const right = PAGE.left + WIDTH;
  if (count > MOST_TICKS) return [textMark(source, `${count} bars`, right, y, TEXT, 'right', 'bold')];
  return Array.from({ length: count }, (_, at) => {
    const x1 = right - at * (TICK + 1.4);
    return boxMark(source, [x1 - TICK, y - TICK / 2, x1, y + TICK / 2], 0.25);
  });
}
