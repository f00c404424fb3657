import type { PointerEvent } from 'react';
import type { SheetThing, ThingKind } from '../../../../../core/src/sheets/index.ts';

/** How what is picked is outlined. */
export const PICKED = { stroke: '#d9541e', strokeWidth: 0.5, strokeDasharray: '2 1.5' } as const;

/** What every handle is told. */
export interface HandleProps {
  readonly things: readonly SheetThing[];
  /** Says on a press which thing is meant. */
  readonly start: (thing: SheetThing) => (event: PointerEvent) => void;
}

/** Whether a thing of one of these kinds, of this record, is picked. */
export const isPickedOf = (things: readonly SheetThing[], id: string, ...kinds: readonly ThingKind[]): boolean =>
  things.some((one) => one.id === id && kinds.includes(one.kind));
