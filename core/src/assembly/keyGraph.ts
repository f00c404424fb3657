import { unnamed, type Assembly, type Component, type ComponentKey, type Usage, type UsageKey } from './records.ts';
import { identityPlacement } from '../geometry/index.ts';
import { occurrenceCounts, parentsFirst } from './counts.ts';
import { groupBy } from './groups.ts';
import { hashKey } from './keys.ts';

/** A usage before it has its key; keyGraph fills it in. */
export type DraftUsage = Omit<Usage, 'key'> & { key: UsageKey };
export const NO_KEY = '' as UsageKey;
/**
 * A component as a reader found it, before keys are made; `child` of its usages is an index into the list of drafts.
 */
export type ComponentDraft = Omit<Component, 'key' | 'usages'> & { readonly usages: readonly DraftUsage[] };

interface KeyOptions {
  /** False where placements were not read: usages are then keyed by their order, and the result is not for storing. */
  readonly placed: boolean;
}

/**
 * Keys for everything (those of usages are filled into the drafts, which are taken over), so that a fresh export by
 * the same writer gives the same ones whatever the order and numbers in the
 * file, and the top component: the only one that nothing uses, else an unnamed one that holds all of those.
 */
export function keyGraph(
  drafts: readonly ComponentDraft[],
  { placed }: KeyOptions = { placed: true },
): Pick<Assembly, 'root' | 'components'> {
  const keys = componentKeys(drafts);
  const used = new Uint8Array(drafts.length);
  for (const { usages } of drafts) for (const { child } of usages) used[child] = 1;
  const orderKeys: UsageKey[] = [];
  const keyInOrder = (usage: DraftUsage, at: number) => {
    if (at === orderKeys.length) orderKeys.push(`.${at}` as UsageKey);
    usage.key = orderKeys[at];
  };
  const components = drafts.map((draft, index): Component => {
    if (placed) keyUsages(keys[index], draft.usages, keys);
    else draft.usages.forEach(keyInOrder);
    return { key: keys[index], ...draft };
  });
  const roots = [...drafts.keys()].filter((index) => used[index] === 0);
  if (roots.length <= 1) return { root: roots[0] ?? 0, components };
  return { root: components.length, components: [...components, unnamedTop(keys, roots)] };
}

/** @throws Refusal where the structure is cyclic, deeper than can be stored, or counts more than 2⁵³−1 */
export function refuseBrokenGraph(assembly: Pick<Assembly, 'components' | 'root'>): void {
  // A cycle that nothing leads to has no root at all, so it is looked for from a member.
  const reached = new Set(parentsFirst(assembly));
  const lost = assembly.components.findIndex((_, index) => !reached.has(index));
  if (lost >= 0) parentsFirst({ ...assembly, root: lost });
  occurrenceCounts(assembly);
}

function unnamedTop(keys: readonly ComponentKey[], roots: readonly number[]): Component {
  const key = hashKey('top', ...roots.map((index) => keys[index]).sort()) as ComponentKey;
  const usages = roots.map((child) => ({ key: NO_KEY, child, label: '', quantity: 1, placement: identityPlacement }));
  keyUsages(key, usages, keys);
  return {
    key,
    ...unnamed,
    usages,
  };
}

/** hash(product id); where ambiguous + name; then + shape; then + rank in file order. */
function componentKeys(drafts: readonly ComponentDraft[]): ComponentKey[] {
  const identities: ((draft: ComponentDraft) => string[])[] = [
    (one) => [one.partNumber],
    (one) => [one.partNumber, one.name],
    (one) => [one.partNumber, one.name, one.shape ?? ''],
  ];
  const keys = new Array<ComponentKey | null>(drafts.length).fill(null);
  let open = drafts.map((_, index) => index);
  identities.forEach((identity, level) => {
    const groups = groupBy(open, (index) =>
      level === 0 ? drafts[index].partNumber : JSON.stringify(identity(drafts[index])),
    );
    const last = level === identities.length - 1;
    open = [];
    for (const [, members] of groups) {
      // An empty product id says nothing: such parts are told apart by name at the earliest.
      if (members.length === 1 && (level > 0 || drafts[members[0]].partNumber)) {
        keys[members[0]] = hashKey('component', ...identity(drafts[members[0]])) as ComponentKey;
      } else if (last) {
        members.forEach(
          (index, rank) =>
            (keys[index] = hashKey('component', ...identity(drafts[index]), String(rank)) as ComponentKey),
        );
      } else for (const index of members) open.push(index);
    }
  });
  return keys as ComponentKey[];
}

/** hash(parent, child, label) + rank by placement among equals. */
function keyUsages(parent: ComponentKey, usages: readonly DraftUsage[], keys: readonly ComponentKey[]): void {
  const groups = groupBy(usages.keys(), (at) => `${usages[at].child} ${usages[at].label}`);
  for (const members of groups.values()) {
    const { child, label } = usages[members[0]];
    const base = hashKey('usage', parent, keys[child], label);
    rankByPlacement(members, usages).forEach((at, rank) => (usages[at].key = `${base}.${rank}` as UsageKey));
  }
}

const ORIGIN_FIRST = [3, 7, 11, 0, 1, 2, 4, 5, 6, 8, 9, 10];

/** By origin rounded to 0.001 mm, then by rotation rounded to 1e-6; equal ones stay in file order. */
function rankByPlacement(members: readonly number[], usages: readonly DraftUsage[]): readonly number[] {
  if (members.length === 1) return members;
  const rounded = new Map(
    members.map((at) => [
      at,
      ORIGIN_FIRST.map((entry, order) => Math.round(usages[at].placement[entry] * (order < 3 ? 1e3 : 1e6))),
    ]),
  );
  return [...members].sort((a, b) => {
    const one = rounded.get(a)!;
    const two = rounded.get(b)!;
    const differs = one.findIndex((value, at) => value !== two[at]);
    return differs < 0 ? 0 : one[differs] - two[differs];
  });
}
