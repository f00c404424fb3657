import type { PointerEvent, SVGProps } from 'react';
import { bandsOf, type Strip } from '../../../../core/src/tables/index.ts';
import { stretchesPath } from '../../../../core/src/formats/index.ts';
import { boxHeight, boxWidth } from '../../../../core/src/geometry/index.ts';
import {
  bendName,
  listHeadings,
  readBend,
  scaleText,
  type CentreLine,
  type Detail,
  type DrawnSheet,
  type LaidTable,
  type LaidView,
  type SheetThing,
} from '../../../../core/src/sheets/index.ts';
import { directionName } from '../../../../core/src/views/index.ts';

export interface HandlesProps {
  readonly drawn: DrawnSheet;
  readonly things: readonly SheetThing[];
  /** Of each view, by its id. */
  readonly centreLines: ReadonlyMap<string, readonly CentreLine[]>;
  readonly start: (thing: SheetThing) => (event: PointerEvent) => void;
  /** A line of a list; a row of the bill that it shows. */
  readonly onRow: (list: LaidTable, row: number) => void;
  /** CSS pixels per mm. */
  readonly zoom: number;
  /** Lets a column of a list fit what stands in it. */
  readonly onFit: (list: string, column: string) => void;
}

export const PICKED = { stroke: '#d9541e', strokeWidth: 0.5, strokeDasharray: '2 1.5' } as const;

/** Invisible shapes over what can be picked and dragged. */
export function Handles({ drawn: { layout, notes }, things, centreLines, start, onRow, onFit, zoom }: HandlesProps) {
  const isPicked = (kind: SheetThing['kind'], id: string) => things.some((one) => one.kind === kind && one.id === id);
  const outline = (kind: SheetThing['kind'], id: string) => (isPicked(kind, id) ? PICKED : undefined);
  const [x0, y0, x1, y1] = layout.titleBlock;
  /** Whether a balloon, or what belongs to it, is all that is picked. */
  const isAbout = (id: string) =>
    isPicked('leaderEnd', id) ||
    (things.length === 1 &&
      (isPicked('balloon', id) || (things[0].kind === 'bend' && readBend(things[0].id).balloon === id)));
  return (
    <g>
      {x1 > x0 && (
        <rect
          className="grab"
          role="button"
          style={{ cursor: 'pointer' }}
          x={x0}
          y={y0}
          width={x1 - x0}
          height={y1 - y0}
          aria-label="Title block"
          onPointerDown={start({ kind: 'titleBlock', id: 'titleBlock' })}
        />
      )}
      {layout.views.map(({ view, box }) => (
        <rect
          key={view.id}
          className="grab"
          role="button"
          x={box[0]}
          y={box[1]}
          width={boxWidth(box)}
          height={boxHeight(box)}
          aria-label={view.detail ? `Detail ${view.detail.letter}` : `View ${directionName(view.direction)}`}
          data-view={view.id}
          onPointerDown={start({ kind: 'view', id: view.id })}
          style={outline('view', view.id) ?? outline('viewSize', view.id)}
        />
      ))}
      {layout.views.map((laid) => (
        <CentreLineHandles
          key={laid.view.id}
          laid={laid}
          lines={centreLines.get(laid.view.id) ?? []}
          isPicked={isPicked}
          start={start}
        />
      ))}
      {layout.views.map(({ view: { id, detail } }) => (
        <RegionHandles key={id} id={id} detail={detail} views={layout.views} things={things} start={start} />
      ))}
      {layout.views.map(({ view: { id }, captionBox, captionText }) =>
        captionBox ? (
          <rect
            key={id}
            className="grab"
            role="button"
            x={captionBox[0]}
            y={captionBox[1]}
            width={boxWidth(captionBox)}
            height={boxHeight(captionBox)}
            aria-label={`Caption ${captionText}`}
            onPointerDown={start({ kind: 'caption', id })}
            style={outline('caption', id)}
          />
        ) : null,
      )}
      {layout.tables.map((table) => (
        <TableHandles key={table.table.id} table={table} things={things} start={start} onRow={onRow} onFit={onFit} />
      ))}
      {notes.map(({ note, box }) => (
        <rect
          key={note.id}
          className="grab"
          role="button"
          x={box[0]}
          y={box[1]}
          width={boxWidth(box)}
          height={Math.max(boxHeight(box), note.lettering)}
          aria-label={`Note ${note.text.slice(0, 40)}`}
          onPointerDown={start({ kind: 'note', id: note.id })}
          style={outline('note', note.id)}
        />
      ))}
      {layout.views
        .filter(({ view: { id } }) => things.length === 1 && (isPicked('view', id) || isPicked('viewSize', id)))
        .map((laid) => (
          <SizeHandle key={laid.view.id} laid={laid} start={start} />
        ))}
      {layout.dimensions.map(({ dimension: { id }, outline: corners, text, value, across }) =>
        value === null ? null : (
          <polygon
            key={id}
            className="grab"
            role="button"
            points={corners.join(' ')}
            aria-label={`Dimension ${text}`}
            onPointerDown={start({ kind: 'dimension', id })}
            style={{
              cursor: Math.abs(across[0]) > Math.abs(across[1]) ? 'ew-resize' : 'ns-resize',
              ...outline('dimension', id),
            }}
          />
        ),
      )}
      <BalloonRails rails={layout.rails} things={things} start={start} />
      {layout.balloons.map(({ balloon, box, radius, item }) => (
        <rect
          key={balloon.id}
          className="grab"
          role="button"
          x={box[0]}
          y={box[1]}
          width={boxWidth(box)}
          height={boxHeight(box)}
          rx={radius}
          aria-label={`Balloon ${item}`}
          data-balloon={balloon.id}
          onPointerDown={start({ kind: 'balloon', id: balloon.id })}
          style={things.length > 1 ? outline('balloon', balloon.id) : undefined}
        />
      ))}
      {layout.balloons
        .filter(({ balloon: { id }, leader }) => leader.length > 1 && isAbout(id))
        .map((laid) => (
          <LeaderCorners key={laid.balloon.id} laid={laid} things={things} zoom={zoom} start={start} />
        ))}
      {layout.balloons
        .filter(({ balloon: { id } }) => isPicked('leaderEnd', id) || (things.length === 1 && isPicked('balloon', id)))
        .map(({ balloon: { id }, item, anchor }) => (
          <circle
            key={id}
            role="button"
            cx={anchor[0]}
            cy={anchor[1]}
            r={Math.max(1.4, 5 / zoom)}
            fill={isPicked('leaderEnd', id) ? '#d9541e' : '#fff'}
            fillOpacity={0.85}
            stroke="#d9541e"
            strokeWidth={0.5}
            style={{ cursor: 'crosshair', pointerEvents: 'all' }}
            aria-label={`End of the leader of balloon ${item}`}
            onPointerDown={start({ kind: 'leaderEnd', id })}
          />
        ))}
    </g>
  );
}

