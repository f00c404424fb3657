import {
  isAssembly,
  parentsFirst,
  quickKey,
  type Assembly,
  type ComponentKey,
  type Treatment,
} from '../assembly/index.ts';
import type { Column, ColumnSource } from '../columns/index.ts';
import { filterDrafts, sectionsOf, sortDrafts } from './filterAndSort.ts';
import { CellReader, type CellContext } from './cells.ts';
import { identityKeys } from './identity.ts';
import { almostAlike, claimedTwice, goneProperties, joinedInVain, withoutPart, withoutSize } from './findings.ts';
import { eachDraft, LineMaker, type Draft } from './lines.ts';
import { retiredLines } from './retired.ts';
import { gapsIn, itemText, ledgerByLevel, numberSiblings, type LevelLedger } from './numbers.ts';
import { amountOf, PieceAmounts } from './quantity.ts';
import {
  leanDecisions,
  noDecisions,
  numberingAt,
  usualNumbering,
  type Address,
  type Bill,
  type BillData,
  type BillDecisions,
  type BillFinding,
  type LedgerEntry,
  type Recipe,
  type Row,
} from './records.ts';

/** The machine as a variant has it. */
export interface VariantInput {
  readonly assembly: Assembly;
  readonly treatments: readonly (Treatment | undefined)[];
}

/** What else a bill may show. */
export interface BillExtras extends CellContext {
  readonly columns?: readonly Column[];
  /** Variants whose quantities are asked for, by id. */
  readonly variants?: ReadonlyMap<string, VariantInput>;
}

/**
 * The lines of a bill. The stages follow each other and none looks ahead: lines and counts, what merges, quantities,
 * numbers from the ledger, filter, order and groups. Pure and deterministic; cost grows with the shared graph and the
 * number of lines, not with occurrences.
 * @throws Refusal beyond MAX_ROWS lines or 2⁵³−1 pieces, and for a cyclic structure
 */
export function makeBill(
  assembly: Assembly,
  recipe: Recipe,
  decisions: BillDecisions = noDecisions,
  extras: BillExtras = {},
): Bill {
  return openBill(assembly, computeBill(assembly, recipe, decisions, extras), decisions, extras);
}

/** The rows of a bill as plain data, for handing over between threads; openBill gives them their cells back. */
export function computeBill(
  assembly: Assembly,
  recipe: Recipe,
  given: BillDecisions = noDecisions,
  extras: BillExtras = {},
): BillData {
  const decisions = leanDecisions(given);
  const identities = identityKeys(assembly, recipe, decisions.treatments);
  const findings: BillFinding[] = identities.findings;
  const maker = new LineMaker(assembly, recipe, decisions, identities);
  let drafts = maker.make(parentsFirst(assembly));
  for (const finding of joinedInVain(assembly, maker.vainJoins.values())) findings.push(finding);
  if (extras.variants && extras.variants.size > 0)
    drafts = withVariants(drafts, assembly, recipe, decisions, extras.variants);
  const pieces = new PieceAmounts();
  eachDraft(drafts, (draft) => (draft.amount = amountOf(assembly, recipe, draft, pieces)));
  numberDrafts(assembly, drafts, recipe, decisions, findings);
  findings.push(
    ...almostAlike(assembly, drafts, decisions),
    ...withoutPart(assembly, decisions),
    ...withoutSize(drafts),
    ...goneProperties(assembly, recipe, decisions),
  );
  const cells = new CellReader(assembly, recipe, decisions, extras.columns ?? [], extras);
  const values = (draft: Draft, source: ColumnSource) => cells.values(draft, source);
  const shown = sortDrafts(filterDrafts(drafts, recipe, values), recipe, values);
  const rows: Row[] = [];
  const firstRows = flatten(shown, -1, recipe, assembly, rows);
  const sections = sectionsOf(shown, recipe.groups ?? [], firstRows, values);
  for (const finding of claimedTwice(decisions, rows)) findings.push(finding);
  const retired = retiredLines(assembly, recipe, decisions.ledger, rows);
  return { recipe, rows, sections, findings, ...(retired.length > 0 ? { retired } : {}) };
}

