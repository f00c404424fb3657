import { ActionIcon, Button, Menu } from '@mantine/core';
import {
  IconChevronDown,
  IconCircleNumber1,
  IconCube,
  IconDownload,
  IconLayoutDistributeHorizontal,
  IconTable,
  IconTextCaption,
  IconWand,
} from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { PlainIntention } from '../../../core/src/documents/index.ts';
import {
  frameBox,
  freeLetter,
  listedWithin,
  newNote,
  proposeView,
  sheetKinds,
  tablePlaces,
  saidOfParts,
  unplacedView,
  MOST_LISTS,
  newList,
  typedTable,
  USUAL_TABLE,
  type Sheet,
  type SheetInputs,
  type SheetKind,
  type SheetView,
  type TablePlace,
  type SheetThing,
} from '../../../core/src/sheets/index.ts';
import { isLayout } from '../../../core/src/layouts/index.ts';
import { directionName, directionNames, type DirectionName } from '../../../core/src/views/index.ts';
import { count } from '../count.ts';
import type { CutThere } from '../data/links.ts';
import { cancelJob } from '../data/api.ts';
import { BalloonsForDialog } from './BalloonsForDialog.tsx';
import { PartSheetsDialog, type PartSheets } from './PartSheetsDialog.tsx';
import { useDocuments, useDoing, usePicks, useProject } from '../data/openProject.ts';
import { linesOf } from '../data/made/views.ts';
import { useSetViews } from './useSetViews.ts';
import { useSheetWork, type HandedOver } from './useSheetWork.ts';
import { placeWords } from './words.ts';

/** Sets that are made in one step, besides what it takes. */
const sets: readonly { readonly words: string; readonly kinds: readonly SheetKind[] }[] = [
  { words: 'This sheet only', kinds: ['assembly'] },
  { words: 'With a cover', kinds: ['cover', 'assembly'] },
  { words: 'With a section', kinds: ['assembly', 'section'] },
  { words: 'With the machine taken apart', kinds: ['assembly', 'exploded'] },
  { words: 'With details of what is hidden', kinds: ['assembly', 'details'] },
  { words: 'Cover, drawing, section, taken apart, details', kinds: sheetKinds },
];

/** A layout is seen from one side. */
const LAID_OUT: readonly DirectionName[] = ['top'];

interface VerbsProps {
  readonly id: string;
  readonly sheet: Sheet;
  readonly inputs: SheetInputs;
  readonly onGhost: (view: SheetView) => void;
  readonly onThing: (thing: SheetThing) => void;
}