/** Lines on which balloons sit: seen by who draws, never printed. */
function BalloonRails({
  rails,
  things,
  start,
}: Pick<HandlesProps, 'start' | 'things'> & { rails: DrawnSheet['layout']['rails'] }) {
  return rails.map(({ rail: { id }, from, to }) => {
    const isPicked = things.some((one) => one.id === id || one.id.startsWith(`${id} `));
    const ends = [from, to];
    const line = { x1: from[0], y1: from[1], x2: to[0], y2: to[1] };
    return (
      <g key={id}>
        <line
          {...line}
          stroke="#8a6d3b"
          strokeWidth={isPicked ? 0.7 : 0.35}
          strokeDasharray="3 2"
          pointerEvents="none"
        />
        <line
          {...line}
          role="button"
          aria-label="Rail for balloons"
          stroke="transparent"
          strokeWidth={4}
          style={{ cursor: 'move', pointerEvents: 'stroke' }}
          onPointerDown={start({ kind: 'rail', id })}
        />
        {isPicked &&
          ends.map(([x, y], at) => (
            <circle
              key={at}
              role="button"
              aria-label={`${at === 0 ? 'First' : 'Second'} end of the rail`}
              cx={x}
              cy={y}
              r={1.6}
              fill="#fff"
              stroke="#8a6d3b"
              strokeWidth={0.5}
              style={{ cursor: 'crosshair', pointerEvents: 'all' }}
              onPointerDown={start({ kind: 'railEnd', id: `${id} ${at}` })}
            />
          ))}
      </g>
    );
  });
}

