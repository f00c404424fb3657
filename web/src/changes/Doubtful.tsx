import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Revision, UnsurePart } from '../../../contract/src/index.ts';
import { fullLabel, type Component } from '../../../core/src/assembly/index.ts';
import { answerUnsure, followJob, loadUnsure } from '../data/api.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { Thumb } from '../shell/Thumb.tsx';
import type { Compared } from './useCompared.ts';

/** Parts that are recognised with less than certainty, with both pictures: are they the same? */
export function Doubtful({
  revision,
  compared: { before, after },
}: {
  readonly revision: Revision;
  readonly compared: Compared;
}) {
  const { id } = useProject();
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const { data = [] } = useQuery({
    queryKey: ['unsure', id, revision.id, revision.unsure],
    queryFn: () => loadUnsure(id, revision.id),
  });
  const open = data.filter(({ same }) => same === null);
  if (open.length === 0) return null;
  const componentOf = (components: readonly Component[], key: string) =>
    components.find((component) => component.key === key);
  const answer = async (parts: readonly UnsurePart[], same: boolean) => {
    setBusy(true);
    try {
      const answers = parts.map(({ was, is }) => ({ was, is, same }));
      await followJob(await answerUnsure(id, revision.id, answers), () => {});
      for (const key of ['project', 'effect', 'unsure', 'assembly'])
        await queries.invalidateQueries({ queryKey: [key, id] });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    setBusy(false);
  };
  return (
    <section className="doubtful" aria-label="Are these the same?">
      <div className="head">
        <h2>{open.length === 1 ? 'Is this the same part?' : `Are these the same? ${open.length} are not certain`}</h2>
        {open.length > 1 && (
          <Button size="compact-sm" variant="default" disabled={busy} onClick={() => void answer(open, true)}>
            All the same
          </Button>
        )}
      </div>
      <ul>
        {open.slice(0, 50).map((part) => {
          const was = componentOf(before.components, part.was),
            is = componentOf(after.components, part.key);
          if (!was || !is) return null;
          return (
            <li key={part.is}>
              <Thumb component={was} size={44} />
              <span aria-hidden>→</span>
              <Thumb component={is} size={44} />
              <span className="wide">
                <span className="title">
                  {fullLabel(was)} → {fullLabel(is)}
                </span>
                <span className="quiet">
                  {part.confidence === 'likely' ? 'Likely' : 'Doubtful'}: {part.why}
                </span>
              </span>
              <Button size="compact-sm" variant="default" disabled={busy} onClick={() => void answer([part], true)}>
                The same
              </Button>
              <Button size="compact-sm" variant="default" disabled={busy} onClick={() => void answer([part], false)}>
                Not the same
              </Button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
