import { LRUCache } from 'lru-cache';
import { readStored, type StoredText } from '../../contract/src/index.ts';
import { Refusal, type Assembly } from '../../core/src/assembly/index.ts';
import { newComponentEdits, type ComponentEdits, type ProjectBillInput } from '../../core/src/documents/index.ts';
import { loadMeasures, type DerivedStore } from '../../engine/src/index.ts';
import { unpackAssembly } from './packedAssembly.ts';

type Store = Pick<DerivedStore, 'get'>;

// Structures are immutable and named by content: keeping a few unpacked is only a matter of speed.
const unpacked = new LRUCache<string, Assembly>({ max: 4 });

/** A structure as the file says it. @throws Refusal where it is not stored */
export async function openStructure(assemblyBlob: string, store: Store): Promise<Assembly> {
  let assembly = unpacked.get(assemblyBlob);
  if (!assembly) {
    const bytes = await store.get(assemblyBlob);
    if (!bytes) throw new Refusal('not-there', 'The structure of this project is not stored; import its file again.');
    unpacked.set(assemblyBlob, (assembly = unpackAssembly(bytes)));
  }
  return assembly;
}

/**
 * What the assembly and the bills of a project are computed from.
 * @param edits the document of component edits; null where there is none
 */
export async function openInputs(
  assemblyBlob: string,
  edits: StoredText | null,
  store: Store,
): Promise<Pick<ProjectBillInput, 'original' | 'edits' | 'facts'>> {
  const original = await openStructure(assemblyBlob, store);
  return {
    original,
    edits: edits ? (readStored(edits) as ComponentEdits) : newComponentEdits,
    facts: await loadMeasures(original, { store: store as DerivedStore }),
  };
}
