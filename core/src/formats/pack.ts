/** The arrays that a packed record may hold. */
type PackedArray = Float64Array | Float32Array | Uint32Array | Int32Array | Uint8Array;
const kinds = { f64: Float64Array, f32: Float32Array, u32: Uint32Array, i32: Int32Array, u8: Uint8Array } as const;
type Kind = keyof typeof kinds;

const MARK = 'SLB1';

/**
 * One block of bytes: the mark `SLB1`, the length of a JSON text (u32, little endian), the JSON text `{values, arrays:
 * [[name, kind, length], …]}`, then each array from the next multiple of 8 bytes on.
 */
export function packRecord(values: unknown, arrays: Readonly<Record<string, PackedArray>>): Uint8Array {
  const list = Object.entries(arrays).map(([name, array]) => [name, kindOf(array), array.length] as const);
  const head = new TextEncoder().encode(JSON.stringify({ values, arrays: list }));
  let size = align(8 + head.length);
  for (const array of Object.values(arrays)) size = align(size + array.byteLength);
  const bytes = new Uint8Array(size);
  bytes.set(new TextEncoder().encode(MARK));
  new DataView(bytes.buffer).setUint32(4, head.length, true);
  bytes.set(head, 8);
  let at = align(8 + head.length);
  for (const array of Object.values(arrays)) {
    bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at);
    at = align(at + array.byteLength);
  }
  return bytes;
}

/** @throws RangeError where the bytes are no packed record or are cut off */
export function unpackRecord(bytes: Uint8Array): { values: unknown; arrays: Record<string, PackedArray> } {
  if (bytes.length < 8 || new TextDecoder().decode(bytes.subarray(0, 4)) !== MARK)
    throw new RangeError(`Not a packed record: it begins with ${[...bytes.subarray(0, 4)].join(' ')}.`);
  // Arrays need their own alignment, which a slice of a network buffer may not have.
  const own = bytes.byteOffset % 8 === 0 ? bytes : bytes.slice();
  const headSize = new DataView(own.buffer, own.byteOffset).getUint32(4, true);
  const head = JSON.parse(new TextDecoder().decode(own.subarray(8, 8 + headSize))) as {
    values: unknown;
    arrays: [string, Kind, number][];
  };
  const arrays: Record<string, PackedArray> = {};
  let at = align(8 + headSize);
  for (const [name, kind, length] of head.arrays) {
    const make = kinds[kind];
    if (at + length * make.BYTES_PER_ELEMENT > own.length)
      throw new RangeError(`The packed record is cut off inside “${name}”.`);
    arrays[name] = new make(own.buffer as ArrayBuffer, own.byteOffset + at, length);
    at = align(at + length * make.BYTES_PER_ELEMENT);
  }
  return { values: head.values, arrays };
}

const align = (size: number): number => (size + 7) & ~7;

function kindOf(array: PackedArray): Kind {
  for (const [kind, make] of Object.entries(kinds)) if (array instanceof make) return kind as Kind;
  throw new RangeError('Only plain typed arrays can be packed.');
}
