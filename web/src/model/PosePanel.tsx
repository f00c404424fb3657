import {
  ActionIcon,
  Button,
  Checkbox,
  Group,
  Menu,
  NumberInput,
  Select,
  Slider,
  TextInput,
  Tooltip,
} from '@mantine/core';
import { useReducedMotion } from '@mantine/hooks';
import { notifications } from '@mantine/notifications';
import { useVirtualizer } from '@tanstack/react-virtual';
import { IconArrowDown, IconArrowUp, IconPlayerPause, IconPlayerPlay, IconPlus, IconX } from '@tabler/icons-react';
import { useEffect, useRef, useState } from 'react';
import { componentsAlong, partLabel, pathOf, type PathKey } from '../../../core/src/assembly/index.ts';
import type { Vec3 } from '../../../core/src/geometry/index.ts';
import { carriedOn, reordered, seated, type Pose } from '../../../core/src/poses/index.ts';
import { count } from '../count.ts';
import { freeName } from '../data/freeName.ts';
import { useMachine, useProject } from '../data/openProject.ts';
import type { PoseAxis } from './solid/PoseHandles.tsx';
import { useProposePose } from '../data/made/useProposePose.ts';
import { Working } from '../controls/working.tsx';

export interface PosePanelProps {
  readonly pose: Pose | null;
  readonly onPose: (pose: string | null) => void;
  /** How far it is played; 0 assembled, 1 as it is. */
  readonly share: number;
  readonly onShare: (share: number) => void;
  /** What is picked, as places. */
  readonly paths: readonly PathKey[];
  readonly axes: readonly PoseAxis[];
  readonly further: boolean;
  readonly onFurther: (further: boolean) => void;
  /** Finds what is fastened to what is picked and takes it along. */
  readonly onFastened: () => Promise<number>;
  readonly onPath: (path: PathKey) => void;
  readonly onClose: () => void;
}

const ROW = 30;
const PLAY = 4000; // ms from assembled to exploded

/** The poses of the project: shown, played, and adjusted by hand. */
export function PosePanel({
  pose,
  onPose,
  share,
  onShare,
  paths,
  axes,
  further,
  onFurther,
  onFastened,
  onPath,
  onClose,
}: PosePanelProps) {
  const project = useProject();
  const { assembly, set, perform } = project;
  const poses = set.content.poses ?? [];
  const { working, propose, stop } = useProposePose();
  const put = (label: string, next: Pose, at?: number) =>
    perform(label, { document: set.id, command: { kind: 'putPose', pose: next, ...(at === undefined ? {} : { at }) } });
  const add = (name: string, moves: Pose['moves']) => {
    const made: Pose = {
      id: crypto.randomUUID(),
      name: freeName(
        name,
        poses.map((one) => one.name),
      ),
      moves,
    };
    put(`new pose ${made.name}`, made);
    onPose(made.id);
  };
  const proposed = async (depth: Parameters<typeof propose>[0], name: string) => {
    const made = await propose(depth, name);
    if (made) onPose(made);
  };
  const place = poses.findIndex(({ id }) => id === pose?.id);
  return (
    <aside className="panel findingslist" aria-label="Poses">
      <div className="inspector-head">
        <h2 className="wide">Poses</h2>
        <ActionIcon variant="subtle" color="ink" aria-label="Close poses" onClick={onClose}>
          <IconX size={18} />
        </ActionIcon>
      </div>
      <Group gap="xs" align="end" wrap="nowrap">
        <Select
          size="xs"
          flex={1}
          label="Shown here"
          allowDeselect={false}
          data={[
            { value: '', label: 'as assembled' },
            ...poses.map(({ id: value, name: label }) => ({ value, label })),
          ]}
          value={pose?.id ?? ''}
          onChange={(value) => onPose(value || null)}
        />
        <Menu position="bottom-end" shadow="md">
          <Menu.Target>
            <ActionIcon variant="default" size={30} aria-label="New pose" disabled={working !== null}>
              <IconPlus size={16} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => void proposed({ levels: 1 }, 'Exploded, first level')}>
              Taken apart at the first level
            </Menu.Item>
            <Menu.Item onClick={() => void proposed({ levels: 100 }, 'Exploded')}>
              Taken apart down to the parts
            </Menu.Item>
            <Menu.Item onClick={() => void proposed({ levels: 100, every: true }, 'Exploded, all')}>
              Taken apart, every one of those alike
            </Menu.Item>
            <Menu.Item onClick={() => add('Pose', [])}>With everything on its seat</Menu.Item>
            {pose && <Menu.Item onClick={() => add(pose.name, pose.moves)}>As this one is</Menu.Item>}
          </Menu.Dropdown>
        </Menu>
      </Group>
      {working && <Working words={working} stop={stop} />}
      {!pose && !working && (
        <p className="quiet">
          {poses.length === 0
            ? 'No pose yet. Let the program take the machine apart, or begin with everything on its seat and drag parts away.'
            : 'Choose a pose to see it here, to play it, and to drag parts in it.'}
        </p>
      )}
      {pose && (
        <>
          <Player share={share} onShare={onShare} />
          <PoseName
            key={`${pose.id} ${pose.name}`}
            pose={pose}
            onName={(name) => put(`call the pose ${name}`, { ...pose, name })}
            onEarlier={place > 0 ? () => put(`${pose.name} earlier in the list`, pose, place - 1) : null}
            onLater={place < poses.length - 1 ? () => put(`${pose.name} later in the list`, pose, place + 1) : null}
            onRemove={() => {
              perform(`take away the pose ${pose.name}`, {
                document: set.id,
                command: { kind: 'removePose', id: pose.id },
              });
              onPose(null);
            }}
          />
          {paths.length > 0 ? (
            <Carry
              pose={pose}
              paths={paths}
              axes={axes}
              further={further}
              onFurther={onFurther}
              onFastened={onFastened}
              onCarry={(by) => put(`move ${nameOf(assembly, paths)}`, carriedOn(pose, paths, by, further))}
              onSeat={() => put(`${nameOf(assembly, paths)} back to its seat`, seated(pose, paths))}
            />
          ) : (
            <p className="quiet">Pick a part to drag it along an axis, or to type how far it goes.</p>
          )}
          <MoveList pose={pose} picked={paths} onPath={onPath} onPose={(label, next) => put(label, next)} />
        </>
      )}
    </aside>
  );
}

