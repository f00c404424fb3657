import { ActionIcon, Button } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import type { ReactNode } from 'react';

/** Takes one of a list away. */
export const TakeAway = ({ label, onClick }: { readonly label: string; readonly onClick: () => void }) => (
  <ActionIcon size="sm" variant="subtle" color="ink" aria-label={label} onClick={onClick}>
    <IconX size={14} />
  </ActionIcon>
);

/** Puts one more into a list. */
export const OneMore = ({ children, onClick }: { readonly children: ReactNode; readonly onClick: () => void }) => (
  <Button size="compact-xs" variant="default" leftSection={<IconPlus size={13} />} onClick={onClick}>
    {children}
  </Button>
);
