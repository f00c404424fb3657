import { ownValue, type Assembly, type Component } from '../assembly/index.ts';
import type { Address, Bill, Row } from '../bill/index.ts';
import {
  asNumber,
  componentValue,
  convert,
  formatValue,
  isEmptyValue,
  propertyNames,
  referenceOf,
  type Column,
  type ColumnSource,
  type Value,
} from '../columns/index.ts';
import { areaOf, countOf, daysOf, endsOf, lengthOf, noOffer, NotKnown, priceOf, priceSteps } from './offers.ts';
import type {
  BuyingPlan,
  BuyingProblem,
  BuyingRole,
  BuyingSources,
  LineChoice,
  Offer,
  RequirementLine,
  WantedPiece,
} from './records.ts';
import { roleWords, sourcesFor } from './roles.ts';
import { sectionKey } from './stock.ts';

/** A list of parts, counted for one machine, and how many machines. */
export interface BuiltBill {
  /** Every part once. */
  readonly bill: Bill;
  readonly columns: readonly Column[];
  /** That the bill counts, with catalogues and edits in it. */
  readonly assembly: Assembly;
  readonly machines: number;
}

/** What has to be there for all machines. */
export interface Requirement {
  readonly lines: readonly RequirementLine[];
  /** Where what buying has to know was found. */
  readonly sources: BuyingSources;
  readonly problems: readonly BuyingProblem[];
}

/** Sums of more pieces than this are refused: counts have to be exact. */
const MOST = Number.MAX_SAFE_INTEGER;

/**
 * What all machines need, line by line in the order of the lists. Lines of several builds are one where they are of the
 * same part and say the same.
 * @param itemsOf numbers under which the drafter's list has a component, or a line without a shape (`line:id`)
 */
export function requirementOf(
  built: readonly BuiltBill[],
  plan: BuyingPlan,
  itemsOf: (key: string) => readonly string[],
): Requirement {
  const names = [...new Set(built.flatMap(({ assembly }) => propertyNames(assembly)))];
  const sources = sourcesFor(plan.sources, names);
  const problems: BuyingProblem[] = [];
  const lines = new Map<string, RequirementLine>();
  for (const one of built)
    for (const row of one.bill.rows) {
      if (row.totalQuantity === 0 && row.kind !== 'line') continue;
      const line = lineOf({ ...one, row, plan, sources, itemsOf });
      const known = lines.get(line.key);
      lines.set(
        line.key,
        known ? { ...known, needed: added(known, line), pieces: merged(known.pieces, line.pieces) } : line,
      );
    }
  // Lines of one part in several builds share what was typed for it: nothing is on hand twice.
  const left = new Map<Address, LineChoice>();
  const done = [...lines.values()].map((line) => {
    const choice = left.get(line.address) ?? ownValue(plan.lines, line.address) ?? {};
    const made = withChoices(line, plan, choice, problems);
    const used = Math.min(made.onHand, (made.needed ?? 0) + made.spares);
    left.set(line.address, {
      ...choice,
      ...(choice.onHand === undefined ? {} : { onHand: choice.onHand - used }),
      ...(choice.spares?.by === 'pieces' ? { spares: { by: 'pieces', value: 0 } } : {}),
    });
    return made;
  });
  for (const one of built) for (const row of one.bill.rows) problemsOf({ ...one, row, plan, sources }, problems);
  return { lines: done, sources, problems: distinct(problems) };
}

const added = (one: RequirementLine, other: RequirementLine): number | null => {
  if (one.needed === null || other.needed === null) return null;
  const sum = one.needed + other.needed;
  return sum <= MOST ? sum : null;
};

function merged(one: readonly WantedPiece[], other: readonly WantedPiece[]): WantedPiece[] {
  const found = new Map<string, WantedPiece>();
  for (const piece of [...one, ...other]) {
    const name = `${piece.lengthMm} ${piece.ends.join('/')}`;
    found.set(name, { ...piece, count: (found.get(name)?.count ?? 0) + piece.count });
  }
  return [...found.values()];
}

interface At extends Omit<BuiltBill, 'machines'> {
  readonly row: Row;
  readonly plan: BuyingPlan;
  readonly sources: BuyingSources;
}

