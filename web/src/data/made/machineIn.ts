import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { editAssembly, type Assembly } from '../../../../core/src/assembly/index.ts';
import { type OpenProject, useProject } from '../openProject.ts';
import { assemblyQuery } from '../ProjectContext.tsx';
import type { Machine } from './views.ts';

const NO_FACTS = new Map();

/** The whole machine of a revision as pictures are asked of it; what is measured changes no picture. */
export const machineIn = (
  { id, components, set }: Pick<OpenProject, 'id' | 'components' | 'set'>,
  original: Assembly,
  shown: string,
): Machine => ({
  id,
  assembly: editAssembly(original, components.content, NO_FACTS).assembly,
  variant: null,
  revision: { shown },
  set,
});

/** The machine that pictures of a document are of: the one that is open, or that of the revision that it shows, once that is there. */
export function useMachineOf(revision: string | undefined): Machine | null {
  const project = useProject();
  const wanted = revision ?? project.revision.first;
  const isShown = wanted === project.revision.shown;
  const { data } = useQuery({ ...assemblyQuery(project.id, wanted), enabled: !isShown });
  const { id, components, set } = project;
  const other = useMemo(
    () => (data ? machineIn({ id, components, set }, data.assembly, wanted) : null),
    [data, id, components, set, wanted],
  );
  return isShown ? project : other;
}
