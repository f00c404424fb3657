import { ActionIcon, Tooltip } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { IconArrowBackUp, IconArrowForwardUp, IconCheck } from '@tabler/icons-react';
import { useEditing } from '../data/editing/Editing.tsx';

/** Undo and Redo, by hand and by keys, and whether everything is kept. */
export function Steps() {
  const {
    edits: { history, keeping },
    stepBack,
  } = useEditing();
  // What is asked about is not kept yet: a step back would take another gesture than the one it names.
  const waits = keeping.state === 'clash' || keeping.state === 'halted';
  const back = (mode: 'undo' | 'redo') => !waits && stepBack(mode);
  useHotkeys([
    ['mod+Z', () => back('undo')],
    ['mod+Y', () => back('redo')],
    ['mod+shift+Z', () => back('redo')],
  ]);
  const step = (mode: 'undo' | 'redo', label: string | null) => {
    const words = waits
      ? keeping.state === 'clash'
        ? 'Decide first whose change stands'
        : 'Reload the page first'
      : label
        ? `${mode === 'undo' ? 'Undo' : 'Redo'}: ${label}`
        : mode === 'undo'
          ? 'Nothing to undo'
          : 'Nothing to redo';
    return (
      <Tooltip label={words}>
        <ActionIcon
          variant="subtle"
          color="ink"
          disabled={!label || waits}
          aria-label={words}
          onClick={() => stepBack(mode)}
        >
          {mode === 'undo' ? <IconArrowBackUp size={19} /> : <IconArrowForwardUp size={19} />}
        </ActionIcon>
      </Tooltip>
    );
  };
  return (
    <>
      {step('undo', history.undo)}
      {step('redo', history.redo)}
      <span className={keeping.state === 'kept' ? 'kept' : 'kept open'} role="status">
        {keeping.state === 'kept' && (
          <>
            <IconCheck size={15} />
            All kept
          </>
        )}
        {keeping.state === 'keeping' && 'Keeping …'}
        {keeping.state === 'waiting' && 'Not kept yet'}
        {keeping.state === 'clash' && 'Not kept: decide below'}
        {keeping.state === 'halted' && 'Not kept: reload the page'}
      </span>
    </>
  );
}
