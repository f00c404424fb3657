/** What of sessionStorage is needed here. */
type Store = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

const ID = 'session',
  OPEN = 'session-open';

/**
 * A window's name in the edit history: the same after a reload, another one in another window. A browser that duplicates
 * a window copies its store too; the copy is known by the mark that an open window leaves there and takes away when it
 * closes.
 */
export function sessionOf(store: Store, window: Pick<Window, 'addEventListener'>, newId: () => string): string {
  const known = store.getItem(OPEN) === null ? store.getItem(ID) : null;
  const id = known ?? newId();
  const open = () => {
    store.setItem(ID, id);
    store.setItem(OPEN, 'yes');
  };
  open();
  window.addEventListener('pagehide', () => store.removeItem(OPEN));
  window.addEventListener('pageshow', open); // back from where the browser keeps pages that were left
  return id;
}
