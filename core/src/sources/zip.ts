import { Unzip, UnzipInflate } from 'fflate';
import { Refusal } from '../assembly/index.ts';

export interface ZipBounds {
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
      if (error) throw (error as Error) instanceof Refusal ? error : damaged(error.message);
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
    throw damaged((error as Error).message);
  }
  if (open.size > 0) throw damaged(`“${[...open][0]}” is cut off`);
  return new Map([...found].map(([name, pieces]) => [name, joined(pieces)]));
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
