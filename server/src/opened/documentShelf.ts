import { LRUCache } from 'lru-cache';
import { readStored, type StoredText } from '../../../contract/src/index.ts';
import type { ProjectDocument } from '../../../core/src/documents/index.ts';

/**
 * Documents that were read already. A version of a document never changes once it is kept; one that was never kept, since its
 * transaction was given up, may come again as another one: so the text itself has to be the same.
 */
interface DocumentShelf {
  /** @throws Refusal, see readStored */
  readonly open: (stored: StoredText) => ProjectDocument;
  readonly keep: (stored: StoredText, document: ProjectDocument) => void;
}

export const nameOfStored = ({ id, version }: StoredText): string => `${id} ${version}`;

/** @param letters of JSON that the documents on it have together, at most */
export function documentShelf(letters: number): DocumentShelf {
  const read = new LRUCache<string, { readonly content: string; readonly document: ProjectDocument }>({
    maxSize: letters,
    sizeCalculation: ({ content }) => content.length || 1,
  });
  const keep = (stored: StoredText, document: ProjectDocument) =>
    void read.set(nameOfStored(stored), { content: stored.content, document });
  return {
    keep,
    open: (stored) => {
      const known = read.get(nameOfStored(stored));
      if (known?.content === stored.content) return known.document;
      const document = readStored(stored);
      keep(stored, document);
      return document;
    },
  };
}
