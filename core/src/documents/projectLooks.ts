import type { Assembly } from '../assembly/index.ts';
import { lookAt, type Look, type LookRequest } from '../views/index.ts';
import { editedFor, type ProjectBillInput } from './projectBill.ts';

/** What is looked at, in a variant of the machine or (null) in the machine as a whole. */
export type VariantLook = LookRequest & { readonly variant: string | null };

/** What requests come to in a project as it stands; each variant is made once. */
export function projectLooks(
  inputs: Pick<ProjectBillInput, 'original' | 'edits' | 'facts'>,
  requests: readonly VariantLook[],
): Look[] {
  const machines = new Map<string | null, Assembly>();
  return requests.map(({ variant, ...request }) => {
    let assembly = machines.get(variant);
    if (!assembly) machines.set(variant, (assembly = editedFor(inputs, variant).assembly));
    return lookAt(assembly, request);
  });
}
