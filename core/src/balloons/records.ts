import type { UsageKey } from '../assembly/index.ts';
import type { Vec2, Vec3 } from '../geometry/index.ts';
import type { BalloonShape } from './outline.ts';

/** How a leader ends: a dot inside a face, or an arrowhead on a line of the part. */
export type LeaderEnd = 'dot' | 'arrow';

/** What is drawn where leaders end. */
export const leaderMarks = ['dot', 'arrow', 'none'] as const;
export type LeaderMark = (typeof leaderMarks)[number];

/** How balloons are drawn, besides their size; of one of them or of all of a sheet. */
export interface BalloonDress {
  /** What is drawn around numbers; circles where absent. */
  readonly shape?: BalloonShape;
  /** What is drawn where leaders end; what suits face and line where absent. */
  readonly mark?: LeaderMark;
  /** Text to the left and to the right; `{quantity}` stands for how many the list says. */
  readonly before?: string;
  /** See there. */
  readonly after?: string;
}
/** What of one balloon differs from the others of its sheet. */
export interface OwnLook extends BalloonDress {
  /** Height of the number; mm. */
  readonly lettering?: number;
  /** Half its height; mm. */
  readonly radius?: number;
}

/**
 * A balloon as a sheet stores it. Its number and where its anchor lies on paper are derived, so it cannot disagree
 * with the list.
 */
export interface Balloon {
  /** Of its own on the sheet. */
  readonly id: string;
  /** Id of the view that it belongs to. */
  readonly view: string;
  /** The occurrence that it names. */
  readonly path: readonly UsageKey[];
  /** Where the leader ends, in the component's own coordinates; mm. */
  readonly anchor: Vec3;
  /** How its leader ends. */
  readonly end: LeaderEnd;
  /** Centre, measured on paper from the centre of the view; mm, y down. */
  readonly offset: Vec2;
  /** Put there by hand: arranging leaves it alone. */
  readonly byHand: boolean;
  /** Names its line once more: it counts only where that has no other balloon. */
  readonly also?: true;
  /** Id of the placed list by whose bill it is numbered; by the sheet's bill where absent. Not drawn yet. */
  readonly table?: string;
  /** What it has of its own; the sheet's where absent. */
  readonly look?: OwnLook;
  /** Corners of the leader from the circle to the anchor, measured like `offset`; straight where absent. */
  readonly bends?: readonly Vec2[];
  /** Balloons of one view with one stack share the leader of the first of them. */
  readonly stack?: string;
  /** The rail of its sheet that it sits on. */
  readonly rail?: string;
}

/**
 * How balloons stand around a view: along its outline, along a box around it, in rows above and below, in columns left and
 * right of it, or in rows and columns that run on beyond its corners.
 */
export const arrangements = ['ring', 'box', 'columns', 'rows', 'mixed'] as const;
export type Arrangement = (typeof arrangements)[number];
/** Of the first row from the view; mm. */
export const BALLOON_DISTANCE_RANGE = [5, 200] as const;

/** A place where a leader may end, on paper. */
export interface AnchorChoice {
  /** On paper; mm. */
  readonly point: Vec2;
  /** How a leader ends there. */
  readonly end: LeaderEnd;
  /** Paper mm: free radius inside the face, or distance from the nearest foreign line. */
  readonly room: number;
  /** Index into the spots of the view. */
  readonly spot: number;
}

/** Smallest circle inside a visible face that a dot may stand in: 1.5 mm across. */
export const LEAST_FACE_RADIUS = 0.75;
/** Least distance of an arrowhead from any other part's line. mm */
export const LEAST_CLEARANCE = 1;
/** Leaders closer than this to horizontal or vertical read as dimension or frame lines. Radian. */
export const LEAST_SLANT = (10 * Math.PI) / 180;

/** Two leaders end at least so far from one another; mm. */
export const LEAST_APART = 2;

export const roomEnough = ({ end, room }: AnchorChoice): boolean =>
  room >= (end === 'dot' ? LEAST_FACE_RADIUS : LEAST_CLEARANCE);
