import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { MAX_FILE } from '../../../contract/src/index.ts';
import { TooLarge } from '../errors.ts';

/** A file that has come in whole. */
interface Received {
  readonly path: string;
  /** Bytes. */
  readonly size: number;
  /** SHA-256 of its bytes, in hexadecimal. */
  readonly hash: string;
}

/**
 * Takes the body of a request to disk as it comes, has it used, and takes it away again.
 * @param folder where files that come in are kept meanwhile; made where it is missing
 * @throws TooLarge before anything is read where the size that is declared is too large, or when what came is
 */
export async function receiveFile<Result>(
  request: IncomingMessage,
  folder: string,
  use: (file: Received) => Promise<Result>,
): Promise<Result> {
  const tooLarge = () =>
    new TooLarge(`The file is larger than ${MAX_FILE / 1024 / 1024} MB; that is more than can be read.`);
  if (Number(request.headers['content-length'] ?? 0) > MAX_FILE) throw tooLarge();
  await mkdir(folder, { recursive: true });
  const path = join(folder, randomUUID());
  const hash = createHash('sha256');
  let size = 0;
  const count = new Transform({
    transform(chunk: Buffer, _, next) {
      size += chunk.length;
      hash.update(chunk);
      if (size > MAX_FILE) next(tooLarge());
      else next(null, chunk);
    },
  });
  try {
    await pipeline(request, count, createWriteStream(path));
    return await use({ path, size, hash: hash.digest('hex') });
  } finally {
    await rm(path, { force: true });
  }
}
