import { Button, Group, Modal, Select } from '@mantine/core';
import { useState } from 'react';
import { fullLabel, type Component, type ComponentKey } from '../../../core/src/assembly/index.ts';
import { Thumb } from '../shell/Thumb.tsx';
import type { Compared } from './useCompared.ts';
import type { Recognised } from './useRecognised.ts';

/** So many are offered at once; typing finds the others. */
const OFFERED = 60;

/** Which part of the earlier revision a part of the later one is, where the program took it for another one or for new. */
export function Elsewhere({
  component,
  compared: { before, after, changes },
  recognised,
  onClose,
}: {
  /** Of the later revision. */
  readonly component: Component;
  readonly compared: Compared;
  readonly recognised: Recognised;
  readonly onClose: () => void;
}) {
  const now = before.components.find(({ key }) => key === component.key);
  const [chosen, setChosen] = useState<string | null>(null);
  const picked = before.components.find(({ key }) => key === chosen);
  // What is gone comes first: it is what a part that counts as new was, most often.
  const gone = new Set(changes.components.filter(({ kind }) => kind === 'gone').map(({ key }) => key));
  const others = before.components
    .filter(({ key }, index) => key !== component.key && index !== before.root)
    .sort((one, other) => Number(gone.has(other.key)) - Number(gone.has(one.key)));
  const taken = picked && after.components.find(({ key }) => key === picked.key);
  const is = recognised.readAs(component.key);
  const say = async (was: ComponentKey, same: boolean) => {
    if (await recognised.say([{ was, is, same }])) onClose();
  };
  return (
    <Modal opened onClose={recognised.busy ? () => {} : onClose} title={`What was ${fullLabel(component)}?`} size="lg">
      <p>
        {now
          ? `It was taken for ${fullLabel(now)}.`
          : 'It counts as new: nothing in the earlier revision was taken for it.'}{' '}
        What you say here is remembered with this revision; what you say is the same, for later ones too.
      </p>
      <Group wrap="nowrap" align="flex-end">
        <Thumb component={component} size={64} />
        <Select
          className="wide"
          label="In the earlier revision it is"
          placeholder="Number or name"
          searchable
          // What this dialog is for: a number or a name can be typed at once.
          data-autofocus
          openOnFocus={false}
          limit={OFFERED}
          data={others.map((one) => ({
            value: one.key,
            label: gone.has(one.key) ? `${fullLabel(one)} (gone)` : fullLabel(one),
          }))}
          value={chosen}
          onChange={setChosen}
          nothingFoundMessage="No part of the earlier revision is called so."
        />
        {picked && <Thumb component={picked} size={64} />}
      </Group>
      {taken && (
        <p className="quiet" style={{ marginTop: 8 }}>
          {fullLabel(taken)} was taken for that; it will be recognised anew.
        </p>
      )}
      <Group justify="flex-end" mt="md">
        {now && (
          <Button variant="default" disabled={recognised.busy} onClick={() => void say(now.key, false)}>
            It is not {fullLabel(now)}
          </Button>
        )}
        <Button variant="default" disabled={recognised.busy} onClick={onClose}>
          Leave it
        </Button>
        <Button disabled={!picked} loading={recognised.busy} onClick={() => void say(picked!.key, true)}>
          It is that
        </Button>
      </Group>
    </Modal>
  );
}
