import { create as contentDisposition } from 'content-disposition';
import type { Response } from 'express';
import type { DataSource } from 'typeorm';
import { wellFormedText } from '../../../core/src/assembly/index.ts';
import type { Pool } from '../../../engine/src/index.ts';
import type { BlobStore } from '../store/blobs.ts';
import type { Desk } from '../desk/desk.ts';
import type { JobQueue } from '../jobs/jobs.ts';

export interface Services {
  readonly database: DataSource;
  readonly blobs: BlobStore;
  readonly pool: Pool;
  readonly desk: Desk;
  readonly jobs: JobQueue;
  /** Folder for files that come in, until they are stored. */
  readonly scratch: string;
  /** Address of the service that says what suppliers ask. */
  readonly suppliers: string;
  /** Folder of the built page; null serves the API alone. */
  readonly page: string | null;
}

/** Aborted when who asked has gone: what is worked out for nobody ends. */
export function goneWith(response: Response): AbortSignal {
  const gone = new AbortController();
  response.once('close', () => gone.abort());
  return gone.signal;
}

/** The bytes as they are: an array of another kind would be copied number by number on its way. */
export const sendBytes = (response: Response, bytes: Uint8Array): void =>
  void response.end(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));

/** The answer is a file of this name. Signs that are none in a name of a file, half ones among them, are `_`. */
export function attach(response: Response, fileName: string): void {
  response.setHeader(
    'Content-Disposition',
    contentDisposition(wellFormedText(fileName).replace(/[\\/\ufffd\u0000-\u001f\u007f]/g, '_')),
  );
}
