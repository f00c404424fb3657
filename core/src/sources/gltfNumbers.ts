import { Refusal } from '../assembly/index.ts';
import type { Gltf } from './gltfRecords.ts';

/** So often all meshes together may take what the buffers hold. */
const SHARED = 16;
const SPARE = 1 << 20; // bytes

/** Numbers out of the buffers of a glTF asset, never more of them than a small multiple of what the buffers hold. */
export class GltfNumbers {
  /** Names of other files that buffers stand in. */
  readonly missing = new Set<string>();
  private readonly buffers = new Map<number, Uint8Array | null>();
  /** Bytes of the buffers that were opened, and bytes that were taken out of them. */
  private held = 0;
  private taken = 0;

  constructor(
    private readonly json: Gltf,
    private readonly binary: Uint8Array | null,
  ) {}

  /** Values of an accessor as plain numbers; null where it, or what it stands in, is missing or too short. */
  values(index: number | undefined, width: number): Float64Array | null {
    const accessor = index === undefined ? undefined : this.json.accessors?.[index];
    const view = accessor?.bufferView === undefined ? undefined : this.json.bufferViews?.[accessor.bufferView];
    const kind = accessor && COMPONENTS[accessor.componentType];
    if (
      !accessor ||
      !view ||
      !kind ||
      accessor.sparse !== undefined ||
      accessor.type !== (width === 3 ? 'VEC3' : 'SCALAR') ||
      !Number.isInteger(accessor.count) ||
      accessor.count < 0
    )
      return null;
    const buffer = this.buffer(view.buffer);
    const start = (view.byteOffset ?? 0) + (accessor.byteOffset ?? 0),
      stride = view.byteStride ?? kind.size * width;
    // Elements that lie over one another would let a few bytes say they are any number of them.
    if (!buffer || !(stride >= kind.size * width)) return null;
    if (!Number.isInteger(start) || start < 0 || !Number.isInteger(stride)) return null;
    if (start + (accessor.count - 1) * stride + kind.size * width > buffer.length) return null;
    this.countTaken(accessor.count * kind.size * width);
    const data = new DataView(buffer.buffer, buffer.byteOffset, buffer.byteLength);
    const values = new Float64Array(accessor.count * width);
    for (let at = 0; at < accessor.count; at++) {
      for (let axis = 0; axis < width; axis++) {
        const value = kind.read(data, start + at * stride + axis * kind.size);
        values[at * width + axis] = accessor.normalized ? Math.max(value / kind.most, -1) : value;
      }
    }
    return values;
  }

  /** @throws Refusal where meshes take the same bytes so often that no file means it */
  private countTaken(bytes: number): void {
    this.taken += bytes;
    if (this.taken > SHARED * this.held + SPARE)
      throw new Refusal(
        'shapes-too-large',
        'The meshes of the glTF file take far more points than its buffers hold, since many share the same. No model is like that, so it is refused; nothing was stored.',
      );
  }

  private buffer(index: number): Uint8Array | null {
    let buffer = this.buffers.get(index);
    if (buffer === undefined) {
      this.buffers.set(index, (buffer = this.openBuffer(index)));
      this.held += buffer?.length ?? 0;
    }
    return buffer;
  }

  private openBuffer(index: number): Uint8Array | null {
    const uri = this.json.buffers?.[index]?.uri as unknown;
    if (typeof uri !== 'string') return index === 0 ? this.binary : null;
    const data = /^data:[^,]*;base64,/.exec(uri);
    if (!data) {
      if (!uri.startsWith('data:')) this.missing.add(uri.split('/').at(-1)!.slice(0, 200));
      return null;
    }
    try {
      return Uint8Array.from(atob(uri.slice(data[0].length)), (letter) => letter.charCodeAt(0));
    } catch {
      return null;
    }
  }
}

interface ComponentReading {
  readonly size: number;
  readonly most: number;
  readonly read: (data: DataView, at: number) => number;
}
const COMPONENTS: Readonly<Record<number, ComponentReading>> = {
  5120: { size: 1, most: 127, read: (data, at) => data.getInt8(at) },
  5121: { size: 1, most: 255, read: (data, at) => data.getUint8(at) },
  5122: { size: 2, most: 32767, read: (data, at) => data.getInt16(at, true) },
  5123: { size: 2, most: 65535, read: (data, at) => data.getUint16(at, true) },
  5125: { size: 4, most: 1, read: (data, at) => data.getUint32(at, true) },
  5126: { size: 4, most: 1, read: (data, at) => data.getFloat32(at, true) },
};
