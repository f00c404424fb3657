import { Link } from 'react-router';
import { boxHeight, boxWidth, type Box2, type Vec2 } from '../../../../core/src/geometry/index.ts';
import { placeView, type Guide, type Measurable, type SheetView } from '../../../../core/src/sheets/index.ts';
import type { PlaceThere } from '../../data/links.ts';
import { useDocuments, useProject } from '../../data/openProject.ts';
import { useViewLines } from '../../data/made/views.ts';
import type { useBestSeen } from './tools/useBestSeen.ts';
import type { useLeaderEnds } from './tools/useLeaderEnds.ts';
import type { Measuring } from './tools/useMeasuring.ts';
import type { usePlacing } from './tools/usePlacing.ts';

interface PaperOverlaysProps {
  /** Of the paper; mm. */
  readonly width: number;
  readonly height: number;
  /** CSS pixels per mm. */
  readonly zoom: number;
  /** Where what is dragged lies over something. */
  readonly overlaps: readonly Box2[];
  /** A frame being drawn around things. */
  readonly band: Box2 | null;
  /** A balloon on its way. */
  readonly placing: ReturnType<typeof usePlacing>;
  /** Points that a dimension is taken from: the first one, and what the pointer is at. */
  readonly measured: readonly (Measurable | null | undefined)[];
  /** Where keys have brought the pointer. */
  readonly cross: Vec2 | null;
  /** Corners of a cutting line on its way. */
  readonly cuttingLine: readonly Vec2[];
  readonly guides: readonly Guide[];
  /** A view on its way. */
  readonly ghost: SheetView | null;
}

/** What shows over the sheet while something is done to it. */
export function PaperOverlays({
  width,
  height,
  zoom,
  overlaps,
  band,
  placing,
  measured,
  cross,
  cuttingLine,
  guides,
  ghost,
}: PaperOverlaysProps) {
  return (
    <>
      {overlaps.map(([x0, y0, x1, y1], at) => (
        <rect
          key={at}
          x={x0}
          y={y0}
          width={x1 - x0}
          height={y1 - y0}
          fill="rgb(217 84 30 / 25%)"
          stroke="#d9541e"
          strokeWidth={1 / zoom}
          pointerEvents="none"
          data-overlap
        />
      ))}
      {band && (
        <rect
          x={band[0]}
          y={band[1]}
          width={band[2] - band[0]}
          height={band[3] - band[1]}
          fill="rgb(32 48 58 / 8%)"
          stroke="#20303a"
          strokeWidth={1 / zoom}
          strokeDasharray={`${4 / zoom} ${3 / zoom}`}
          pointerEvents="none"
        />
      )}
      {placing.shown.map(({ view, point: [x, y], isClear }, at) => (
        <circle
          key={`${view} ${at}`}
          cx={x}
          cy={y}
          r={(isClear ? 2.5 : 1.5) / zoom}
          fill="#d9541e"
          fillOpacity={isClear ? 0.7 : 0.35}
          pointerEvents="none"
        />
      ))}
      {placing.hit && (
        <circle
          cx={placing.hit.point[0]}
          cy={placing.hit.point[1]}
          r={6 / zoom}
          fill="none"
          stroke="#d9541e"
          strokeWidth={2 / zoom}
          pointerEvents="none"
          data-place
        />
      )}
      {measured.map(
        (one, at) =>
          one && (
            <circle
              key={at}
              cx={one.at[0]}
              cy={one.at[1]}
              r={5 / zoom}
              fill={at === 0 ? '#d9541e' : 'none'}
              stroke="#d9541e"
              strokeWidth={2 / zoom}
              pointerEvents="none"
              data-measured={at}
            />
          ),
      )}
      {guides.map((guide, at) => (
        <GuideLine key={at} guide={guide} width={width} height={height} zoom={zoom} />
      ))}
      {cross && (
        <path
          d={`M${cross[0] - 8 / zoom} ${cross[1]}h${16 / zoom}m${-8 / zoom} ${-8 / zoom}v${16 / zoom}`}
          stroke="#20303a"
          strokeWidth={1 / zoom}
          pointerEvents="none"
          data-cross
        />
      )}
      {cuttingLine.length > 0 && (
        <g fill="none" stroke="#d9541e" strokeWidth={1.5 / zoom} pointerEvents="none" data-cutting={cuttingLine.length}>
          <polyline
            points={cuttingLine.join(' ')}
            strokeDasharray={`${12 / zoom} ${3 / zoom} ${2 / zoom} ${3 / zoom}`}
          />
          {cuttingLine.map(([x, y], at) => (
            <circle key={at} cx={x} cy={y} r={4 / zoom} />
          ))}
        </g>
      )}
      {ghost && <Ghost view={ghost} />}
    </>
  );
}

