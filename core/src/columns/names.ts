import type { Assembly } from '../assembly/index.ts';
import { plainSources, sourceName, type ColumnSource } from './columns.ts';

const plain = (text: string): string => text.toLowerCase().replace(/[\s\-_.]+/g, '');

/** Names of all properties that components or single places of them have, in the order of first appearance. */
export function propertyNames(assembly: Assembly): string[] {
  const names = new Set<string>();
  for (const { properties, usages } of assembly.components) {
    for (const name in properties) names.add(name);
    for (const usage of usages) for (const name in usage.properties) names.add(name);
  }
  return [...names];
}

/**
 * What finds the source that a person means by a name: the source's own name, the usual heading, or a property;
 * capitals, blanks and hyphens make no difference where the exact name is not there. It gives null for a name that
 * nothing has.
 */
export function sourceFinder(properties: readonly string[]): (name: string) => ColumnSource | null {
  const exact = new Map<string, ColumnSource>(),
    alike = new Map<string, ColumnSource>();
  const add = (name: string, source: ColumnSource) => {
    if (!exact.has(name)) exact.set(name, source);
    if (!alike.has(plain(name))) alike.set(plain(name), source);
  };
  for (const source of plainSources) add(source, source);
  for (const source of plainSources) add(sourceName(source), source);
  for (const name of properties) add(name, `property:${name}`);
  return (name) => {
    const asked = name.trim();
    if (/^(property|variant):./su.test(asked)) return asked as ColumnSource;
    return exact.get(asked) ?? alike.get(plain(asked)) ?? null;
  };
}
