import { Button, Group, Modal } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState, type ReactNode } from 'react';

interface RemoveDialogProps {
  readonly title: string;
  /** What will be gone. */
  readonly children: ReactNode;
  readonly onRemove: () => Promise<void>;
  readonly onClose: () => void;
}

/** Asks before something goes for good. */
export function RemoveDialog({ title, children, onRemove, onClose }: RemoveDialogProps) {
  const [busy, setBusy] = useState(false);
  const remove = async () => {
    setBusy(true);
    try {
      await onRemove();
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    onClose();
  };
  return (
    <Modal opened onClose={onClose} title={title}>
      <p>{children}</p>
      <Group justify="flex-end">
        <Button variant="default" onClick={onClose}>
          Keep it
        </Button>
        <Button color="signal" loading={busy} onClick={() => void remove()}>
          Delete
        </Button>
      </Group>
    </Modal>
  );
}