/** What a line says of a role. */
function said({ bill, columns, row, sources }: At, role: BuyingRole): Value {
  const source = sources[role];
  if (source === undefined) return null;
  const column = columns.find((one) => referenceOf(one) === source);
  return column ? bill.cell(row, column).value : (bill.values(row, source as ColumnSource)[0] ?? null);
}
/** What one component of a line says: its own, unless the list says otherwise for the whole line. */
function saidBy(at: At, role: BuyingRole, component: Component): Value {
  const source = at.sources[role];
  if (source === undefined) return null;
  const column = at.columns.find((one) => referenceOf(one) === source);
  const isOwn = source.startsWith('property:') && (!column || at.bill.cell(at.row, column).model === undefined);
  return isOwn && at.row.components.length > 1 ? componentValue(component, source as ColumnSource) : said(at, role);
}

const knownOr = <Of>(value: Of | NotKnown, instead: Of): Of => (value instanceof NotKnown ? instead : value);

/** What one piece costs, or one unit of what is summed: a price per metre is one per millimetre where those are summed. */
function unitPriceOf(at: At): number | null | NotKnown {
  const value = said(at, 'unitCost');
  const price = priceOf(value, at.plan);
  const [, per] = (value?.kind === 'number' ? /\/\s*(\S+)$/.exec(value.unit) : null) ?? [];
  if (price === null || price instanceof NotKnown || per === undefined || /^(pcs?|pieces?|each)$/i.test(per))
    return price;
  const { unit } = at.row.amount;
  const times = unit === '' ? null : convert(1, unit, per);
  return times === null
    ? new NotKnown(
        'unread',
        `a price per ${per} says nothing about ${unit === '' ? 'pieces' : unit}; have its size summed, or give a price of one.`,
      )
    : price * times;
}

function offerOf(at: At): Offer {
  const { plan } = at;
  return {
    unitPrice: knownOr(unitPriceOf(at), null),
    breaks: knownOr(priceSteps(said(at, 'breaks'), 'breaks', plan), noOffer.breaks),
    packs: knownOr(priceSteps(said(at, 'packs'), 'packs', plan), noOffer.packs),
    multiple: knownOr(countOf(said(at, 'packOf'), 'packOf'), null) ?? 1,
    minimum: knownOr(countOf(said(at, 'minimum'), 'minimum'), null) ?? 0,
  };
}

/** Everything about a line that cannot be read, with where it stands. */
function problemsOf(at: At, problems: BuyingProblem[]): void {
  const { plan, row, bill } = at;
  const where = titleOf(at);
  const tell = (one: unknown) => {
    if (one instanceof NotKnown)
      problems.push({ code: one.code, message: `${where}: ${one.message}`, line: row.addresses[0] });
  };
  tell(unitPriceOf(at));
  for (const role of ['breaks', 'packs'] as const) tell(priceSteps(said(at, role), role, plan));
  for (const role of ['packOf', 'minimum'] as const) tell(countOf(said(at, role), role));
  tell(daysOf(said(at, 'leadTime')));
  if (sourceOf(bill, row) === 'bought') return;
  for (const component of row.components) {
    tell(lengthOf(saidBy(at, 'length', at.assembly.components[component]), 'length'));
    tell(endsOf(saidBy(at, 'ends', at.assembly.components[component])));
  }
  const cut = row.kind === 'line' ? [] : cutPieces(at, 1);
  if (cut.length > 0 && !isWhollyCut(cut, row.totalQuantity))
    problems.push({
      code: 'no-length',
      line: row.addresses[0],
      message: `${where}: its parts are not all of one section with a length each, so none is cut from bars; keep them apart in the list, or say what is missing.`,
    });
}

function distinct(problems: readonly BuyingProblem[]): BuyingProblem[] {
  const seen = new Set<string>();
  return problems.filter(({ message }) => !seen.has(message) && seen.add(message));
}

const text = (bill: Bill, row: Row, source: ColumnSource): string => formatValue(bill.values(row, source)[0] ?? null);
const sourceOf = (bill: Bill, row: Row): RequirementLine['source'] => {
  const read = text(bill, row, 'source');
  return read === 'made' || read === 'bought' ? read : row.kind === 'line' ? 'bought' : '';
};
const titleOf = ({ bill, row }: Pick<At, 'bill' | 'row'>): string =>
  [text(bill, row, 'partNumber'), text(bill, row, 'name')].filter(Boolean).join(' ') || `Line ${row.item}`;

