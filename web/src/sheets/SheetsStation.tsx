import { Button, Menu } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import {
  IconCircleNumber1,
  IconCube,
  IconDownload,
  IconLayoutDistributeHorizontal,
  IconTable,
  IconWand,
} from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { billShownBy } from '../../../core/src/documents/index.ts';
import type { Box2 } from '../../../core/src/geometry/index.ts';
import {
  drawSheet,
  proposeView,
  tablePlaces,
  type DrawnSheet,
  type Sheet,
  type SheetProblem,
  type SheetView,
  type TablePlace,
} from '../../../core/src/sheets/index.ts';
import { directionNames, type DirectionName, type ViewLines } from '../../../core/src/views/index.ts';
import { cancelJob, followJob, orderSheetViews } from '../data/api.ts';
import { OpenedBill } from '../data/OpenedBill.tsx';
import { useProject } from '../data/ProjectContext.tsx';
import { fetchLines } from '../data/views.ts';
import { CoverageStrip } from '../shell/CoverageStrip.tsx';
import { Picture } from '../projects/Picture.tsx';
import { PaperSurface, type PickedThing } from './PaperSurface.tsx';
import { SheetInspector } from './SheetInspector.tsx';
import { useArrange, useDrawing } from './useRearrange.ts';
import { useSheetInputs } from './useSheetInputs.ts';
import { placeWords } from './words.ts';

/** Paper in the middle, verbs above it, what is picked at the right. */
export function SheetsStation() {
  const { sheets, bills } = useProject();
  const [sheet] = sheets;
  if (!sheet)
    return (
      <main className="main">
        <div className="centre">This project has no sheet.</div>
      </main>
    );
  return (
    <OpenedBill open={billShownBy(bills, sheet.content)}>
      <OpenSheet key={sheet.id} id={sheet.id} stored={sheet.content} />
    </OpenedBill>
  );
}

function OpenSheet({ id, stored }: { id: string; stored: Sheet }) {
  const project = useProject();
  const { bill, sheets } = project;
  /** What the sheet reads while something is dragged; null otherwise. */
  const [draft, setDraft] = useState<Sheet | null>(null);
  const [thing, setThing] = useState<PickedThing | null>(null);
  const [ghost, setGhost] = useState<SheetView | null>(null);
  const sheet = draft ?? stored;
  const { inputs, waiting, failed } = useSheetInputs(sheet);
  const drawn = useMemo(
    () => drawSheet(inputs, { sheet: 1, of: sheets.length, viewLines: false }),
    [inputs, sheets.length],
  );
  return (
    <>
      <main className="main">
        <section className="sheets" aria-label="Sheet">
          <Verbs id={id} sheet={stored} inputs={inputs} onGhost={setGhost} />
          <nav className="sheetlist" aria-label="Sheets of this project">
            <button
              className="page"
              style={{ aspectRatio: `${drawn.scene.widthMm} / ${drawn.scene.heightMm}` }}
              aria-label={`Sheet 1, ${sheet.name}`}
              onClick={() => setThing(null)}
            >
              <MiniSheet drawn={drawn} />
            </button>
            1 {sheet.name}
            <div className="quiet" style={{ fontSize: 12 }}>
              {sheet.paper.size} {sheet.paper.landscape ? 'landscape' : 'portrait'}
            </div>
          </nav>
          <PaperSurface
            id={id}
            sheet={stored}
            drawn={drawn}
            inputs={inputs}
            onDraft={setDraft}
            thing={thing}
            onThing={setThing}
            ghost={ghost}
            onGhost={setGhost}
            waiting={waiting}
            failed={failed}
          />
        </section>
        <SheetInspector id={id} sheet={stored} drawn={drawn} thing={thing} onThing={setThing} />
      </main>
      <CoverageStrip bill={bill} coverage={drawn.layout.coverage} />
    </>
  );
}

