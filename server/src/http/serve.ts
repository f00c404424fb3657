import express, { type Request, type RequestHandler, type Response } from 'express';
import * as v from 'valibot';
import type { BodyOf, ParamsOf, QueryOf, Route, SentOf } from '../../../contract/src/index.ts';
import { MOST_LOGO_BYTES } from '../../../engine/src/index.ts';
import type { Read, ReadingKind } from '../desk/readings.ts';
import { readJson } from '../desk/readings.ts';
import { SMALL_BODY } from '../desk/desk.ts';
import { goneWith, sendBytes, attach, type Services } from './http.ts';

/** What a route was asked, checked. */
export interface Call<One extends Route> {
  readonly params: ParamsOf<One>;
  readonly query: QueryOf<One>;
  /** A small one; larger ones are read at the desk, see `atDesk`. */
  readonly body: BodyOf<One>;
  /** Aborted when who asked has gone: what is worked out for nobody ends. */
  readonly signal: AbortSignal;
  readonly request: Request;
  readonly response: Response;
}

/** An answer that is more than a value sent as JSON: written by itself. */
class Written {
  constructor(readonly to: (response: Response) => void | Promise<void>) {}
}
/** A value with another status than 200. */
class WithStatus<Value> {
  constructor(
    readonly status: number,
    readonly value: Value,
  ) {}
}
/** Something was made: 201. */
export const made = <Value>(value: Value): WithStatus<Value> => new WithStatus(201, value);
/** 202 while a job is at work on it. */
export const underWay = <Value extends { readonly job: string | null }>(value: Value): WithStatus<Value> =>
  new WithStatus(value.job === null ? 200 : 202, value);
/** JSON that is there as text or bytes already. */
export const asJson = (text: string | Uint8Array, status = 200): Written =>
  new Written((response) => {
    response.status(status).type('json');
    if (typeof text === 'string') response.send(text);
    else sendBytes(response, text);
  });
/** A file with a name. */
export const asFile = (bytes: Uint8Array, fileName: string, type: string): Written =>
  new Written((response) => {
    attach(response, fileName);
    sendBytes(response.type(type), bytes);
  });
/** Bytes; for ever where they are named by their content. */
export const asBytes = (bytes: Uint8Array, type: string, keep: 'for ever' | 'never'): Written =>
  new Written((response) => {
    response.setHeader('Cache-Control', keep === 'never' ? 'no-cache' : 'private, max-age=31536000, immutable');
    sendBytes(response.type(type), bytes);
  });
/** What is written as it comes. */
export const asWritten = (to: (response: Response) => void | Promise<void>): Written => new Written(to);

type DeepReadonly<Value> = Value extends (infer One)[]
  ? readonly DeepReadonly<One>[]
  : Value extends object
    ? { readonly [Key in keyof Value]: DeepReadonly<Value[Key]> }
    : Value;
type Sent<One extends Route> = DeepReadonly<SentOf<One>>;
type Answered<One extends Route> = Promise<Written | Sent<One> | WithStatus<Sent<One>>>;

/** Answers a route whose body is small, or that has none. */
type Handler<One extends Route> = (call: Call<One>) => Answered<One>;
/** Answers a route whose body may be large: it is looked into on another thread. */
interface DeskHandler<One extends Route> {
  readonly reading: ReadingKind;
  readonly handle: (read: never, call: Call<One>) => Answered<One>;
}
export const atDesk = <Kind extends ReadingKind, One extends Route>(
  reading: Kind,
  handle: (read: Read<Kind>, call: Call<One>) => Answered<One>,
): DeskHandler<One> => ({ reading, handle: handle as never });

/** An answer to every route of a subject; none can be left out. */
export type Handlers<Subject extends Readonly<Record<string, Route>>> = {
  readonly [Name in keyof Subject]: Subject[Name]['size'] extends 'large' | 'gesture'
    ? DeskHandler<Subject[Name]>
    : Handler<Subject[Name]>;
};

/** Largest bodies by their size: a name, a choice, an id; more than that; some hundred thousand lines numbered anew. */
const LIMIT = { small: SMALL_BODY, large: '4mb', gesture: '64mb' } as const;
const JSON_ALONE = { type: 'application/json' } as const;

/** Takes the body as it comes; files are read by who answers. */
function bodyOf({ body, size = 'small', sends }: Route): RequestHandler[] {
  if (sends === 'picture') return [express.raw({ type: () => true, limit: 2 * MOST_LOGO_BYTES })];
  return body || size !== 'small' ? [express.raw({ ...JSON_ALONE, limit: LIMIT[size] })] : [];
}
const bytesOf = ({ body }: Request): Uint8Array | null => (Buffer.isBuffer(body) ? body : null);

async function send(response: Response, answer: unknown): Promise<void> {
  if (answer instanceof Written) return answer.to(response);
  if (answer instanceof WithStatus) return void response.status(answer.status).json(answer.value);
  response.json(answer);
}

/** Has the routes of a subject answered. */
export function serve<Subject extends Readonly<Record<string, Route>>>(
  app: express.Express,
  { desk }: Pick<Services, 'desk'>,
  subject: Subject,
  handlers: Handlers<Subject>,
): void {
  for (const [name, one] of Object.entries(subject)) {
    const handler = handlers[name] as Handler<Route> | DeskHandler<Route>;
    app[one.verb.toLowerCase() as 'get'](one.path, ...bodyOf(one), async (request, response) => {
      const call = {
        params: one.params ? v.parse(one.params, request.params) : request.params,
        query: one.query && v.parse(one.query, request.query),
        body: undefined as unknown,
        signal: goneWith(response),
        request,
        response,
      };
      const bytes = bytesOf(request);
      if (typeof handler === 'object') {
        const read = await desk.read(handler.reading, bytes ?? new Uint8Array(), call.signal);
        return send(response, await handler.handle(read as never, call as never));
      }
      if (one.body) call.body = v.parse(one.body, bytes ? readJson(bytes, SMALL_BODY) : undefined);
      return send(response, await handler(call as never));
    });
  }
}
