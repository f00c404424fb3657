import type { ComponentKey, Treatment, Treatments } from '../assembly/index.ts';
import type { Applied } from './applied.ts';

/** What was decided about components, for every bill and sheet of a project. */
export interface ComponentEdits {
  readonly version: 1;
  readonly treatments: Treatments;
}

export type ComponentCommand =
  /** How a component counts; null gives it back to the usual way (listed, contents counted). */
  | { readonly kind: 'setTreatment'; readonly component: ComponentKey; readonly treatment: Treatment | null };

export const newComponentEdits: ComponentEdits = { version: 1, treatments: {} };

export function applyComponentCommand(edits: ComponentEdits, { component, treatment }: ComponentCommand): Applied<ComponentEdits, ComponentCommand> {
  const { [component]: before, ...others } = edits.treatments;
  const treatments = treatment ? { ...others, [component]: treatment } : others;
  return { ok: true, document: { ...edits, treatments }, inverse: { kind: 'setTreatment', component, treatment: before ?? null } };
}

export const componentTouches = ({ component }: ComponentCommand): string[] => [`treatment ${component}`];
