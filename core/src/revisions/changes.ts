import {
  fullLabel,
  groupBy,
  occurrenceCounts,
  ownValue,
  type Assembly,
  type Component,
  type ComponentKey,
  type PropertyValue,
  type ShapeKey,
  type Usage,
} from '../assembly/index.ts';
import { convert, naturalOrder } from '../columns/index.ts';
import { composePlacements, identityPlacement } from '../geometry/index.ts';
import { distanceOf, samePlacement, sameTurn } from './usages.ts';

/** Something about a component that is not as it was. */
interface ComponentChange {
  /** `shape`, `name`, `number`, `quantity`, or `property:` and its name. */
  readonly what: 'shape' | 'name' | 'number' | 'quantity' | `property:${string}`;
  /** As it reads; for a shape null. */
  readonly from: string | null;
  readonly to: string | null;
}
export interface ChangedComponent {
  readonly kind: 'new' | 'gone' | 'changed';
  readonly key: ComponentKey;
  /** Index in the earlier and in the later assembly; −1 where it is not there. */
  readonly was: number;
  readonly is: number;
  /** Pieces in the whole machine. */
  readonly quantityWas: number;
  readonly quantityIs: number;
  readonly changes: readonly ComponentChange[];
}
/** A usage that is new, gone, elsewhere under its parent, or under another parent. */
export interface ChangedUsage {
  readonly kind: 'added' | 'removed' | 'moved' | 'other parent';
  /** What is used. */
  readonly component: ComponentKey;
  /** In which it stands; where it stood before in `fromParent`. */
  readonly parent: ComponentKey;
  readonly fromParent?: ComponentKey;
  readonly label: string;
  /** How many this usage stands for. */
  readonly quantity: number;
  /** How far it moved within its parent; mm. */
  readonly distanceMm?: number;
  /** Whether it stands turned. */
  readonly turned?: boolean;
}
/** How many of a component one parent holds, where that is not what it was. */
interface ChangedQuantity {
  readonly parent: ComponentKey;
  readonly component: ComponentKey;
  readonly was: number;
  readonly is: number;
}
export interface ModelChanges {
  /** What matters most first: gone, new, other shape, other number, other name, properties, quantity. */
  readonly components: readonly ChangedComponent[];
  readonly usages: readonly ChangedUsage[];
  readonly quantities: readonly ChangedQuantity[];
}

/**
 * What changed between two assemblies whose keys mean the same things: two revisions of a project, two variants, or
 * two files of which the later one has been recognised. Comparing an assembly with itself gives nothing.
 */
export function changesBetween(before: Assembly, after: Assembly): ModelChanges {
  const wasAt = indexByKey(before),
    isAt = indexByKey(after);
  const countsWas = occurrenceCounts(before),
    countsIs = occurrenceCounts(after);
  const components: ChangedComponent[] = [];
  before.components.forEach((component, was) => {
    const is = isAt.get(component.key) ?? -1;
    const [quantityWas, quantityIs] = [countsWas[was], is < 0 ? 0 : countsIs[is]];
    const changes = is < 0 ? [] : changesOf(component, after.components[is], quantityWas, quantityIs);
    if (is < 0 || changes.length > 0)
      components.push({
        kind: is < 0 ? 'gone' : 'changed',
        key: component.key,
        was,
        is,
        quantityWas,
        quantityIs,
        changes,
      });
  });
  after.components.forEach(({ key }, is) => {
    if (!wasAt.has(key))
      components.push({ kind: 'new', key, was: -1, is, quantityWas: 0, quantityIs: countsIs[is], changes: [] });
  });
  const labelOf = ({ was, is }: ChangedComponent): string =>
    fullLabel(is >= 0 ? after.components[is] : before.components[was]);
  const inOrder = naturalOrder('en');
  components.sort((one, other) => rankOf(one) - rankOf(other) || inOrder(labelOf(one), labelOf(other)));
  return { components, ...changedUsages(before, after, isAt) };
}

/** Whether anything changed at all. */
export const isNoChange = ({ components, usages }: ModelChanges): boolean =>
  components.length === 0 && usages.length === 0;

