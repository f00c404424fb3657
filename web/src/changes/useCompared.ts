import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Assembly } from '../../../core/src/assembly/index.ts';
import {
  changesBetween,
  mergeStructures,
  type MergedStructure,
  type ModelChanges,
} from '../../../core/src/revisions/index.ts';
import { useDocuments } from '../data/openProject.ts';
import { assemblyQuery } from '../data/ProjectContext.tsx';
import { machineIn } from '../data/made/machineIn.ts';
import type { Machine } from '../data/made/views.ts';

/** Two revisions of the project, one laid over the other; null while they arrive. */
export interface Compared {
  readonly before: Assembly;
  readonly after: Assembly;
  readonly changes: ModelChanges;
  readonly merged: MergedStructure;
  /** As pictures are asked of them. */
  readonly machines: readonly [was: Machine, is: Machine];
}

export function useCompared(was: string, is: string): { compared: Compared | null; failed: string | null } {
  const { id, components, set } = useDocuments();
  const [earlier, later] = [useQuery(assemblyQuery(id, was)), useQuery(assemblyQuery(id, is))];
  const [before, after] = [earlier.data?.assembly, later.data?.assembly];
  const compared = useMemo<Compared | null>(() => {
    if (!before || !after) return null;
    const changes = changesBetween(before, after);
    const machine = (original: Assembly, shown: string): Machine => machineIn({ id, components, set }, original, shown);
    return {
      before,
      after,
      changes,
      merged: mergeStructures(before, after, changes),
      machines: [machine(before, was), machine(after, is)],
    };
  }, [before, after, id, was, is, components, set]);
  return { compared, failed: (earlier.error ?? later.error)?.message ?? null };
}
