import type { Balloon } from '../balloons/index.ts';
import type { Vec2 } from '../geometry/index.ts';
import type { DirectionName } from '../views/index.ts';
import type { Paper } from './paper.ts';
import type { TitleFields } from './titleBlock.ts';

/** A view standing on a sheet. */
export interface SheetView {
  readonly id: string;
  readonly direction: DirectionName;
  /** Paper mm per model mm: 0.2 for 1:5. */
  readonly scale: number;
  /** Middle of the view's box on paper; mm. */
  readonly centre: Vec2;
  /** Put there by hand: arranging leaves it alone. */
  readonly byHand: boolean;
}

/** Where the parts list hangs: on the title block, or in a corner of the frame. It grows away from there. */
export const tablePlaces = ['title-block', 'top-right', 'top-left', 'bottom-left'] as const;
export type TablePlace = (typeof tablePlaces)[number];

/** A sheet as it is stored. */
export interface Sheet {
  readonly version: 1;
  readonly name: string;
  readonly paper: Paper;
  readonly fields: TitleFields;
  readonly views: readonly SheetView[];
  /** Document id of the bill whose lines and numbers it shows; the project's first where absent or gone. */
  readonly bill?: string;
  readonly table: {
    readonly place: TablePlace;
    /** Only lines that are ballooned on this sheet. */ readonly onlyBallooned?: boolean;
  } | null;
  readonly balloons: readonly Balloon[];
  /** Height of numbers and radius of circles, mm; numbers too long for the circle are set smaller. */
  readonly balloonLook: { readonly lettering: number; readonly radius: number };
}

/** Something on the sheet that is not as it should be. */
export interface SheetProblem {
  readonly code: string;
  readonly message: string;
  /** Item numbers concerned. */
  readonly items: readonly string[];
}
