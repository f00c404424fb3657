import { isSameThing, type DrawnSheet, type LaidBalloon } from '../../../../../core/src/sheets/index.ts';
import { isPickedOf, type HandleProps } from './picked.ts';

interface ZoomProps {
  /** CSS pixels per mm. */
  readonly zoom: number;
}

/** Of a balloon that is all that is picked the corners and the end of its leader. */
export function LeaderHandles({ laid, things, start, zoom }: HandleProps & ZoomProps & { readonly laid: LaidBalloon }) {
  const {
    balloon: { id },
    item,
    leader,
    anchor,
  } = laid;
  const isAlone = things.length === 1;
  const isEnd = isPickedOf(things, id, 'leaderEnd');
  const hasEnd = isEnd || (isAlone && isPickedOf(things, id, 'balloon'));
  const hasCorners = hasEnd || (isAlone && isPickedOf(things, id, 'bend'));
  return (
    <>
      {hasCorners && leader.length > 1 && <LeaderCorners laid={laid} things={things} zoom={zoom} start={start} />}
      {hasEnd && (
        <circle
          role="button"
          cx={anchor[0]}
          cy={anchor[1]}
          r={Math.max(1.4, 5 / zoom)}
          fill={isEnd ? '#d9541e' : '#fff'}
          fillOpacity={0.85}
          stroke="#d9541e"
          strokeWidth={0.5}
          style={{ cursor: 'crosshair', pointerEvents: 'all' }}
          aria-label={`End of the leader of balloon ${item}`}
          onPointerDown={start({ kind: 'leaderEnd', id })}
        />
      )}
    </>
  );
}

const ENDS = [0, 1] as const;

/** Lines on which balloons sit: seen by who draws, never printed. */
export function RailHandles({ rails, things, start }: HandleProps & { rails: DrawnSheet['layout']['rails'] }) {
  return rails.map(({ rail: { id }, from, to }) => {
    const isPicked = isPickedOf(things, id, 'rail', 'railEnd');
    const ends = [from, to] as const;
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
          ENDS.map((at) => (
            <circle
              key={at}
              role="button"
              aria-label={`${at === 0 ? 'First' : 'Second'} end of the rail`}
              cx={ends[at][0]}
              cy={ends[at][1]}
              r={1.6}
              fill="#fff"
              stroke="#8a6d3b"
              strokeWidth={0.5}
              style={{ cursor: 'crosshair', pointerEvents: 'all' }}
              onPointerDown={start({ kind: 'railEnd', id, end: at })}
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
}: HandleProps & ZoomProps & { laid: DrawnSheet['layout']['balloons'][number] }) {
  return leader.slice(1).flatMap(([x, y], at) => {
    const [fx, fy] = leader[at];
    const bend = { kind: 'bend', id: balloon.id, at } as const;
    const isPicked = things.some((one) => isSameThing(one, bend));
    const corner = (
      <circle
        key={at}
        role="button"
        aria-label={`Corner ${at + 1} of the leader of balloon ${item}`}
        cx={x}
        cy={y}
        r={Math.max(1.1, 4 / zoom)}
        fill={isPicked ? '#d9541e' : '#fff'}
        stroke="#d9541e"
        strokeWidth={0.4}
        style={{ cursor: 'move', pointerEvents: 'all' }}
        onPointerDown={start(bend)}
      />
    );
    return [
      <circle
        key={`${at} new`}
        role="button"
        aria-label={`Draw out a corner of the leader of balloon ${item}`}
        cx={(x + fx) / 2}
        cy={(y + fy) / 2}
        r={Math.max(0.7, 3 / zoom)}
        fill="#d9541e"
        fillOpacity={0.35}
        style={{ cursor: 'copy', pointerEvents: 'all' }}
        onPointerDown={start({ ...bend, isNew: true })}
      />,
      ...(at + 2 < leader.length ? [corner] : []),
    ];
  });
}