type Assembly = ReturnType<typeof useProject>['assembly'];
function nameOf(assembly: Assembly, paths: readonly PathKey[]): string {
  if (paths.length !== 1) return count(paths.length, 'thing');
  const along = componentsAlong(assembly, pathOf(paths[0]));
  const component = along && assembly.components[along[along.length - 1]];
  return component ? component.name || partLabel(component) : 'what is gone';
}

/** From assembled to exploded, by hand or by itself. */
function Player({ share, onShare }: Pick<PosePanelProps, 'share' | 'onShare'>) {
  const still = useReducedMotion();
  const [plays, setPlays] = useState(false);
  const now = useRef(onShare);
  useEffect(() => {
    now.current = onShare;
  });
  useEffect(() => {
    if (!plays) return;
    let frame = 0,
      first = 0;
    const step = (time: number) => {
      first ||= time;
      const done = Math.min(1, (time - first) / PLAY);
      now.current(done);
      if (done < 1) frame = requestAnimationFrame(step);
      else setPlays(false);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [plays]);
  return (
    <Group gap="xs" mt="sm" wrap="nowrap">
      {!still && (
        <ActionIcon
          variant="default"
          size={28}
          aria-label={plays ? 'Stop playing' : 'Play from assembled to this pose'}
          onClick={() => setPlays(!plays)}
        >
          {plays ? <IconPlayerPause size={15} /> : <IconPlayerPlay size={15} />}
        </ActionIcon>
      )}
      <Slider
        flex={1}
        size="sm"
        thumbLabel="From assembled to this pose"
        label={(value) => (value === 0 ? 'assembled' : `${value} %`)}
        value={Math.round(share * 100)}
        onChange={(value) => {
          setPlays(false);
          onShare(value / 100);
        }}
      />
    </Group>
  );
}

function PoseName({
  pose,
  onName,
  onEarlier,
  onLater,
  onRemove,
}: {
  pose: Pose;
  onName: (name: string) => void;
  onEarlier: (() => void) | null;
  onLater: (() => void) | null;
  onRemove: () => void;
}) {
  const [typed, setTyped] = useState(pose.name);
  const take = () => (typed.trim() && typed.trim() !== pose.name ? onName(typed.trim()) : setTyped(pose.name));
  return (
    <Group gap={4} mt="xs" align="end" wrap="nowrap">
      <TextInput
        size="xs"
        flex={1}
        label="Name"
        maxLength={200}
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
      <Tooltip label="Earlier in the list of poses">
        <ActionIcon
          variant="default"
          size={30}
          aria-label="Pose earlier in the list"
          disabled={!onEarlier}
          onClick={onEarlier ?? undefined}
        >
          <IconArrowUp size={15} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Later in the list of poses">
        <ActionIcon
          variant="default"
          size={30}
          aria-label="Pose later in the list"
          disabled={!onLater}
          onClick={onLater ?? undefined}
        >
          <IconArrowDown size={15} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Take the pose away; views in it show the machine as assembled">
        <ActionIcon variant="default" size={30} aria-label="Take the pose away" onClick={onRemove}>
          <IconX size={15} />
        </ActionIcon>
      </Tooltip>
    </Group>
  );
}

/** How what is picked is carried on, besides dragging its arrows. */
function Carry({
  pose,
  paths,
  axes,
  further,
  onFurther,
  onFastened,
  onCarry,
  onSeat,
}: Pick<PosePanelProps, 'paths' | 'axes' | 'further' | 'onFurther' | 'onFastened'> & {
  pose: Pose;
  onCarry: (by: Vec3) => void;
  onSeat: () => void;
}) {
  const { assembly } = useMachine();
  const [axis, setAxis] = useState('0');
  const [far, setFar] = useState<number | string>('');
  const moved = pose.moves.some(({ path }) => paths.includes(path));
  const along = axes[Number(axis)]?.along ?? axes[0].along;
  const carry = () => {
    if (typeof far !== 'number' || far === 0) return;
    onCarry([along[0] * far, along[1] * far, along[2] * far]);
    setFar('');
  };
  const fasten = async () => {
    const found = await onFastened();
    notifications.show({
      message:
        found === 0
          ? 'Nothing that stands in a hole of it, or on it, was found.'
          : `${count(found, 'thing')} fastened to it ${found === 1 ? 'goes' : 'go'} along.`,
    });
  };
  return (
    <fieldset className="moves">
      <legend>{nameOf(assembly, paths)}</legend>
      <Group gap="xs" align="end" wrap="nowrap">
        <Select
          size="xs"
          flex={1}
          label="Along"
          allowDeselect={false}
          data={axes.map(({ name }, value) => ({ value: String(value), label: name }))}
          value={axes[Number(axis)] ? axis : '0'}
          onChange={(value) => value && setAxis(value)}
        />
        <NumberInput
          size="xs"
          w={92}
          label="Farther by, mm"
          hideControls
          decimalScale={2}
          min={-1e6}
          max={1e6}
          value={far}
          onChange={setFar}
          onKeyDown={(event) => event.key === 'Enter' && carry()}
        />
        <Button size="compact-sm" variant="default" disabled={typeof far !== 'number' || far === 0} onClick={carry}>
          Go
        </Button>
      </Group>
      <Checkbox
        mt="xs"
        size="xs"
        label="As a further step: the way bends"
        checked={further}
        onChange={({ currentTarget: { checked } }) => onFurther(checked)}
      />
      <Group gap="xs" mt="xs">
        <Button size="compact-xs" variant="default" onClick={() => void fasten()}>
          Take along what is fastened
        </Button>
        <Button size="compact-xs" variant="default" disabled={!moved} onClick={onSeat}>
          Back to its seat
        </Button>
      </Group>
    </fieldset>
  );
}

/** What leaves when, in its order. */
function MoveList({
  pose,
  picked,
  onPath,
  onPose,
}: {
  pose: Pose;
  picked: readonly PathKey[];
  onPath: (path: PathKey) => void;
  onPose: (label: string, pose: Pose) => void;
}) {
  const { assembly } = useMachine();
  const list = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: pose.moves.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: 6,
  });
  const first = pose.moves.findIndex(({ path }) => picked.includes(path));
  useEffect(() => {
    if (first >= 0) virtual.scrollToIndex(first, { align: 'auto' });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when another thing is picked
  }, [first]);
  if (pose.moves.length === 0) return <p className="quiet">Nothing has left its seat in this pose.</p>;
  return (
    <>
      <h3>{count(pose.moves.length, 'move')}, in their order</h3>
      <div ref={list} className="movelist" role="list" aria-label="Moves of this pose">
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const { path, steps } = pose.moves[index];
            const name = nameOf(assembly, [path]);
            const far = steps.reduce((sum, step) => sum + Math.hypot(...step), 0);
            return (
              <div
                key={path}
                role="listitem"
                className={picked.includes(path) ? 'move picked' : 'move'}
                style={{ transform: `translateY(${start}px)`, height: ROW }}
              >
                <button className="ellipsis" title={name} onClick={() => onPath(path)}>
                  {name}
                </button>
                <span className="quiet">
                  {steps.length > 1 ? `${steps.length} steps, ` : ''}
                  {far.toFixed(0)} mm
                </span>
                <ActionIcon
                  variant="subtle"
                  color="ink"
                  size={22}
                  aria-label={`${name} leaves earlier`}
                  disabled={index === 0}
                  onClick={() => onPose(`${name} leaves earlier`, reordered(pose, index, index - 1))}
                >
                  <IconArrowUp size={13} />
                </ActionIcon>
                <ActionIcon
                  variant="subtle"
                  color="ink"
                  size={22}
                  aria-label={`${name} leaves later`}
                  disabled={index === pose.moves.length - 1}
                  onClick={() => onPose(`${name} leaves later`, reordered(pose, index, index + 1))}
                >
                  <IconArrowDown size={13} />
                </ActionIcon>
                <ActionIcon
                  variant="subtle"
                  color="ink"
                  size={22}
                  aria-label={`${name} back to its seat`}
                  onClick={() => onPose(`${name} back to its seat`, seated(pose, [path]))}
                >
                  <IconX size={13} />
                </ActionIcon>
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
}