/** A computed bill with what it can be asked. @param assembly the one that it was computed from */
export function openBill(assembly: Assembly, data: BillData, given: BillDecisions, extras: BillExtras = {}): Bill {
  const decisions = leanDecisions(given);
  const cells = new CellReader(assembly, data.recipe, decisions, extras.columns ?? [], extras);
  let places: Places | null = null;
  return {
    ...data,
    rowOf: (components) => rowOf(data, decisions, (places ??= placesIn(data.rows)), components),
    cell: (row, column) => cells.cell(row, column),
    values: (row, source) => cells.values(row, source),
    sum: (column, from = 0, to = data.rows.length) =>
      cells.sum(
        data.rows.slice(from, to).filter(({ opened }) => !opened),
        column,
      ),
  };
}

const NO_NUMBERS: LevelLedger = new Map();

/** Numbers every line among its siblings, before anything is filtered or sorted: neither can change a number then. */
function numberDrafts(
  assembly: Assembly,
  drafts: readonly Draft[],
  recipe: Recipe,
  decisions: BillDecisions,
  findings: BillFinding[],
): void {
  const numbering = recipe.numbering ?? usualNumbering;
  const levels = ledgerByLevel(decisions.ledger);
  const scopes = new Set<string>();
  const namesOf = ({ line, components }: Draft) =>
    line ? [`line:${line.id}`] : components.map((component) => assembly.components[component].key);
  const gaps: string[] = [];
  const visit = (siblings: readonly Draft[]): void => {
    const scope = siblings[0]?.scope ?? '';
    const level: LevelLedger = levels.get(scope) ?? NO_NUMBERS;
    const here = numberingAt(numbering, siblings[0]?.level ?? 1);
    const numbers = numberSiblings(siblings.map(namesOf), level, findings, here);
    siblings.forEach((draft, at) => Object.assign(draft, numbers[at]));
    if (level.size > 0 && !scopes.has(scope)) {
      const missing = gapsIn(
        numbers.map(({ number }) => number),
        [...level.values()],
        here,
      );
      if (missing) gaps.push(missing);
    }
    scopes.add(scope);
    for (const { children } of siblings) if (children.length > 0) visit(children);
  };
  visit(drafts);
  if (gaps.length > 0)
    findings.push({
      code: 'number-gap',
      message: `Numbers that nothing has: ${gaps.slice(0, 3).join('; ')}. Renumber closes the gaps, or retire the numbers.`,
    });
}

/** Rows in the order shown; first row of each draft, and the count of rows behind it. */
function flatten(drafts: readonly Draft[], parent: number, recipe: Recipe, assembly: Assembly, rows: Row[]): number[] {
  const above = parent < 0 ? null : rows[parent];
  const numbering = numberingAt(recipe.numbering ?? usualNumbering, drafts[0]?.level ?? 1);
  const first = drafts.map((draft) => {
    const at = rows.length;
    const {
      components,
      counts,
      addresses,
      quantity,
      totalQuantity,
      level,
      opened,
      canOpen,
      number,
      provisional,
      amount,
      line,
      inVariants,
    } = draft;
    rows.push({
      key: quickKey(above?.key ?? '', draft.identity),
      item: itemText(number, above?.item ?? '', numbering),
      number,
      provisional,
      level,
      parent,
      quantity,
      totalQuantity,
      kind: line ? 'line' : isAssembly(assembly.components[components[0]]) ? 'assembly' : 'part',
      opened,
      canOpen,
      components,
      counts,
      addresses,
      amount,
      ...(line ? { line: line.id } : {}),
      ...(inVariants ? { inVariants } : {}),
    });
    flatten(draft.children, at, recipe, assembly, rows);
    draft.children = []; // not needed any more, and a large list is held once only
    return at;
  });
  return [...first, rows.length];
}

