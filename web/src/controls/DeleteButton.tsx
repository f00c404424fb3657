import { ActionIcon } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';

/** On a card: what it shows goes for good, once that was asked. */
export const DeleteButton = ({ name, onClick }: { readonly name: string; readonly onClick: () => void }) => (
  <ActionIcon className="remove" variant="subtle" color="ink" aria-label={`Delete ${name}`} onClick={onClick}>
    <IconTrash size={16} />
  </ActionIcon>
);
