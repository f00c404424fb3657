import express, { type Request, type Response } from 'express';
import type { DataSource } from 'typeorm';
import * as v from 'valibot';
import type { Pool } from '../../engine/src/index.ts';
import type { BlobStore } from './blobs.ts';
import { refuseUnfit } from './deepJson.ts';
import { SMALL_BODY, type Desk } from './desk.ts';
import type { JobQueue } from './jobs.ts';
import type { Read, ReadingKind } from './readings.ts';

/** Largest JSON body of a request that says a name, a choice, an id; bytes. */
const SMALL_JSON = SMALL_BODY;
/** Largest JSON body of one that says more; it is read at the desk. */
const MAX_JSON = '4mb';
/** Largest gesture: some hundred thousand lines numbered anew. */
const MAX_GESTURE = '64mb';

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

/** Reads a small body of JSON. */
export const jsonBody = () =>
  express.json({ limit: SMALL_JSON, verify: (_, __, body) => refuseUnfit(body, SMALL_JSON) });
/** Takes a body that may be large as it comes; `readFrom` has it looked into. */
export const largeBody = () => express.raw({ type: 'application/json', limit: MAX_JSON });
export const gestureBody = () => express.raw({ type: 'application/json', limit: MAX_GESTURE });

/** What a request with a large body asks. @throws Refusal, see readBody */
export const readFrom = <Kind extends ReadingKind>(
  { desk }: Pick<Services, 'desk'>,
  what: Kind,
  request: Request,
  response: Response,
): Promise<Read<Kind>> =>
  desk.read(what, Buffer.isBuffer(request.body) ? request.body : new Uint8Array(), goneWith(response));

/** Aborted when who asked has gone: what is worked out for nobody ends. */
export function goneWith(response: Response): AbortSignal {
  const gone = new AbortController();
  response.once('close', () => gone.abort());
  return gone.signal;
}

/** @throws v.ValiError, which is answered as a bad request */
export const parse = <Schema extends v.GenericSchema>(schema: Schema, value: unknown): v.InferOutput<Schema> =>
  v.parse(schema, value);
export const param = (request: Request, name: string): string => String(request.params[name]);

/** The bytes as they are: an array of another kind would be copied number by number on its way. */
export const sendBytes = (response: Response, bytes: Uint8Array): void =>
  void response.end(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));

export function attach(response: Response, fileName: string): void {
  const plain = fileName.replace(/[^\x20-\x7e]|["\\/]/g, '_');
  response.setHeader(
    'Content-Disposition',
    `attachment; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(fileName)}`,
  );
}
