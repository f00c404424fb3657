import { notifications } from '@mantine/notifications';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useSyncExternalStore } from 'react';
import type { Catalogue } from '../../../core/src/catalogues/index.ts';
import type { CatalogueCommand } from '../../../core/src/documents/index.ts';
import { catalogueVersions, loadCatalogue } from '../data/api.ts';
import type { Editing } from '../data/editing/Editing.tsx';
import { EditQueue } from '../data/editing/editQueue.ts';

/** Between two looks at whether somebody else changed it; ms. */
const LOOK = 1000;

type Loaded = Awaited<ReturnType<typeof loadCatalogue>>;

/** A catalogue as it was loaded, looked at again when another window has changed it. */
export function useLoadedCatalogue(id: string) {
  const queries = useQueryClient();
  const loaded = useQuery({ queryKey: ['open catalogue', id], queryFn: () => loadCatalogue(id) });
  const version = loaded.data?.documents[0].version;
  useQuery({
    queryKey: ['open catalogue version', id, version],
    queryFn: async () => {
      const [now] = await catalogueVersions([id]);
      if (now?.version !== version) await queries.invalidateQueries({ queryKey: ['open catalogue', id] });
      return now ?? null;
    },
    enabled: version !== undefined,
    refetchInterval: LOOK,
  });
  return loaded;
}

interface OpenCatalogue {
  readonly catalogue: Catalogue;
  readonly editing: Editing;
  /** Carries out commands as one gesture; `label` is what Undo will say. */
  readonly change: (label: string, ...commands: CatalogueCommand[]) => boolean;
}

/** A catalogue that is edited: what is done shows at once and is kept in order. */
export function useCatalogue(id: string, loaded: Loaded): OpenCatalogue {
  const queries = useQueryClient();
  // One queue as long as the catalogue is open: what was loaded later is put into it.
  const queue = useMemo(
    () => new EditQueue(id, loaded, (sentence) => notifications.show({ message: sentence, color: 'orange' })),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [id],
  );
  useEffect(() => queue.refresh(loaded), [queue, loaded]);
  const edits = useSyncExternalStore(queue.subscribe, queue.state);
  const open = edits.keeping.state !== 'kept' || edits.aside.length > 0;
  useEffect(() => {
    if (!open) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [open]);
  return {
    catalogue: edits.documents[0].content as Catalogue,
    editing: {
      id,
      edits,
      stepBack: (mode) => void queue.stepBack(mode),
      settle: queue.settle,
      takeUp: queue.takeUp,
      refresh: () => void queries.invalidateQueries({ queryKey: ['open catalogue', id] }),
    },
    change: (label, ...commands) =>
      queue.perform(
        label,
        commands.map((command) => ({ document: id, command })),
      ),
  };
}
