import { hashKey } from '../assembly/index.ts';
import type { CutPlan, CutProblem } from '../cutting/index.ts';
import type { BuyingPlan, BuyingProblem, RequirementLine, WantedPiece } from './records.ts';
import { barsFor, type StockItem } from './stock.ts';

/** Pieces of one section and material, and the bars that they can be cut from. */
export interface CutGroup {
  /** See `sectionKey`. */
  readonly key: string;
  readonly material: string;
  readonly section: string;
  /** Longest first; a piece is one length of one line. */
  readonly pieces: readonly GroupPiece[];
  /** Longest first. */
  readonly stock: readonly StockItem[];
  /** What is to be solved, pieces and stock in the same order; null where no bars are known. */
  readonly problem: CutProblem | null;
}
interface GroupPiece extends WantedPiece {
  /** Key of the line in the requirement. */
  readonly line: string;
}
/** A group with its plan; null as long as there is none. */
export interface PlannedGroup {
  readonly group: CutGroup;
  readonly plan: CutPlan | null;
}

/** No section of more pieces, more lengths of them, or more kinds of bars than this is planned. */
export const MOST_CUT = { pieces: 10_000_000, lengths: 3000, bars: 40 } as const;

/** The name under which the plan of a problem is kept: the same problem has the same plan. Changes with how plans are made. */
export const cutPlanKey = (problem: CutProblem): string => `cut 1 ${hashKey('cut plan', JSON.stringify(problem))}`;

/** What is cut from bars, section by section, in the order of the lines. */
export function cutGroups(
  lines: readonly RequirementLine[],
  plan: BuyingPlan,
  stock: readonly StockItem[],
): { groups: CutGroup[]; problems: BuyingProblem[] } {
  const byKey = new Map<string, RequirementLine[]>();
  for (const line of lines) {
    if (line.group === null || line.pieces.length === 0) continue;
    const known = byKey.get(line.group);
    if (known) known.push(line);
    else byKey.set(line.group, [line]);
  }
  const problems: BuyingProblem[] = [];
  const groups = [...byKey].map(([key, members]): CutGroup => {
    const [{ material, section }] = members;
    const choice = Object.hasOwn(plan.groups, key) ? plan.groups[key] : {};
    const found = barsFor(stock, section, material);
    const bars: readonly StockItem[] =
      choice.bars?.map((bar) => ({ ...bar, number: '', material, section, leadDays: null, supplier: '' })) ??
      found.bars;
    if (!choice.bars && found.byMeasures && found.bars.length > 0)
      problems.push({
        code: 'other-words',
        group: key,
        message: `${section}: bars called ${[...new Set(found.bars.map((bar) => `“${bar.section}”`))].slice(0, 3).join(', ')} are taken, since their measures agree. Where that is wrong, say which bars there are.`,
      });
    const pieces = members
      .flatMap((line) => line.pieces.map((piece): GroupPiece => ({ ...piece, line: line.key })))
      .sort((one, other) => other.lengthMm - one.lengthMm);
    const sorted = [...bars].sort(
      (one, other) => other.lengthMm - one.lengthMm || (one.price ?? 0) - (other.price ?? 0),
    );
    const count = pieces.reduce((sum, piece) => sum + piece.count, 0);
    const isTooMany = count > MOST_CUT.pieces || pieces.length > MOST_CUT.lengths || sorted.length > MOST_CUT.bars;
    if (isTooMany)
      problems.push({
        code: 'unread',
        group: key,
        message: `${section}: ${count} pieces of ${pieces.length} lengths from ${sorted.length} kinds of bars are not planned; at most ${MOST_CUT.pieces} of ${MOST_CUT.lengths} lengths from ${MOST_CUT.bars} kinds are.`,
      });
    return {
      key,
      material,
      section,
      pieces,
      stock: sorted,
      problem:
        sorted.length === 0 || isTooMany
          ? null
          : {
              pieces: pieces.map(({ lengthMm, count: wanted, ends }) => ({ lengthMm, count: wanted, ends })),
              stock: sorted.map(({ lengthMm, price, available }) => ({ lengthMm, price, available })),
              kerfMm: choice.kerfMm ?? plan.kerfMm,
              trimMm: choice.trimMm ?? plan.trimMm,
              leastLeftOverMm: choice.leastLeftOverMm ?? plan.leastLeftOverMm,
            },
    };
  });
  return { groups, problems };
}