/** How often each kind of change occurs, for a summary. */
export function countChanges({ components, usages }: ModelChanges): Record<string, number> {
  const counts: Record<string, number> = {
    new: 0,
    gone: 0,
    reshaped: 0,
    renumbered: 0,
    renamed: 0,
    properties: 0,
    quantities: 0,
    added: 0,
    removed: 0,
    moved: 0,
    otherParent: 0,
  };
  for (const { kind, changes } of components) {
    if (kind !== 'changed') counts[kind]++;
    const has = (name: string) => changes.some(({ what }) => what === name);
    if (has('shape')) counts.reshaped++;
    if (has('number')) counts.renumbered++;
    if (has('name')) counts.renamed++;
    if (has('quantity')) counts.quantities++;
    if (changes.some(({ what }) => what.startsWith('property:'))) counts.properties++;
  }
  for (const { kind } of usages) counts[kind === 'other parent' ? 'otherParent' : kind]++;
  return counts;
}

const indexByKey = ({ components }: Assembly): Map<ComponentKey, number> =>
  new Map(components.map(({ key }, index) => [key, index]));

const RANKS = ['shape', 'number', 'name'];
function rankOf({ kind, changes }: ChangedComponent): number {
  if (kind !== 'changed') return kind === 'gone' ? 0 : 1;
  const found = RANKS.findIndex((rank) => changes.some(({ what }) => what === rank));
  if (found >= 0) return 2 + found;
  return changes.some(({ what }) => what !== 'quantity') ? 5 : 6;
}

/** A shape that is gone or came is another shape too. */
const otherShape = (was: ShapeKey | null, is: ShapeKey | null): boolean => was !== is;

function changesOf(was: Component, is: Component, quantityWas: number, quantityIs: number): ComponentChange[] {
  const changes: ComponentChange[] = [];
  if (otherShape(was.shape, is.shape)) changes.push({ what: 'shape', from: null, to: null });
  if (was.partNumber !== is.partNumber) changes.push({ what: 'number', from: was.partNumber, to: is.partNumber });
  if (was.name !== is.name) changes.push({ what: 'name', from: was.name, to: is.name });
  const property = (name: string, from: string | null, to: string | null) =>
    changes.push({ what: `property:${name}`, from, to });
  for (const field of ['description', 'revision', 'source', 'author', 'created'] as const)
    if ((was[field] ?? '') !== (is[field] ?? ''))
      property(`${field[0].toUpperCase()}${field.slice(1)}`, was[field] ?? null, is[field] ?? null);
  for (const name of new Set([...Object.keys(was.properties), ...Object.keys(is.properties)])) {
    const from = ownValue(was.properties, name),
      to = ownValue(is.properties, name);
    if (!sameValue(from, to)) property(name, inText(from), inText(to));
  }
  if (quantityWas !== quantityIs) changes.push({ what: 'quantity', from: String(quantityWas), to: String(quantityIs) });
  return changes;
}

const inText = (value: PropertyValue | undefined): string | null =>
  value === undefined ? null : `${value.value}${value.unit ? ` ${value.unit}` : ''}`;

/** Of numbers that came through another unit. */
const NUMBER_NOISE = 1e-6;
/** Whether two values are one, whatever unit they are given in. */
export function sameValue(one: PropertyValue | undefined, other: PropertyValue | undefined): boolean {
  if (!one || !other) return one === other;
  if (typeof one.value !== 'number' || typeof other.value !== 'number')
    return one.value === other.value && (one.unit ?? '') === (other.unit ?? '');
  const converted = one.unit === other.unit ? other.value : convert(other.value, other.unit ?? '', one.unit ?? '');
  return (
    converted !== null &&
    Math.abs(one.value - converted) <= NUMBER_NOISE * Math.max(Math.abs(one.value), Math.abs(converted))
  );
}

interface Loose {
  readonly parent: Component;
  readonly usage: Usage;
  readonly component: ComponentKey;
}

