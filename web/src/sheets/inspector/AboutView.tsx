import { ActionIcon, Button, Checkbox, Group, NumberInput, Select, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconRotate, IconRotateClockwise } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { listOccurrences, partLabel, pathKey } from '../../../../core/src/assembly/index.ts';
import {
  boxed,
  placeProjected,
  rowOfPath,
  proposeDetail,
  scaleText,
  standardScales,
  type Sheet,
  type SheetView,
} from '../../../../core/src/sheets/index.ts';
import {
  directionName,
  directionNames,
  projectedDirection,
  projectionSides,
  tangentLooks,
  turnAxes,
  turnedBy,
  type DirectionName,
  type ProjectionSide,
  type Shading,
  type TangentLook,
  type TurnAxis,
  type ViewLines,
} from '../../../../core/src/views/index.ts';
import { removeSteps } from '../../../../core/src/documents/index.ts';
import { urlOf, routes } from '../../../../contract/src/index.ts';
import { useDocuments, useMachine, usePicks, useProject } from '../../data/openProject.ts';
import { linesOf } from '../../data/made/views.ts';
import { CentreLineFields, DimensionVerbs } from './AboutDimension.tsx';
import { BalloonActions } from './BalloonActions.tsx';
import { PoseField } from './PoseField.tsx';
import { useIntend } from '../../data/editing/useIntend.ts';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';
import { shadeWords, tangentWords } from '../words.ts';

/** About a view, and what can be said of it. */
export function AboutView({ id, sheet, inputs, drawn, thing, onThing, onMeasuring }: SheetInspectorProps) {
  const change = useChange(id);
  const view = sheet.views.find((one) => one.id === thing!.id)!;
  const laid = drawn.layout.views.find((one) => one.view.id === view.id);
  return (
    <>
      <div className="quiet">{view.detail ? 'Enlarged detail' : 'View'}</div>
      <h2>{view.detail ? view.detail.letter : directionName(view.direction)}</h2>
      {view.detail ? (
        <DetailFields key={view.id} id={id} sheet={sheet} view={view} />
      ) : (
        <WholeViewFields id={id} sheet={sheet} view={view} />
      )}
      <ScaleFields id={id} sheet={sheet} view={view} />
      <EdgeFields id={id} view={view} />
      <CentreLineFields id={id} view={view} drawn={drawn} onMeasuring={onMeasuring} />
      <Flag id={id} view={view} of="notToScale" label="Not to scale" words={['to scale', 'not to scale']} />
      <Caption
        key={view.id}
        caption={view.caption}
        onChange={(caption) => change('caption', { kind: 'changeView', id: view.id, change: { caption } })}
        onBelow={
          view.captionBy
            ? () => change('caption below the view', { kind: 'changeView', id: view.id, change: { captionBy: null } })
            : null
        }
      />
      {!view.detail && laid && (
        <>
          <ProjectedFields id={id} sheet={sheet} view={view} lines={laid.lines} onThing={onThing} />
          <Button
            mt="xs"
            size="compact-sm"
            variant="default"
            onClick={() => {
              const made = proposeDetail(inputs, view, laid.lines, crypto.randomUUID());
              change(`enlarge a detail of the ${directionName(view.direction)} view`, { kind: 'addView', view: made });
              onThing({ kind: 'region', id: made.id });
            }}
          >
            Enlarge a detail
          </Button>
        </>
      )}
      <DimensionVerbs id={id} view={view} inputs={inputs} drawn={drawn} onThing={onThing} onMeasuring={onMeasuring} />
      <ViewVerbs id={id} sheet={sheet} view={view} drawn={drawn} onThing={onThing} />
    </>
  );
}

interface ViewFieldsProps extends Pick<SheetInspectorProps, 'id' | 'sheet'> {
  readonly view: SheetView;
}

