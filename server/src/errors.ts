import type { NextFunction, Request, Response } from 'express';
import * as v from 'valibot';
import type { Stale } from '../../contract/src/index.ts';
import { Refusal } from '../../core/src/assembly/index.ts';

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
/** A gesture that cannot be carried out: 409 with what happened meanwhile, or 422 with a sentence. */
export class EditConflict extends Error {
  override readonly name = 'EditConflict';
  constructor(readonly stale: Stale) {
    super(stale.error);
  }
}
export class EditRefused extends Error {
  override readonly name = 'EditRefused';
}
/** What is asked for has to be made first. */
export class NotReady extends Error {
  override readonly name = 'NotReady';
}

const STATUS: Readonly<Record<string, number>> = {
  NotFound: 404,
  Forbidden: 403,
  BadRequest: 400,
  TooLarge: 413,
  NotReady: 409,
  EditRefused: 422,
  Refusal: 422,
};

/** The one place that turns errors into answers. Express knows an error handler by its four parameters. */
export function answerError(
  error: Error & { status?: number; type?: string },
  request: Request,
  response: Response,
  next: NextFunction,
): void {
  if (response.headersSent) return next(error);
  if (request.destroyed && !response.writable) return; // who asked has gone: nobody to answer, nothing to report
  if (error instanceof EditConflict) return void response.status(409).json(error.stale);
  if (error instanceof v.ValiError) {
    const [issue] = error.issues as v.BaseIssue<unknown>[];
    return void response.status(400).json({
      error: `What was sent is not as expected${issue ? ` at ${v.getDotPath(issue) ?? 'its top'}: ${issue.message}` : ''}.`,
    });
  }
  const known =
    error instanceof Refusal || error instanceof NotFound || error instanceof EditRefused
      ? STATUS[error.name]
      : (STATUS[error.name] ?? (error.status && error.status < 500 ? error.status : undefined));
  if (known)
    return void response.status(known).json({
      error:
        error.type === 'entity.parse.failed'
          ? 'What was sent is no JSON.'
          : error.type === 'entity.too.large'
            ? 'What was sent is too large.'
            : error.message,
    });
  console.error(error);
  response.status(500).json({
    error: 'Something went wrong in the program; what you did last may not be kept. Reload the page and look.',
  });
}
