import { Button, Checkbox, Group, Modal, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Revision } from '../../../contract/src/index.ts';
import { revisionText, type Effect } from '../../../core/src/formats/index.ts';
import { count } from '../count.ts';
import { cancelJob, Dropped, followJob, orderIntention } from '../data/api.ts';
import { useDocuments } from '../data/openProject.ts';
import { letterFor, revisionName } from '../data/revisionName.ts';
import { HowFar } from '../controls/working.tsx';

/** Says once more what is taken over, how it is written down, and does it as one gesture. */
export function TakeOverDialog({
  revision,
  documents,
  what,
  effect,
  onClose,
}: {
  readonly revision: Revision;
  /** Ids of bills and sheets. */
  readonly documents: readonly string[];
  /** These in words. */
  readonly what: string;
  readonly effect: Effect;
  readonly onClose: () => void;
}) {
  const { id, set, revisions } = useDocuments();
  const name = revisionName(revision, revisions);
  const queries = useQueryClient();
  const known = set.content.block?.revisions.some(({ of }) => of === revision.id) ?? false;
  const [written, setWritten] = useState(!known);
  const [retire, setRetire] = useState(true);
  const [clouds, setClouds] = useState(false);
  const [letter, setLetter] = useState(() =>
    letterFor(
      revision,
      revisions.slice(
        0,
        revisions.findIndex((one) => one.id === revision.id),
      ),
      (set.content.block?.revisions ?? []).map((one) => one.revision),
    ),
  );
  const [text, setText] = useState(() => revisionText(effect.bills[0]?.lines ?? []));
  const [date, setDate] = useState(() => new Date().toISOString().slice(0, 10));
  const [by, setBy] = useState(revision.who || set.content.fields.createdBy);
  const [running, setRunning] = useState<{ job: string; step: string; share: number } | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const without = [...new Set(effect.bills.flatMap((bill) => bill.without))];
  const takeOver = async () => {
    setRefused(null);
    try {
      const job = await orderIntention(id, `take over ${name}`, {
        kind: 'takeOver',
        revision: revision.id,
        documents,
        retire,
        clouds,
        line: written ? { revision: letter, text, date, by } : null,
      });
      setRunning({ job, step: 'Waiting', share: 0 });
      const { reason } = await followJob(job, ({ progress: { step, done, of } }) =>
        setRunning({ job, step: of > 1 ? `${step}: ${done} of ${of}` : step, share: done / Math.max(1, of) }),
      );
      await queries.invalidateQueries({ queryKey: ['project', id] });
      await queries.invalidateQueries({ queryKey: ['effect', id] });
      notifications.show({ message: `Taken over: ${what}.${reason ? ` ${reason}` : ''}`, autoClose: 10_000 });
      onClose();
    } catch (error) {
      setRunning(null);
      setRefused(error instanceof Dropped ? 'Cancelled; nothing was changed.' : (error as Error).message);
    }
  };
  return (
    <Modal opened onClose={running ? () => {} : onClose} title={`Take over ${name}`} size="lg">
      <p>
        {what}. Numbers, balloons put by hand, typed texts and notes stay. Undo brings everything back as it is now.
      </p>
      {without.length > 0 && (
        <Checkbox
          mb="sm"
          label={`Retire ${without.length === 1 ? 'number' : 'numbers'} ${without.slice(0, 12).join(', ')}${without.length > 12 ? ' …' : ''}: ${without.length === 1 ? 'its part is gone, and nothing else gets it' : 'their parts are gone, and nothing else gets them'}`}
          checked={retire}
          onChange={({ target }) => setRetire(target.checked)}
        />
      )}
      <Checkbox
        mb="sm"
        label={
          known ? 'The revision table has its line already' : 'Write it into the revision table and the title blocks'
        }
        disabled={known}
        checked={written}
        onChange={({ target }) => setWritten(target.checked)}
      />
      <Checkbox
        mb="sm"
        label="Mark new and otherwise shaped parts on the sheets: a cloud around them, the letter in a triangle"
        checked={clouds}
        onChange={({ target }) => setClouds(target.checked)}
      />
      {written && (
        <>
          <Group gap="sm" grow>
            <TextInput label="Letter" value={letter} onChange={({ target }) => setLetter(target.value)} />
            <TextInput label="Date" value={date} onChange={({ target }) => setDate(target.value)} />
            <TextInput label="By" value={by} onChange={({ target }) => setBy(target.value)} />
          </Group>
          <TextInput mt="xs" label="What changed" value={text} onChange={({ target }) => setText(target.value)} />
        </>
      )}
      {refused && (
        <p className="problem" role="alert">
          {refused}
        </p>
      )}
      {running && <HowFar step={running.step} share={running.share} />}
      <Group justify="flex-end" mt="md">
        {running ? (
          <Button variant="default" onClick={() => void cancelJob(running.job)}>
            Cancel
          </Button>
        ) : (
          <>
            <Button variant="default" onClick={onClose}>
              Leave it
            </Button>
            <Button onClick={() => void takeOver()}>Take over</Button>
          </>
        )}
      </Group>
      <p className="quiet">{count(documents.length, 'document')} in one gesture.</p>
    </Modal>
  );
}
