import { Button, Checkbox, Group, Select, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState } from 'react';
import { proposeDetail, scaleText, standardScales, type SheetView } from '../../../../core/src/sheets/index.ts';
import {
  directionName,
  directionNames,
  tangentLooks,
  type DirectionName,
  type Shading,
  type TangentLook,
} from '../../../../core/src/views/index.ts';
import { removeSteps } from '../../../../core/src/documents/index.ts';
import { urlOf, routes } from '../../../../contract/src/index.ts';
import { useDocuments } from '../../data/openProject.ts';
import { CentreLineFields, DimensionVerbs } from './AboutDimension.tsx';
import { BalloonActions } from './BalloonActions.tsx';
import { PoseField } from './PoseField.tsx';
import { useIntend } from '../../data/editing/useIntend.ts';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';
import { CutVerbs, SectionFields } from './section/SectionFields.tsx';
import { DetailFields, ProjectedFields, ShownFields, TurnFields } from './ViewPlaceFields.tsx';
import { shadeWords, tangentWords } from '../words.ts';

/** About a view, and what can be said of it. */
export function AboutView({ id, sheet, inputs, drawn, thing, onThing, onMeasuring }: SheetInspectorProps) {
  const change = useChange(id);
  const view = sheet.views.find((one) => one.id === thing!.id)!;
  const laid = drawn.layout.views.find((one) => one.view.id === view.id);
  return (
    <>
      <div className="quiet">
        {view.detail ? 'Enlarged detail' : view.section && !view.section.pieces ? 'Section' : 'View'}
      </div>
      <h2>{view.detail?.letter || view.section?.letter || directionName(view.direction)}</h2>
      {view.detail ? (
        <DetailFields key={view.id} id={id} sheet={sheet} view={view} />
      ) : (
        <WholeViewFields id={id} sheet={sheet} view={view} />
      )}
      {view.section && laid && <SectionFields id={id} sheet={sheet} view={view} lines={laid.lines} />}
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
          <CutVerbs id={id} sheet={sheet} view={view} lines={laid.lines} onMeasuring={onMeasuring} />
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

const viewName = ({ detail, section, direction }: SheetView): string =>
  detail ? `detail ${detail.letter}` : section?.letter ? `section ${section.letter}` : directionName(direction);

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
