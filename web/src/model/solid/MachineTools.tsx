import { ActionIcon, Button, Menu, Popover, SegmentedControl, Select, Slider, Switch, Tooltip } from '@mantine/core';
import {
  IconArrowsSplit2,
  IconBox,
  IconEye,
  IconEyeOff,
  IconFocusCentered,
  IconFocus2,
  IconRotate3d,
  IconSlice,
  IconSquareHalf,
} from '@tabler/icons-react';
import type { ReactNode } from 'react';
import { modelAxes, usualOrientation, type ModelAxis } from '../../../../core/src/assembly/index.ts';
import { directionName, directionNames, viewPlacement, type DirectionName } from '../../../../core/src/views/index.ts';
import { useDocuments, useDoing } from '../../data/openProject.ts';
import { withAxis, type Picks } from './machine.ts';

/** How the machine is looked at; nothing of it is stored. */
export interface Look {
  readonly hidden: readonly Picks[];
  /** Only these are shown; null shows everything. */
  readonly only: readonly Picks[] | null;
  readonly seeThrough: boolean;
  /**
   * A plane across an axis, at a share of the machine's size along it; what is beyond, or with `flipped` before it,
   * is cut away.
   */
  readonly section: { readonly axis: 0 | 1 | 2; readonly share: number; readonly flipped: boolean } | null;
}

interface MachineToolsProps {
  /** All tools, or only fitting and directions. */ readonly full: boolean;
  readonly look: Look;
  readonly onLook: (look: Look) => void;
  /** What is picked; null for nothing. */ readonly picks: Picks | null;
  readonly onFrom: (direction: DirectionName) => void;
  readonly onPoses?: () => void;
  /** Takes the cut to a sheet; absent where there is none. */ readonly onSection?: () => void;
  /** Whether the panel of poses is open. */ readonly poses: boolean;
  readonly asking: Asking;
  readonly onAsk: (which: Asking) => void;
}
/** What the next click on a face says: which way the machine stands, or where it is cut open; nothing of that where null. */
export type Asking = 'up' | 'front' | 'cut' | null;

