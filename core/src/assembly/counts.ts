import { isAssembly, partLabel, type Assembly } from './records.ts';
import { Refusal } from './refusal.ts';

/** Deeper nesting is refused: no machine has it, and paths are stored. */
export const MAX_LEVELS = 512;

/**
 * Component indices so that every parent comes before its children.
 * @throws Refusal when the structure is cyclic (names the members) or deeper than MAX_LEVELS
 */
export function parentsFirst(assembly: Pick<Assembly, 'components' | 'root'>): Int32Array {
  const { components, root } = assembly;
  const state = new Uint8Array(components.length); // 0 unseen, 1 on the path, 2 done
  const depthBelow = new Int32Array(components.length); // levels below, leaf = 0
  const order: number[] = [];
  const path: number[] = [root];
  const next: number[] = [0];
  state[root] = 1;
  while (path.length > 0) {
    const at = path[path.length - 1];
    const { usages } = components[at];
    const step = next[next.length - 1]++;
    if (step < usages.length) {
      const child = usages[step].child;
      if (state[child] === 1) {
        const loop = path.slice(path.indexOf(child)).map((index) => partLabel(components[index]));
        throw new Refusal(
          'cyclic-structure',
          `The structure is cyclic: ${listLoop(loop)}. Ask for a new export; nothing was stored.`,
        );
      }
      if (state[child] === 0) {
        state[child] = 1;
        path.push(child);
        next.push(0);
      } else {
        depthBelow[at] = Math.max(depthBelow[at], depthBelow[child] + 1);
      }
      continue;
    }
    path.pop();
    next.pop();
    state[at] = 2;
    order.push(at);
    if (path.length > 0) {
      const parent = path[path.length - 1];
      depthBelow[parent] = Math.max(depthBelow[parent], depthBelow[at] + 1);
    }
  }
  if (depthBelow[root] > MAX_LEVELS) {
    throw new Refusal('too-deep', `The structure is ${depthBelow[root]} levels deep; up to ${MAX_LEVELS} can be read.`);
  }
  return Int32Array.from(order.reverse());
}

function listLoop(labels: string[]): string {
  const shown = labels.length > 6 ? [...labels.slice(0, 5), '…', labels[labels.length - 1]] : labels;
  return shown.map((label) => `“${label}”`).join(' contains ') + ` contains “${labels[0]}” again`;
}

/**
 * How many times each component occurs in the whole machine, by multiplying along the shared graph; 0 where it is
 * not below the root. Indexed like `components`.
 * @throws Refusal where a count passes 2⁵³−1, since it could no longer be exact
 */
export function occurrenceCounts(
  assembly: Pick<Assembly, 'components' | 'root'>,
  order = parentsFirst(assembly),
): Float64Array {
  const counts = new Float64Array(assembly.components.length);
  counts[assembly.root] = 1;
  for (const at of order) {
    for (const usage of assembly.components[at].usages) {
      counts[usage.child] += counts[at] * usage.quantity;
      if (counts[usage.child] > Number.MAX_SAFE_INTEGER) {
        throw new Refusal(
          'count-too-large',
          `“${partLabel(assembly.components[usage.child])}” occurs more often than can be counted exactly (2⁵³−1).`,
        );
      }
    }
  }
  return counts;
}

/**
 * Totals of an assembly: occurrences of parts (components without contents), different parts, different assemblies. What
 * is only drawn in a layout is none.
 */
export function structureTotals(assembly: Assembly): { leafOccurrences: number; parts: number; assemblies: number } {
  const counts = occurrenceCounts(assembly);
  const totals = { leafOccurrences: 0, parts: 0, assemblies: 0 };
  assembly.components.forEach((component, index) => {
    if (counts[index] === 0 || component.drawn) return;
    if (isAssembly(component)) totals.assemblies++;
    else {
      totals.parts++;
      totals.leafOccurrences += counts[index];
    }
  });
  if (totals.leafOccurrences > Number.MAX_SAFE_INTEGER) {
    throw new Refusal('count-too-large', 'The machine has more parts than can be counted exactly (2⁵³−1).');
  }
  return totals;
}