/** Sizes that make a section, in the order in which they are written. */
const SIZES = ['Width', 'Height', 'Diameter', 'Wall'] as const;

/** What kind of stock a shape is, with its measures: `round tube 33.7 × 2.6`. Empty where it is none that is cut to length. */
function measuredSection({ properties }: Pick<Component, 'properties'>): string {
  const size = (name: string): number | null => {
    const property = Object.hasOwn(properties, name) ? properties[name] : undefined;
    return property && typeof property.value === 'number' ? convert(property.value, property.unit || 'mm', 'mm') : null;
  };
  const kind = Object.hasOwn(properties, 'Stock') ? String(properties.Stock.value) : null;
  if (kind !== null && !/\b(tube|bar|profile)\b/.test(kind)) return '';
  if (kind === null && (size('Diameter') === null || size('Wall') === null)) return '';
  const thickness = size('Height') === null && size('Diameter') === null ? size('Thickness') : null;
  const sizes = [...SIZES.map(size), thickness].filter((one) => one !== null);
  return sizes.length === 0 ? '' : `${kind ?? 'round tube'} ${sizes.map((one) => Number(one.toFixed(2))).join(' × ')}`;
}

/** How much of a line so many machines need; null where that is not known. */
function neededFor({ amount, totalQuantity }: Row, machines: number): number | null {
  if (amount.kind === 'each') return totalQuantity * machines;
  return amount.total === null ? null : amount.total * machines;
}

/** What of a line is cut from bars: its pieces, section and group; nothing where it is bought, or not cut whole. */
function cutOf(at: At, source: RequirementLine['source'], material: string, machines: number) {
  const { row, plan } = at;
  const isPieces = row.kind !== 'line' && (row.amount.kind === 'each' || source !== 'bought');
  const cut = source === 'bought' || !isPieces ? [] : cutPieces(at, machines);
  const [section = ''] = cut.map((one) => one.section);
  const isCut = isWhollyCut(cut, row.totalQuantity * machines);
  const group = isCut ? sectionKey(material, section) : null;
  const isOtherwise = group !== null && Object.hasOwn(plan.groups, group) && plan.groups[group].otherwise === true;
  return { cut, section, isCut, group, fromBars: isCut && !isOtherwise };
}

/** Key of a line, which stays while it says the same. */
const lineKey = ({ bill, row }: At, material: string, section: string): string =>
  JSON.stringify([
    row.addresses[0],
    text(bill, row, 'partNumber'),
    text(bill, row, 'name'),
    material,
    section,
    row.amount.unit,
  ]);

function lineOf({
  machines,
  itemsOf,
  ...at
}: At & { machines: number; itemsOf: (key: string) => readonly string[] }): RequirementLine {
  const { bill, row, assembly } = at;
  const source = sourceOf(bill, row);
  const components = row.components.map((index) => assembly.components[index].key);
  const needed = neededFor(row, machines);
  const material = formatValue(said(at, 'material'));
  const { cut, section, isCut, group, fromBars } = cutOf(at, source, material, machines);
  const thicknessMm = source === 'bought' || isCut ? null : knownOr(lengthOf(said(at, 'thickness'), 'thickness'), null);
  const mass = asNumber(bill.values(row, 'massEach')[0] ?? null);
  return {
    key: lineKey(at, material, section),
    address: row.addresses[0],
    items: [...new Set(row.line === undefined ? components.flatMap(itemsOf) : itemsOf(`line:${row.line}`))],
    partNumber: text(bill, row, 'partNumber'),
    name: text(bill, row, 'name'),
    description: text(bill, row, 'description'),
    material,
    components,
    source,
    kind: row.amount.kind,
    unit: row.amount.unit,
    needed: needed !== null && needed > MOST ? null : needed,
    spares: 0,
    onHand: 0,
    toGet: null,
    massEach: mass && convert(mass.value, mass.unit, 'kg'),
    supplier: formatValue(said(at, 'supplier')),
    orderNumber: formatValue(said(at, 'orderNumber')),
    offer: offerOf(at),
    leadDays: knownOr(daysOf(said(at, 'leadTime')), null),
    pieces: fromBars
      ? merged(
          [],
          cut.map(({ piece }) => piece),
        )
      : [],
    section: isCut ? section : '',
    group: fromBars ? group : null,
    plate: thicknessMm === null || fromBars ? null : { thicknessMm, areaMm2: plateArea(at) },
  };
}

