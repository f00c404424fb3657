import type * as v from 'valibot';

type Verb = 'GET' | 'POST' | 'PUT' | 'DELETE';
/** What who asks has to be allowed: to see, or to change, the project that is named or what all projects share. */
type Need = 'nothing' | 'see' | 'change';
/** Names in a path: `id` and `format` of `/api/projects/:id/check/:format`. */
type NamesIn<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | NamesIn<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never;

/** What there is to know of a way to ask the server. */
interface RouteFacts {
  /** What comes of it, as a list of them says it. */
  readonly does: string;
  /** What who asks has to be allowed. */
  readonly needs: Need;
  /** Of the names in its path, where not every text will do. */
  readonly params?: v.GenericSchema;
  /** Behind the question mark. */
  readonly query?: v.GenericSchema;
  /** JSON that is sent. */
  readonly body?: v.GenericSchema;
  /**
   * How much that may be: a name, a choice (`small`, the usual); more, which is looked into on another thread (`large`);
   * as much as a gesture over some hundred thousand lines has.
   */
  readonly size?: 'small' | 'large' | 'gesture';
  /** Bytes that are sent instead of JSON: a file of any size that can be brought in, or a small picture. */
  readonly sends?: 'file' | 'picture';
  /** JSON that comes back, or a file with a name, bytes, events as they happen. */
  readonly answer: v.GenericSchema | 'file' | 'bytes' | 'events';
}
/** A way to ask the server: one verb at one path. */
export interface Route extends RouteFacts {
  /** Of HTTP. */
  readonly verb: Verb;
  /** Names that stand for something begin with a colon. */
  readonly path: string;
}

/** A route, with all that is known of it as its type. */
export const route = <const Path extends string, const Facts extends RouteFacts>(
  verb: Verb,
  path: Path,
  facts: Facts,
): Facts & { readonly verb: Verb; readonly path: Path } => ({ verb, path, ...facts });

type In<Schema> = Schema extends v.GenericSchema ? v.InferInput<Schema> : undefined;
type Out<Schema> = Schema extends v.GenericSchema ? v.InferOutput<Schema> : undefined;
type Texts<Names extends string> = { readonly [Name in Names]: string };

/** Of a route what its path's names are, once checked. */
export type ParamsOf<One extends Route> = One['params'] extends v.GenericSchema
  ? v.InferOutput<One['params']>
  : Texts<NamesIn<One['path']>>;
export type QueryOf<One extends Route> = Out<One['query']>;
export type BodyOf<One extends Route> = Out<One['body']>;
/** What comes back as JSON, as it is read. */
export type AnswerOf<One extends Route> = Out<One['answer']>;
/** The same as it is sent. */
export type SentOf<One extends Route> = In<One['answer']>;

/** What a route is asked with: names, query, body; what it does not take is left out. */
export type RouteQuestion<One extends Route> = (NamesIn<One['path']> extends never
  ? { readonly params?: undefined }
  : { readonly params: Texts<NamesIn<One['path']>> }) &
  (One['query'] extends v.GenericSchema
    ? { readonly query?: QueryGiven<In<One['query']>> }
    : { readonly query?: undefined }) &
  (One['body'] extends v.GenericSchema ? { readonly body: unknown } : { readonly body?: undefined });
/** Lists are sent with commas between what is in them. */
type QueryGiven<Query> = { readonly [Name in keyof Query]: Query[Name] | readonly string[] | undefined };

/** The address of a route with these names and this query; what is undefined is left out. */
export function urlOf<One extends Route>({ path }: One, { params, query }: Omit<RouteQuestion<One>, 'body'>): string {
  const names = (params ?? {}) as Readonly<Record<string, string>>;
  const filled = path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(names[name]));
  const asked = new URLSearchParams(
    Object.entries(query ?? {}).flatMap(([name, value]) =>
      value === undefined ? [] : [[name, Array.isArray(value) ? value.join() : String(value)]],
    ),
  ).toString();
  return asked === '' ? filled : `${filled}?${asked}`;
}
