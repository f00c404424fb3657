import type { Mesh } from '../../../core/src/geometry/index.ts';
import { unpackMesh } from '../../../core/src/formats/index.ts';

/** A mesh on its way between threads. */
export interface PackedMesh {
  /** What it is kept under; the same name means the same bytes. */
  readonly key: string;
  readonly bytes: Uint8Array;
}

/**
 * Meshes that a worker has used last, so that a second view of a machine, or one in which a few parts have moved, finds
 * them as they are: with their edges, surfaces and axes, which are worked out once per mesh.
 */
export class MeshShelf {
  private readonly kept = new Map<string, { readonly mesh: Mesh; readonly size: number }>();
  private size = 0;

  /** @param most packed bytes that are kept; what belongs to one piece of work is never dropped during it */
  constructor(private readonly most: number) {}

  /** The meshes in the order asked for. */
  take(packed: readonly PackedMesh[]): Mesh[] {
    const meshes = packed.map(({ key, bytes }) => {
      const known = this.kept.get(key);
      const entry = known ?? { mesh: unpackMesh(bytes), size: bytes.length };
      // The last one used stands last.
      if (known) this.kept.delete(key);
      else this.size += entry.size;
      this.kept.set(key, entry);
      return entry.mesh;
    });
    for (const [key, { size }] of this.kept) {
      if (this.size <= this.most) break;
      this.kept.delete(key);
      this.size -= size;
    }
    return meshes;
  }
}
