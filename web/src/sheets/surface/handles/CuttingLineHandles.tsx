import { isSameThing, type LaidCuttingLine } from '../../../../../core/src/sheets/index.ts';
import { isPickedOf, type HandleProps } from './picked.ts';

/** A cutting line: taken hold of anywhere to move it, at its ends and corners to draw it elsewhere. */
export function CuttingLineHandles({
  line: { section: id, letter, points, arrows },
  things,
  start,
}: HandleProps & { readonly line: LaidCuttingLine }) {
  const isPicked = isPickedOf(things, id, 'cuttingLine', 'cuttingPoint');
  const arms = arrows.map(({ tail, tip }) => `M${tail.join(' ')}L${tip.join(' ')}`).join('');
  return (
    <g>
      <path
        className="grab"
        role="button"
        aria-label={`Cutting line ${letter}`}
        d={`M${points.map((point) => point.join(' ')).join('L')}${arms}`}
        onPointerDown={start({ kind: 'cuttingLine', id })}
        style={{
          pointerEvents: 'stroke',
          fill: 'none',
          strokeWidth: isPicked ? 0.7 : 3,
          stroke: isPicked ? '#d9541e' : 'transparent',
        }}
      />
      {isPicked &&
        points.map(([x, y], at) => {
          const thing = { kind: 'cuttingPoint', id, at } as const;
          return (
            <circle
              key={at}
              role="button"
              cx={x}
              cy={y}
              r={2}
              fill={things.some((one) => isSameThing(one, thing)) ? '#d9541e' : '#fff'}
              stroke="#d9541e"
              strokeWidth={0.6}
              style={{ cursor: 'move', pointerEvents: 'all' }}
              aria-label={`${at === 0 || at === points.length - 1 ? 'End' : 'Corner'} ${at + 1} of cutting line ${letter}`}
              onPointerDown={start(thing)}
            />
          );
        })}
    </g>
  );
}
