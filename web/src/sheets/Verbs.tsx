import { ActionIcon, Button, Menu } from '@mantine/core';
import { notifications } from '@mantine/notifications';
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
import { useMemo, useState } from 'react';
import type { Intention, PlainIntention } from '../../../core/src/documents/index.ts';
import {
  frameBox,
  linesWithin,
  newNote,
  proposeView,
  sheetKinds,
  tablePlaces,
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
import { cancelJob, Dropped, followJob, orderIntention, orderSetViews, orderSheetViews } from '../data/api.ts';
import { BalloonsForDialog } from './BalloonsForDialog.tsx';
import { PartSheetsDialog, type PartSheets } from './PartSheetsDialog.tsx';
import { useProject } from '../data/ProjectContext.tsx';
import { useIntend } from '../data/useIntend.ts';
import { linesOf } from '../data/views.ts';
import { placeWords } from './words.ts';

/** Sets that are made in one step, besides what it takes. */
const sets: readonly { readonly words: string; readonly kinds: readonly SheetKind[] }[] = [
  { words: 'This sheet only', kinds: ['assembly'] },
  { words: 'With a cover', kinds: ['cover', 'assembly'] },
  { words: 'With the machine taken apart', kinds: ['assembly', 'exploded'] },
  { words: 'With details of what is hidden', kinds: ['assembly', 'details'] },
  { words: 'Cover, drawing, taken apart, details', kinds: sheetKinds },
];

/** A layout is seen from one side. */
const LAID_OUT: readonly DirectionName[] = ['top'];

export interface VerbsProps {
  readonly id: string;
  readonly sheet: Sheet;
  readonly inputs: SheetInputs;
  readonly onGhost: (view: SheetView) => void;
  readonly onThing: (thing: SheetThing) => void;
}

/** Everything one does with a sheet as a whole. */
export function Verbs({ id, sheet, inputs, onGhost, onThing }: VerbsProps) {
  const project = useProject();
  const { perform, picked } = project;
  const queries = useQueryClient();
  const { intend } = useIntend();
  const [asks, setAsks] = useState(false);
  const [busy, setBusy] = useState<string | null>(null);
  /** The job that can be stopped while it is waited for. */
  const [stoppable, setStoppable] = useState<string | null>(null);
  /** Shows that something is going on, and says it in a sentence when it fails. */
  const during = async (words: string, work: () => Promise<void>) => {
    setBusy(words);
    try {
      await work();
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    setBusy(null);
  };
  const placeView = (direction: DirectionName) =>
    during(`Drawing the ${direction} view …`, async () => {
      const view = unplacedView(crypto.randomUUID(), { direction });
      onGhost(proposeView(inputs, view, await linesOf(queries, project, view)));
    });
  const list = sheet.tables.find(({ typed }) => !typed);
  const placeList = (place: TablePlace) => {
    const {
      at: _,
      onList: __,
      ...hanging
    } = list ??
    newList(
      project.sheets.map(({ content }) => content),
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
  /** Carries out what takes views and time; says what is not as it should be. */
  const carry = (words: string, label: string, intention: PlainIntention) =>
    during(words, async () => {
      const { problems } = await intend(label, intention);
      if (problems.length === 0) return;
      const message = problems.map((problem) => problem.message).join(' ');
      notifications.show({ message, color: 'orange', autoClose: 9000 });
    });
  const placeBalloons = (label: string) => carry('Arranging balloons …', label, { kind: 'placeBalloons', sheet: id });
  const placeSome = (
    label: string,
    some: Pick<Extract<PlainIntention, { kind: 'placeBalloons' }>, 'lines' | 'filter'>,
  ) => carry('Placing balloons …', label, { kind: 'placeBalloons', sheet: id, ...some });
  /** Of what is picked, and of all that it holds. */
  const pickedLines = useMemo(() => (picked === null ? [] : linesWithin(inputs, picked)), [picked, inputs]);
  const [ballooning, setBallooning] = useState(false);
  /** The server makes it, which has all shapes at hand; what comes of it is one gesture. */
  const makeDrawing = (kinds?: readonly SheetKind[]) =>
    ordered('make the drawing', 'Making the drawing …', { kind: 'makeSet', sheet: id, ...(kinds ? { kinds } : {}) });
  const makePartSheets = (asked: PartSheets) =>
    ordered('sheets of single parts', 'Making sheets of single parts …', {
      kind: 'makePartSheets',
      sheet: id,
      ...asked,
    });
  const ordered = (label: string, words: string, intention: Intention) =>
    during(words, async () => {
      const job = await orderIntention(project.id, label, intention);
      setStoppable(job);
      try {
        const { reason } = await followJob(job, ({ progress: { step, done, of } }) =>
          setBusy(of > 1 ? `${step}: ${done} of ${of} …` : `${step} …`),
        );
        await queries.invalidateQueries({ queryKey: ['project', project.id] });
        if (reason) notifications.show({ message: reason, autoClose: 12_000 });
      } catch (error) {
        if (!(error instanceof Dropped)) throw error;
      } finally {
        setStoppable(null);
      }
    });
  /** The file comes once all views are drawn; until then it is said how far they are, and it can be stopped. */
  const handOver = (format: 'pdf' | 'svg' | 'png' | 'set' | 'check/pdf' | 'check/json') =>
    during('Asking for the views …', async () => {
      const ofAll = format === 'set' || format.startsWith('check/');
      // Sheets that show several revisions take a job for each.
      for (;;) {
        const job = await (ofAll ? orderSetViews(project.id) : orderSheetViews(project.id, id));
        if (!job) break;
        setStoppable(job);
        try {
          await followJob(job, ({ progress }) => setBusy(`${progress.step} …`));
        } finally {
          setStoppable(null);
        }
      }
      const link = document.createElement('a');
      link.href = `/api/projects/${project.id}/${format === 'set' ? 'set/pdf' : ofAll ? format : `sheets/${id}/${format}`}`;
      link.download = '';
      link.click();
    });
  const placeNote = () => {
    const note = newNote(crypto.randomUUID(), frameBox(sheet.paper));
    perform('place a note', { document: id, command: { kind: 'changeNotes', remove: [], put: [note] } });
    onThing({ kind: 'note', id: note.id });
  };
  const noViews = sheet.views.length === 0;
  return (
    <div className="verbs">
      <Menu position="bottom-start" shadow="md">
        <Menu.Target>
          <button disabled={busy !== null}>
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
      <Menu position="bottom-start" shadow="md">
        <Menu.Target>
          <button disabled={busy !== null}>
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
      <button
        disabled={busy !== null || noViews}
        title={noViews ? 'Place a view first' : undefined}
        onClick={() => void placeBalloons('place balloons')}
      >
        <IconCircleNumber1 size={18} stroke={1.6} />
        Place balloons
      </button>
      <Menu position="bottom-start" shadow="md">
        <Menu.Target>
          <button className="further" aria-label="Balloons for some lines only" disabled={busy !== null || noViews}>
            <IconChevronDown size={14} />
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item
            disabled={pickedLines.length === 0}
            onClick={() => void placeSome('place balloons for what is picked', { lines: pickedLines })}
          >
            {pickedLines.length === 0
              ? 'For what is picked'
              : `For what is picked: ${count(pickedLines.length, 'line')}`}
          </Menu.Item>
          <Menu.Item onClick={() => setBallooning(true)}>For lines that …</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <button
        disabled={busy !== null || sheet.balloons.length === 0}
        onClick={() => void placeBalloons('arrange balloons')}
      >
        <IconLayoutDistributeHorizontal size={18} stroke={1.6} />
        Arrange
      </button>
      <button disabled={busy !== null} onClick={placeNote}>
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
          <Menu.Item onClick={() => void handOver('pdf')}>Sheet as PDF</Menu.Item>
          <Menu.Item onClick={() => void handOver('svg')}>Sheet as SVG</Menu.Item>
          <Menu.Item onClick={() => void handOver('png')}>Sheet as PNG, 300 dots per inch</Menu.Item>
          <Menu.Item onClick={() => void handOver('set')}>All sheets as one PDF</Menu.Item>
          <Menu.Divider />
          <Menu.Item onClick={() => void handOver('check/pdf')}>What to look at, as PDF</Menu.Item>
          <Menu.Item onClick={() => void handOver('check/json')}>What to look at, as JSON</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <Button
        ml={8}
        size="compact-md"
        leftSection={<IconWand size={17} />}
        disabled={busy !== null}
        title="Views, list and balloons, and as many sheets as it takes to see every line well"
        onClick={() => void makeDrawing()}
      >
        Make the drawing
      </Button>
      <Menu position="bottom-end" shadow="md">
        <Menu.Target>
          <ActionIcon ml={2} size={30} aria-label="Which sheets to make" disabled={busy !== null}>
            <IconChevronDown size={16} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          {sets.map(({ words, kinds }) => (
            <Menu.Item key={words} onClick={() => void makeDrawing(kinds)}>
              {words}
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Item onClick={() => setAsks(true)}>Sheets of single parts …</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {ballooning && (
        <BalloonsForDialog
          onPlace={(filter, words) => void placeSome(`place balloons where ${words}`, { filter })}
          onClose={() => setBallooning(false)}
        />
      )}
      {asks && <PartSheetsDialog onClose={() => setAsks(false)} onMake={(asked) => void makePartSheets(asked)} />}
    </div>
  );
}
