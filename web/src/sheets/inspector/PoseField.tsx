import { Button, Checkbox, Group, Select, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useEffect, useRef, useState } from 'react';
import type { Sheet, SheetView } from '../../../../core/src/sheets/index.ts';
import { useProject } from '../../data/openProject.ts';
import { useProposePose } from '../../data/made/useProposePose.ts';
import { useIntend } from '../../data/editing/useIntend.ts';
import { count } from '../../count.ts';
import { freeName } from '../../data/freeName.ts';
import { Working } from '../../controls/working.tsx';

const ASSEMBLED = 'as assembled';
/** Poses that the program proposes, by how deep they open subassemblies. */
const proposals = [
  {
    value: 'apart 1',
    label: 'new: taken apart at the first level',
    depth: { levels: 1 },
    name: 'Exploded, first level',
  },
  {
    value: 'apart',
    label: 'new: taken apart down to the parts',
    depth: { levels: 100 },
    name: 'Exploded',
  },
  {
    value: 'apart every',
    label: 'new: taken apart, every one of those alike',
    depth: { levels: 100, every: true },
    name: 'Exploded, all',
  },
] as const;

/** Which pose a view shows; a proposed one is worked out by the server, since all shapes take part in it. */
export function PoseField({ id, sheet, view }: { id: string; sheet: Sheet; view: SheetView }) {
  const project = useProject();
  const { intend } = useIntend();
  const { working, propose: make, stop } = useProposePose();
  const poses = project.set.content.poses ?? [];
  const pose = poses.find((one) => one.id === view.pose);
  const [typed, setTyped] = useState<string | null>(null);

  // The picture becomes larger or smaller: where balloons stand, the drawing is made anew around it.
  const shown = useRef(view.pose);
  const follows = useRef(false);
  useEffect(() => {
    if (shown.current === view.pose) return;
    shown.current = view.pose;
    if (!follows.current) return;
    follows.current = false;
    if (sheet.balloons.length === 0) return;
    const views = [{ direction: view.direction }];
    void Promise.resolve(intend('fit the drawing to the pose', { kind: 'makeDrawing', sheet: id, views })).catch(
      (error: unknown) => notifications.show({ message: (error as Error).message, color: 'orange' }),
    );
  }, [view, sheet, id, intend]);

  const show = (pose: string | null, name: string) => {
    follows.current = true;
    // Where things come from is shown, unless the view is in a pose already and does without.
    const isNew = pose !== null && view.pose === undefined;
    project.perform(`show ${name}`, {
      document: id,
      command: { kind: 'changeView', id: view.id, change: { pose, ...(isNew ? { pathLines: true } : {}) } },
    });
  };
  const propose = async ({ depth, name }: (typeof proposals)[number]) => {
    follows.current = true;
    if (!(await make(depth, name, { sheet: id, view: view.id }))) follows.current = false;
  };
  const choose = (value: string | null) => {
    const proposal = proposals.find((one) => one.value === value);
    if (proposal) void propose(proposal);
    else if (value === ASSEMBLED) show(null, ASSEMBLED);
    else if (value) show(value, poses.find((one) => one.id === value)?.name ?? value);
  };
  const rename = () => {
    if (pose && typed !== null && typed.trim() !== '' && typed !== pose.name)
      project.perform(`call the pose ${typed}`, {
        document: project.set.id,
        command: { kind: 'putPose', pose: { ...pose, name: typed } },
      });
    setTyped(null);
  };
  return (
    <>
      <Select
        mt="xs"
        size="xs"
        label="Pose"
        allowDeselect={false}
        disabled={working !== null}
        data={[
          { value: ASSEMBLED, label: ASSEMBLED },
          ...poses.map(({ id: value, name }) => ({ value, label: name })),
          ...proposals.map(({ value, label }) => ({ value, label })),
        ]}
        value={pose?.id ?? ASSEMBLED}
        onChange={choose}
      />
      {working && <Working words={working} stop={stop} />}
      {pose && !working && (
        <Checkbox
          mt={6}
          size="xs"
          label="Path lines from seat to place"
          checked={view.pathLines ?? false}
          onChange={({ currentTarget: { checked } }) =>
            project.perform(checked ? 'draw path lines' : 'leave path lines out', {
              document: id,
              command: { kind: 'changeView', id: view.id, change: { pathLines: checked || null } },
            })
          }
        />
      )}
      {pose && !working && (
        <Group gap="xs" mt={6} align="end" wrap="nowrap">
          <TextInput
            size="xs"
            label={`Name of the pose (${count(pose.moves.length, 'move')})`}
            flex={1}
            value={typed ?? pose.name}
            onChange={(event) => setTyped(event.currentTarget.value)}
            onBlur={rename}
            onKeyDown={(event) => event.key === 'Enter' && rename()}
          />
          <Button
            size="compact-sm"
            variant="default"
            title="A pose of its own, as this one is; the view shows it"
            onClick={() => {
              const copy = {
                ...pose,
                id: crypto.randomUUID(),
                name: freeName(
                  pose.name,
                  poses.map((one) => one.name),
                ),
              };
              project.perform(
                `copy the pose ${pose.name}`,
                { document: project.set.id, command: { kind: 'putPose', pose: copy } },
                { document: id, command: { kind: 'changeView', id: view.id, change: { pose: copy.id } } },
              );
            }}
          >
            Copy
          </Button>
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => {
              follows.current = true;
              project.perform(
                `take away the pose ${pose.name}`,
                { document: id, command: { kind: 'changeView', id: view.id, change: { pose: null } } },
                { document: project.set.id, command: { kind: 'removePose', id: pose.id } },
              );
            }}
          >
            Take away
          </Button>
        </Group>
      )}
    </>
  );
}
