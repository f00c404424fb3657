import type { Buying } from '../../../core/src/buying/index.ts';
import type { StoredPlan } from './usePlanEdit.ts';

/** What every pane of the station is about. */
export interface PaneProps {
  readonly open: StoredPlan;
  readonly buying: Buying;
  /** Key of the picked line of the requirement. */
  readonly picked: string | null;
  /** Key of the line under the pointer. */
  readonly hovered: string | null;
  readonly onPick: (key: string | null) => void;
  readonly onHover: (key: string | null) => void;
}
