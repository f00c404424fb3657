import { ActionIcon, Button, Group, NumberInput, Select, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconRotate, IconRotateClockwise } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { listOccurrences, partLabel, pathKey } from '../../../../core/src/assembly/index.ts';
import { boxed, placeProjected, rowOfPath, type Sheet, type SheetView } from '../../../../core/src/sheets/index.ts';
import {
  directionName,
  projectedDirection,
  projectionSides,
  turnAxes,
  turnedBy,
  type ProjectionSide,
  type TurnAxis,
  type ViewLines,
} from '../../../../core/src/views/index.ts';
import { useMachine, usePicks, useProject } from '../../data/openProject.ts';
import { linesOf } from '../../data/made/views.ts';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';

const turnWords: Readonly<Record<TurnAxis, string>> = {
  sight: 'the line of sight',
  level: 'the level line',
  upright: 'the upright line',
};

/** Turns a view further, by quarters or typed. */
export function TurnFields({ id, view }: { id: string; view: SheetView }) {
  const change = useChange(id);
  const [about, setAbout] = useState<TurnAxis>('sight');
  const [typed, setTyped] = useState<number | string>('');
  const turn = (degrees: number) =>
    change(`turn by ${degrees}°`, {
      kind: 'changeView',
      id: view.id,
      change: { direction: turnedBy(view.direction, about, degrees) },
    });
  const take = () => {
    if (typeof typed === 'number' && typed % 360 !== 0) turn(typed);
    setTyped('');
  };
  return (
    <Group gap={4} mt="xs" align="end" wrap="nowrap">
      <Select
        size="xs"
        flex={1}
        label="Turn it about"
        allowDeselect={false}
        data={turnAxes.map((value) => ({ value, label: turnWords[value] }))}
        value={about}
        onChange={(value) => value && setAbout(value as TurnAxis)}
      />
      <NumberInput
        size="xs"
        w={64}
        label="by, °"
        hideControls
        decimalScale={3}
        min={-360}
        max={360}
        value={typed}
        onChange={setTyped}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
      <ActionIcon variant="default" size={30} aria-label="A quarter to the left" onClick={() => turn(90)}>
        <IconRotate size={15} />
      </ActionIcon>
      <ActionIcon variant="default" size={30} aria-label="A quarter to the right" onClick={() => turn(-90)}>
        <IconRotateClockwise size={15} />
      </ActionIcon>
    </Group>
  );
}

/** Letter and size of what an enlarged detail shows; it is moved on its view. */
export function DetailFields({ id, sheet, view }: { id: string; sheet: Sheet; view: SheetView }) {
  const change = useChange(id);
  const detail = view.detail!;
  const parent = sheet.views.find((one) => one.id === detail.of);
  const [letter, setLetter] = useState(detail.letter);
  const set = (label: string, changed: Partial<typeof detail>) =>
    change(label, { kind: 'changeView', id: view.id, change: { detail: { ...detail, ...changed } } });
  const take = () => {
    const wanted = letter.trim().slice(0, 4);
    if (wanted && wanted !== detail.letter) set(`call the detail ${wanted}`, { letter: wanted });
    else setLetter(detail.letter);
  };
  return (
    <>
      <p className="quiet">
        A piece of the {parent ? directionName(parent.direction) : ''} view. Drag its thin border there to show another
        one, or the dot on it to show more or less.
      </p>
      <Group gap="xs" grow>
        <TextInput
          size="xs"
          label="Letter"
          value={letter}
          onChange={(event) => setLetter(event.currentTarget.value)}
          onBlur={take}
          onKeyDown={(event) => event.key === 'Enter' && take()}
        />
        <Select
          size="xs"
          label="Form"
          allowDeselect={false}
          data={[
            { value: 'circle', label: 'circle' },
            { value: 'box', label: 'box' },
          ]}
          value={detail.half ? 'box' : 'circle'}
          onChange={(form) => {
            const { half, ...round } = detail;
            if (form === 'box' && !half)
              set('detail as a box', boxed(detail, [detail.radius * 0.8, detail.radius * 0.6]));
            if (form === 'circle' && half)
              change('detail as a circle', { kind: 'changeView', id: view.id, change: { detail: round } });
          }}
        />
      </Group>
      {!detail.half && (
        <NumberInput
          mt="xs"
          key={detail.radius}
          size="xs"
          label="Radius, mm of the model"
          min={0.01}
          decimalScale={3}
          defaultValue={Number(detail.radius.toPrecision(4))}
          onBlur={(event) => {
            const radius = Number(event.currentTarget.value);
            if (radius > 0 && Math.abs(radius - detail.radius) > 1e-3 * detail.radius)
              set('size of the detail', { radius });
          }}
        />
      )}
    </>
  );
}