/** What is said of a view that is not a piece of another one. */
function WholeViewFields({ id, sheet, view }: ViewFieldsProps) {
  const change = useChange(id);
  return (
    <>
      <Select
        size="xs"
        label="Seen from"
        data={directionNames.map((value) => ({ value, label: directionName(value) }))}
        value={typeof view.direction === 'string' ? view.direction : null}
        placeholder={directionName(view.direction)}
        allowDeselect={false}
        onChange={(direction) =>
          direction &&
          change(`view from ${direction}`, {
            kind: 'changeView',
            id: view.id,
            change: { direction: direction as DirectionName },
          })
        }
      />
      {!view.projectedFrom && <TurnFields id={id} view={view} />}
      <PoseField id={id} sheet={sheet} view={view} />
      <ShownFields id={id} view={view} />
      <Select
        mt="xs"
        size="xs"
        label="Faces"
        allowDeselect={false}
        data={shadeWords}
        value={view.shade ?? ''}
        onChange={(shade) =>
          change(shade ? `faces in ${shade}` : 'lines only', {
            kind: 'changeView',
            id: view.id,
            change: { shade: (shade as Shading) || null },
          })
        }
      />
    </>
  );
}

/** A scale that is chosen, typed, or taken from another view. */
function ScaleFields({ id, sheet, view }: ViewFieldsProps) {
  const change = useChange(id);
  const [typed, setTyped] = useState('');
  const rescale = (scale: number) =>
    change(`scale ${scaleText(scale)}`, { kind: 'changeView', id: view.id, change: { scale } });
  const takeTyped = () => {
    const [paper, model = 1] = typed.split(':').map((part) => Number(part.trim().replace(',', '.')));
    if (paper > 0 && model > 0) rescale(paper / model);
    setTyped('');
  };
  const others = sheet.views.filter((one) => one.id !== view.id && one.scale !== view.scale);
  return (
    <>
      <Select
        mt="xs"
        size="xs"
        label="Scale"
        value={standardScales.find((scale) => Math.abs(scale - view.scale) < 1e-9)?.toString() ?? null}
        placeholder={scaleText(view.scale)}
        data={standardScales.map((scale) => ({ value: String(scale), label: scaleText(scale) }))}
        onChange={(scale) => scale && rescale(Number(scale))}
      />
      <TextInput
        mt="xs"
        size="xs"
        label="Or type one"
        placeholder="1:7.5"
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={takeTyped}
        onKeyDown={(event) => event.key === 'Enter' && takeTyped()}
      />
      {others.length > 0 && (
        <Select
          mt="xs"
          size="xs"
          label="Or the same as"
          placeholder="another view"
          value={null}
          data={others.map((one) => ({ value: one.id, label: `${viewName(one)}, ${scaleText(one.scale)}` }))}
          onChange={(other) => {
            const same = sheet.views.find((one) => one.id === other);
            if (same) rescale(same.scale);
          }}
        />
      )}
    </>
  );
}

/** Which edges are drawn, and how. */
function EdgeFields({ id, view }: Omit<ViewFieldsProps, 'sheet'>) {
  const change = useChange(id);
  return (
    <>
      <Select
        mt="xs"
        size="xs"
        label="Edges where faces meet smoothly"
        allowDeselect={false}
        data={tangentLooks.map((value) => ({ value, label: tangentWords[value] }))}
        value={view.tangent ?? 'thin'}
        onChange={(value) =>
          value &&
          change(`smooth edges ${tangentWords[value as TangentLook]}`, {
            kind: 'changeView',
            id: view.id,
            change: { tangent: value === 'thin' ? null : (value as TangentLook) },
          })
        }
      />
      {!view.detail && (
        <Flag
          id={id}
          view={view}
          of="hidden"
          label="Hidden edges, dashed"
          words={['leave hidden edges out', 'draw hidden edges']}
        />
      )}
    </>
  );
}

/** Something that a view is or has, or not. @param words what undo says when it goes and when it comes */
function Flag({
  id,
  view,
  of,
  label,
  words: [off, on],
}: Omit<ViewFieldsProps, 'sheet'> & {
  readonly of: 'hidden' | 'notToScale';
  readonly label: string;
  readonly words: readonly [string, string];
}) {
  const change = useChange(id);
  return (
    <Checkbox
      mt="xs"
      size="xs"
      label={label}
      checked={view[of] ?? false}
      onChange={({ currentTarget: { checked } }) =>
        change(checked ? on : off, { kind: 'changeView', id: view.id, change: { [of]: checked || null } })
      }
    />
  );
}