/** Row per component, by the row that it stands in (−1: top); a row without an entry is closed. */
type Places = ReadonlyMap<number, ReadonlyMap<number, number>>;

function placesIn(rows: readonly Row[]): Places {
  const places = new Map<number, Map<number, number>>([[-1, new Map()]]);
  rows.forEach(({ components, parent, opened }, at) => {
    for (const component of components) places.get(parent)!.set(component, at);
    if (opened) places.set(at, new Map());
  });
  return places;
}

function rowOf(
  { recipe: { depth } }: BillData,
  { treatments }: BillDecisions,
  rowIn: Places,
  path: readonly number[],
): number {
  if (path.length === 1) return rowIn.get(-1)?.get(path[0]) ?? -1;
  let found = -1;
  for (const component of path.slice(1)) {
    const { ownLine, countContents } = treatments[component] ?? { ownLine: true, countContents: true };
    const listed = rowIn.get(depth === 'structured' ? found : -1);
    const row = listed?.get(component);
    if (ownLine && row === undefined && depth !== 'parts-only' && listed) return depth === 'single-level' ? found : -1; // filtered out
    if (ownLine && row !== undefined && (depth !== 'single-level' || found < 0)) found = row;
    if (!countContents) return ownLine ? found : -1;
  }
  return found;
}

/** The lines with their quantities in each variant, and those that only a variant has at their place. */
function withVariants(
  base: readonly Draft[],
  assembly: Assembly,
  recipe: Recipe,
  decisions: BillDecisions,
  variants: ReadonlyMap<string, VariantInput>,
): Draft[] {
  const indexOf = new Map(assembly.components.map(({ key }, index) => [key, index]));
  const merge = (into: Draft[], variant: string, drafts: readonly Draft[], from: Assembly): void => {
    const byMatch = new Map(into.map((draft) => [draft.match, draft]));
    for (const draft of drafts) {
      let line = byMatch.get(draft.match);
      if (!line) {
        // Exchanged in: components are those of the same key, which the whole machine knows too, if only as a
        // definition.
        const components = draft.components
          .map((component) => indexOf.get(from.components[component].key) ?? -1)
          .filter((component) => component >= 0);
        if (components.length === 0) continue;
        line = {
          ...draft,
          components,
          counts: components.map(() => 0),
          quantity: 0,
          totalQuantity: 0,
          opened: false,
          children: [],
          inVariants: {},
        };
        into.push(line);
        byMatch.set(line.match, line);
      }
      (line.inVariants ??= {})[variant] = (line.inVariants[variant] ?? 0) + draft.quantity || null;
      if (line.opened) merge(line.children, variant, draft.children, from);
    }
  };
  const drafts = [...base];
  eachDraft(
    drafts,
    (draft) =>
      (draft.inVariants = draft.line
        ? Object.fromEntries([...variants.keys()].map((id) => [id, draft.quantity || null]))
        : {}),
  );
  for (const [id, { assembly: own, treatments }] of variants) {
    const ownDecisions = { ...decisions, treatments, lines: [] };
    merge(
      drafts,
      id,
      new LineMaker(own, recipe, ownDecisions, identityKeys(own, recipe, treatments)).make(parentsFirst(own)),
      own,
    );
  }
  return drafts;
}

/** What the ledger must gain so that every number shown is kept: for each row all of its addresses. */
export function numbersToKeep(bill: Pick<Bill, 'rows'>): Record<Address, LedgerEntry> {
  const entries: Record<Address, LedgerEntry> = {};
  for (const row of bill.rows)
    if (row.provisional) for (const address of row.addresses) entries[address] = { number: row.number };
  return entries;
}

/** Key of the component that a row's own values belong to. */
export const keysOf = (assembly: Assembly, row: Row): ComponentKey[] =>
  row.components.map((index) => assembly.components[index].key);
