import type { SheetCommand } from '../../../../core/src/documents/index.ts';
import { useDoing } from '../../data/openProject.ts';

/** Commands for a sheet, as one gesture. */
export function useChange(id: string): (label: string, ...commands: SheetCommand[]) => void {
  const { perform } = useDoing();
  return (label, ...commands) => void perform(label, ...commands.map((command) => ({ document: id, command })));
}
