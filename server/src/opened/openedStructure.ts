import { LRUCache } from 'lru-cache';
import { readStored, type StoredText } from '../../../contract/src/index.ts';
import { occurrenceCounts, Refusal, type Assembly } from '../../../core/src/assembly/index.ts';
import { newComponentEdits, type ComponentEdits, type ProjectBillInput } from '../../../core/src/documents/index.ts';
import { loadMeasures, type DerivedStore } from '../../../engine/src/index.ts';
import { unpackAssembly, type Unpacked } from './packedAssembly.ts';

type Store = Pick<DerivedStore, 'get'>;

// Structures are immutable and named by content: keeping a few unpacked is only a matter of speed.
const unpacked = new LRUCache<string, Unpacked>({ max: 4 });

/** A structure as the file says it. @throws Refusal where it is not stored */
export const openStructure = async (assemblyBlob: string, store: Store): Promise<Assembly> =>
  (await opened(assemblyBlob, store)).assembly;

async function opened(assemblyBlob: string, store: Store): Promise<Unpacked> {
  let found = unpacked.get(assemblyBlob);
  if (!found) {
    const bytes = await store.get(assemblyBlob);
    if (!bytes) throw new Refusal('not-there', 'The structure of this project is not stored; import its file again.');
    unpacked.set(assemblyBlob, (found = unpackAssembly(bytes)));
  }
  return found;
}

/** What looking at a place costs, beside reading a letter of the structure. */
const LETTERS_OF_PLACE = 100;
/**
 * How much a structure is, in letters of JSON: what it is written in, and what its places come to when they are listed.
 * They are counted along the graph, not listed: a few hundred bytes may be a hundred thousand places.
 */
export async function weightOf(assemblyBlob: string, store: Store): Promise<number> {
  const { assembly, letters } = await opened(assemblyBlob, store);
  const places = occurrenceCounts(assembly).reduce((sum, count) => sum + count, 0);
  return letters + places * LETTERS_OF_PLACE;
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
