import { LEAST_CLEARANCE, LEAST_FACE_RADIUS } from '../../balloons/index.ts';
import { textMark, wrapText, type Mark, type Scene, type Weight } from '../../marks/index.ts';
import { directionName, type ViewLines } from '../../views/index.ts';
import type { DrawnSheet } from '../drawn/drawSheet.ts';
import type { SheetInputs } from '../sheetInputs.ts';
import { filledShare } from './filledPaper.ts';
import { leaderScore, type LeaderScore } from './leaderEnds.ts';
import type { SheetProblem } from '../records.ts';

/** A sheet as it was drawn, with what it was drawn from. */
export interface CheckedSheet {
  readonly drawn: DrawnSheet;
  readonly inputs: Pick<SheetInputs, 'assembly' | 'bill'> & { readonly lines: ReadonlyMap<string, ViewLines> };
}

/** How clearly the leader of a balloon ends. */
interface CheckedLeader {
  readonly item: string;
  /** Which way its view is seen, or the letter of an enlarged detail. */
  readonly view: string;
  readonly score: LeaderScore;
}
/** What a checker would mark on a set of sheets. */
export interface CheckReport {
  readonly title: string;
  /** As in the title block. */
  readonly date: string;
  /** Lines of the list that the first sheet shows; on all sheets together. */
  readonly lines: {
    /** Of those that need one. */
    readonly ballooned: number;
    readonly needed: number;
    readonly missing: readonly string[];
    /** Opened subassemblies, and lines without a shape. */
    readonly excused: readonly string[];
  };
  readonly sheets: readonly {
    readonly number: number;
    readonly name: string;
    readonly problems: readonly SheetProblem[];
    /** Share of the drawing area within 15 mm of a view, list, balloon or caption, to the nearest hundredth. */
    readonly filled: number;
    /** Leaders that end where there is less room than a reader needs. */
    readonly doubtful: readonly CheckedLeader[];
  }[];
}

/** Whether a reader sees at once what the leader points at. */
const isClear = ({ kind, freeMm }: LeaderScore): boolean =>
  freeMm === null || freeMm >= (kind === 'face' ? LEAST_FACE_RADIUS : LEAST_CLEARANCE) - 1e-9;

/** @param sheets in order, each drawn with the others in mind */
export function checkReport(sheets: readonly CheckedSheet[], title: string, date: string): CheckReport {
  const first = sheets[0]?.drawn.layout.coverage;
  // What another sheet has is not missing there; sheets that show another bill have no say in it.
  const missing = first?.missing ?? [];
  const needed = (first?.rows ?? 0) - (first?.excused.length ?? 0);
  return {
    title,
    date,
    lines: { ballooned: needed - missing.length, needed, missing, excused: first?.excused ?? [] },
    sheets: sheets.map(({ drawn, inputs }, at) => ({
      number: at + 1,
      name: drawn.scene.title,
      problems: drawn.problems,
      filled: Math.round(100 * filledShare(drawn.layout)) / 100,
      doubtful: drawn.layout.balloons.flatMap((laid): CheckedLeader[] => {
        const view = drawn.layout.views.find((one) => one.view.id === laid.balloon.view)?.view;
        const lines = inputs.lines.get(laid.balloon.view);
        if (!view || !lines || laid.row < 0 || laid.leader.length === 0) return [];
        const score = leaderScore(laid, { view }, lines, inputs);
        const named = view.detail ? `detail ${view.detail.letter}` : directionName(view.direction);
        return isClear(score) ? [] : [{ item: laid.item, view: named, score }];
      }),
    })),
  };
}

/** What there is to look at altogether. */
export const countOfReport = ({ sheets }: CheckReport): number =>
  sheets.reduce((sum, { problems, doubtful }) => sum + problems.length + doubtful.length, 0);

const PAGE = { width: 210, height: 297, left: 25, right: 15, top: 20, bottom: 18 } as const; // mm, A4
const LETTERING = 2.5,
  LARGE = 5,
  PITCH = 1.9; // heights of capitals

/** The report as pages of A4. */
export function drawReport(report: CheckReport): Scene[] {
  const pages: Mark[][] = [[]];
  let y: number = PAGE.top;
  const source = { kind: 'note', id: 'report' } as const;
  const say = (text: string, lettering: number, weight: Weight = 'regular', indent = 0) => {
    const width = PAGE.width - PAGE.left - PAGE.right - indent;
    for (const line of wrapText(text, lettering, width, weight)) {
      if (y + lettering * PITCH > PAGE.height - PAGE.bottom) {
        pages.push([]);
        y = PAGE.top;
      }
      y += lettering * PITCH;
      pages[pages.length - 1].push(
        textMark(source, line, PAGE.left + indent, y - lettering / 2, lettering, 'left', weight),
      );
    }
  };
  const { lines } = report;
  say(report.title || 'Drawing', LARGE, 'bold');
  say(['Check of the drawing', report.date].filter(Boolean).join(', '), LETTERING);
  y += 4;
  say(`${lines.ballooned} of ${lines.needed} lines have a balloon.`, LETTERING, 'bold');
  if (lines.missing.length > 0) say(`Without one: ${lines.missing.join(', ')}`, LETTERING);
  if (lines.excused.length > 0) say(`Need none: ${lines.excused.join(', ')}`, LETTERING);
  for (const { number, name, problems, filled, doubtful } of report.sheets) {
    y += 4;
    say(`Sheet ${number}, ${name}`, 3.5, 'bold');
    say(`${Math.round(100 * filled)} % of the paper is in use.`, LETTERING);
    if (problems.length + doubtful.length === 0) say('Nothing to look at.', LETTERING);
    for (const { message, items } of problems)
      say(`– ${message}${items.length > 0 ? ` (${items.join(', ')})` : ''}`, LETTERING, 'regular', 3);
    if (doubtful.length > 0) say('– Leaders that end where little of the part can be seen:', LETTERING, 'regular', 3);
    for (const { item, view, score } of doubtful)
      say(
        `${item}, ${view}: ${score.kind}, ${score.freeMm!.toFixed(1)} mm ${score.nearest === null ? 'free' : `from item ${score.nearest}`}`,
        LETTERING,
        'regular',
        8,
      );
  }
  return pages.map((marks, at) => ({
    widthMm: PAGE.width,
    heightMm: PAGE.height,
    title: `Check, page ${at + 1}`,
    marks: [
      ...marks,
      textMark(source, `${at + 1} / ${pages.length}`, PAGE.width / 2, PAGE.height - 10, LETTERING, 'centre'),
    ],
  }));
}
