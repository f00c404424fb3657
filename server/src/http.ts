import express, { type Request, type Response } from 'express';
import type { DataSource } from 'typeorm';
import * as v from 'valibot';
import type { Pool } from '../../engine/src/index.ts';
import type { BlobStore } from './blobs.ts';
import { refuseDeep } from './deepJson.ts';
import type { Desk } from './desk.ts';
import type { JobQueue } from './jobs.ts';

/** Largest JSON body that a request may have. */
const MAX_JSON = '4mb';
/** Largest gesture: some hundred thousand lines numbered anew. */
export const MAX_GESTURE = '64mb';

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

/** Reads a body of JSON. */
export const jsonBody = () => express.json({ limit: MAX_JSON, verify: (_, __, body) => refuseDeep(body) });

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
