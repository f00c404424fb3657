import { ActionIcon, Button } from '@mantine/core';
import { IconArrowBackUp, IconX } from '@tabler/icons-react';
import { partLabel, type ComponentKey, type Finding } from '../../../core/src/assembly/index.ts';
import type { Decision } from '../../../core/src/documents/index.ts';
import { useDocuments, useDoing, useMachine, usePicking } from '../data/openProject.ts';
import { Thumb } from '../shell/Thumb.tsx';

/** Findings that wait for an answer rather than only being told. */
const ASKS = new Set(['same-shape', 'same-number', 'one-number-on-products', 'shape-differs']);
/** Findings about parts that are one line and may be several parts. */
const MAY_BE_SEVERAL = new Set(['same-number', 'one-number-on-products']);
export const isOpen = (finding: Finding, decisions: Readonly<Record<string, Decision>>): boolean =>
  finding.key !== undefined && ASKS.has(finding.code) && !decisions[finding.key];

const answerWords: Readonly<Record<Decision['answer'], string>> = {
  same: 'One part',
  apart: 'Kept apart',
  seen: 'Seen',
};

/** Tags that keep the groups of a finding apart, or take that back: the first group stays what it is. */
function keptApart({ components = [], groups }: Finding, answer: Decision['answer'] | null) {
  const [, ...others] = groups ?? components.map((key) => [key]);
  return Object.fromEntries(
    others.flatMap((members) => members.map((key) => [key, answer === 'apart' ? members[0] : null])),
  ) as Record<ComponentKey, string | null>;
}

/** The findings as a list to work through: decide, take back, see what is meant. */
export function FindingsPanel({ onClose }: { onClose: () => void }) {
  const { components } = useDocuments();
  const { findings } = useMachine();
  const { perform } = useDoing();
  const { decisions } = components.content;
  const order = [...findings].sort((a, b) => Number(isOpen(b, decisions)) - Number(isOpen(a, decisions)));
  const decide = (finding: Finding, answer: Decision['answer'] | null) => {
    const [first, ...others] = finding.components ?? [];
    const joined = answer === 'same' || (answer === null && decisions[finding.key!]?.answer === 'same');
    const sameAs: Record<ComponentKey, ComponentKey | null> = joined
      ? Object.fromEntries(others.map((key) => [key, answer === 'same' ? first : null]))
      : {};
    perform(answer === null ? 'finding open again' : `finding: ${answerWords[answer].toLowerCase()}`, {
      document: components.id,
      command: {
        kind: 'decide',
        finding: finding.key!,
        decision: answer === null ? null : { answer },
        sameAs,
        ...(MAY_BE_SEVERAL.has(finding.code) ? { apart: keptApart(finding, answer) } : {}),
      },
    });
  };
  return (
    <aside className="panel findingslist" aria-label="Findings">
      <div className="inspector-head">
        <h2 className="wide">Findings</h2>
        <ActionIcon variant="subtle" color="ink" aria-label="Close findings" onClick={onClose}>
          <IconX size={18} />
        </ActionIcon>
      </div>
      {findings.length === 0 && (
        <p className="quiet">
          Nothing was noticed: the file was read whole, and no two parts share a shape or a number by accident.
        </p>
      )}
      {order.map((finding, at) => (
        <One
          key={finding.key ?? `${finding.code} ${at}`}
          finding={finding}
          decision={finding.key ? decisions[finding.key] : undefined}
          onDecide={(answer) => decide(finding, answer)}
        />
      ))}
    </aside>
  );
}

function One({
  finding,
  decision,
  onDecide,
}: {
  finding: Finding;
  decision: Decision | undefined;
  onDecide: (answer: Decision['answer'] | null) => void;
}) {
  const {
    components: {
      content: { decisions },
    },
  } = useDocuments();
  const { assembly } = useMachine();
  const { pick } = usePicking();
  const meant = (finding.components ?? []).flatMap((key) => {
    const index = assembly.components.findIndex((component) => component.key === key);
    return index < 0 ? [] : [{ index, component: assembly.components[index] }];
  });
  return (
    <div className={`problem${isOpen(finding, decisions) ? '' : ' calm'}`}>
      <div>{finding.message}</div>
      {meant.length > 0 && (
        <div className="meant">
          {meant.map(({ index, component }) => (
            <button key={index} onClick={() => pick(index)} title="Show it">
              <Thumb component={component} size={64} />
              <span>{partLabel(component)}</span>
              <span className="quiet">{component.name}</span>
              {component.description && component.description !== component.name && (
                <span className="quiet">{component.description}</span>
              )}
            </button>
          ))}
        </div>
      )}
      {decision ? (
        <div className="buttons">
          <span className="decided">{answerWords[decision.answer]}</span>
          <ActionIcon
            size="sm"
            variant="subtle"
            color="ink"
            aria-label="Take the decision back"
            onClick={() => onDecide(null)}
          >
            <IconArrowBackUp size={15} />
          </ActionIcon>
        </div>
      ) : (
        finding.key && (
          <div className="buttons">
            {finding.code === 'same-shape' && (
              <Button size="compact-xs" onClick={() => onDecide('same')}>
                They are one part
              </Button>
            )}
            {(finding.code === 'same-shape' || MAY_BE_SEVERAL.has(finding.code)) && (
              <Button
                size="compact-xs"
                variant={finding.code === 'same-number' ? 'filled' : 'default'}
                onClick={() => onDecide('apart')}
              >
                Keep them apart
              </Button>
            )}
            {finding.code !== 'same-shape' && (
              <Button size="compact-xs" variant="default" onClick={() => onDecide('seen')}>
                Seen
              </Button>
            )}
          </div>
        )
      )}
    </div>
  );
}
