import { Button, FileButton, Group, Modal, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { cancelJob, followJob, uploadFile } from '../data/api.ts';
import { useDocuments } from '../data/openProject.ts';
import { HowFar } from '../controls/working.tsx';

/** Brings a further file of the machine in, with why and by whom. Nothing shows it before it is taken over. */
export function BringIn({
  onCame,
  onClose,
}: {
  readonly onCame: (revision: string) => void;
  readonly onClose: () => void;
}) {
  const { id, set } = useDocuments();
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [remark, setRemark] = useState('');
  const [who, setWho] = useState(set.content.fields.createdBy);
  const [running, setRunning] = useState<{ step: string; share: number } | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const stop = useRef<() => void>(() => {});
  const bring = async () => {
    if (!file) return;
    setRefused(null);
    const upload = new AbortController();
    stop.current = () => upload.abort();
    try {
      setRunning({ step: 'Sending', share: 0 });
      const job = await uploadFile(
        file,
        (share) => setRunning({ step: 'Sending', share: share * 0.2 }),
        upload.signal,
        {
          project: id,
          remark,
          who,
        },
      );
      stop.current = () => void cancelJob(job);
      await followJob(job, ({ progress: { step, done, of } }) =>
        setRunning({ step: of > 1 ? `${step}: ${done} of ${of}` : step, share: 0.2 + (0.8 * done) / Math.max(1, of) }),
      );
      await queries.invalidateQueries({ queryKey: ['project', id] });
      onCame(job); // a revision has the id of the job that made it
      onClose();
    } catch (error) {
      setRunning(null);
      setRefused((error as Error).name === 'AbortError' ? 'Cancelled; nothing was stored.' : (error as Error).message);
    }
  };
  return (
    <Modal opened onClose={running ? () => {} : onClose} title="Bring in a new revision">
      <p>
        A fresh export of this machine. Its parts are recognised again, and what changed is shown before anything is
        touched.
      </p>
      <Group gap="sm" mb="sm">
        <FileButton onChange={setFile}>
          {(button) => (
            <Button variant="default" {...button} disabled={running !== null}>
              Choose a file …
            </Button>
          )}
        </FileButton>
        <span className="wide ellipsis">
          {file?.name ?? <span className="quiet">STEP, glTF, 3MF, SVG, CSV or XLSX</span>}
        </span>
      </Group>
      <TextInput label="Why" value={remark} maxLength={400} onChange={({ target }) => setRemark(target.value)} />
      <TextInput mt="xs" label="By" value={who} maxLength={190} onChange={({ target }) => setWho(target.value)} />
      {refused && (
        <p className="problem" role="alert" style={{ marginTop: 12 }}>
          {refused}
        </p>
      )}
      {running && <HowFar step={running.step} share={running.share} />}
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={() => (running ? stop.current() : onClose())}>
          {running ? 'Cancel' : 'Leave it'}
        </Button>
        <Button disabled={!file || running !== null} onClick={() => void bring()}>
          Bring it in
        </Button>
      </Group>
    </Modal>
  );
}
