import { Button, Group, Progress, Text } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { IconFileImport } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { cancelJob, followJob, uploadFile } from '../data/api.ts';

interface Running {
  readonly name: string;
  readonly step: string;
  /** 0 to 1. */
  readonly share: number;
}

/** Takes a STEP file, shows how far it is, and opens the project; a refusal stays on the page until the next try. */
export function ImportDrop() {
  const [running, setRunning] = useState<Running | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const stop = useRef<() => void>(() => {});
  const navigate = useNavigate();
  const queries = useQueryClient();

  const take = async ([file]: File[]) => {
    if (!file) return;
    const upload = new AbortController();
    stop.current = () => upload.abort();
    setRefused(null);
    try {
      setRunning({ name: file.name, step: 'Sending', share: 0 });
      const id = await uploadFile(file, (share) => setRunning({ name: file.name, step: 'Sending', share: share * 0.2 }), upload.signal);
      stop.current = () => void cancelJob(id);
      const job = await followJob(id, ({ progress }) => setRunning({ name: file.name, step: progress.of > 1 ? `${progress.step}: ${progress.done} of ${progress.of}` : progress.step, share: 0.2 + (0.8 * progress.done) / Math.max(1, progress.of) }));
      await queries.invalidateQueries({ queryKey: ['projects'] });
      void navigate(`/projects/${job.project}/sheets`);
    } catch (error) {
      setRefused((error as Error).name === 'AbortError' ? 'Cancelled; nothing was stored.' : (error as Error).message);
    } finally {
      setRunning(null);
    }
  };

  return (
    <>
      <Dropzone onDrop={(files) => void take(files)} maxFiles={1} multiple={false} disabled={running !== null} aria-label="Import a STEP file" radius="md" mt="md" styles={{ root: { background: 'var(--paper-shade)', borderColor: 'var(--hairline)' } }}>
        <Group justify="center" gap="md" mih={90} style={{ pointerEvents: 'none' }}>
          <IconFileImport size={34} stroke={1.4} />
          <div>
            <Text fz="lg" className="title">Drop a STEP file here, or click to choose one</Text>
            <Text className="quiet">.step or .stp, AP203, AP214 or AP242, from any program</Text>
          </div>
        </Group>
      </Dropzone>
      {running && (
        <Group mt="sm" gap="sm" role="status">
          <div className="wide">
            <Text fz="sm">{running.name} · {running.step}</Text>
            <Progress value={running.share * 100} color="lichen" animated />
          </div>
          <Button variant="default" size="compact-md" onClick={() => stop.current()}>Cancel</Button>
        </Group>
      )}
      {refused && <p className="problem" role="alert">{refused}</p>}
    </>
  );
}
