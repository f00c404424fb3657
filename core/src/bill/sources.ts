import { referencesOf, sourcesIn, type Column } from '../columns/index.ts';
import type { Recipe } from './records.ts';

/**
 * Everything that a bill shows or rests on: sources of columns, and what expressions, rules, order, groups,
 * quantities and identity name.
 */
export function sourcesUsed(
  { sort = [], groups = [], filter, quantityRules = [], quantityOf = {}, identityWith = [] }: Recipe,
  columns: readonly Column[],
): string[] {
  const kinds = [...quantityRules.map(({ is }) => is), ...Object.values(quantityOf)];
  return [
    ...columns.flatMap(({ source, expression }) => [source, ...(expression ? referencesOf(expression) : [])]),
    ...[...sort, ...groups].map(({ source }) => source),
    ...(filter ? sourcesIn(filter) : []),
    ...quantityRules.flatMap(({ when }) => sourcesIn(when)),
    ...kinds.flatMap((kind) => (kind.kind === 'sum' ? [`property:${kind.size}`] : [])),
    ...identityWith.map((name) => `property:${name}`),
  ];
}
