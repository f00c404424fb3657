import { applyToPoint } from '../../../../../core/src/geometry/index.ts';
import { wavyBorder } from '../../../../../core/src/sections/index.ts';
import { isSameThing, type LaidCuttingLine, type LaidView } from '../../../../../core/src/sheets/index.ts';
import { viewPlacement } from '../../../../../core/src/views/index.ts';
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
        className={isPicked ? 'grab along picked' : 'grab along'}
        role="button"
        aria-label={`Cutting line ${letter}`}
        d={`M${points.map((point) => point.join(' ')).join('L')}${arms}`}
        onPointerDown={start({ kind: 'cuttingLine', id })}
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

/** Pieces of a view that are cut open: taken hold of at their borders to move them, at the lower right end to draw them out. */
export function CutPieceHandles({ laid: { view, toPaper }, things, start }: HandleProps & { readonly laid: LaidView }) {
  return view.section?.pieces?.map(({ at, half }, piece) => {
    const [x, y] = applyToPoint(viewPlacement(view.direction), at);
    const isPicked = ['cutPiece', 'cutPieceSize'].some((kind) =>
      things.some((one) => one.kind === kind && one.id === view.id && 'piece' in one && one.piece === piece),
    );
    const [endX, endY] = toPaper(x + half[0], y - half[1]);
    return (
      <g key={piece}>
        <path
          className={isPicked ? 'grab along picked' : 'grab along'}
          role="button"
          aria-label={`Piece ${piece + 1} cut open`}
          d={`M${wavyBorder([x, y], half)
            .map((corner) => toPaper(...corner).join(' '))
            .join('L')}Z`}
          onPointerDown={start({ kind: 'cutPiece', id: view.id, piece })}
        />
        {isPicked && (
          <circle
            role="button"
            cx={endX}
            cy={endY}
            r={2.2}
            fill="#fff"
            stroke="#d9541e"
            strokeWidth={0.6}
            style={{ cursor: 'nwse-resize', pointerEvents: 'all' }}
            aria-label={`Size of piece ${piece + 1} cut open`}
            onPointerDown={start({ kind: 'cutPieceSize', id: view.id, piece })}
          />
        )}
      </g>
    );
  });
}
