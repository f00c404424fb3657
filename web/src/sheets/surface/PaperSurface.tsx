import { ActionIcon, Tooltip } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconMaximize, IconMinus, IconPlus } from '@tabler/icons-react';
import { useEffect, useMemo, useRef, useState, type MouseEvent } from 'react';
import { removeSteps, sheetSteps } from '../../../../core/src/documents/index.ts';
import type { Vec2 } from '../../../../core/src/geometry/index.ts';
import {
  centreLinesOf,
  isSameThing,
  kindOfThing,
  overlapsOf,
  paperLabel,
  penPair,
  thingAt,
  thingsOn,
  withColumnWidth,
  type DrawnSheet,
  type Guide,
  type Sheet,
  type SheetInputs,
  type SheetLayout,
  type SheetThing,
  type SheetView,
} from '../../../../core/src/sheets/index.ts';
import { count } from '../../count.ts';
import { useDoing, usePicking } from '../../data/openProject.ts';
import { Handles } from './handles/Handles.tsx';
import { Hints } from './Hints.tsx';
import { liftedOf, LiftedViews } from './Lifted.tsx';
import { ListAddColumn } from './ListAddColumn.tsx';
import { PaperMenu } from './PaperMenu.tsx';
import { PaperOverlays, PaperWords } from './PaperOverlays.tsx';
import { PaperText } from './PaperText.tsx';
import { SceneMarks } from './SceneMarks.tsx';
import type { OnPaper } from './tools/paperTool.ts';
import { useBestSeen } from './tools/useBestSeen.ts';
import { useCutting } from './tools/useCutting.ts';
import { useCopies } from './tools/useCopies.ts';
import { useGhost } from './tools/useGhost.ts';
import { useHeadings } from './tools/useHeadings.ts';
import { useLeaderEnds } from './tools/useLeaderEnds.ts';
import { useMeasuring, type Measuring } from './tools/useMeasuring.ts';
import { usePaperKeys } from './tools/usePaperKeys.ts';
import { usePaperTyping } from './tools/usePaperTyping.ts';
import { useHolding } from './tools/useHolding.ts';
import { usePlacing } from './tools/usePlacing.ts';
import { useLit } from './useLit.ts';
import { usePaperView, type PaperView } from './usePaperView.ts';
import { ViewCanvas } from './ViewCanvas.tsx';

interface PaperSurfaceProps {
  readonly id: string;
  /** As stored; while dragging, `drawn` shows the draft. */ readonly sheet: Sheet;
  readonly drawn: DrawnSheet;
  readonly inputs: SheetInputs;
  /** The sheet as it reads while something is dragged; null when it ends. */ readonly onDraft: (
    draft: Sheet | null,
  ) => void;
  /** What is picked, the last of them last. */ readonly things: readonly SheetThing[];
  readonly onThings: (things: readonly SheetThing[]) => void;
  /** A dimension on its way: what it is to measure is picked on paper. */ readonly measuring: Measuring | null;
  readonly onMeasuring: (measuring: Measuring | null) => void;
  /** A view on its way to its place, following the pointer. */ readonly ghost: SheetView | null;
  readonly onGhost: (ghost: SheetView | null) => void;
  readonly waiting: boolean;
  readonly failed: string | null;
}

