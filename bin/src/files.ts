import { readFile, writeFile } from 'node:fs/promises';

export async function readBytes(file: string): Promise<Uint8Array> {
  const bytes = await readFile(file).catch((error: NodeJS.ErrnoException) => {
    throw error.path ? error : Object.assign(error, { path: file });
  });
  return new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length); // the same bytes, not a second copy of them
}

export async function write(result: string | Uint8Array, output: string | undefined): Promise<void> {
  if (output) await writeFile(output, result);
  else await new Promise<void>((resolve, reject) => process.stdout.write(result, (error) => (error && (error as NodeJS.ErrnoException).code !== 'EPIPE' ? reject(error) : resolve())));
}
export const json = (value: unknown): string => `${JSON.stringify(value)}\n`;