type CutPiece = { readonly section: string; readonly piece: WantedPiece };
/** Whether all pieces of a line have a length, and one section: part of a line is not cut, nor one from two sections. */
const isWhollyCut = (cut: readonly CutPiece[], pieces: number): boolean =>
  new Set(cut.map(({ section }) => section)).size === 1 &&
  cut.reduce((sum, { piece }) => sum + piece.count, 0) === pieces;

/** Pieces that a line asks for, component by component: several lengths can be one line. */
function cutPieces(at: At, machines: number): CutPiece[] {
  const { row, assembly } = at;
  const times = row.quantity === 0 ? 0 : row.totalQuantity / row.quantity;
  return row.components.flatMap((index, member) => {
    const component = assembly.components[index];
    const count = row.counts[member] * times * machines;
    const lengthMm = knownOr(lengthOf(saidBy(at, 'length', component), 'length'), null);
    const ownSection = saidBy(at, 'section', component);
    const section = isEmptyValue(ownSection) ? measuredSection(component) : formatValue(ownSection);
    if (count === 0 || lengthMm === null || section === '') return [];
    const ends = knownOr(endsOf(saidBy(at, 'ends', component)), [0, 0] as const);
    return [{ section, piece: { lengthMm, ends, count } }];
  });
}

/** Of one piece of plate: what is said, else length × width; null where neither is known. */
function plateArea(at: At): number | null {
  const own = areaOf(said(at, 'area'));
  if (own !== null && own > 0) return own;
  const component = at.row.components.length > 0 ? at.assembly.components[at.row.components[0]] : null;
  const size = (name: string) =>
    component ? knownOr(lengthOf(componentValue(component, `property:${name}`), 'length'), null) : null;
  const [length, width] = [size('Length'), size('Width')];
  return length === null || width === null ? null : length * width;
}

/** Spares and stock on hand, and what was typed for the line. */
function withChoices(
  line: RequirementLine,
  plan: BuyingPlan,
  choice: LineChoice,
  problems: BuyingProblem[],
): RequirementLine {
  const { needed } = line;
  const usual = line.source === 'bought' && line.kind === 'each' ? plan.sparePercent : 0;
  const spareRule = choice.spares ?? { by: 'percent' as const, value: usual };
  const share = spareRule.by === 'percent' ? ((needed ?? 0) * spareRule.value) / 100 : spareRule.value;
  // Whole pieces; what a percentage leaves of a piece by rounding of the machine is none
  const spares = needed === null ? 0 : line.kind === 'each' ? Math.max(0, Math.ceil(share - 1e-9)) : share;
  const onHand = line.kind === 'each' ? Math.floor(choice.onHand ?? 0) : (choice.onHand ?? 0);
  const toGet = needed === null ? null : Math.max(0, needed + spares - onHand);
  const supplier = choice.supplier ?? line.supplier;
  if (line.kind !== 'each' && line.kind !== 'as required' && needed === null)
    problems.push({
      code: 'no-length',
      line: line.address,
      message: `${line.partNumber || line.name}: its ${roleWords.length.toLowerCase()} or size is not known for all pieces, so it cannot be summed.`,
    });
  return {
    ...line,
    spares,
    onHand,
    toGet,
    supplier,
    offer: choice.unitCost === undefined ? line.offer : { ...line.offer, unitPrice: choice.unitCost },
    leadDays: choice.leadDays ?? line.leadDays,
    // Where a size is summed, spares and stock are of that, and no pieces.
    pieces: line.group === null || line.kind !== 'each' ? line.pieces : sparedPieces(line.pieces, spares - onHand),
  };
}

/** Pieces with more or fewer of them: spares are of the longest, what is on hand is taken from the longest first. */
function sparedPieces(pieces: readonly WantedPiece[], more: number): WantedPiece[] {
  const ordered = [...pieces].sort((one, other) => other.lengthMm - one.lengthMm);
  let rest = Math.round(more);
  return ordered
    .map((piece, at) => {
      const change = rest > 0 ? (at === 0 ? rest : 0) : Math.max(rest, -piece.count);
      rest -= change;
      return { ...piece, count: piece.count + change };
    })
    .filter(({ count }) => count > 0);
}