/** The sheet on the desk: everything on it is picked and dragged directly. */
export function PaperSurface(props: PaperSurfaceProps) {
  const { id, sheet, drawn, inputs, things, measuring, onMeasuring, ghost, onGhost } = props;
  const { pick } = usePicking();
  const { perform } = useDoing();
  const { ref: desk, width, height } = useElementSize();
  const paper = useRef<HTMLDivElement>(null);
  const {
    scene: { widthMm, heightMm, marks },
    layout,
  } = drawn;
  const fit = Math.max(0.2, Math.min((width - 40) / widthMm, (height - 40) / heightMm));
  const view = usePaperView(paper, fit);
  const { zoom } = view;
  const on = useOnPaper(props, paper, zoom);
  const { thing, choose, change } = on;
  const placed = useMemo(() => thingsOn(drawn, sheet.paper), [drawn, sheet.paper]);
  const centreLines = useCentreLines(layout, sheet);

  const [guides, setGuides] = useState<readonly Guide[]>([]);
  const putting = useGhost(on, ghost, onGhost);
  const placing = usePlacing(on, measuring, onMeasuring);
  const measured = useMeasuring(on, measuring, onMeasuring);
  const cutting = useCutting(on, measuring, onMeasuring);
  const tool = putting ?? placing.tool ?? measured.tool ?? cutting.tool;
  const ends = useLeaderEnds(on);
  const heads = useHeadings(on, setGuides);
  const toMm = ({ clientX, clientY }: { readonly clientX: number; readonly clientY: number }): Vec2 => {
    const box = paper.current!.getBoundingClientRect();
    return [(clientX - box.left) / zoom, (clientY - box.top) / zoom];
  };
  const holding = useHolding({ on, placed, toMm, ends, heads, onGuides: setGuides, isOff: tool !== null });
  const { dragged } = holding;
  const lit = useLit(inputs, layout, thing, (mm) => dragged === null && view.travelTo(mm));
  const elsewhere = useBestSeen(
    id,
    measuring?.kind === 'balloon' && !placing.waits && !placing.hasPlaces ? measuring.row : null,
    inputs,
  );
  const copies = useCopies(on);
  const { typing, openText, close } = usePaperTyping(on);
  const takeAway = () => {
    const members = new Map([...centreLines.values()].flat().map((line) => [line.id, line.members]));
    const commands = removeSteps(sheet, things, (line) => members.get(line) ?? [line]);
    if (commands.length === 0) return;
    perform(
      `take away ${thing ? kindOfThing(thing.kind).called : count(things.length, 'thing')}`,
      ...commands.map((command) => ({ document: id, command })),
    );
    choose([]);
  };
  const { take, leave } = holding;
  const onKey = usePaperKeys({
    on,
    placed,
    tool,
    ends,
    copies,
    take,
    takeAway,
    openText: () => openText(null),
    leave,
  });
  const focusPaper = () => paper.current?.focus({ preventScroll: true });
  useEffect(() => {
    if (tool) paper.current?.focus(); // so that Enter and arrow keys go there
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when one begins
  }, [tool === null, ghost?.id]);

  const [menuAt, setMenuAt] = useState<Vec2 | null>(null);
  const openMenu = (event: MouseEvent) => {
    event.preventDefault();
    // From the keyboard there is no place of the pointer: then it opens on what is picked.
    const byPointer = event.button === 2;
    const spot = toMm(event);
    const under = byPointer ? thingAt(placed, spot) : undefined;
    if (under && !things.some((one) => isSameThing(one, under))) choose([under]);
    const first = placed.find((one) => things.some((each) => isSameThing(each, one.thing)));
    const [x, y] = byPointer || !first ? spot : [(first.box[0] + first.box[2]) / 2, (first.box[1] + first.box[3]) / 2];
    const box = paper.current!.getBoundingClientRect();
    setMenuAt([box.left + x * zoom, box.top + y * zoom]);
  };
  const lifted =
    dragged && dragged.things.length > 0 && dragged.things.every(({ kind }) => kind === 'view')
      ? liftedOf(dragged.start.drawn, drawn)
      : null;
  const ownList = thing && ownListOf(thing, layout, inputs);
  return (
    <div className="desk" ref={desk}>
      <div
        className="paper"
        ref={paper}
        tabIndex={0}
        role="application"
        aria-roledescription="sheet"
        aria-label={`Sheet ${sheet.name}, ${paperLabel(sheet.paper)}. N and Shift N go from thing to thing on it, Tab from balloon to balloon until Escape, arrows move what is picked, Enter types its text, Ctrl A picks everything.`}
        style={{ width: widthMm * zoom, height: heightMm * zoom, cursor: tool?.cursor }}
        {...(tool
          ? {
              onPointerMove: (event) => tool.lookAt(toMm(event)),
              onPointerUp: (event) => event.button === 0 && tool.takeAt(toMm(event), event.shiftKey),
            }
          : holding.bind())}
        onDoubleClick={(event) => !tool && openText(toMm(event))}
        onContextMenu={openMenu}
        onKeyDown={onKey}
      >
        <ViewCanvas
          views={lifted ? layout.views.filter(({ view: one }) => !lifted.views.has(one.id)) : layout.views}
          paper={sheet.paper}
          widthMm={widthMm}
          heightMm={heightMm}
          zoom={zoom}
          lit={lit.places}
        />
        <svg viewBox={`0 0 ${widthMm} ${heightMm}`}>
          <SceneMarks marks={lifted ? marks.filter(({ source }) => !lifted.isOf(source)) : marks} isLit={lit.isLit} />
          <Handles
            drawn={lifted ? lifted.start : drawn}
            start={holding.start}
            onRow={({ bill }, row) => bill === inputs.bill && pick(bill.rows[row].components[0] ?? null)}
            onFit={(list, column) => change('fit a column', withColumnWidth(sheet, list, column, null))}
            zoom={zoom}
            things={things}
            centreLines={centreLines}
          />
          <PaperOverlays
            width={widthMm}
            height={heightMm}
            zoom={zoom}
            overlaps={dragged ? overlapsOf(placed, things) : []}
            band={holding.band}
            placing={placing}
            measured={measuring ? [measuring.kind === 'distance' ? measuring.first : undefined, measured.hit] : []}
            cross={measured.cross}
            cuttingLine={cutting.line}
            guides={guides}
            ghost={ghost}
          />
        </svg>
        {lifted && <LiftedViews lifted={lifted} paper={sheet.paper} zoom={zoom} lit={lit.places} />}
        <PaperWords
          zoom={zoom}
          said={ends.said}
          ghost={ghost}
          measuring={measuring}
          placing={placing}
          elsewhere={elsewhere}
          item={measuring?.kind === 'balloon' ? (inputs.bill.rows[measuring.row]?.item ?? '') : ''}
        />
        <StateWords {...props} waiting={props.waiting || cutting.draws} />
        {typing && (
          <PaperText
            key={typing.key ?? typing.label}
            {...typing}
            zoom={zoom}
            onClose={() => {
              close();
              focusPaper();
            }}
          />
        )}
        {ownList && <ListAddColumn layout={layout} list={ownList} zoom={zoom} />}
        {sheet.balloons.length > 0 && layout.views.length > 0 && <Hints layout={layout} zoom={zoom} />}
      </div>
      <PaperMenu
        on={on}
        placed={placed}
        at={menuAt}
        copies={copies}
        take={take}
        takeAway={takeAway}
        onClose={() => {
          setMenuAt(null);
          focusPaper();
        }}
      />
      <ZoomTools view={view} />
    </div>
  );
}