function changedUsages(
  before: Assembly,
  after: Assembly,
  isAt: ReadonlyMap<ComponentKey, number>,
): Pick<ModelChanges, 'usages' | 'quantities'> {
  const added: Loose[] = [],
    removed: Loose[] = [],
    usages: ChangedUsage[] = [],
    quantities: ChangedQuantity[] = [];
  const loose = (assembly: Assembly, parent: Component, usage: Usage): Loose => ({
    parent,
    usage,
    component: assembly.components[usage.child].key,
  });
  const kept = new Set<number>();
  for (const parent of before.components) {
    const index = isAt.get(parent.key);
    if (index === undefined) {
      for (const usage of parent.usages) removed.push(loose(before, parent, usage));
      continue;
    }
    kept.add(index);
    const now = after.components[index];
    // A fresh export mostly keeps the order: then nothing needs to be looked for.
    const inOrder =
      parent.usages.length === now.usages.length && parent.usages.every(({ key }, at) => key === now.usages[at].key);
    const later = new Map(inOrder ? [] : now.usages.map((usage) => [usage.key, usage]));
    let sameCounts = inOrder;
    for (const [at, usage] of parent.usages.entries()) {
      const other = inOrder ? now.usages[at] : later.get(usage.key);
      const component = before.components[usage.child].key;
      if (!other || after.components[other.child].key !== component) {
        removed.push(loose(before, parent, usage));
        if (inOrder) added.push(loose(after, now, other!));
        sameCounts = false;
        continue;
      }
      if (usage.quantity !== other.quantity) sameCounts = false;
      later.delete(usage.key);
      if (!samePlacement(usage.placement, other.placement))
        usages.push({
          kind: 'moved',
          component,
          parent: parent.key,
          label: other.label,
          quantity: other.quantity,
          distanceMm: distanceOf(usage.placement, other.placement),
          turned: !sameTurn(usage.placement, other.placement),
        });
    }
    for (const usage of later.values()) added.push(loose(after, now, usage));
    if (!sameCounts) for (const quantity of quantitiesIn(before, parent, after, now)) quantities.push(quantity);
  }
  after.components.forEach((parent, index) => {
    if (!kept.has(index)) for (const usage of parent.usages) added.push(loose(after, parent, usage));
  });
  pairOff(before, after, added, removed, usages);
  return { usages: usages.sort((one, other) => KINDS.indexOf(one.kind) - KINDS.indexOf(other.kind)), quantities };
}
const KINDS: readonly ChangedUsage['kind'][] = ['removed', 'added', 'other parent', 'moved'];

/** How many of each component a parent held and holds. */
function quantitiesIn(before: Assembly, parent: Component, after: Assembly, now: Component): ChangedQuantity[] {
  const counts = new Map<ComponentKey, [number, number]>();
  const add = (assembly: Assembly, { usages }: Component, side: 0 | 1) => {
    for (const { child, quantity } of usages) {
      const { key } = assembly.components[child];
      const found = counts.get(key) ?? [0, 0];
      found[side] += quantity;
      counts.set(key, found);
    }
  };
  add(before, parent, 0);
  add(after, now, 1);
  return [...counts].flatMap(([component, [was, is]]) =>
    was === is ? [] : [{ parent: parent.key, component, was, is }],
  );
}

/** Of very many that left one parent only so many are looked at for each that came to another. */
const MOST_LOOKED_AT = 2000;

/** What left one parent and came to another one has another parent: the nearest in the machine are paired first. */
function pairOff(
  before: Assembly,
  after: Assembly,
  added: readonly Loose[],
  removed: readonly Loose[],
  usages: ChangedUsage[],
): void {
  if (added.length === 0 && removed.length === 0) return;
  const placesWas = somePlaces(before),
    placesIs = somePlaces(after);
  const stands = (places: ReadonlyMap<ComponentKey, readonly number[]>, { parent, usage }: Loose) =>
    composePlacements(places.get(parent.key) ?? identityPlacement, usage.placement);
  const left = new Map([...groupBy(removed, ({ component }) => component)].map(([key, list]) => [key, new Set(list)]));
  for (const one of added) {
    const others = left.get(one.component);
    const place = others && stands(placesIs, one);
    let best: Loose | null = null,
      least = Infinity;
    let looked = 0;
    for (const other of others ?? []) {
      if (++looked > MOST_LOOKED_AT) break;
      if (other.usage.quantity !== one.usage.quantity || other.parent.key === one.parent.key) continue;
      const away = distanceOf(stands(placesWas, other), place!);
      if (away < least) [best, least] = [other, away];
    }
    if (best) others!.delete(best);
    usages.push({
      kind: best ? 'other parent' : 'added',
      component: one.component,
      parent: one.parent.key,
      ...(best ? { fromParent: best.parent.key } : {}),
      label: one.usage.label,
      quantity: one.usage.quantity,
    });
  }
  for (const list of left.values())
    for (const { component, parent, usage } of list)
      usages.push({ kind: 'removed', component, parent: parent.key, label: usage.label, quantity: usage.quantity });
}

/** Where each component stands at one of its places in the machine. */
function somePlaces({ components, root }: Assembly): Map<ComponentKey, readonly number[]> {
  const places = new Map<ComponentKey, readonly number[]>([[components[root].key, identityPlacement]]);
  const open = [root];
  while (open.length > 0) {
    const parent = components[open.pop()!];
    const here = places.get(parent.key)!;
    for (const { child, placement } of parent.usages) {
      const { key } = components[child];
      if (places.has(key)) continue;
      places.set(key, composePlacements(here, placement));
      open.push(child);
    }
  }
  return places;
}
