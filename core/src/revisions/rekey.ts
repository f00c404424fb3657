import {
  findingKey,
  hashKey,
  type Assembly,
  type Component,
  type ComponentKey,
  type Finding,
  type Usage,
} from '../assembly/index.ts';
import { composePlacements, type Placement } from '../geometry/index.ts';
import { samePrint, shiftOf } from './prints.ts';
import type { Pair, Recognition } from './records.ts';
import { samePlacement } from './usages.ts';

/**
 * The later assembly under the keys that the project's documents know: what was recognised has the key that it had,
 * what is new its own, or another where the project has used that for something else. What is the same but for noise
 * (places, shapes that another writer wrote) is exactly what it was, so that nothing is made or drawn again for it.
 * @param ever components that this project had before, by their keys; what is new gets none of these, unless it is what
 *   was there under that key, come back
 */
export function withProjectKeys(
  pair: Pair,
  recognition: Recognition,
  ever: ReadonlyMap<ComponentKey, Pick<Component, 'partNumber' | 'name'>> = new Map(),
): Assembly {
  const { before } = pair;
  const after = withKeptShapes(pair, recognition.components);
  const taken = new Set<string>(before.components.map(({ key }) => key));
  const others = new Set<string>([...ever.keys(), ...taken]);
  const keys = after.components.map(({ key, partNumber, name }, index): ComponentKey => {
    const was = recognition.components[index];
    if (was >= 0) return before.components[was].key;
    const once = ever.get(key);
    if (once && once.partNumber === partNumber && once.name === name && !taken.has(key)) {
      taken.add(key);
      return key;
    }
    return freeKey(key, 'component', others);
  });
  const takenUsages = new Set<string>(before.components.flatMap(({ usages }) => usages.map(({ key }) => key)));
  const components = after.components.map((component, index): Component => {
    const was = recognition.components[index] < 0 ? null : before.components[recognition.components[index]];
    const usages = component.usages.map((usage, at): Usage => {
      const found = recognition.usages[index][at];
      if (!was || found < 0) return { ...usage, key: freeKey(usage.key, 'usage', takenUsages) };
      const { key, placement } = was.usages[found];
      return { ...usage, key, placement: samePlacement(placement, usage.placement) ? placement : usage.placement };
    });
    return { ...component, key: keys[index], usages };
  });
  const keyNow = new Map(after.components.map(({ key }, index) => [key, keys[index]]));
  const renamed = (list: readonly ComponentKey[]) => list.map((key) => keyNow.get(key) ?? key);
  const findings = after.findings.map((finding): Finding => {
    if (!finding.components) return finding;
    const { code, components: about, groups, key } = finding;
    const own = key === findingKey(code, about); // then it is named by what it is about, and goes by project keys too
    return {
      ...finding,
      ...(own ? { key: findingKey(code, renamed(about)) } : {}),
      components: renamed(about),
      ...(groups ? { groups: groups.map(renamed) } : {}),
    };
  });
  return { ...after, components, findings };
}

function freeKey<Key extends string>(key: Key, kind: string, taken: Set<string>): Key {
  let free = key;
  for (let rank = 1; taken.has(free); rank++) free = `${hashKey(kind, key, String(rank))}${key.slice(32)}` as Key;
  taken.add(free);
  return free;
}

/**
 * The later assembly with the shapes that the earlier one had where they are the same, and what uses them placed so that
 * all stands where it stands: a shape that only moved in its own coordinates has moved, and is no other one.
 * @param components for every component of the later assembly its index in the earlier one, −1 for one that is new
 */
export function withKeptShapes({ before, after, prints }: Pair, components: Int32Array): Assembly {
  const shifts = new Map<number, Placement>();
  const kept = after.components.map((component, index): Component => {
    const was = components[index] < 0 ? null : before.components[components[index]].shape;
    if (!was || !component.shape || was === component.shape) return component;
    const [one, other] = [prints.get(was), prints.get(component.shape)];
    if (!one || !other || !samePrint(one, other)) return component;
    const shift = shiftOf(one, other);
    // What holds other things, or nothing holds, cannot be shifted without them.
    if (shift && (component.usages.length > 0 || index === after.root)) return component;
    if (shift) shifts.set(index, [1, 0, 0, shift[0], 0, 1, 0, shift[1], 0, 0, 1, shift[2]]);
    return { ...component, shape: was };
  });
  const moved = (usage: Usage): Usage => {
    const shift = shifts.get(usage.child);
    return shift ? { ...usage, placement: composePlacements(usage.placement, shift) } : usage;
  };
  return {
    ...after,
    components:
      shifts.size === 0 ? kept : kept.map((component) => ({ ...component, usages: component.usages.map(moved) })),
  };
}