/** What every tool knows of the sheet. */
function useOnPaper(
  { id, sheet, drawn, inputs, things, onThings, onDraft }: PaperSurfaceProps,
  paper: OnPaper['paper'],
  zoom: number,
): OnPaper {
  const { pick } = usePicking();
  const { perform } = useDoing();
  const { layout } = drawn;
  const choose = (picking: readonly SheetThing[]) => {
    onThings(picking);
    const [only] = picking.length === 1 ? picking : [];
    const balloon =
      only?.kind === 'balloon' ? layout.balloons.find(({ balloon: one }) => one.id === only.id) : undefined;
    if (balloon && balloon.row >= 0) pick(inputs.bill.rows[balloon.row].components[0] ?? null);
  };
  const change = (label: string, after: Sheet) => {
    const commands = sheetSteps(sheet, after);
    if (commands.length > 0) perform(label, ...commands.map((command) => ({ document: id, command })));
  };
  const thing = things.length === 1 ? things[0] : null;
  return { id, sheet, drawn, layout, inputs, paper, zoom, things, thing, choose, onDraft, change };
}

/** Of every view, by its id. */
function useCentreLines({ views }: SheetLayout, { paper }: Sheet) {
  return new Map(
    views.map(({ view, lines }) => [view.id, view.centreLines ? centreLinesOf(view, lines, penPair(paper).thin) : []]),
  );
}

/** The list that a thing is or belongs to, where it shows the bill whose columns can be changed here. */
function ownListOf(thing: SheetThing, { tables }: SheetLayout, inputs: SheetInputs): string | null {
  if (kindOfThing(thing.kind).about !== 'list') return null;
  const laid = tables.find(({ table }) => table.id === thing.id);
  return laid && laid.bill === inputs.bill && !laid.table.typed ? thing.id : null;
}

/** What is going on, or has gone wrong, with the whole sheet. */
function StateWords({ sheet, ghost, waiting, failed }: PaperSurfaceProps) {
  return (
    <>
      {waiting && (
        <p className="problem calm" style={{ position: 'absolute', left: 30, top: 30 }}>
          Drawing the view …
        </p>
      )}
      {failed && (
        <p className="problem" style={{ position: 'absolute', left: 30, top: 30 }}>
          {failed}
        </p>
      )}
      {sheet.views.length === 0 && !ghost && (
        <p className="problem calm" style={{ position: 'absolute', left: '12%', top: '30%', width: 300 }}>
          An empty sheet. Place a view, a list and balloons with the verbs above, or let “Make the drawing” do all
          three.
        </p>
      )}
    </>
  );
}

function ZoomTools({ view }: { readonly view: PaperView }) {
  return (
    <div className="zoom">
      <Tooltip label="Smaller">
        <ActionIcon variant="subtle" color="ink" aria-label="Zoom out" onClick={() => view.zoomBy(1 / 1.25)}>
          <IconMinus size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Fit the paper">
        <ActionIcon variant="subtle" color="ink" aria-label="Fit the paper" onClick={view.fit}>
          <IconMaximize size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Larger">
        <ActionIcon variant="subtle" color="ink" aria-label="Zoom in" onClick={() => view.zoomBy(1.25)}>
          <IconPlus size={16} />
        </ActionIcon>
      </Tooltip>
    </div>
  );
}
