import { Button, Progress } from '@mantine/core';

/** What is going on, with a way to stop it where there is one. */
export const Working = ({ words, stop }: { readonly words: string; readonly stop?: (() => void) | undefined }) => (
  <p className="quiet" role="status">
    {words}
    {stop && (
      <Button size="compact-xs" variant="subtle" ml={6} onClick={stop}>
        Stop
      </Button>
    )}
  </p>
);

/** How far something is that takes a while. @param share 0 to 1 */
export const HowFar = ({ step, share }: { readonly step: string; readonly share: number }) => (
  <div role="status" style={{ marginTop: 12 }}>
    {step} …
    <Progress value={share * 100} color="lichen" animated aria-label="How far it is" />
  </div>
);
