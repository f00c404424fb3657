import { Button, Group, Modal } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import type { ProjectSummary } from '../../../contract/src/index.ts';
import { deleteProject } from '../data/api.ts';

/** Asks before a project goes for good. */
export function RemoveDialog({ project, onClose }: { project: ProjectSummary; onClose: () => void }) {
  const queries = useQueryClient();
  const remove = async () => {
    try {
      await deleteProject(project.id);
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    await queries.invalidateQueries({ queryKey: ['projects'] });
    onClose();
  };
  return (
    <Modal opened onClose={onClose} title="Delete this project?">
      <p>
        “{project.name}” with its bill, sheets and history will be gone for good. The file that you imported stays where
        it is on your disk.
      </p>
      <Group justify="flex-end">
        <Button variant="default" onClick={onClose}>
          Keep it
        </Button>
        <Button color="signal" onClick={() => void remove()}>
          Delete
        </Button>
      </Group>
    </Modal>
  );
}
