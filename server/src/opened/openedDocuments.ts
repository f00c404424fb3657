import { readStored, type StoredText } from '../../../contract/src/index.ts';
import type { BuyingPlan, IssuedOrder } from '../../../core/src/buying/index.ts';
import type { Catalogue } from '../../../core/src/catalogues/index.ts';
import { newSheetSet, type BillDocument } from '../../../core/src/documents/index.ts';
import { sheetsInOrder, type Sheet, type SheetSet } from '../../../core/src/sheets/index.ts';

interface Opened<Content> {
  readonly id: string;
  readonly content: Content;
}
/** Documents of a project as they are worked with; those that are away are left out. */
export interface OpenedDocuments {
  /** Component edits as they are stored; null where there are none. */
  readonly components: StoredText | null;
  /** The drawing's list first. */
  readonly bills: readonly Opened<BillDocument>[];
  /** What all sheets share. */
  readonly set: Opened<SheetSet>;
  /** In the order of the set. */
  readonly sheets: readonly Opened<Sheet>[];
  readonly plans: readonly Opened<BuyingPlan>[];
  readonly orders: readonly Opened<IssuedOrder>[];
}

/** Catalogues by their document ids. @throws Refusal, see readStored */
export const openCatalogues = (stored: readonly StoredText[] = []): Map<string, Catalogue> =>
  new Map(stored.map((document) => [document.id, readStored(document) as Catalogue]));

/** @param documents all of a project, in their order. @throws Refusal, see readStored */
export function openDocuments(documents: readonly StoredText[]): OpenedDocuments {
  const of = <Content>(kind: StoredText['kind']) =>
    documents
      .filter((document) => document.kind === kind)
      .map((document): Opened<Content> => ({ id: document.id, content: readStored(document) as Content }));
  const set = of<SheetSet>('set')[0] ?? { id: '', content: newSheetSet };
  return {
    components: documents.find(({ kind }) => kind === 'components') ?? null,
    bills: of<BillDocument>('bill').filter(({ content }) => !content.away),
    set,
    sheets: sheetsInOrder(set.content, of<Sheet>('sheet')),
    plans: of<BuyingPlan>('buying').filter(({ content }) => !content.away),
    orders: of<IssuedOrder>('order').filter(({ content }) => !content.away),
  };
}
