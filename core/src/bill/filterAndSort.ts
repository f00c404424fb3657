import {
  compareValues,
  formatValue,
  isEmptyValue,
  rulesHold,
  type ColumnSource,
  type Value,
} from '../columns/index.ts';
import type { Draft } from './lines.ts';
import type { GroupKey, Recipe, Section, SortKey } from './records.ts';

/** The values of a line for a source; several where its components differ. */
type DraftValues = (draft: Draft, source: ColumnSource) => readonly Value[];

/** Leaves out the lines that the rules do not hold for; a subassembly stays as long as something in it does. */
export function filterDrafts(drafts: readonly Draft[], recipe: Recipe, values: DraftValues): Draft[] {
  const { filter } = recipe;
  if (!filter || filter.of.length === 0) return [...drafts];
  return drafts.flatMap((draft) => {
    const children = filterDrafts(draft.children, recipe, values);
    return children.length > 0 || rulesHold(filter, (source) => values(draft, source)) ? [{ ...draft, children }] : [];
  });
}

/**
 * Lines in order, level by level; those that compare alike stay in the order of structure. Groups order the top
 * level first.
 * A line without a shape moves with its neighbour, as long as both are in one group.
 */
export function sortDrafts(
  drafts: readonly Draft[],
  { groups = [], sort = [], locale = '' }: Recipe,
  values: DraftValues,
): Draft[] {
  const inner = (level: readonly Draft[], grouping: readonly SortKey[]): Draft[] => {
    const keys = [...grouping, ...sort];
    const sorted = keys.length === 0 ? [...level] : sortBy(level, keys, grouping.length, locale, values);
    return sort.length === 0
      ? sorted
      : sorted.map((draft) => (draft.children.length > 0 ? { ...draft, children: inner(draft.children, []) } : draft));
  };
  return inner(drafts, groups);
}

/** @param own how many of the keys a line without a shape answers for itself; the others are its neighbour's */
function sortBy(
  drafts: readonly Draft[],
  keys: readonly SortKey[],
  own: number,
  locale: string,
  values: DraftValues,
): Draft[] {
  let neighbour: Draft | null = null;
  // Each value is looked up once, not at every comparison.
  const looked = new Map(
    drafts.map((draft) => {
      if (!draft.line || draft.line.after === null) neighbour = draft;
      const mover: Draft = neighbour ?? draft;
      return [
        draft,
        keys.map(({ source }, at) => values(at < own || source === 'item' ? draft : mover, source)[0] ?? null),
      ];
    }),
  );
  return [...drafts].sort((one, two) => {
    const a = looked.get(one)!,
      b = looked.get(two)!;
    for (let at = 0; at < keys.length; at++) {
      const emptyA = isEmptyValue(a[at]),
        emptyB = isEmptyValue(b[at]);
      if (emptyA !== emptyB) return emptyA ? 1 : -1; // empty last, whichever way it is sorted
      const order = emptyA ? 0 : compareValues(a[at], b[at], locale);
      if (order !== 0) return keys[at].descending ? -order : order;
    }
    return 0;
  });
}

/**
 * Headings over runs of equal values at the top level, outermost grouping first.
 * @param firstRows row at which each draft of the top level begins, and the count of rows as last entry
 */
export function sectionsOf(
  drafts: readonly Draft[],
  groups: readonly GroupKey[],
  firstRows: readonly number[],
  values: DraftValues,
): Section[] {
  const sections: Section[] = [];
  const split = (from: number, to: number, level: number): void => {
    const group = groups[level];
    if (!group) return;
    const titleOf = (draft: Draft) => formatValue(values(draft, group.source)[0] ?? null);
    for (let at = from; at < to;) {
      const title = titleOf(drafts[at]);
      let end = at + 1;
      while (end < to && titleOf(drafts[end]) === title) end++;
      sections.push({
        at: firstRows[at],
        to: firstRows[end],
        level: level + 1,
        source: group.source,
        title,
        subtotal: group.subtotal ?? false,
      });
      split(at, end, level + 1);
      at = end;
    }
  };
  split(0, drafts.length, 0);
  return sections;
}
