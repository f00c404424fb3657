import type { SVGProps } from 'react';
import { stretchesPath } from '../../../../../core/src/formats/index.ts';
import {
  isSameThing,
  scaleText,
  type CentreLine,
  type Detail,
  type DrawnSheet,
  type LaidView,
} from '../../../../../core/src/sheets/index.ts';
import { isPickedOf, type HandleProps } from './picked.ts';

/** Along the centre lines of a view, wide enough to be hit. */
export function CentreLineHandles({
  laid: { view, toPaper },
  lines,
  things,
  start,
}: HandleProps & { readonly laid: LaidView; readonly lines: readonly CentreLine[] }) {
  const [x, y] = toPaper(0, 0);
  return lines.map(({ id, ends }) => {
    const line = { kind: 'centreLine', id: view.id, line: id } as const;
    const picked = things.some((one) => isSameThing(one, line));
    return (
      <path
        key={id}
        className={picked ? 'grab along picked' : 'grab along'}
        role="button"
        aria-label="Centre line"
        d={stretchesPath(ends.map((value, at) => (at % 2 === 0 ? x + value : y - value)))}
        onPointerDown={start(line)}
        style={picked ? undefined : { strokeWidth: 1.6 }}
      />
    );
  });
}

/** The piece of its view that a detail shows: taken hold of to move it, at its right end to make it larger or smaller. */
export function RegionHandles({
  id,
  detail,
  views,
  things,
  start,
}: HandleProps & {
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
  const isPicked = isPickedOf(things, id, 'region', 'regionSize');
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
export function SizeHandle({ laid: { view, box }, start }: Pick<HandleProps, 'start'> & { laid: LaidView }) {
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
