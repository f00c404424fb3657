import type { NextFunction, Request, Response } from 'express';
import { randomUUID } from 'node:crypto';
import * as v from 'valibot';
import { notAsExpected } from '../../contract/src/index.ts';
import { Refusal } from '../../core/src/assembly/index.ts';
import { serverLog } from './logLines.ts';

/** What is asked for is not there; answered 404 with the sentence. */
export class NotFound extends Error {
  override readonly name = 'NotFound';
}
export class BadRequest extends Error {
  override readonly name = 'BadRequest';
}
export class Forbidden extends Error {
  override readonly name = 'Forbidden';
}
export class TooLarge extends Error {
  override readonly name = 'TooLarge';
}
/** A gesture that came too late: 409 with what happened meanwhile. */
export class EditConflict extends Error {
  override readonly name = 'EditConflict';
  /** @param stale JSON of the answer */
  constructor(readonly stale: string) {
    super('Somebody else changed this meanwhile.');
  }
}

/** Refusals that are answered with a status of their own; the others are 422. */
const STATUS_OF_REFUSAL: ReadonlyMap<string, number> = new Map([
  ['not-as-expected', 400],
  ['not-there', 404],
  ['not-ready', 409],
  ['taken', 409],
  ['unreadable', 422],
]);
const STATUS: ReadonlyMap<string, number> = new Map([
  ['NotFound', 404],
  ['Forbidden', 403],
  ['BadRequest', 400],
  ['TooLarge', 413],
]);

/** The one place that turns errors into answers. Express knows an error handler by its four parameters. */
export function answerError(
  error: Error & { status?: number; type?: string; limit?: number },
  request: Request,
  response: Response,
  next: NextFunction,
): void {
  if (response.headersSent) return next(error);
  // Who asked has gone: nobody to answer, nothing to report.
  if (response.destroyed || (request.destroyed && !response.writable)) return;
  if (error instanceof EditConflict) return void response.status(409).type('json').send(error.stale);
  if (error instanceof v.ValiError) return void response.status(400).json({ error: notAsExpected(error) });
  const known =
    error instanceof Refusal
      ? (STATUS_OF_REFUSAL.get(error.code) ?? 422)
      : (STATUS.get(error.name) ?? (error.status && error.status < 500 ? error.status : undefined));
  if (error instanceof TooLarge) response.setHeader('Connection', 'close'); // the rest is not read
  if (known)
    return void response.status(known).json({
      error:
        error.type === 'entity.too.large'
          ? `What was sent is too large${error.limit ? `: up to ${Math.floor(error.limit / 1024).toLocaleString('en')} kB can be taken` : ''}. Send it in parts.`
          : error instanceof Refusal || STATUS.has(error.name)
            ? error.message
            : 'What was sent cannot be read; send it again.',
    });
  const away = whyAway(error);
  if (away) return void response.status(503).json({ error: away });
  const id = logError(error, `${request.method} ${request.path}`);
  response.status(500).json({
    error: `Something went wrong in the program (${id}); what you did last may not be kept. Reload the page and look. The log says more under this number.`,
  });
}

/** Writes a program error into the log; the number under which it stands there. */
export function logError(error: unknown, where: string): string {
  const id = `error ${randomUUID().slice(0, 8)}`;
  serverLog.error({ err: error, id, where }, 'something went wrong');
  return id;
}

/** What the driver says where the database process is gone or goes, by its codes and by its words. */
const AWAY =
  /ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|ENOTFOUND|PROTOCOL_CONNECTION_LOST|ER_SERVER_SHUTDOWN|ER_CON_COUNT_ERROR|closed state|Connection lost|Pool is closed|Server shutdown in progress/;
/** And where it has no room any more: MariaDB's errors 1021, 1114, 1030 with 28 of the system. */
const FULL = /ENOSPC|ER_DISK_FULL|ER_RECORD_FILE_FULL|No space left on device|table '[^']*' is full|Got error 28/i;

/** A sentence where the database cannot be reached or written now, but may be later; null where it is something else. */
export function whyAway(error: unknown): string | null {
  const { code = '', message = '' } = error as { code?: string; message?: string };
  const said = `${code} ${message}`;
  if (FULL.test(said))
    return 'The disk is full: nothing can be kept until there is room on it. What is not kept waits in the page.';
  if (AWAY.test(said))
    return 'The database is away; it is started again by itself. What is not kept yet waits in the page.';
  return null;
}
