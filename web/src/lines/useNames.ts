import { useCallback, useMemo } from 'react';
import { knownColumns, referenceOf, sourceName, type ColumnSource } from '../../../core/src/columns/index.ts';
import { useMachine } from '../data/openProject.ts';

/** What a source is called on this bill: the heading of its column, else its own name. */
export function useNames(): (source: ColumnSource | string) => string {
  const {
    billDocument: {
      content: { columns },
    },
  } = useMachine();
  return useCallback(
    (source) =>
      columns.find((column) => referenceOf(column) === source || column.source === source)?.heading ??
      sourceName(source as ColumnSource),
    [columns],
  );
}

/** Everything that rules, order and expressions can name. */
export function useSources(which: 'rules' | 'expressions'): { value: string; label: string }[] {
  const {
    assembly,
    billDocument: {
      content: { columns },
    },
  } = useMachine();
  const nameOf = useNames();
  return useMemo(() => {
    const later = which === 'rules' ? ['picture', 'sheet', 'zone', 'fileName'] : ['picture'];
    const known = knownColumns(assembly)
      .map(({ source }) => source as string)
      .filter((source) => !later.includes(source));
    const made = columns.filter(({ source }) => source === 'pattern' || source === 'formula').map(referenceOf);
    const values = which === 'rules' ? known : [...known, ...made];
    const seen = new Set<string>();
    return values.flatMap((value) => {
      const label = nameOf(value);
      if (seen.has(label)) return [];
      seen.add(label);
      return [{ value, label }];
    });
  }, [assembly, columns, nameOf, which]);
}
