import { Unzip, UnzipInflate } from 'fflate';
import { Refusal } from '../assembly/index.ts';

interface ZipBounds {
  /** Most bytes that all wanted entries may unpack to. */
  readonly bytes: number;
  /** Most entries of any kind. */
  readonly entries: number;
}
const BOUNDS: ZipBounds = { bytes: 600_000_000, entries: 10_000 };
/**
 * Packed bytes fed at a time: so much can at most be inflated before the bound is looked at again (about 1000-fold).
 */
const PIECE = 1 << 16;

/**
 * The wanted entries of a ZIP archive. What an archive says about its sizes is not believed: unpacking stops at the
 * bounds.
 * @throws Refusal for damaged archives, and for ones that unpack to more than a model does
 */
export function unzipBounded(
  bytes: Uint8Array,
  wanted: (name: string) => boolean,
  bounds: ZipBounds = BOUNDS,
): Map<string, Uint8Array> {
  const found = new Map<string, Uint8Array[]>();
  const open = new Set<string>();
  let unpacked = 0,
    entries = 0;
  const tooLarge = () =>
    new Refusal(
      'archive-too-large',
      `The archive unpacks to more than ${Math.round(bounds.bytes / 1e6)} MB or ${bounds.entries} entries; no model is like that, so it is refused. Nothing was stored.`,
    );
  const unzip = new Unzip((file) => {
    if (++entries > bounds.entries) throw tooLarge();
    if (!wanted(file.name)) return;
    const pieces: Uint8Array[] = [];
    found.set(file.name, pieces);
    open.add(file.name);
    file.ondata = (error, data, final) => {
      // What is thrown here comes back as such an error
      if (error) throw (error as Error) instanceof Refusal ? error : damaged(`“${file.name}” cannot be unpacked`);
      unpacked += data.length;
      if (unpacked > bounds.bytes) throw tooLarge();
      pieces.push(data);
      if (final) open.delete(file.name);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length; at += PIECE)
      unzip.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length);
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw damaged('its entries cannot be unpacked');
  }
  if (open.size > 0) throw damaged(`“${[...open][0]}” is cut off`);
  const made = new Map([...found].map(([name, pieces]) => [name, joined(pieces)]));
  const sums = checksums(bytes);
  for (const [name, content] of made)
    if (sums.get(name) !== crc32(content)) throw damaged(`“${name}” is not what was packed: its checksum differs`);
  return made;
}

const DIRECTORY = 0x02014b50,
  DIRECTORY_END = 0x06054b50;
/** Fixed parts of an entry of the directory, and of its end, which a comment of up to 65535 bytes may follow. */
const ENTRY = 46,
  END = 22;

/** CRC-32 of every entry as the archive's directory says it. Source: APPNOTE 4.3.12 and 4.3.16. */
function checksums(bytes: Uint8Array): Map<string, number> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let end = bytes.length - END;
  const first = Math.max(0, end - 0xffff);
  while (end >= first && view.getUint32(end, true) !== DIRECTORY_END) end--;
  if (end < first) throw damaged('its directory is missing');
  const sums = new Map<string, number>();
  let at = view.getUint32(end + 16, true);
  while (at + ENTRY <= end && view.getUint32(at, true) === DIRECTORY) {
    const nameLength = view.getUint16(at + 28, true);
    const name = bytes.subarray(at + ENTRY, at + ENTRY + nameLength);
    sums.set(new TextDecoder().decode(name), view.getUint32(at + 16, true));
    at += ENTRY + nameLength + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
  }
  return sums;
}

const TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let rest = byte;
  for (let bit = 0; bit < 8; bit++) rest = rest & 1 ? (rest >>> 1) ^ 0xedb88320 : rest >>> 1;
  return rest;
});
/** CRC-32 as ZIP uses it (ISO 3309). */
export function crc32(bytes: Uint8Array): number {
  let rest = 0xffffffff;
  for (let at = 0; at < bytes.length; at++) rest = TABLE[(rest ^ bytes[at]) & 255] ^ (rest >>> 8);
  return ~rest >>> 0;
}

const damaged = (why: string): Refusal =>
  new Refusal('damaged-archive', `The archive is damaged (${why}). Copy or export it again; nothing was stored.`);

function joined(pieces: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0));
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}
