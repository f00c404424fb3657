import { identityPlacement } from '../core/src/geometry/index.ts';
import {
  hashKey,
  type Assembly,
  type Component,
  type ComponentKey,
  type Properties,
  type ShapeKey,
  type UsageKey,
} from '../core/src/assembly/index.ts';

/** For tests: an assembly as nested words. A leaf is a part number; `{n: [[count, child], …]}` an assembly. */
export interface Plan {
  readonly number: string;
  readonly name?: string;
  readonly material?: string;
  readonly properties?: Properties;
  /** Equal words are one shape. */
  readonly shape?: string;
  readonly source?: Component['source'];
  readonly contents?: readonly (readonly [count: number, plan: Plan])[];
}
export const leaf = (number: string, more: Partial<Plan> = {}): Plan => ({ number, ...more });
export const node = (number: string, ...contents: (readonly [number, Plan])[]): Plan => ({ number, contents });

/** Each plan object becomes one component; the same object used twice is shared. */
export function assemblyOf(top: Plan): Assembly {
  const components: Component[] = [];
  const known = new Map<Plan, number>();
  const add = (plan: Plan): number => {
    const before = known.get(plan);
    if (before !== undefined) return before;
    const index = components.length;
    known.set(plan, index);
    components.push(null as never);
    let rank = 0;
    const usages = (plan.contents ?? []).flatMap(([count, child]) => {
      const at = add(child);
      return Array.from({ length: count }, () => ({
        key: `${hashKey('usage', String(index), String(at))}.${rank++}` as UsageKey,
        child: at,
        label: '',
        quantity: 1,
        placement: identityPlacement,
      }));
    });
    components[index] = {
      key: hashKey('component', plan.number, plan.name ?? '', String(index)) as ComponentKey,
      partNumber: plan.number,
      name: plan.name ?? '',
      description: '',
      revision: '',
      source: plan.source ?? null,
      shape: (plan.shape ?? null) as ShapeKey | null,
      properties: { ...(plan.material ? { Material: { value: plan.material } } : {}), ...plan.properties },
      usages,
    };
    return index;
  };
  const root = add(top);
  return { version: 1, schema: 'test', sourceUnit: 'mm', root, components, findings: [] };
}
