import type { Assembly } from '../assembly/index.ts';
import { catalogueText } from './cells.ts';
import { matchComponents, type Linked } from './layer.ts';
import { itemKey, keyWords } from './match.ts';
import { isSameValue } from './reading.ts';
import type { Catalogue, CatalogueItem } from './records.ts';

/** What catalogues said on a day, of the parts that a bill lists: it says that until it is let go. */
export interface KeptValues {
  /** ISO date. */
  readonly date: string;
  /** By document id: each catalogue with the items alone that the bill uses. */
  readonly catalogues: Readonly<Record<string, Catalogue>>;
}

/** What catalogues say now of the parts of an assembly and of lines that are items themselves. @param lines ids of those, by catalogue */
export function valuesToKeep(
  assembly: Assembly,
  linked: readonly Linked[],
  lines: ReadonlyMap<string, ReadonlySet<string>>,
  all: ReadonlyMap<string, Catalogue>,
  date: string,
): KeptValues {
  const used = new Map<string, Set<string>>([...lines].map(([id, items]) => [id, new Set(items)]));
  for (const one of linked) {
    const items = used.get(one.link.catalogue) ?? new Set<string>();
    used.set(one.link.catalogue, items);
    for (const match of matchComponents(assembly, one))
      if (match?.how === 'found') items.add(one.catalogue.items[match.item].id);
  }
  const catalogues = [...used].flatMap(([id, items]) => {
    const catalogue = all.get(id);
    return catalogue
      ? [[id, { ...catalogue, items: catalogue.items.filter((item) => items.has(item.id)) }] as const]
      : [];
  });
  return { date, catalogues: Object.fromEntries(catalogues) };
}

/** Something that a catalogue says otherwise than on the day that is kept. */
interface ChangedSince {
  readonly catalogue: string;
  /** Key of the item, as it reads. */
  readonly item: string;
  readonly heading: string;
  /** As it reads; empty for nothing. */
  readonly was: string;
  /** The same; null where the item or its catalogue is gone. */
  readonly is: string | null;
}

/** What has changed since the values were kept, in the order of the items. */
export function changedSince({ catalogues }: KeptValues, now: ReadonlyMap<string, Catalogue>): ChangedSince[] {
  return Object.entries(catalogues).flatMap(([id, was]) => {
    const live = now.get(id);
    const items = new Map<string, CatalogueItem>(live?.items.map((item) => [item.id, item]));
    return was.items.flatMap((item): ChangedSince[] => {
      const named = { catalogue: was.name, item: keyWords(itemKey(was, item.values) ?? '') };
      const is = items.get(item.id);
      if (!is) return [{ ...named, heading: '', was: '', is: null }];
      return was.columns.flatMap(({ id: column, heading, kind }) =>
        isSameValue(item.values[column], is.values[column])
          ? []
          : [
              {
                ...named,
                heading,
                was: catalogueText(item.values[column], kind),
                is: catalogueText(is.values[column], kind),
              },
            ],
      );
    });
  });
}
