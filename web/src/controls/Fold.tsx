import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';

/** Opens and closes a row of a tree; of one that holds nothing the room stays free. */
export const Fold = ({
  isOpen,
  onClick,
}: {
  /** Null where there is nothing to open. */
  readonly isOpen: boolean | null;
  readonly onClick: () => void;
}) => (
  <button
    className="fold"
    tabIndex={-1}
    style={{ visibility: isOpen === null ? 'hidden' : 'visible' }}
    aria-label={isOpen ? 'Close' : 'Open'}
    onClick={(event) => {
      event.stopPropagation();
      onClick();
    }}
  >
    {isOpen ? <IconChevronDown size={15} /> : <IconChevronRight size={15} />}
  </button>
);
