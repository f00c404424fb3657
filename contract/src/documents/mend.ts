import * as v from 'valibot';
import { kindOf, type DocumentKind, type ProjectDocument } from '../../../core/src/documents/index.ts';
import { parseDocument } from './parse.ts';

type Key = string | number;
type Holder = Record<Key, unknown>;

/** More faults than this are no fault any more but another thing. */
const MOST = 200;

/**
 * A document that cannot be read with what does not fit as it is in a new one, or left out: first the value itself, then
 * what holds it, up to the whole field. Null where not even that can be read.
 */
export function mended(kind: DocumentKind, content: unknown): { content: ProjectDocument; fields: string[] } | null {
  if (!content || typeof content !== 'object' || Array.isArray(content)) return null;
  const record = structuredClone(content) as Holder;
  const fields = new Set<string>();
  let before = '',
    level = 0;
  for (let tries = 0; tries < MOST; tries++) {
    const path = faultIn(kind, record);
    if (path === null) return { content: parseDocument(kind, record), fields: [...fields] };
    if (path.length === 0) return null;
    const name = path.join('.');
    // The same again: what holds it has to go.
    level = name === before ? level - 1 : path.length;
    before = name;
    if (level < 1) return null;
    fields.add(String(path[0]));
    replace(record, path.slice(0, level), kindOf(kind).fresh());
  }
  return null;
}

/** Path to the first thing that does not fit; null where all does. */
function faultIn(kind: DocumentKind, record: Holder): Key[] | null {
  try {
    parseDocument(kind, structuredClone(record));
    return null;
  } catch (error) {
    if (!(error instanceof v.ValiError)) return [];
    const [issue] = error.issues as v.BaseIssue<unknown>[];
    return (issue.path ?? []).map(({ key }) => key as Key);
  }
}

/** Puts what a new document has at a place there, or takes away what stands there. */
function replace(record: Holder, path: readonly Key[], from: unknown): void {
  let holder: unknown = record,
    model: unknown = from;
  const last = path[path.length - 1];
  for (const key of path.slice(0, -1)) {
    // What stands in one place of a list has nothing to do with what stands there in a new one.
    const known = !Array.isArray(holder) && model && typeof model === 'object' && Object.hasOwn(model, key);
    holder = (holder as Holder)[key];
    model = known ? (model as Holder)[key] : undefined;
  }
  const has = Boolean(model) && typeof model === 'object' && Object.hasOwn(model as Holder, last);
  if (Array.isArray(holder)) holder.splice(Number(last), 1);
  else if (has) (holder as Holder)[last] = (model as Holder)[last];
  else delete (holder as Holder)[last];
}
