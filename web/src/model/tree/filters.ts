import { isAssembly, type Component, type Treatment } from '../../../../core/src/assembly/index.ts';
import { propertyText } from '../../../../core/src/columns/index.ts';

/** Questions about components that a drafter asks often while cleaning a structure. */
export const filters = {
  everything: 'everything',
  parts: 'parts only',
  'no-material': 'parts without material',
  many: 'more than 10 used',
  bought: 'bought',
  treated: 'not simply listed',
  'no-number': 'without part number',
  'no-shape': 'without shape',
} as const;
export type Filter = keyof typeof filters;

interface FilterFacts {
  readonly component: Component;
  readonly count: number;
  readonly treatment: Treatment | undefined;
}

/** Whether a component answers the question. */
export function answers(filter: Filter, { component, count, treatment }: FilterFacts): boolean {
  switch (filter) {
    case 'everything':
      return true;
    case 'parts':
      return !isAssembly(component);
    case 'no-material':
      return !isAssembly(component) && propertyText(component.properties.Material).trim() === '';
    case 'many':
      return count > 10;
    case 'bought':
      return component.source === 'bought';
    case 'treated':
      return treatment !== undefined && !(treatment.ownLine && treatment.countContents);
    case 'no-number':
      return component.partNumber === '';
    case 'no-shape':
      return !isAssembly(component) && component.shape === null;
  }
}

/** Everything that can be searched for in a component, in small letters; `length: 760` and `760` both find a length. */
export const searchText = (component: Component): string =>
  [
    component.partNumber,
    component.name,
    component.description,
    component.revision,
    component.source ?? '',
    component.author ?? '',
    ...Object.entries(component.properties).map(([name, value]) => `${name}: ${propertyText(value)}`),
  ]
    .join('\n')
    .toLowerCase();

/** Whether every word of the query is found. */
export const finds = (text: string, query: string): boolean =>
  query
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((word) => text.includes(word));