/** What lies where on the sheet, small: views as pictures, list and title block as fields. */
function MiniSheet({
  drawn: {
    layout,
    scene: { widthMm, heightMm },
  },
}: {
  drawn: DrawnSheet;
}) {
  const at = ([x0, y0, x1, y1]: Box2) => ({
    left: `${(100 * x0) / widthMm}%`,
    top: `${(100 * y0) / heightMm}%`,
    width: `${(100 * (x1 - x0)) / widthMm}%`,
    height: `${(100 * (y1 - y0)) / heightMm}%`,
  });
  return (
    <>
      <span className="filled" style={at(layout.titleBlock)} />
      {layout.table?.measured.strips.map((strip) => (
        <span key={strip.from} className="filled" style={at(strip.box)} />
      ))}
      {layout.views.map(({ view, box, drawn: lines }) => (
        <span key={view.id} style={at(box)}>
          <Picture lines={lines} />
        </span>
      ))}
    </>
  );
}

interface VerbsProps {
  readonly id: string;
  readonly sheet: Sheet;
  readonly inputs: ReturnType<typeof useSheetInputs>['inputs'];
  readonly onGhost: (view: SheetView) => void;
}

/** Everything one does with a sheet as a whole. */
function Verbs({ id, sheet, inputs, onGhost }: VerbsProps) {
  const project = useProject();
  const { perform } = project;
  const queries = useQueryClient();
  const arrange = useArrange();
  const draw = useDrawing();
  const [busy, setBusy] = useState<string | null>(null);
  /** The job that can be stopped while it is waited for. */
  const [stoppable, setStoppable] = useState<string | null>(null);
  const linesOf = (direction: DirectionName): Promise<ViewLines> => fetchLines(queries, project, direction);
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
    during(`Drawing the ${direction} view …`, async () =>
      onGhost(proposeView(inputs, direction, await linesOf(direction), crypto.randomUUID())),
    );
  const placeList = (place: TablePlace) =>
    perform(`place list ${placeWords[place]}`, { document: id, command: { kind: 'setTable', table: { place } } });
  const tell = (problems: readonly SheetProblem[]) => {
    if (problems.length === 0) return;
    notifications.show({ message: problems.map(({ message }) => message).join(' '), color: 'orange', autoClose: 9000 });
  };
  const placeBalloons = (label: string) =>
    during('Arranging balloons …', async () => {
      const { step, plan } = await arrange(id, sheet);
      perform(label, step);
      tell(plan.problems);
    });
  const makeDrawing = () =>
    during('Making the drawing …', async () => {
      const { steps, problems } = await draw(id, sheet);
      perform('make the drawing', ...steps);
      tell(problems);
    });
  /** The file comes once all views are drawn; until then it is said how far they are, and it can be stopped. */
  const handOver = (format: 'pdf' | 'svg') =>
    during('Asking for the views …', async () => {
      const job = await orderSheetViews(project.id, id);
      setStoppable(job);
      try {
        if (job) await followJob(job, ({ progress }) => setBusy(`${progress.step} …`));
      } finally {
        setStoppable(null);
      }
      const link = document.createElement('a');
      link.href = `/api/projects/${project.id}/sheets/${id}/${format}`;
      link.download = '';
      link.click();
    });
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
          {directionNames.map((direction) => (
            <Menu.Item key={direction} onClick={() => void placeView(direction)}>
              {direction}
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
            <Menu.Item key={place} disabled={sheet.table?.place === place} onClick={() => placeList(place)}>
              {placeWords[place]}
            </Menu.Item>
          ))}
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
      <button
        disabled={busy !== null || sheet.balloons.length === 0}
        onClick={() => void placeBalloons('arrange balloons')}
      >
        <IconLayoutDistributeHorizontal size={18} stroke={1.6} />
        Arrange
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
        </Menu.Dropdown>
      </Menu>
      <Button
        ml={8}
        size="compact-md"
        leftSection={<IconWand size={17} />}
        disabled={busy !== null}
        onClick={() => void makeDrawing()}
      >
        Make the drawing
      </Button>
    </div>
  );
}
