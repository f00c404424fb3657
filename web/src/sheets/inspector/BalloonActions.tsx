import { Button } from '@mantine/core';
import { sheetSteps } from '../../../../core/src/documents/index.ts';
import { balloonActions } from '../balloonActions.ts';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';

/** What can be done by hand with the balloons, or the view, that are picked. */
export function BalloonActions({
  id,
  sheet,
  drawn,
  things,
  size = 'compact-sm',
}: Pick<SheetInspectorProps, 'id' | 'sheet' | 'drawn' | 'things'> & { readonly size?: 'compact-sm' | 'compact-xs' }) {
  const change = useChange(id);
  return balloonActions({ sheet, layout: drawn.layout, things }).map(({ label, undo, after }) => (
    <Button key={label} size={size} variant="default" onClick={() => change(undo, ...sheetSteps(sheet, after()))}>
      {label}
    </Button>
  ));
}