/** Everything one does with a sheet as a whole. */
export function Verbs({ id, sheet, inputs, onGhost, onThing }: VerbsProps) {
  const project = useProject();
  const { perform } = project;
  const views = useSetViews(id, sheet);
  const queries = useQueryClient();
  const work = useSheetWork(id);
  const { busy, stoppable } = work;
  const isBusy = busy !== null;
  const placeView = (direction: DirectionName, section?: SheetView['section']) =>
    work.during(`Drawing the ${direction} view …`, async () => {
      const view = unplacedView(crypto.randomUUID(), { direction, ...(section ? { section } : {}) });
      onGhost(proposeView(inputs, view, await linesOf(queries, project, view)));
    });
  // The machine in 3D may have sent a cut here, to be placed as a view; once.
  const navigate = useNavigate();
  const sent = (useLocation().state as Partial<CutThere> | null)?.cut;
  useEffect(() => {
    if (!sent) return;
    void navigate('.', { replace: true, state: null });
    void placeView(sent.direction, { letter: freeLetter(views), cuts: sent.cuts, ...saidOfParts(views) });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when it comes
  }, [sent]);
  const placeNote = () => {
    const note = newNote(crypto.randomUUID(), frameBox(sheet.paper));
    perform('place a note', { document: id, command: { kind: 'changeNotes', remove: [], put: [note] } });
    onThing({ kind: 'note', id: note.id });
  };
  return (
    <div className="verbs">
      <Menu position="bottom-start" shadow="md">
        <Menu.Target>
          <button disabled={isBusy}>
            <IconCube size={18} stroke={1.6} />
            Place view
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {(isLayout(project.assembly) ? LAID_OUT : directionNames).map((direction) => (
            <Menu.Item key={direction} onClick={() => void placeView(direction)}>
              {isLayout(project.assembly) ? 'the layout as it is drawn' : directionName(direction)}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      <ListVerb id={id} sheet={sheet} isBusy={isBusy} onThing={onThing} />
      <BalloonVerbs sheet={sheet} inputs={inputs} work={work} />
      <button disabled={isBusy} onClick={placeNote}>
        <IconTextCaption size={18} stroke={1.6} />
        Note
      </button>
      <span className="wide quiet" role="status" style={{ paddingLeft: 10 }}>
        {busy}
        {stoppable && (
          <Button size="compact-xs" variant="subtle" ml={6} onClick={() => void cancelJob(stoppable)}>
            Stop
          </Button>
        )}
      </span>
      <Menu position="bottom-end" shadow="md">
        <Menu.Target>
          <Button size="compact-md" variant="default" leftSection={<IconDownload size={16} />}>
            Hand over
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {handedOver.map((one) =>
            one === null ? (
              <Menu.Divider key="between" />
            ) : (
              <Menu.Item key={one.format} onClick={() => void work.handOver(one.format)}>
                {one.words}
              </Menu.Item>
            ),
          )}
        </Menu.Dropdown>
      </Menu>
      <MakeVerbs work={work} />
    </div>
  );
}

const handedOver: readonly ({ readonly format: HandedOver; readonly words: string } | null)[] = [
  { format: 'pdf', words: 'Sheet as PDF' },
  { format: 'svg', words: 'Sheet as SVG' },
  { format: 'png', words: 'Sheet as PNG, 300 dots per inch' },
  { format: 'set', words: 'All sheets as one PDF' },
  null,
  { format: 'check/pdf', words: 'What to look at, as PDF' },
  { format: 'check/json', words: 'What to look at, as JSON' },
];

/** Lists of the bill, and tables to type into. */
function ListVerb({
  id,
  sheet,
  isBusy,
  onThing,
}: Pick<VerbsProps, 'id' | 'sheet' | 'onThing'> & { readonly isBusy: boolean }) {
  const { sheets: all } = useDocuments();
  const { perform } = useDoing();
  const list = sheet.tables.find(({ typed }) => !typed);
  const placeList = (place: TablePlace) => {
    const {
      at: _,
      onList: __,
      ...hanging
    } = list ??
    newList(
      all.map(({ content }) => content),
      USUAL_TABLE,
      place,
    );
    perform(`place list ${placeWords[place]}`, {
      document: id,
      command: {
        kind: 'changeTables',
        remove: [],
        put: [{ ...hanging, place }],
      },
    });
  };
  /** An empty table to type into, in a free corner until it is hung elsewhere. */
  const placeTyped = () => {
    const taken = new Set(sheet.tables.map(({ place }) => place));
    const place = (['top-left', 'bottom-left', 'top-right', 'bottom-right'] as const).find((one) => !taken.has(one));
    const { title: _, ...made } = typedTable(newList([sheet], crypto.randomUUID(), place ?? 'top-left'));
    perform('place an empty table', { document: id, command: { kind: 'changeTables', remove: [], put: [made] } });
    onThing({ kind: 'table', id: made.id });
  };
  /** One more list, on the end of the last one until it is hung elsewhere. */
  const placeAnother = () => {
    const last = sheet.tables.at(-1);
    if (!last) return;
    const { title: _, ...made } = newList([sheet], crypto.randomUUID(), last.place);
    perform('place one more list', {
      document: id,
      command: { kind: 'changeTables', remove: [], put: [{ ...made, onList: last.id }] },
    });
    onThing({ kind: 'table', id: made.id });
  };
  return (
    <Menu position="bottom-start" shadow="md">
      <Menu.Target>
        <button disabled={isBusy}>
          <IconTable size={18} stroke={1.6} />
          Place list
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        {tablePlaces.map((place) => (
          <Menu.Item key={place} disabled={list?.place === place} onClick={() => placeList(place)}>
            {placeWords[place]}
          </Menu.Item>
        ))}
        {sheet.tables.length < MOST_LISTS && (
          <>
            <Menu.Divider />
            {list && <Menu.Item onClick={placeAnother}>one more list, on this one</Menu.Item>}
            <Menu.Item onClick={placeTyped}>an empty table to type into</Menu.Item>
          </>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}

/** Balloons for every line, for some, and arranged anew. */
function BalloonVerbs({
  sheet,
  inputs,
  work,
}: Pick<VerbsProps, 'sheet' | 'inputs'> & { readonly work: ReturnType<typeof useSheetWork> }) {
  const { picked } = usePicks();
  const [asks, setAsks] = useState(false);
  const isBusy = work.busy !== null;
  const noViews = sheet.views.length === 0;
  const place = (label: string, some: SomeLines = {}, words = 'Arranging balloons …') =>
    void work.carry(words, label, { kind: 'placeBalloons', sheet: work.sheet, ...some });
  const placeSome = (label: string, some: SomeLines) => place(label, some, 'Placing balloons …');
  /** Of what is picked, and of all that it holds. */
  const pickedLines = useMemo(() => (picked === null ? [] : listedWithin(inputs, picked)), [picked, inputs]);
  return (
    <>
      <button
        disabled={isBusy || noViews}
        title={noViews ? 'Place a view first' : undefined}
        onClick={() => place('place balloons')}
      >
        <IconCircleNumber1 size={18} stroke={1.6} />
        Place balloons
      </button>
      <Menu position="bottom-start" shadow="md">
        <Menu.Target>
          <button className="further" aria-label="Balloons for some lines only" disabled={isBusy || noViews}>
            <IconChevronDown size={14} />
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item
            disabled={pickedLines.length === 0}
            onClick={() => placeSome('place balloons for what is picked', { lines: pickedLines })}
          >
            {pickedLines.length === 0
              ? 'For what is picked'
              : `For what is picked: ${count(pickedLines.length, 'line')}`}
          </Menu.Item>
          <Menu.Item onClick={() => setAsks(true)}>For lines that …</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <button disabled={isBusy || sheet.balloons.length === 0} onClick={() => place('arrange balloons')}>
        <IconLayoutDistributeHorizontal size={18} stroke={1.6} />
        Arrange
      </button>
      {asks && (
        <BalloonsForDialog
          onPlace={(filter, words) => placeSome(`place balloons where ${words}`, { filter })}
          onClose={() => setAsks(false)}
        />
      )}
    </>
  );
}
type SomeLines = Pick<Extract<PlainIntention, { kind: 'placeBalloons' }>, 'lines' | 'filter'>;

/** Drawings and sets in one step: the server makes them, which has all shapes at hand; what comes of it is one gesture. */
function MakeVerbs({ work }: { readonly work: ReturnType<typeof useSheetWork> }) {
  const [asks, setAsks] = useState(false);
  const isBusy = work.busy !== null;
  const makeDrawing = (kinds?: readonly SheetKind[]) =>
    void work.order('make the drawing', 'Making the drawing …', {
      kind: 'makeSet',
      sheet: work.sheet,
      ...(kinds ? { kinds } : {}),
    });
  const makePartSheets = (asked: PartSheets) =>
    void work.order('sheets of single parts', 'Making sheets of single parts …', {
      kind: 'makePartSheets',
      sheet: work.sheet,
      ...asked,
    });
  return (
    <>
      <Button
        ml={8}
        size="compact-md"
        leftSection={<IconWand size={17} />}
        disabled={isBusy}
        title="Views, list and balloons, and as many sheets as it takes to see every line well"
        onClick={() => makeDrawing()}
      >
        Make the drawing
      </Button>
      <Menu position="bottom-end" shadow="md">
        <Menu.Target>
          <ActionIcon ml={2} size={30} aria-label="Which sheets to make" disabled={isBusy}>
            <IconChevronDown size={16} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          {sets.map(({ words, kinds }) => (
            <Menu.Item key={words} onClick={() => makeDrawing(kinds)}>
              {words}
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Item onClick={() => setAsks(true)}>Sheets of single parts …</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {asks && <PartSheetsDialog onClose={() => setAsks(false)} onMake={makePartSheets} />}
    </>
  );
}
