import { Button, Group } from '@mantine/core';
import type { ReactNode } from 'react';

interface DialogFootProps {
  /** What is done. */
  readonly children: ReactNode;
  readonly disabled?: boolean;
  readonly onDo: () => void;
  readonly onClose: () => void;
  /** Something else that can be done here. */
  readonly more?: ReactNode;
}

/** At the foot of a dialog: do it, or leave all as it is. */
export const DialogFoot = ({ children, disabled = false, onDo, onClose, more }: DialogFootProps) => (
  <Group mt="md" gap="xs">
    <Button size="compact-md" disabled={disabled} onClick={onDo}>
      {children}
    </Button>
    <Button size="compact-md" variant="default" onClick={onClose}>
      Leave
    </Button>
    {more}
  </Group>
);
