import { composePlacements, identityPlacement, type Placement } from '../geometry/index.ts';
import type { Assembly, Component, Usage, UsageKey, ComponentIndex } from './records.ts';
import { occurrenceCounts } from './counts.ts';
import { Refusal } from './refusal.ts';

/** One thing in the machine that has a shape: a part, or an assembly with geometry of its own. */
export interface Occurrence {
  /** Usage keys from the root down; empty when the root itself is the part. */
  readonly path: readonly UsageKey[];
  /** Component indices along the path, root first; one longer than `path`. */
  readonly components: readonly ComponentIndex[];
  /** Own coordinates to machine coordinates. */
  readonly placement: Placement;
  /** 0xRRGGBB given to this occurrence, or to what it stands in; absent where its shape's own colours hold. */
  readonly colour?: number;
}

/** Views and pictures hold every occurrence in memory; beyond this they are refused rather than run out of it. */
const MAX_SHOWN_OCCURRENCES = 250_000;

/**
 * Every occurrence of a component for which `wanted` holds, in structure order, without what a variant lacks. A usage
 * that carries a quantity is one occurrence here: the file places it once.
 * @throws Refusal beyond MAX_SHOWN_OCCURRENCES
 */
export function listOccurrences(assembly: Assembly, wanted: (component: ComponentIndex) => boolean): Occurrence[] {
  refuseTooMany(assembly, wanted);
  const found: Occurrence[] = [];
  const isAbsent = absence(assembly);
  const stack: Occurrence[] = [
    { path: [], components: [assembly.root], placement: assembly.turn ?? identityPlacement },
  ];
  while (stack.length > 0) {
    const here = stack.pop()!;
    const at = here.components[here.components.length - 1];
    if (wanted(at)) found.push(here);
    const { usages } = assembly.components[at];
    for (let step = usages.length - 1; step >= 0; step--) {
      const usage = usages[step];
      if (isAbsent?.(usage.child, [...here.path, usage.key])) continue;
      stack.push({
        path: [...here.path, usage.key],
        components: [...here.components, usage.child],
        placement: composePlacements(here.placement, usage.placement),
        ...(usage.colour !== undefined
          ? { colour: usage.colour }
          : here.colour !== undefined
            ? { colour: here.colour }
            : {}),
      });
    }
  }
  return found;
}

/** Whether a variant lacks what stands at a path; null where it lacks nothing. */
function absence({
  absent,
  components,
}: Assembly): ((child: ComponentIndex, path: readonly UsageKey[]) => boolean) | null {
  if (!absent || absent.components.length + absent.places.length === 0) return null;
  const gone = new Set(absent.components),
    places = new Set<string>(absent.places);
  return (child, path) => gone.has(components[child].key) || (places.size > 0 && places.has(path.join('/')));
}

/**
 * Counted along the shared graph before anything is expanded; nodes without a shape cost walking time, so they count
 * too.
 * @throws Refusal beyond MAX_SHOWN_OCCURRENCES
 */
export function refuseTooMany(assembly: Assembly, wanted: (component: ComponentIndex) => boolean): void {
  const counts = occurrenceCounts(assembly);
  let shown = 0;
  let walked = 0;
  counts.forEach((count, component) => {
    walked += count;
    if (wanted(component)) shown += count;
  });
  if (shown > MAX_SHOWN_OCCURRENCES || walked > 8 * MAX_SHOWN_OCCURRENCES) {
    throw new Refusal(
      'too-many-occurrences',
      `The machine has ${shown} occurrences with a shape; up to ${MAX_SHOWN_OCCURRENCES} can be drawn. The bill can still be made.`,
    );
  }
}

/** From so many usages on they are looked up by a table. */
const MANY = 16;
const tables = new WeakMap<readonly Usage[], ReadonlyMap<UsageKey, Usage>>();

/** A usage by its key: in a flat machine of thousands of places each balloon asks for one in every frame. */
function usageIn({ usages }: Component, wanted: UsageKey): Usage | undefined {
  if (usages.length < MANY) return usages.find(({ key }) => key === wanted);
  let table = tables.get(usages);
  if (!table) tables.set(usages, (table = new Map(usages.map((usage) => [usage.key, usage]))));
  return table.get(wanted);
}

/** Component indices along a path of usage keys, root first; null where the path is not in this assembly. */
export function componentsAlong(assembly: Assembly, path: readonly UsageKey[]): ComponentIndex[] | null {
  const along = [assembly.root];
  for (const key of path) {
    const usage = usageIn(assembly.components[along[along.length - 1]], key);
    if (!usage) return null;
    along.push(usage.child);
  }
  return along;
}

/**
 * The last usage of a path: what the file says of that one place; null where the path is empty or not in this
 * assembly.
 */
export function usageAt(assembly: Assembly, path: readonly UsageKey[]): Usage | null {
  const along = componentsAlong(assembly, path.slice(0, -1));
  return (
    (along && path.length > 0 && usageIn(assembly.components[along[along.length - 1]], path[path.length - 1])) || null
  );
}

/** Placement of the last component of a path in the machine; null where the path is not in this assembly. */
export function placementAlong(assembly: Assembly, path: readonly UsageKey[]): Placement | null {
  let at = assembly.root;
  let placement = assembly.turn ?? identityPlacement;
  for (const key of path) {
    const usage = usageIn(assembly.components[at], key);
    if (!usage) return null;
    placement = composePlacements(placement, usage.placement);
    at = usage.child;
  }
  return placement;
}
