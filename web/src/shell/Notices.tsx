import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { takeDocumentBack } from '../data/api.ts';
import { useEditing } from '../data/editing/Editing.tsx';

/** What of the drafter's work is on its way, and why it waits: over the desk, since it comes and goes. */
export function Notices() {
  const {
    edits: { keeping },
  } = useEditing();
  return (
    <div className="notices">
      {keeping.state === 'waiting' && (
        <div className="notice" role="status">
          {keeping.why}
        </div>
      )}
      <Clash />
    </div>
  );
}

/** What stays until the drafter has decided; it takes room of its own, so that it covers nothing. */
export function Standing() {
  const {
    id,
    edits: { aside, documents },
    takeUp,
    refresh,
  } = useEditing();
  const takeShown = async (document: string) => {
    try {
      await takeDocumentBack(id, document);
      refresh();
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  return (
    <div className="standing">
      {documents.map(
        (document) =>
          document.damaged !== undefined && (
            <div className="notice" role="alert" key={document.id}>
              <span>
                The {document.kind} that is stored cannot be read. {document.damaged} Nothing of it can be changed
                before you take what is shown.
              </span>
              <Button size="compact-sm" onClick={() => void takeShown(document.id)}>
                Take what is shown
              </Button>
            </div>
          ),
      )}
      {aside.map((one) => (
        <div className="notice" role="alert" key={one.gesture.id}>
          <span>
            “{one.gesture.label}” was not kept: {one.reason}
          </span>
          <Button size="compact-sm" variant="default" onClick={() => takeUp(one, true)}>
            Try again
          </Button>
          <Button size="compact-sm" variant="default" onClick={() => takeUp(one, false)}>
            Let it go
          </Button>
        </div>
      ))}
    </div>
  );
}

/** Shown when another window changed the same thing: nothing is lost, the drafter chooses. */
function Clash() {
  const {
    edits: { keeping },
    settle,
  } = useEditing();
  if (keeping.state !== 'clash') return null;
  return (
    <div className="notice" role="alert">
      <span>
        Another window was first: “{keeping.other}”. Your “{keeping.label}” changes the same thing and is not kept yet.
      </span>
      <Button size="compact-sm" color="signal" onClick={() => settle(true)}>
        Do mine on top
      </Button>
      <Button size="compact-sm" variant="default" onClick={() => settle(false)}>
        Leave theirs
      </Button>
    </div>
  );
}
