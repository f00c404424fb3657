import { Button, Group, Modal } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';

interface RemoveDialogProps {
  readonly title: string;
  /** What will be gone. */
  readonly children: ReactNode;
  readonly onRemove: () => Promise<void>;
  /** The list in which it stood, as it is asked for. */
  readonly from: 'projects' | 'catalogues';
  readonly onClose: () => void;
}

/** Asks before something goes for good. */
export function RemoveDialog({ title, children, onRemove, from, onClose }: RemoveDialogProps) {
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const remove = async () => {
    setBusy(true);
    try {
      await onRemove();
      await queries.invalidateQueries({ queryKey: [from] });
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
