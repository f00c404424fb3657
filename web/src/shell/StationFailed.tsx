import { Button, Group } from '@mantine/core';
import { useRouteError } from 'react-router';

/** In place of a station that stopped by an error of the program: the others go on. */
export function StationFailed() {
  const error = useRouteError();
  return (
    <main className="main">
      <div className="centre" role="alert">
        <p>
          This station stopped because of an error in the program
          {error instanceof Error && error.message ? ` (${error.message})` : ''}. What is kept is not lost, and the
          other stations go on. Undo takes back what was done last.
        </p>
        <Group>
          <Button onClick={() => window.location.reload()}>Show it again</Button>
        </Group>
      </div>
    </main>
  );
}
