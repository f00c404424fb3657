import { create as contentDisposition } from 'content-disposition';
import express, { type Request, type RequestHandler, type Response } from 'express';
import type { DataSource } from 'typeorm';
import { wellFormedText } from '../../../core/src/assembly/index.ts';
import * as v from 'valibot';
import type { Pool } from '../../../engine/src/index.ts';
import type { BlobStore } from '../store/blobs.ts';
import { SMALL_BODY, type Desk } from '../desk/desk.ts';
import type { JobQueue } from '../jobs/jobs.ts';
import { readJson, type Read, type ReadingKind } from '../desk/readings.ts';

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
export function jsonBody(): RequestHandler {
  const take = express.raw({ type: 'application/json', limit: SMALL_JSON });
  return (request, response, next) =>
    take(request, response, (error?: unknown) => {
      if (error) return next(error);
      try {
        if (Buffer.isBuffer(request.body)) request.body = readJson(request.body, SMALL_JSON);
        next();
      } catch (fault) {
        next(fault);
      }
    });
}
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

/** The answer is a file of this name. Signs that are none in a name of a file, half ones among them, are `_`. */
export function attach(response: Response, fileName: string): void {
  response.setHeader(
    'Content-Disposition',
    contentDisposition(wellFormedText(fileName).replace(/[\\/\ufffd\u0000-\u001f\u007f]/g, '_')),
  );
}
