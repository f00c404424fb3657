import { componentsAlong, groupBy, partLabel, pathOf, type Assembly, type PathKey } from '../../assembly/index.ts';
import type { SheetProblem } from '../../sheets/index.ts';

/** So many components are named in a sentence. */
const NAMED = 6;

/** What is held from all sides and moved all the same, each component once with the count of its places. */
function heldComponents(
  assembly: Assembly,
  locked: readonly PathKey[],
): { readonly label: string; readonly places: number }[] {
  const byComponent = groupBy(locked, (path) => componentsAlong(assembly, pathOf(path))?.at(-1) ?? -1);
  return [...byComponent].map(([component, paths]) => ({
    label: component < 0 ? 'a part' : partLabel(assembly.components[component]),
    places: paths.length,
  }));
}

/** The same as sentences, one for each component. */
export const heldSentences = (assembly: Assembly, locked: readonly PathKey[]): string[] =>
  heldComponents(assembly, locked).map(({ label, places }) =>
    places === 1
      ? `${label} is held from all sides; it is moved all the same.`
      : `${label} is held from all sides in ${places} places; it is moved all the same.`,
  );

/** The same as what is wrong with a sheet. */
export function lockedProblem({ original }: { readonly original: Assembly }, locked: readonly PathKey[]): SheetProblem {
  const held = heldComponents(original, locked);
  const some = held.slice(0, NAMED).map(({ label, places }) => (places === 1 ? label : `${label} (${places} places)`));
  return {
    code: 'locked',
    message: `${locked.length === 1 ? 'One thing is' : `${locked.length} things are`} held from all sides and moved all the same: ${some.join(', ')}${held.length > NAMED ? ' …' : ''}.`,
    items: [],
  };
}
