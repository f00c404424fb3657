import { Button } from '@mantine/core';
import type { UnsurePart } from '../../../contract/src/index.ts';
import { fullLabel, type Component, type ComponentKey } from '../../../core/src/assembly/index.ts';
import { Thumb } from '../shell/Thumb.tsx';
import type { Compared } from './useCompared.ts';
import type { Recognised } from './useRecognised.ts';

/** Parts that are recognised with less than certainty, with both pictures: are they the same? */
export function Doubtful({
  recognised,
  compared: { before, after },
  onElsewhere,
}: {
  readonly recognised: Recognised;
  readonly compared: Compared;
  /** Asks which other part of the earlier revision it is. */
  readonly onElsewhere: (component: ComponentKey) => void;
}) {
  const { parts, busy, say } = recognised;
  const open = parts.filter(({ same }) => same === null);
  if (open.length === 0) return null;
  const componentOf = (components: readonly Component[], key: string) =>
    components.find((component) => component.key === key);
  const answer = (some: readonly UnsurePart[], same: boolean) => say(some.map(({ was, is }) => ({ was, is, same })));
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
              <Button size="compact-sm" variant="default" disabled={busy} onClick={() => onElsewhere(is.key)}>
                Another one …
              </Button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