/** What to do next, and what lies under the pointer. */
export function PaperWords({
  zoom,
  said,
  ghost,
  measuring,
  placing,
  item,
  elsewhere,
}: Pick<PaperOverlaysProps, 'zoom' | 'ghost' | 'placing'> & {
  said: ReturnType<typeof useLeaderEnds>['said'];
  measuring: Measuring | null;
  /** Number of the line whose balloon is on its way. */
  item: string;
  /** Where that is seen best, if not here. */
  elsewhere: ReturnType<typeof useBestSeen>;
}) {
  const { id: project } = useDocuments();
  return (
    <>
      {said && (
        <p
          className={`problem${said.warns ? '' : ' calm'}`}
          style={{
            position: 'absolute',
            left: said.at[0] * zoom + 14,
            top: said.at[1] * zoom + 14,
            pointerEvents: 'none',
            whiteSpace: 'nowrap',
          }}
        >
          {said.text}
        </p>
      )}
      {ghost && (
        <p className="problem calm" style={{ position: 'absolute', left: 30, top: 30 }}>
          Click where it belongs. Enter puts it down here, Esc leaves it.
        </p>
      )}
      {measuring?.kind === 'balloon' && (
        <p className="problem calm" style={{ position: 'absolute', left: 30, top: 30 }}>
          {placing.waits
            ? 'Looking where it can be seen …'
            : !placing.hasPlaces
              ? notHere(item, elsewhere)
              : placing.isPulled
                ? 'Click where the balloon is to stand.'
                : `Click a place of line ${item}; the dots show where it can be seen.`}{' '}
          Arrows and Enter do the same. Esc leaves it.
          {elsewhere.best && (
            <Link
              className="there"
              to={`/projects/${project}/sheets/${elsewhere.best.sheet}`}
              state={{ place: measuring.row } satisfies PlaceThere}
            >
              Place it there
            </Link>
          )}
        </p>
      )}
      {measuring?.kind === 'cut' && (
        <p className="problem calm" style={{ position: 'absolute', left: 30, top: 30 }}>
          {measuring.points.length === 0
            ? 'Click where the cutting line begins, beside the view.'
            : 'Click where it ends. With Shift it has a corner there and goes on.'}{' '}
          It holds to middles and ends of lines. Arrows move the cross, Enter takes it. Esc leaves it.
        </p>
      )}
      {measuring && measuring.kind !== 'balloon' && measuring.kind !== 'cut' && (
        <p className="problem calm" style={{ position: 'absolute', left: 30, top: 30 }}>
          {measuring.kind === 'diameter' || measuring.kind === 'centreLine'
            ? 'Click a round edge, or the middle of one.'
            : measuring.kind === 'leader'
              ? 'Click what the note is to point at: the end of a line, or the middle of something round.'
              : measuring.first
                ? 'Click the second point.'
                : 'Click the first point: the end of a line, or the middle of something round.'}{' '}
          Arrows move the cross, Enter takes it. Esc leaves it.
        </p>
      )}
    </>
  );
}

const notHere = (item: string, { best, waiting }: ReturnType<typeof useBestSeen>): string =>
  best
    ? `Line ${item} cannot be seen in any view of this sheet; it is seen best on sheet ${best.number}, ${best.name}.`
    : waiting
      ? `Line ${item} cannot be seen in any view of this sheet; looking on the other sheets …`
      : `Line ${item} cannot be seen in any view of any sheet; place a view or an exploded pose that shows it.`;

/** What a dragged view is in line with: a line over the paper, or a gap between two short strokes. */
function GuideLine({
  guide: { axis, at, gap },
  width,
  height,
  zoom,
}: {
  guide: Guide;
  width: number;
  height: number;
  zoom: number;
}) {
  const end = 5 / zoom;
  const path = gap
    ? axis === 'x'
      ? `M${gap[0]} ${at - end}v${2 * end}M${gap[0]} ${at}H${gap[1]}M${gap[1]} ${at - end}v${2 * end}`
      : `M${at - end} ${gap[0]}h${2 * end}M${at} ${gap[0]}V${gap[1]}M${at - end} ${gap[1]}h${2 * end}`
    : axis === 'x'
      ? `M${at} 0V${height}`
      : `M0 ${at}H${width}`;
  return (
    <path
      d={path}
      fill="none"
      stroke="#d9541e"
      strokeWidth={1 / zoom}
      pointerEvents="none"
      data-guide={gap ? `gap ${axis}` : axis}
    />
  );
}

function Ghost({ view }: { view: SheetView }) {
  const lines = useViewLines(useProject(), [view]).lines.get(view.id);
  if (!lines) return null;
  const { box } = placeView(view, lines);
  return (
    <rect
      x={box[0]}
      y={box[1]}
      width={boxWidth(box)}
      height={boxHeight(box)}
      fill="rgb(217 84 30 / 12%)"
      stroke="#d9541e"
      strokeWidth={0.5}
      pointerEvents="none"
      data-ghost
    />
  );
}
