import { parentsFirst } from './counts.ts';
import type { StructureEdits } from './edited.ts';
import type { Assembly, ComponentKey, PathKey, Properties } from './records.ts';
import { treatmentFor, type Treatment } from './treatments.ts';

/** One build of a model: what it leaves out, what it exchanges, and what it says otherwise. */
export interface Variant {
  /** In lists and headings. */
  readonly name: string;
  /** Components that this build has nowhere, and single places that it lacks. */
  readonly without: readonly ComponentKey[];
  /** Single places that it lacks. */
  readonly withoutPlaces: readonly PathKey[];
  /** Component → the one that takes its place everywhere. */
  readonly exchanged: Readonly<Record<ComponentKey, ComponentKey>>;
  /** Properties that it replaces. */
  readonly typed: Readonly<Record<ComponentKey, Properties>>;
}

/**
 * The file's assembly and the drafter's edits as a variant has them; to be laid over each other by editAssembly.
 * Components keep their indices. An exchange that would put a thing into itself is left out.
 */
export function applyVariant(
  assembly: Assembly,
  edits: StructureEdits,
  variant: Variant,
): { assembly: Assembly; edits: StructureEdits } {
  const leftOut = treatmentFor('left out');
  const laid = <Key extends string>(under: Readonly<Record<Key, Treatment>>, keys: readonly Key[]) =>
    ({ ...under, ...Object.fromEntries(keys.map((key) => [key, leftOut])) }) as Record<Key, Treatment>;
  const typed: Record<ComponentKey, Properties> = { ...edits.typed };
  for (const [key, properties] of Object.entries(variant.typed))
    typed[key as ComponentKey] = { ...typed[key as ComponentKey], ...properties };
  return {
    assembly: {
      ...exchange(assembly, variant.exchanged),
      absent: { components: variant.without, places: variant.withoutPlaces },
    },
    edits: {
      ...edits,
      typed,
      treatments: laid(edits.treatments, variant.without),
      placeTreatments: laid(edits.placeTreatments, variant.withoutPlaces),
    },
  };
}

function exchange(assembly: Assembly, exchanged: Readonly<Record<ComponentKey, ComponentKey>>): Assembly {
  const indexOf = new Map(assembly.components.map(({ key }, index) => [key, index]));
  let made = assembly;
  for (const [from, to] of Object.entries(exchanged) as [ComponentKey, ComponentKey][]) {
    const [old, other] = [indexOf.get(from), indexOf.get(to)];
    if (old === undefined || other === undefined || old === made.root) continue;
    const components = made.components.map((component) =>
      component.usages.some(({ child }) => child === old)
        ? {
            ...component,
            usages: component.usages.map((usage) => (usage.child === old ? { ...usage, child: other } : usage)),
          }
        : component,
    );
    try {
      parentsFirst({ components, root: made.root });
      made = { ...made, components };
    } catch {
      // The new one holds the old one's parent: there is no such machine.
    }
  }
  return made;
}