/** Corners of the leader of the picked balloon, and where new ones can be drawn out. */
function LeaderCorners({
  laid: { balloon, item, leader },
  things,
  zoom,
  start,
}: Pick<HandlesProps, 'start' | 'things' | 'zoom'> & { laid: DrawnSheet['layout']['balloons'][number] }) {
  return leader.slice(1).flatMap(([x, y], at) => {
    const [fx, fy] = leader[at];
    const name = bendName(balloon.id, at);
    const isPicked = things.some((one) => one.kind === 'bend' && one.id === name);
    const corner = (
      <circle
        key={name}
        role="button"
        aria-label={`Corner ${at + 1} of the leader of balloon ${item}`}
        cx={x}
        cy={y}
        r={Math.max(1.1, 4 / zoom)}
        fill={isPicked ? '#d9541e' : '#fff'}
        stroke="#d9541e"
        strokeWidth={0.4}
        style={{ cursor: 'move', pointerEvents: 'all' }}
        onPointerDown={start({ kind: 'bend', id: name })}
      />
    );
    const fresh = bendName(balloon.id, at, true);
    return [
      <circle
        key={fresh}
        role="button"
        aria-label={`Draw out a corner of the leader of balloon ${item}`}
        cx={(x + fx) / 2}
        cy={(y + fy) / 2}
        r={Math.max(0.7, 3 / zoom)}
        fill="#d9541e"
        fillOpacity={0.35}
        style={{ cursor: 'copy', pointerEvents: 'all' }}
        onPointerDown={start({ kind: 'bend', id: fresh })}
      />,
      ...(at + 2 < leader.length ? [corner] : []),
    ];
  });
}

/** Along the centre lines of a view, wide enough to be hit. */
function CentreLineHandles({
  laid: { view, toPaper },
  lines,
  isPicked,
  start,
}: Pick<HandlesProps, 'start'> & {
  laid: LaidView;
  lines: readonly CentreLine[];
  isPicked: (kind: SheetThing['kind'], id: string) => boolean;
}) {
  const [x, y] = toPaper(0, 0);
  return lines.map(({ id, ends }) => {
    const name = `${view.id} ${id}`;
    const picked = isPicked('centreLine', name);
    return (
      <path
        key={id}
        className="grab"
        role="button"
        aria-label="Centre line"
        d={stretchesPath(ends.map((value, at) => (at % 2 === 0 ? x + value : y - value)))}
        onPointerDown={start({ kind: 'centreLine', id: name })}
        style={{ pointerEvents: 'stroke', strokeWidth: picked ? 0.6 : 1.6, stroke: picked ? '#d9541e' : 'transparent' }}
      />
    );
  });
}

/** The piece of its view that a detail shows: taken hold of to move it, at its right end to make it larger or smaller. */
function RegionHandles({
  id,
  detail,
  views,
  things,
  start,
}: Pick<HandlesProps, 'start' | 'things'> & {
  id: string;
  detail: Detail | undefined;
  views: DrawnSheet['layout']['views'];
}) {
  const parent = detail && views.find(({ view }) => view.id === detail.of);
  if (!parent) return null;
  const [x, y] = parent.toPaper(...detail.centre);
  const { scale } = parent.view;
  const radius = detail.radius * scale;
  const half = detail.half?.map((side) => side * scale);
  const isPicked = things.some((one) => one.id === id && (one.kind === 'region' || one.kind === 'regionSize'));
  return (
    <g>
      <Border
        {...(half ? { half } : {})}
        x={x}
        y={y}
        radius={radius}
        aria-label={`What detail ${detail.letter} shows`}
        onPointerDown={start({ kind: 'region', id })}
        style={isPicked ? { stroke: '#d9541e', strokeWidth: 0.7 } : undefined}
      />
      {isPicked && (
        <circle
          role="button"
          cx={x + (half?.[0] ?? radius)}
          cy={y + (half?.[1] ?? 0)}
          r={2.2}
          fill="#fff"
          stroke="#d9541e"
          strokeWidth={0.6}
          style={{ cursor: half ? 'nwse-resize' : 'ew-resize', pointerEvents: 'all' }}
          aria-label={`Border of what detail ${detail.letter} shows`}
          onPointerDown={start({ kind: 'regionSize', id })}
        />
      )}
    </g>
  );
}

/** The border of a piece of a view, to be taken hold of. */
function Border({
  x,
  y,
  radius,
  half,
  ...rest
}: { x: number; y: number; radius: number; half?: number[] } & Pick<
  SVGProps<SVGElement>,
  'aria-label' | 'style' | 'onPointerDown'
>) {
  return half ? (
    <rect
      className="grab"
      role="button"
      x={x - half[0]}
      y={y - half[1]}
      width={2 * half[0]}
      height={2 * half[1]}
      {...(rest as SVGProps<SVGRectElement>)}
    />
  ) : (
    <circle className="grab" role="button" cx={x} cy={y} r={radius} {...(rest as SVGProps<SVGCircleElement>)} />
  );
}