/** What can be done with a view as a whole: handed over, taken away. */
function ViewVerbs({
  id,
  sheet,
  view,
  drawn,
  onThing,
}: ViewFieldsProps & Pick<SheetInspectorProps, 'drawn' | 'onThing'>) {
  const change = useChange(id);
  const { id: project } = useDocuments();
  const { intend, busy } = useIntend();
  const own = sheet.balloons.filter((balloon) => balloon.view === view.id);
  const label = `take away ${directionName(view.direction)} view`;
  const withoutBalloons = async () => {
    onThing(null);
    try {
      await intend(label, { kind: 'placeBalloons', sheet: id, without: view.id });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  return (
    <>
      <p className="quiet">
        {own.length} balloons · {view.byHand ? 'placed by hand' : 'placed by the program'}
      </p>
      <Group gap="xs" mb="xs">
        {(['svg', 'png'] as const).map((format) => (
          <Button
            key={format}
            size="compact-sm"
            variant="default"
            component="a"
            download=""
            title="Only this view with its caption and balloons, as large as here"
            href={urlOf(routes.outputs.sheet, {
              params: { id: project, document: id, format },
              query: { view: view.id },
            })}
          >
            Figure as {format.toUpperCase()}
          </Button>
        ))}
      </Group>
      <Button
        size="compact-sm"
        variant="default"
        onClick={() => {
          change(label, ...removeSteps(sheet, [{ kind: 'view', id: view.id }]));
          onThing(null);
        }}
      >
        Take away, with its balloons
      </Button>
      {own.length > 0 && sheet.views.length > 1 && (
        <Button mt="xs" size="compact-sm" variant="default" disabled={busy} onClick={() => void withoutBalloons()}>
          Take away, its balloons into the other views
        </Button>
      )}
      <Group mt="xs">
        <BalloonActions id={id} sheet={sheet} drawn={drawn} things={[{ kind: 'view', id: view.id }]} />
      </Group>
    </>
  );
}

const viewName = ({ detail, direction }: SheetView): string =>
  detail ? `detail ${detail.letter}` : directionName(direction);

const turnWords: Readonly<Record<TurnAxis, string>> = {
  sight: 'the line of sight',
  level: 'the level line',
  upright: 'the upright line',
};

/** Turns a view further, by quarters or typed. */
function TurnFields({ id, view }: { id: string; view: SheetView }) {
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

/** The words below a view: its direction and scale where nothing else is typed, none where they are turned off. */
function Caption({
  caption,
  onChange,
  onBelow,
}: {
  caption: string | undefined;
  onChange: (caption: string | null) => void;
  /** Puts it back where it stands by itself; null where it does. */
  onBelow: (() => void) | null;
}) {
  const [typed, setTyped] = useState(caption ?? '');
  const take = () => {
    if (typed.trim() !== (caption ?? '')) onChange(typed.trim() || null);
  };
  return (
    <>
      <TextInput
        mt="xs"
        size="xs"
        label="Caption"
        placeholder="direction and scale"
        disabled={caption === ''}
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
      {onBelow && (
        <Button mt={6} size="compact-xs" variant="default" onClick={onBelow}>
          Below the view again
        </Button>
      )}
      <Checkbox
        mt={6}
        size="xs"
        label="No caption"
        checked={caption === ''}
        onChange={({ currentTarget: { checked } }) => {
          setTyped('');
          onChange(checked ? '' : null);
        }}
      />
    </>
  );
}

/** Letter and size of what an enlarged detail shows; it is moved on its view. */
function DetailFields({ id, sheet, view }: { id: string; sheet: Sheet; view: SheetView }) {
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
function ProjectedFields({
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
function ShownFields({ id, view }: { id: string; view: SheetView }) {
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
