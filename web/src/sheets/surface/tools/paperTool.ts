import type { RefObject } from 'react';
import type { Vec2 } from '../../../../../core/src/geometry/index.ts';
import type { DrawnSheet, Sheet, SheetInputs, SheetLayout, SheetThing } from '../../../../../core/src/sheets/index.ts';

/** What every tool knows of the sheet on the desk. */
export interface OnPaper {
  readonly id: string;
  /** As stored; while dragging, `drawn` shows the draft. */
  readonly sheet: Sheet;
  readonly drawn: DrawnSheet;
  readonly layout: SheetLayout;
  readonly inputs: SheetInputs;
  readonly paper: RefObject<HTMLDivElement | null>;
  /** CSS pixels per mm. */
  readonly zoom: number;
  /** What is picked, the last of them last. */
  readonly things: readonly SheetThing[];
  /** What is picked, where it is one thing. */
  readonly thing: SheetThing | null;
  /** Picks things; the line of a single balloon is picked everywhere. */
  readonly choose: (things: readonly SheetThing[]) => void;
  /** The sheet as it reads while something is dragged; null when it ends. */
  readonly onDraft: (draft: Sheet | null) => void;
  /** Stores the sheet as it is now; undo says this. */
  readonly change: (label: string, after: Sheet) => void;
}

/**
 * Something that is brought to a point of the paper, by the pointer or by keys: while it is at work, nothing on the sheet is
 * picked. Points are mm of the paper.
 */
export interface PaperTool {
  readonly cursor: 'copy' | 'crosshair';
  /** Shows what would come of this point. */
  readonly lookAt: (at: Vec2) => void;
  /** @param more with Shift: what takes several points goes on */
  readonly takeAt: (at: Vec2, more: boolean) => void;
  /** By an arrow key. */
  readonly step: (by: Vec2) => void;
  /** Where keys or the pointer have brought it. */
  readonly takeHere: (more: boolean) => void;
  readonly leave: () => void;
  /** How far an arrow key goes: plainly, with Shift, with Alt; mm. */
  readonly steps: readonly [number, number, number];
}

/** Of arrow keys, which way they go on paper. */
export const ARROWS: Readonly<Record<string, Vec2>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
/** How far an arrow key goes; mm. */
export function arrowWay(
  { key, shiftKey, altKey }: { readonly key: string; readonly shiftKey: boolean; readonly altKey: boolean },
  [plain, shift, alt]: PaperTool['steps'],
): Vec2 | null {
  const way = Object.hasOwn(ARROWS, key) ? ARROWS[key] : null;
  const far = shiftKey ? shift : altKey ? alt : plain;
  return way && [way[0] * far, way[1] * far];
}
