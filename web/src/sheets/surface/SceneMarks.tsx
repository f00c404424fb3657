import { memo, type ReactNode } from 'react';
import { fontFamily, stretchesPath } from '../../../../core/src/formats/index.ts';
import { letteringFonts, turnOf, type Mark, type MarkSource } from '../../../../core/src/marks/index.ts';
import { pictureAt, thumbnailAt } from '../../data/addresses.ts';

/** Marks as SVG, in paper mm; those of a lit source in signal colour. */
export const SceneMarks = memo(function SceneMarks({
  marks,
  isLit,
}: {
  marks: readonly Mark[];
  isLit: (source: MarkSource) => boolean;
}) {
  return (
    <g fill="none" stroke="#000" strokeLinecap="round" strokeLinejoin="round" pointerEvents="none">
      {marks.map((mark, at) => (
        <MarkShape key={at} mark={mark} lit={isLit(mark.source)} />
      ))}
    </g>
  );
});

const LIT = '#d9541e';
/** Characters come in their order on paper. */
const fillOf = ({ filled, opaque }: { filled?: boolean; opaque?: boolean }, lit: boolean): string | undefined =>
  filled ? (lit ? LIT : '#000') : opaque ? (lit ? '#fce9dd' : '#fff') : undefined;

const asPlaced = { direction: 'ltr', unicodeBidi: 'bidi-override' } as const;

/** The same mark is not looked at again: most of a sheet stays while something is dragged. */
const MarkShape = memo(function MarkShape({ mark, lit }: { mark: Mark; lit: boolean }): ReactNode {
  const stroke = lit ? LIT : undefined;
  switch (mark.kind) {
    case 'stretches':
      // The lines of views are painted on a canvas.
      return mark.source.kind === 'view' ? null : (
        <path d={stretchesPath(mark.ends)} strokeWidth={mark.pen} stroke={stroke} data-of={mark.source.kind} />
      );
    case 'picture':
      // Those of views are painted with their lines.
      return mark.blob === undefined && mark.shape === undefined ? null : (
        <image
          href={mark.blob === undefined ? thumbnailAt(mark.shape!) : pictureAt(mark.blob)}
          x={mark.box[0]}
          y={mark.box[1]}
          width={mark.box[2] - mark.box[0]}
          height={mark.box[3] - mark.box[1]}
          preserveAspectRatio="none"
        />
      );
    case 'path':
      return (
        <path
          d={mark.points.map(([x, y], at) => `${at ? 'L' : 'M'}${x} ${y}`).join('') + (mark.closed ? 'Z' : '')}
          strokeWidth={mark.filled ? 0 : mark.pen}
          fill={fillOf(mark, lit)}
          stroke={stroke}
        />
      );
    case 'circle':
      return (
        <circle
          cx={mark.centre[0]}
          cy={mark.centre[1]}
          r={mark.radius}
          strokeWidth={mark.filled ? 0 : mark.pen}
          fill={fillOf(mark, lit)}
          stroke={stroke}
        />
      );
    case 'text': {
      const turn = turnOf(mark);
      const texts = mark.runs.map((run, at) =>
        run.font < 0 ? (
          run.x.map((x, box) => (
            <rect
              key={`${at} ${box}`}
              x={mark.at[0] + x + 0.1 * mark.height}
              y={mark.at[1] - mark.height}
              width={0.6 * mark.height}
              height={mark.height}
              strokeWidth={mark.height / 12}
            />
          ))
        ) : (
          <text
            key={at}
            x={run.x.map((x) => (mark.at[0] + x).toFixed(3)).join(' ')}
            y={mark.at[1]}
            fontFamily={`${fontFamily(run.font)}, sans-serif`}
            fontWeight={letteringFonts[run.font].weight === 'bold' ? 700 : 400}
            fontSize={mark.size}
            fill={lit ? LIT : '#000'}
            stroke="none"
            style={asPlaced}
          >
            {run.text}
          </text>
        ),
      );
      return turn ? <g transform={turn}>{texts}</g> : texts;
    }
  }
});
