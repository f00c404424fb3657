import { createContext, useContext } from 'react';
import type { EditState, SetAside } from './editQueue.ts';

/** What is edited in this window, and how far it is kept: a project, or a catalogue. */
export interface Editing {
  readonly id: string;
  readonly edits: EditState;
  readonly stepBack: (mode: 'undo' | 'redo') => void;
  readonly settle: (keepMine: boolean) => void;
  /** Tries what was set aside once more, or lets it go. */
  readonly takeUp: (one: SetAside, again: boolean) => void;
  /** Looks at what is stored now. */
  readonly refresh: () => void;
}
export const EditingContext = createContext<Editing | null>(null);

export function useEditing(): Editing {
  const editing = useContext(EditingContext);
  if (!editing) throw new Error('useEditing is used where nothing is edited.');
  return editing;
}