const sideWords: Readonly<Record<ProjectionSide, string>> = {
  left: 'left',
  right: 'right',
  above: 'above',
  below: 'below',
  'above-left': 'above left',
  'above-right': 'above right',
  'below-left': 'below left',
  'below-right': 'below right',
};

/** Views projected from this one, or what this one is projected from. */
export function ProjectedFields({
  id,
  sheet,
  view,
  lines,
  onThing,
}: Pick<SheetInspectorProps, 'id' | 'sheet' | 'onThing'> & { view: SheetView; lines: ViewLines }) {
  const project = useProject();
  const queries = useQueryClient();
  const change = useChange(id);
  const [busy, setBusy] = useState(false);
  const { projectedFrom } = view;
  if (projectedFrom) {
    const parent = sheet.views.find((one) => one.id === projectedFrom.of);
    return (
      <Group gap="xs" mt="xs">
        <span className="quiet">
          Seen from {sideWords[projectedFrom.side]} of the {parent ? directionName(parent.direction) : ''} view,
          {projectedFrom.side.includes('-') ? 'and moving' : 'and aligned'} with it.
        </span>
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => change('free the view', { kind: 'changeView', id: view.id, change: { projectedFrom: null } })}
        >
          Free it
        </Button>
      </Group>
    );
  }
  const projection = project.set.content.projection ?? 'first';
  const taken = new Set(
    sheet.views.flatMap((one) => (one.projectedFrom?.of === view.id ? one.projectedFrom.side : [])),
  );
  const put = async (side: ProjectionSide) => {
    setBusy(true);
    try {
      const look = { ...view, direction: projectedDirection(view.direction, side) };
      const drawn = await linesOf(queries, project, look);
      const made = placeProjected(view, lines, side, projection, crypto.randomUUID(), drawn);
      change(`project a view from ${sideWords[side]}`, { kind: 'addView', view: made });
      onThing({ kind: 'view', id: made.id });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    setBusy(false);
  };
  return (
    <>
      <p className="quiet" style={{ marginTop: 8 }}>
        Project a view ({projection} angle), seen from
      </p>
      <Group gap="xs">
        {projectionSides.map((side) => (
          <Button
            key={side}
            size="compact-xs"
            variant="default"
            disabled={busy || taken.has(side)}
            onClick={() => void put(side)}
          >
            {sideWords[side]}
          </Button>
        ))}
      </Group>
    </>
  );
}

/** What of the machine a view shows: all of it, or as the part that is picked says. */
export function ShownFields({ id, view }: { id: string; view: SheetView }) {
  const { assembly, bill } = useMachine();
  const { picked } = usePicks();
  const change = useChange(id);
  const part = picked === null || picked === assembly.root ? null : assembly.components[picked];
  const places = () => listOccurrences(assembly, (index) => index === picked).map(({ path }) => pathKey(path));
  const { only = [], without = [] } = view;
  /** Everything with a shape that has a line, or stands in something that has one; null where that is everything. */
  const listed = () => {
    const all = listOccurrences(assembly, (index) => assembly.components[index].shape !== null);
    const own = all.filter(({ path }) => rowOfPath(bill, assembly, path) >= 0);
    return own.length === all.length ? null : own.map(({ path }) => pathKey(path));
  };
  return (
    <>
      <p className="quiet" style={{ marginTop: 8 }}>
        {only.length > 0 ? 'Shows a part of the machine only.' : 'Shows the machine.'}
        {without.length > 0 && ' Something is left out.'}
      </p>
      <Group gap="xs">
        {part && (
          <>
            <Button
              size="compact-xs"
              variant="default"
              onClick={() =>
                change(`show ${partLabel(part)} only`, { kind: 'changeView', id: view.id, change: { only: places() } })
              }
            >
              Only {partLabel(part)}
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              onClick={() =>
                change(`leave ${partLabel(part)} out`, {
                  kind: 'changeView',
                  id: view.id,
                  change: { without: [...new Set([...without, ...places()])] },
                })
              }
            >
              Without it
            </Button>
          </>
        )}
        {bill.rows.length > 0 && (
          <Button
            size="compact-xs"
            variant="default"
            title="Only what the list of this sheet has"
            onClick={() =>
              change('show what the list has', {
                kind: 'changeView',
                id: view.id,
                change: { only: listed(), without: null },
              })
            }
          >
            What the list has
          </Button>
        )}
        {only.length + without.length > 0 && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() =>
              change('show everything', { kind: 'changeView', id: view.id, change: { only: null, without: null } })
            }
          >
            Everything
          </Button>
        )}
      </Group>
    </>
  );
}
