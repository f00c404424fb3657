import type { CSSProperties, PointerEvent } from 'react';
import { boxHeight, boxWidth, type Box2 } from '../../../../../core/src/geometry/index.ts';

interface BoxHandleProps {
  /** mm. */
  readonly box: Box2;
  readonly label: string;
  readonly onPointerDown: (event: PointerEvent) => void;
  readonly style?: CSSProperties | undefined;
  readonly rx?: number;
  readonly [data: `data-${string}`]: string;
}

/** An invisible box over something that can be picked. */
export const BoxHandle = ({ box, label, ...rest }: BoxHandleProps) => (
  <rect
    className="grab"
    role="button"
    x={box[0]}
    y={box[1]}
    width={boxWidth(box)}
    height={boxHeight(box)}
    aria-label={label}
    {...rest}
  />
);
