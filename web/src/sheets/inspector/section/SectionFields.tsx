import { Button, Checkbox, Group, NumberInput, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState } from 'react';
import { componentsAlong, fullLabel, pathOf, type ComponentKey } from '../../../../../core/src/assembly/index.ts';
import type { Vec3 } from '../../../../../core/src/geometry/index.ts';
import { pathFault } from '../../../../../core/src/sections/index.ts';
import { isLayout } from '../../../../../core/src/layouts/index.ts';
import {
  cutOpen,
  cutParts,
  depthOf,
  middleOf,
  pathAt,
  planeOf,
  quarterBefore,
  saidOfParts,
  turnedSection,
  type AxisPlane,
  type Section,
  type Sheet,
  type SheetView,
} from '../../../../../core/src/sheets/index.ts';
import { isPictorial, type ViewLines } from '../../../../../core/src/views/index.ts';
import { useDocuments, useMachine } from '../../../data/openProject.ts';
import type { SheetInspectorProps } from '../inspectorProps.ts';
import { useSetViews } from '../../useSetViews.ts';
import { useChange } from '../useChange.ts';
import { SectionLookFields } from './SectionLookFields.tsx';

type SectionFieldsProps = Pick<SheetInspectorProps, 'id' | 'sheet'> & {
  readonly view: SheetView;
  readonly lines: ViewLines;
};

/** What a section takes away, and which parts stay whole in it. */
export function SectionFields({ id, sheet, view, lines }: SectionFieldsProps) {
  const change = useChange(id);
  const section = view.section!;
  const set = (label: string, changed: Section) =>
    change(label, { kind: 'changeView', id: view.id, change: { section: changed } });
  const parent = sheet.views.find((one) => one.id === section.of);
  const turned = parent && turnedSection(view, parent);
  const ofSet = useDocuments().set.content.sectionLook?.byMaterial === true;
  return (
    <>
      <p className="quiet">
        {section.path
          ? parent
            ? 'Drag its cutting line on the view that shows it, or the dots at its ends and corners.'
            : 'Its cutting line is on no view of this sheet.'
          : section.pieces
            ? 'Drag the border of a piece that is cut open; once picked, the dot at its corner too.'
            : 'A piece nearest to the viewer is taken away.'}
        {lines.cutOccurrences?.length === 0 && ' Nothing of the machine is cut.'}
      </p>
      <Group gap="xs" align="end" grow>
        {section.path && <Letter key={section.letter} sheet={sheet} section={section} onSet={set} />}
        {turned && (
          <Button
            size="compact-sm"
            variant="default"
            onClick={() =>
              change('look at the section from the other side', {
                kind: 'changeView',
                id: view.id,
                change: { ...turned, projectedFrom: null },
              })
            }
          >
            From the other side
          </Button>
        )}
      </Group>
      {section.path && <Where key={section.path.points.join()} section={section} onSet={set} />}
      {section.path?.points.length === 3 && <Aligned section={section} onSet={set} />}
      {section.pieces?.map((_, piece) => (
        <Depth key={`${piece} ${section.pieces![piece].at.join()}`} {...{ view, section, piece }} onSet={set} />
      ))}
      <Checkbox
        mt="xs"
        size="xs"
        label="Hatched"
        checked={!section.unhatched}
        onChange={({ currentTarget: { checked } }) => {
          const { unhatched: _, ...hatched } = section;
          set(
            checked ? 'hatch the section' : 'leave the section white',
            checked ? hatched : { ...section, unhatched: true },
          );
        }}
      />
      {!section.unhatched && (
        <Checkbox
          mt={6}
          size="xs"
          label="By material: plastic crossed, wood in pairs, insulation broken"
          checked={section.byMaterial ?? ofSet}
          onChange={({ currentTarget: { checked } }) => {
            const { byMaterial: _, ...asInSet } = section;
            set(
              checked ? 'hatch by material' : 'hatch all materials alike',
              checked === ofSet ? asInSet : { ...section, byMaterial: checked },
            );
          }}
        />
      )}
      <Checkbox
        mt={6}
        size="xs"
        label="Shafts, screws and their like stay whole"
        checked={!section.cutsAll}
        onChange={({ currentTarget: { checked } }) => {
          const { cutsAll: _, ...sparing } = section;
          set(
            checked ? 'leave shafts and screws whole' : 'cut shafts and screws too',
            checked ? sparing : { ...section, cutsAll: true },
          );
        }}
      />
      <CutParts section={section} lines={lines} onSet={set} />
      <Button
        mt="xs"
        size="compact-sm"
        variant="default"
        onClick={() => change('take nothing away', { kind: 'changeView', id: view.id, change: { section: null } })}
      >
        Take nothing away
      </Button>
      <SectionLookFields />
    </>
  );
}

