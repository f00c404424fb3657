import { readFile, writeFile } from 'node:fs/promises';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

export async function readBytes(file: string): Promise<Uint8Array> {
  const bytes = await readFile(file).catch((error: NodeJS.ErrnoException) => {
    throw error.path ? error : Object.assign(error, { path: file });
  });
  return new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length); // the same bytes, not a second copy of them
}

/** Writes a result, or its pieces one after the other, to a file or to standard output. */
export async function write(result: string | Uint8Array | Iterable<string>, output: string | undefined): Promise<void> {
  if (output) return writeFile(output, result);
  for (const piece of typeof result === 'string' || result instanceof Uint8Array ? [result] : result)
    if (!(await toStandardOutput(piece))) return;
}

// A reader that leaves early is no fault of ours; the write itself tells of it.
process.stdout.on('error', () => {});

/** False when nobody reads it any more, as behind `| head`. */
const toStandardOutput = (piece: string | Uint8Array): Promise<boolean> =>
  new Promise((resolve, reject) =>
    process.stdout.write(piece, (error) => {
      if (error && (error as NodeJS.ErrnoException).code !== 'EPIPE') reject(error);
      else resolve(!error);
    }),
  );
export const json = (value: unknown): string => `${JSON.stringify(value)}\n`;

/**
 * Frees now what nothing holds any more. The bytes of a large file, and what reading them needed, would otherwise be
 * kept until the collector finds time, while the rows made of it already take their own room.
 */
export function collectGarbage(): void {
  setFlagsFromString('--expose-gc');
  (runInNewContext('gc') as () => void)();
}
