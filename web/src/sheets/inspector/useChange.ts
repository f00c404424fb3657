import type { SheetCommand } from '../../../../core/src/documents/index.ts';
import { useProject } from '../../data/ProjectContext.tsx';

/** Commands for a sheet, as one gesture. */
export function useChange(id: string): (label: string, ...commands: SheetCommand[]) => void {
  const { perform } = useProject();
  return (label, ...commands) => void perform(label, ...commands.map((command) => ({ document: id, command })));
}