interface OfSection {
  readonly section: Section;
  readonly onSet: (label: string, section: Section) => void;
}

/** Whether the second stretch of a cutting line is turned into the plane across the sight. */
function Aligned({ section, onSet }: OfSection) {
  const { aligned, ...path } = section.path!;
  const turned = { ...path, aligned: true } as const;
  const fault = aligned ? null : pathFault(turned);
  return (
    <Checkbox
      mt="xs"
      size="xs"
      label="Second stretch turned into the plane of the view"
      disabled={fault !== null}
      {...(fault === null ? {} : { description: fault })}
      checked={aligned === true}
      onChange={({ currentTarget: { checked } }) =>
        onSet(checked ? 'turn the second stretch into the plane' : 'leave the second stretch as it lies', {
          ...section,
          path: checked ? turned : path,
        })
      }
    />
  );
}

/** Where a plane stands along an axis of the machine; typed, and told where it is another place then. */
function PlaceField({
  plane: { axis, at },
  label,
  onPlace,
}: {
  readonly plane: AxisPlane;
  readonly label: (axis: string) => string;
  readonly onPlace: (axis: string, at: number) => void;
}) {
  const [typed, setTyped] = useState<number | string>(Number(at.toFixed(4)));
  const name = 'xyz'[axis];
  const take = () => {
    if (typeof typed === 'number' && Math.abs(typed - at) >= 1e-4) onPlace(name, typed);
  };
  return (
    <NumberInput
      mt="xs"
      size="xs"
      w="100%"
      label={label(name)}
      hideControls
      decimalScale={4}
      min={-1e7}
      max={1e7}
      value={typed}
      onChange={setTyped}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}

/** How deep a piece is cut open. */
function Depth({ view, section, piece, onSet }: OfSection & { readonly view: SheetView; readonly piece: number }) {
  const pieces = section.pieces!;
  const plane = depthOf(view.direction, pieces[piece]);
  return (
    <>
      {plane && (
        <PlaceField
          plane={plane}
          label={(axis) => `Piece ${piece + 1} cut at ${axis}, mm of the model`}
          onPlace={(axis, typed) => {
            const at = pieces[piece].at.map((value, one) => (one === plane.axis ? typed : value)) as unknown as Vec3;
            onSet(`cut piece ${piece + 1} open to ${axis} = ${typed} mm`, {
              ...section,
              pieces: pieces.with(piece, { ...pieces[piece], at }),
            });
          }}
        />
      )}
      {pieces.length > 1 && (
        <Button
          mt={6}
          size="compact-sm"
          variant="default"
          onClick={() => onSet(`close piece ${piece + 1}`, { ...section, pieces: pieces.toSpliced(piece, 1) })}
        >
          Close piece {piece + 1}
        </Button>
      )}
    </>
  );
}

/** Where a straight cutting line is, along the axis of the machine to which it is square. */
function Where({ section, onSet }: OfSection) {
  const path = section.path!;
  const plane = planeOf(path);
  return (
    plane && (
      <PlaceField
        plane={plane}
        label={(axis) => `It is at ${axis}, mm of the model`}
        onPlace={(axis, at) => onSet(`cut at ${axis} = ${at} mm`, { ...section, path: pathAt(path, { ...plane, at }) })}
      />
    )
  );
}

function Letter({
  sheet,
  section,
  onSet,
}: {
  readonly sheet: Sheet;
  readonly section: Section;
  readonly onSet: (label: string, section: Section) => void;
}) {
  const [letter, setLetter] = useState(section.letter);
  const isTaken = (wanted: string) =>
    sheet.views.some(
      (view) => view.section !== section && [view.section?.letter, view.detail?.letter].includes(wanted),
    );
  const wanted = letter.trim().slice(0, 4);
  const take = () => {
    if (wanted && wanted !== section.letter && !isTaken(wanted))
      onSet(`call the section ${wanted}`, { ...section, letter: wanted });
    else setLetter(section.letter);
  };
  return (
    <TextInput
      size="xs"
      label="Letter"
      value={letter}
      error={wanted !== section.letter && isTaken(wanted) ? 'Another view has it' : undefined}
      onChange={(event) => setLetter(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}

/** Long lists are not read: the rest is found by picking. */
const MOST_LISTED = 40;

/** Parts through which the section goes: cut, or whole. */
function CutParts({
  section,
  lines,
  onSet,
}: {
  readonly section: Section;
  readonly lines: ViewLines;
  readonly onSet: (label: string, section: Section) => void;
}) {
  const { assembly } = useMachine();
  const nameOf = new Map(assembly.components.map((component) => [component.key, fullLabel(component)]));
  // What was said holds at once; the lines follow.
  const parts = cutParts(lines, (path) => {
    const along = componentsAlong(assembly, pathOf(path));
    return along ? assembly.components[along[along.length - 1]].key : null;
  }).map(({ part, isWhole }) => ({
    part,
    isWhole: section.whole?.includes(part) || (isWhole && !section.through?.includes(part)),
  }));
  if (parts.length === 0) return null;
  const put = (part: ComponentKey, isWhole: boolean) => {
    const without = (list: readonly ComponentKey[] = []) => list.filter((one) => one !== part);
    const { whole, through, ...rest } = section;
    const [wholes, cuts] = isWhole
      ? [[...without(whole), part], without(through)]
      : [without(whole), [...without(through), part]];
    onSet(`${isWhole ? 'leave' : 'cut'} ${nameOf.get(part)}${isWhole ? ' whole' : ''}`, {
      ...rest,
      ...(wholes.length > 0 ? { whole: wholes } : {}),
      ...(cuts.length > 0 ? { through: cuts } : {}),
    });
  };
  return (
    <div role="group" aria-label="Cut and hatched" className="cutparts">
      <div className="quiet">Cut and hatched</div>
      {parts.slice(0, MOST_LISTED).map(({ part, isWhole }) => (
        <Checkbox
          key={part}
          size="xs"
          mt={4}
          label={nameOf.get(part)}
          checked={!isWhole}
          onChange={({ currentTarget: { checked } }) => put(part, !checked)}
        />
      ))}
      {parts.length > MOST_LISTED && <p className="quiet">and {parts.length - MOST_LISTED} more</p>}
    </div>
  );
}

/** What a view may become: one with a cutting line, or one with a piece taken away. */
export function CutVerbs({
  id,
  sheet,
  view,
  lines,
  onMeasuring,
}: SectionFieldsProps & Pick<SheetInspectorProps, 'onMeasuring'>) {
  const change = useChange(id);
  const { assembly } = useMachine();
  const views = useSetViews(id, sheet);
  const quarter = () =>
    change('cut a quarter open', {
      kind: 'changeView',
      id: view.id,
      change: {
        section: { ...quarterBefore(view.direction, middleOf(view.direction, lines)), ...saidOfParts(views) },
      },
    });
  const open = () => {
    const made = cutOpen(view, lines, views);
    if (typeof made === 'string') {
      notifications.show({ message: made, color: 'orange' });
      return;
    }
    change('cut a piece open', { kind: 'changeView', id: view.id, change: { section: made } });
  };
  if (lines.kinds.length === 0 || isLayout(assembly)) return null;
  return (
    <Group gap="xs" mt="xs">
      <Button
        size="compact-sm"
        variant="default"
        onClick={() => onMeasuring({ kind: 'cut', view: view.id, points: [] })}
      >
        Cut along a line
      </Button>
      {(!view.section || view.section.pieces) && (
        <Button size="compact-sm" variant="default" onClick={open}>
          {view.section ? 'Cut another piece open' : 'Cut a piece open'}
        </Button>
      )}
      {!view.section && isPictorial(view.direction) && (
        <Button size="compact-sm" variant="default" onClick={quarter}>
          Cut a quarter open
        </Button>
      )}
    </Group>
  );
}