const mm = (value: number): string => `${Number(value.toFixed(2))} mm`;

/** What there is to say about a group and its plan. */
export function groupProblems({ group, plan }: PlannedGroup, titleOf: (line: string) => string): BuyingProblem[] {
  const { key, section, material, stock, pieces } = group;
  const title = [section, material].filter(Boolean).join(', ');
  const count = pieces.reduce((sum, piece) => sum + piece.count, 0);
  if (stock.length === 0)
    return [
      {
        code: 'no-bars',
        group: key,
        message: `${title}: which bars are there for ${count === 1 ? 'this piece' : `these ${count} pieces`} (the longest ${mm(pieces[0].lengthMm)})? Nothing is planned before that is said.`,
      },
    ];
  const priced = stock.filter(({ price }) => price !== null);
  const problems: BuyingProblem[] =
    priced.length === stock.length
      ? []
      : [
          {
            code: 'no-bar-price',
            group: key,
            message: `${title}: ${priced.length === 0 ? 'no bar has a price' : `the bar of ${mm(stock.find(({ price }) => price === null)!.lengthMm)} has no price`}, so the plan buys the least length.`,
          },
        ];
  if (!plan) return problems;
  const longest = Math.max(...stock.map(({ lengthMm }) => lengthMm));
  for (const index of plan.tooLong)
    problems.push({
      code: 'too-long',
      group: key,
      line: pieces[index].line,
      message: `${title}: ${titleOf(pieces[index].line)} takes ${mm(pieces[index].lengthMm)} and is longer than any bar gives (${mm(longest)} with its ends trimmed).`,
    });
  for (const { piece, count: lacking } of plan.missing)
    problems.push({
      code: 'not-enough',
      group: key,
      line: pieces[piece].line,
      message: `${title}: the bars do not suffice; ${lacking} of ${titleOf(pieces[piece].line)}, ${mm(pieces[piece].lengthMm)}, are not cut.`,
    });
  return problems;
}

/** How good a plan is, in words. */
export function planWorth({ cost, lowerBound, optimal, measure, missing, stopped }: CutPlan): string {
  if (missing.length > 0) return 'as far as the bars go';
  const least = measure === 'price' ? 'cheapest possible' : 'least length possible';
  if (optimal) return least;
  if (!(lowerBound > 0)) return stopped ? 'stopped before its worth was known' : 'its worth is not known';
  // Rounded up: it is never better than told.
  const share = Math.ceil((cost / lowerBound - 1) * 1000) / 10;
  return `at most ${share.toFixed(1)} % above the ${least}`;
}

/** Plate by thickness and material. */
export interface PlateSum {
  readonly material: string;
  readonly thicknessMm: number;
  readonly pieces: number;
  /** m²; null where it is not known of any piece. */
  readonly areaM2: number | null;
  /** kg; null where it is not known of any piece. */
  readonly massKg: number | null;
  /** Pieces of which the area, or the mass, is not known. */
  readonly withoutArea: number;
  readonly withoutMass: number;
}

/** Area and mass of what is made of plate; plates are not cut out here. Thickest last. */
export function plateSums(lines: readonly RequirementLine[]): PlateSum[] {
  const sums = new Map<string, PlateSum>();
  for (const { plate, material, toGet, massEach, kind } of lines) {
    if (!plate || toGet === null || toGet === 0 || kind !== 'each') continue;
    const name = `${material} ${plate.thicknessMm}`;
    const sum = sums.get(name) ?? {
      material,
      thicknessMm: plate.thicknessMm,
      pieces: 0,
      areaM2: null,
      massKg: null,
      withoutArea: 0,
      withoutMass: 0,
    };
    sums.set(name, {
      ...sum,
      pieces: sum.pieces + toGet,
      areaM2: plate.areaMm2 === null ? sum.areaM2 : (sum.areaM2 ?? 0) + (plate.areaMm2 * toGet) / 1e6,
      massKg: massEach === null ? sum.massKg : (sum.massKg ?? 0) + massEach * toGet,
      withoutArea: sum.withoutArea + (plate.areaMm2 === null ? toGet : 0),
      withoutMass: sum.withoutMass + (massEach === null ? toGet : 0),
    });
  }
  return [...sums.values()].sort(
    (one, other) => one.material.localeCompare(other.material) || one.thicknessMm - other.thicknessMm,
  );
}