/** The lower right corner of the picked view: dragged, the view becomes larger or smaller. */
function SizeHandle({ laid: { view, box }, start }: Pick<HandlesProps, 'start'> & { laid: LaidView }) {
  return (
    <>
      <rect
        role="button"
        x={box[2] - 1.6}
        y={box[3] - 1.6}
        width={3.2}
        height={3.2}
        fill="#fff"
        stroke="#d9541e"
        strokeWidth={0.5}
        style={{ cursor: 'nwse-resize', pointerEvents: 'all' }}
        aria-label="Corner of the picked view: larger or smaller"
        onPointerDown={start({ kind: 'viewSize', id: view.id })}
      />
      <text x={box[2] + 3} y={box[3] + 4} fontSize={3.5} fill="#d9541e" stroke="none" pointerEvents="none">
        {scaleText(view.scale)}
      </text>
    </>
  );
}

function TableHandles({
  table: laid,
  things,
  start,
  onRow,
  onFit,
}: Pick<HandlesProps, 'things' | 'start' | 'onRow' | 'onFit'> & { table: LaidTable }) {
  const { table, bill, measured, billRows, columns } = laid;
  const picking = start({ kind: 'table', id: table.id });
  const isOwn = ({ kind, id }: SheetThing) =>
    (kind === 'table' && id === table.id) ||
    ((kind === 'columnEdge' || kind === 'columnHead') && id.startsWith(`${table.id} `));
  const isPicked = things.some(isOwn);
  return measured.strips.map((strip, at) => {
    return (
      <g key={at}>
        <rect
          className="grab"
          role="button"
          x={strip.box[0]}
          y={strip.box[1]}
          width={boxWidth(strip.box)}
          height={boxHeight(strip.box)}
          aria-label={table.typed ? 'Table' : 'List'}
          onPointerDown={picking}
          style={isPicked ? PICKED : undefined}
        />
        {bandsOf(measured, strip).rows.map(({ row, top, bottom }) => {
          const billRow = billRows[row];
          if (billRow < 0) return null; // a heading or a sum
          return (
            <rect
              key={row}
              className="grab"
              role="button"
              style={{ cursor: 'pointer' }}
              x={strip.box[0]}
              y={top}
              width={boxWidth(strip.box)}
              height={bottom - top}
              aria-label={`Line ${bill.rows[billRow].item}`}
              onPointerDown={(event) => {
                picking(event);
                onRow(laid, billRow);
              }}
            />
          );
        })}
        {isPicked &&
          at === 0 &&
          !table.typed &&
          listHeadings(laid).map(([x0, y0, x1, y1], column) => (
            <rect
              key={`head ${column}`}
              className="grab"
              role="button"
              style={{ cursor: 'grab' }}
              x={x0}
              y={y0}
              width={x1 - x0}
              height={y1 - y0}
              aria-label={`Heading ${columns[column].heading}, drag to another place`}
              onPointerDown={start({ kind: 'columnHead', id: `${table.id} ${column}` })}
            />
          ))}
        {isPicked &&
          columnEdges(laid, strip).map((x, column) => {
            const id = `${table.id} ${column}`;
            const dragged = things.some((one) => one.kind === 'columnEdge' && one.id === id);
            return (
              <g key={id}>
                <rect
                  role="button"
                  x={x - 1}
                  y={strip.box[1]}
                  width={2}
                  height={boxHeight(strip.box)}
                  fill={dragged ? 'rgb(217 84 30 / 35%)' : 'transparent'}
                  style={{ cursor: 'ew-resize', pointerEvents: 'all' }}
                  aria-label={`Border of the column ${columns[column].heading}`}
                  onPointerDown={start({ kind: 'columnEdge', id })}
                  onDoubleClick={(event) => {
                    event.stopPropagation();
                    onFit(table.id, columns[column].id);
                  }}
                />
                {dragged && (
                  <text x={x + 1.5} y={strip.box[1] - 1.5} fontSize={3.5} fill="#d9541e" pointerEvents="none">
                    {measured.widths[column].toFixed(1)} mm
                  </text>
                )}
              </g>
            );
          })}
      </g>
    );
  });
}

/** Across the sheet, the border of each column by which it is made wider: see `sizeColumn`. */
function columnEdges({ measured: { widths }, side }: LaidTable, { box }: Strip): number[] {
  let x = box[0];
  return widths.map((width) => {
    const left = x;
    x += width;
    return side === 'right' ? left : x;
  });
}
