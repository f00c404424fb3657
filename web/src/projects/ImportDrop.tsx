import { Button, Group, Modal, Progress, Text } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { IconFileImport } from '@tabler/icons-react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { ListPreview, ProjectSummary } from '../../../contract/src/index.ts';
import { namesAgree, type ListMapping } from '../../../core/src/sources/index.ts';
import { cancelJob, followJob, importList, listProjects, previewList, uploadFile } from '../data/api.ts';

const ListMappingDialog = lazy(() =>
  import('./ListMappingDialog.tsx').then((module) => ({ default: module.ListMappingDialog })),
);

interface Running {
  readonly name: string;
  readonly step: string;
  /** 0 to 1. */
  readonly share: number;
}

const isList = (name: string): boolean => /\.(csv|tsv|tab|txt|xlsx|xlsm)$/i.test(name);

/**
 * Takes a model or a structure list, shows how far it is, and opens the project; a refusal stays on the page until
 * the next try.
 */
export function ImportDrop() {
  const [running, setRunning] = useState<Running | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const [list, setList] = useState<{ file: File; preview: ListPreview } | null>(null);
  const stop = useRef<() => void>(() => {});
  const navigate = useNavigate();
  const queries = useQueryClient();

  const known = useQuery({ queryKey: ['projects'], queryFn: listProjects }).data;
  const [asking, setAsking] = useState<{ file: File; of: readonly ProjectSummary[] } | null>(null);
  /** A file whose name agrees with that of a project may be a further revision of it: that is asked first. */
  const take = async ([file]: File[]) => {
    if (!file) return;
    const of = (known ?? []).filter(({ fileName }) => namesAgree(fileName, file.name));
    if (of.length > 0) setAsking({ file, of });
    else await bring(file);
  };
  const bring = async (file: File, into: ProjectSummary | null = null) => {
    setAsking(null);
    const upload = new AbortController();
    stop.current = () => upload.abort();
    setRefused(null);
    try {
      if (isList(file.name) && !into) {
        setRunning({ name: file.name, step: 'Reading the rows', share: 0.5 });
        return setList({ file, preview: await previewList(file) });
      }
      setRunning({ name: file.name, step: 'Sending', share: 0 });
      await follow(
        file.name,
        await uploadFile(
          file,
          (share) => setRunning({ name: file.name, step: 'Sending', share: share * 0.2 }),
          upload.signal,
          into && { project: into.id, remark: '', who: '' },
        ),
        into ? 'changes' : 'model',
      );
    } catch (error) {
      refuse(error);
    } finally {
      setRunning(null);
    }
  };
  const refuse = (error: unknown) =>
    setRefused((error as Error).name === 'AbortError' ? 'Cancelled; nothing was stored.' : (error as Error).message);
  const follow = async (name: string, id: string, station = 'model') => {
    stop.current = () => void cancelJob(id).catch(refuse);
    const job = await followJob(id, ({ progress }) =>
      setRunning({
        name,
        step: progress.of > 1 ? `${progress.step}: ${progress.done} of ${progress.of}` : progress.step,
        share: 0.2 + (0.8 * progress.done) / Math.max(1, progress.of),
      }),
    );
    await queries.invalidateQueries({ queryKey: ['projects'] });
    void navigate(`/projects/${job.project}/${station}`);
  };
  const takeList = async (mapping: ListMapping) => {
    if (!list) return;
    const { file } = list;
    const { name } = file;
    setList(null);
    try {
      setRunning({ name, step: 'Reading the list', share: 0.5 });
      await follow(name, (await importList(file, mapping)).job);
    } catch (error) {
      refuse(error);
    } finally {
      setRunning(null);
    }
  };

  return (
    <>
      {running ? (
        // In the place of the field and as high, so that nothing on the page moves, least of all the way to stop it.
        <Group className="bringing" mt="md" gap="md" role="status">
          <div className="wide">
            <Text fz="sm">
              {running.name} · {running.step}
            </Text>
            <Progress value={running.share * 100} color="lichen" animated aria-label={`How far ${running.name} is`} />
          </div>
          <Button variant="default" size="compact-md" onClick={() => stop.current()}>
            Cancel
          </Button>
        </Group>
      ) : (
        <Dropzone
          onDrop={(files) => void take(files)}
          maxFiles={1}
          multiple={false}
          aria-label="Bring in a file"
          radius="md"
          mt="md"
          styles={{ root: { background: 'var(--paper-shade)', borderColor: 'var(--hairline)' } }}
        >
          <Group justify="center" gap="md" mih={90} style={{ pointerEvents: 'none' }}>
            <IconFileImport size={34} stroke={1.4} />
            <div>
              <Text fz="lg" className="title">
                Drop a model or a structure list here, or click to choose one
              </Text>
              <Text className="quiet">
                STEP (AP203, AP214, AP242), glTF 2.0, 3MF; layouts as SVG; lists as CSV or XLSX
              </Text>
            </div>
          </Group>
        </Dropzone>
      )}
      {asking && (
        <Modal opened onClose={() => setAsking(null)} title={`What is ${asking.file.name}?`}>
          <p>Its name agrees with a file that is here already.</p>
          {asking.of.slice(0, 5).map((project) => (
            <Button key={project.id} fullWidth mb="xs" onClick={() => void bring(asking.file, project)}>
              A new revision of {project.name}
            </Button>
          ))}
          <Button fullWidth variant="default" onClick={() => void bring(asking.file)}>
            A project of its own
          </Button>
          <p className="quiet">
            As a revision its parts are recognised again, and nothing is touched before you take it over.
          </p>
        </Modal>
      )}
      {list && (
        <Suspense fallback={null}>
          <ListMappingDialog
            name={list.file.name}
            preview={list.preview}
            onTake={(mapping) => void takeList(mapping)}
            onLeave={() => setList(null)}
          />
        </Suspense>
      )}
      {refused && (
        <p className="problem" role="alert">
          {refused}
        </p>
      )}
    </>
  );
}
