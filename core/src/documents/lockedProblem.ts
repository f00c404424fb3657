import { componentsAlong, partLabel, pathOf, type Assembly, type PathKey } from '../assembly/index.ts';
import type { SheetProblem } from '../sheets/index.ts';

/** What is held from all sides and moved all the same. */
export function lockedProblem({ original }: { readonly original: Assembly }, locked: readonly PathKey[]): SheetProblem {
  const names = locked.map((path) => {
    const along = componentsAlong(original, pathOf(path));
    return along ? partLabel(original.components[along[along.length - 1]]) : path;
  });
  const some = [...new Set(names)];
  return {
    code: 'locked',
    message: `${locked.length === 1 ? 'One thing is' : `${locked.length} things are`} held from all sides and moved all the same: ${some.slice(0, 6).join(', ')}${some.length > 6 ? ' …' : ''}.`,
    items: [],
  };
}
