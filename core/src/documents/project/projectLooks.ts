import type { Assembly } from '../../assembly/index.ts';
import { lookAt, lookKey, type Look, type LookRequest } from '../../views/index.ts';
import { editedFor, type ProjectBillInput } from './projectBill.ts';

/** What is looked at, in a variant of the machine or (null) in the machine as a whole. */
type VariantLook = LookRequest & { readonly variant: string | null };

/** What requests come to in a project as it stands; each variant is made once. */
export function projectLooks(
  inputs: Pick<ProjectBillInput, 'original' | 'edits' | 'facts'>,
  requests: readonly VariantLook[],
): Look[] {
  const machineOf = machines(inputs);
  return requests.map(({ variant, ...request }) => lookAt(machineOf(variant), request));
}

/** Their keys alone: a large machine is not listed for each of them. */
export function projectLookKeys(
  inputs: Pick<ProjectBillInput, 'original' | 'edits' | 'facts'>,
  requests: readonly VariantLook[],
): string[] {
  const machineOf = machines(inputs);
  return requests.map(({ variant, ...request }) => lookKey(machineOf(variant), request));
}

function machines(
  inputs: Pick<ProjectBillInput, 'original' | 'edits' | 'facts'>,
): (variant: string | null) => Assembly {
  const made = new Map<string | null, Assembly>();
  return (variant) => {
    let assembly = made.get(variant);
    if (!assembly) made.set(variant, (assembly = editedFor(inputs, variant).assembly));
    return assembly;
  };
}
