import type { History, StoredText } from '../../../contract/src/index.ts';

/** After a gesture: documents that changed, whole and as they are stored, and the history of the session. */
export interface Kept {
  readonly documents: readonly StoredText[];
  readonly history: History;
}

/** JSON of a document whose content is JSON already. */
export const documentJson = ({ id, kind, version, content, damaged }: StoredText): string =>
  `{"id":${JSON.stringify(id)},"kind":${JSON.stringify(kind)},"version":${version},"content":${content}${damaged === undefined ? '' : `,"damaged":${JSON.stringify(damaged)}`}}`;

/** JSON of what a gesture came to. */
export const keptJson = ({ documents, history }: Kept): string =>
  `{"documents":[${documents.map(documentJson).join()}],"history":${JSON.stringify(history)}}`;