/** Tools on the edge of the picture. */
export function MachineTools({
  full,
  look,
  onLook,
  picks,
  onFrom,
  onPoses,
  onSection,
  poses,
  asking,
  onAsk,
}: MachineToolsProps) {
  const changed = look.hidden.length > 0 || look.only !== null;
  const tool = (label: string, icon: ReactNode, onClick: () => void, disabled = false, active = false) => (
    <Tooltip label={label} position="right">
      <ActionIcon
        size="lg"
        variant={active ? 'filled' : 'default'}
        aria-label={label}
        aria-pressed={active}
        disabled={disabled}
        onClick={onClick}
      >
        {icon}
      </ActionIcon>
    </Tooltip>
  );
  return (
    <div className="machine-tools" role="toolbar" aria-label="Looking at the machine">
      {tool('Fit the machine', <IconFocusCentered size={18} />, () => onFrom('isometric'))}
      <Menu position="right-start" shadow="md">
        <Menu.Target>
          <Tooltip label="Look from …" position="right">
            <ActionIcon size="lg" variant="default" aria-label="Look from">
              <IconBox size={18} />
            </ActionIcon>
          </Tooltip>
        </Menu.Target>
        <Menu.Dropdown>
          {directionNames.map((direction) => (
            <Menu.Item key={direction} onClick={() => onFrom(direction)}>
              {directionName(direction)}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      {full && (
        <>
          {tool(
            'Show only what is picked',
            <IconFocus2 size={18} />,
            () => onLook({ ...look, only: [picks!], hidden: [] }),
            !picks,
          )}
          {tool(
            'Hide what is picked',
            <IconEyeOff size={18} />,
            () => onLook({ ...look, hidden: [...look.hidden, picks!] }),
            !picks,
          )}
          {tool(
            'Show everything again',
            <IconEye size={18} />,
            () => onLook({ ...look, only: null, hidden: [] }),
            !changed,
          )}
          {tool(
            'See through what is not picked',
            <IconSquareHalf size={18} />,
            () => onLook({ ...look, seeThrough: !look.seeThrough }),
            false,
            look.seeThrough,
          )}
          <Section look={look} onLook={onLook} onSection={onSection} asking={asking} onAsk={onAsk} />
          {onPoses && tool('Poses: take the machine apart', <IconArrowsSplit2 size={18} />, onPoses, false, poses)}
          <Standing asking={asking} onAsk={onAsk} />
        </>
      )}
    </div>
  );
}

/** Whether the far side is kept, so that one looks into the machine from the usual corner: `flipped` of a cut. */
export const showsInside = (axis: 0 | 1 | 2): boolean => viewPlacement('isometric')[8 + axis] < 0;

function Section({
  look,
  onLook,
  onSection,
  asking,
  onAsk,
}: Pick<MachineToolsProps, 'look' | 'onLook' | 'asking' | 'onAsk'> & {
  readonly onSection: (() => void) | undefined;
}) {
  const section = look.section ?? { axis: 1 as const, share: 0.5, flipped: showsInside(1) };
  return (
    <Popover
      position="right-start"
      shadow="md"
      width={250}
      withArrow
      withRoles={false}
      closeOnClickOutside={asking !== 'cut'}
    >
      <Popover.Target>
        <Tooltip label="Cut the machine open" position="right">
          <ActionIcon
            size="lg"
            variant={look.section ? 'filled' : 'default'}
            aria-label="Cut the machine open"
            aria-pressed={look.section !== null}
          >
            <IconSlice size={18} />
          </ActionIcon>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown role="dialog" aria-label="Cut the machine open">
        <Switch
          size="sm"
          label="Cut open"
          checked={look.section !== null}
          onChange={(event) => onLook({ ...look, section: event.currentTarget.checked ? section : null })}
        />
        <Button
          mt={8}
          size="compact-sm"
          fullWidth
          variant={asking === 'cut' ? 'filled' : 'default'}
          onClick={() => onAsk(asking === 'cut' ? null : 'cut')}
        >
          {asking === 'cut' ? 'Stop clicking' : 'Click a hole, shaft or face'}
        </Button>
        <SegmentedControl
          mt={8}
          size="xs"
          fullWidth
          aria-label="Across"
          value={String(section.axis)}
          onChange={(value) => {
            const axis = Number(value) as 0 | 1 | 2;
            onLook({ ...look, section: { ...section, axis, flipped: showsInside(axis) } });
          }}
          data={[
            { value: '0', label: 'left–right' },
            { value: '1', label: 'front–back' },
            { value: '2', label: 'up–down' },
          ]}
        />
        <Slider
          mt={14}
          mb={8}
          size="sm"
          label={(value) => `${value} %`}
          thumbLabel="Where"
          value={Math.round(section.share * 100)}
          onChange={(value) => onLook({ ...look, section: { ...section, share: value / 100 } })}
        />
        <Switch
          size="xs"
          label="Keep the other side"
          checked={section.flipped}
          onChange={(event) => onLook({ ...look, section: { ...section, flipped: event.currentTarget.checked } })}
        />
        {look.section && onSection && (
          <Button mt={10} size="compact-sm" variant="default" onClick={onSection}>
            As a section on a sheet
          </Button>
        )}
      </Popover.Dropdown>
    </Popover>
  );
}

/** Which way the machine stands: by clicking faces, or by naming axes. */
function Standing({ asking, onAsk }: Pick<MachineToolsProps, 'asking' | 'onAsk'>) {
  const { components } = useDocuments();
  const { perform } = useDoing();
  const isAsking = asking === 'up' || asking === 'front';
  const now = components.content.orientation ?? usualOrientation;
  const set = (which: 'up' | 'front', axis: ModelAxis) =>
    perform(`${which} is ${axis} of the model`, {
      document: components.id,
      command: { kind: 'setOrientation', orientation: withAxis(now, which, axis) },
    });
  return (
    <Popover position="right-start" shadow="md" width={250} withArrow withRoles={false}>
      <Popover.Target>
        <Tooltip label="Up and front of the machine" position="right">
          <ActionIcon size="lg" variant={isAsking ? 'filled' : 'default'} aria-label="Up and front of the machine">
            <IconRotate3d size={18} />
          </ActionIcon>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown role="dialog" aria-label="Up and front of the machine">
        <p className="quiet" style={{ margin: '0 0 8px' }}>
          Views, drawings and pictures follow which way the machine stands.
        </p>
        <Button
          size="compact-sm"
          fullWidth
          variant={isAsking ? 'filled' : 'default'}
          onClick={() => onAsk(isAsking ? null : 'up')}
        >
          {isAsking ? 'Stop clicking faces' : 'Click the faces that look up and front'}
        </Button>
        <div className="axes">
          <Select
            size="xs"
            label="Up"
            value={now.up}
            data={[...modelAxes]}
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            onChange={(value) => value && set('up', value as ModelAxis)}
          />
          <Select
            size="xs"
            label="Front"
            value={now.front}
            data={[...modelAxes]}
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            onChange={(value) => value && set('front', value as ModelAxis)}
          />
        </div>
        {components.content.orientation && (
          <Button
            mt={8}
            size="compact-xs"
            variant="subtle"
            onClick={() =>
              perform('machine stands as in the file', {
                document: components.id,
                command: { kind: 'setOrientation', orientation: null },
              })
            }
          >
            As in the file
          </Button>
        )}
      </Popover.Dropdown>
    </Popover>
  );
}
