import { ActionIcon, Button, Menu, Select, Tooltip } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconDownload, IconFileImport, IconTrash } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { urlOf, routes, type Revision } from '../../../contract/src/index.ts';
import type { ComponentKey } from '../../../core/src/assembly/index.ts';
import { removeRevision } from '../data/api.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { useEditing } from '../data/editing/Editing.tsx';
import { AboutPart } from './AboutPart.tsx';
import { Doubtful } from './Doubtful.tsx';
import { Elsewhere } from './Elsewhere.tsx';
import { MergedTree } from './MergedTree.tsx';
import { revisionName } from '../data/revisionName.ts';
import { useEffectOf } from '../data/made/useWaiting.ts';
import { useCompared } from './useCompared.ts';
import { useRecognised } from './useRecognised.ts';
import { WhatItDoes } from './WhatItDoes.tsx';

const Overlay = lazy(() => import('./Overlay.tsx').then((module) => ({ default: module.Overlay })));
const BringIn = lazy(() => import('./BringIn.tsx').then((module) => ({ default: module.BringIn })));
const outputs = [
  ['csv', 'CSV'],
  ['xlsx', 'Workbook (XLSX)'],
  ['json', 'JSON'],
  ['text', 'Plain text'],
] as const;

const capital = (words: string): string => words.replace(/^revision/, 'Revision');

/** Two revisions of the model laid over one another, and what taking the later one over does to lists and sheets. */
export function ChangesStation() {
  const { id, revisions } = useDocuments();
  const { revision } = useMachine();
  const { edits } = useEditing();
  const queries = useQueryClient();
  const [bringing, setBringing] = useState(false);
  const newest = revisions[revisions.length - 1];
  const nameOf = (one: Revision) => revisionName(one, revisions);
  // Of the project's own against the newest; where that is its own already, what came with it.
  const ownAt = revisions.findIndex((one) => one.id === revision.own);
  const usualWas = revision.own === newest.id ? (revisions[Math.max(0, ownAt - 1)]?.id ?? newest.id) : revision.own;
  const [chosen, setChosen] = useState<{ was: string | null; is: string | null }>({ was: null, is: null });
  const there = (one: string | null, usual: string) => revisions.find(({ id: of }) => of === one)?.id ?? usual;
  const was = there(chosen.was, usualWas),
    is = there(chosen.is, newest.id);
  const [later] = revisions.filter((one) => one.id === is);
  const [earlier] = revisions.filter((one) => one.id === was);
  const choices = revisions.map((one) => ({
    value: one.id,
    label: [...new Set([capital(nameOf(one)), one.fileName])].join(' · '),
  }));
  const remove = async () => {
    try {
      await removeRevision(id, is);
      await queries.invalidateQueries({ queryKey: ['project', id] });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  const waits = edits.keeping.state !== 'kept';
  return (
    <main className="main">
      <section className="changes" aria-label="Changes">
        <header className="revisions">
          <Select
            size="xs"
            aria-label="Earlier revision"
            data={choices}
            value={was}
            onChange={(value) => setChosen({ ...chosen, was: value })}
            allowDeselect={false}
            w={250}
          />
          <span aria-hidden>→</span>
          <Select
            size="xs"
            aria-label="Later revision"
            data={choices}
            value={is}
            onChange={(value) => setChosen({ ...chosen, is: value })}
            allowDeselect={false}
            w={250}
          />
          <span className="quiet ellipsis wide">
            {[later.remark, later.who, new Date(later.created).toLocaleDateString()].filter(Boolean).join(' · ')}
          </span>
          {was !== is && (
            <Menu position="bottom-end" shadow="md">
              <Menu.Target>
                <Tooltip label="Hand the changes over as a file">
                  <ActionIcon variant="default" size={28} aria-label="Hand the changes over">
                    <IconDownload size={16} />
                  </ActionIcon>
                </Tooltip>
              </Menu.Target>
              <Menu.Dropdown>
                {outputs.map(([format, words]) => (
                  <Menu.Item
                    key={format}
                    component="a"
                    href={urlOf(routes.revisions.changesFile, { params: { id, format }, query: { was, is } })}
                    download
                  >
                    {words}
                  </Menu.Item>
                ))}
              </Menu.Dropdown>
            </Menu>
          )}
          {is !== revisions[0].id && (
            <Tooltip label={`Take ${nameOf(later)} away`}>
              <ActionIcon
                variant="default"
                size={28}
                aria-label={`Take ${nameOf(later)} away`}
                onClick={() => void remove()}
              >
                <IconTrash size={16} />
              </ActionIcon>
            </Tooltip>
          )}
          <Button size="compact-md" leftSection={<IconFileImport size={16} />} onClick={() => setBringing(true)}>
            Bring in a new revision
          </Button>
        </header>
        {waits && <p className="problem calm">What is not kept yet is not counted here.</p>}
        {was === is ? (
          <div className="centre">
            <p>
              {revisions.length === 1
                ? 'The model has one revision so far. Bring in a fresh export, and what changed is shown here before anything is touched.'
                : 'Choose two revisions to see what changed between them.'}
            </p>
          </div>
        ) : (
          <Between key={`${was} ${is}`} was={was} is={is} names={[capital(nameOf(earlier)), capital(nameOf(later))]} />
        )}
      </section>
      {bringing && (
        <Suspense fallback={null}>
          <BringIn onCame={(came) => setChosen({ was: null, is: came })} onClose={() => setBringing(false)} />
        </Suspense>
      )}
    </main>
  );
}

function Between({ was, is, names }: { was: string; is: string; names: readonly [string, string] }) {
  const { revisions } = useDocuments();
  const { revision } = useMachine();
  const { compared, failed } = useCompared(was, is);
  const { effect, failed: effectFailed } = useEffectOf(was, is);
  const [picked, setPicked] = useState<ComponentKey | null>(null);
  const later = revisions.find(({ id }) => id === is)!;
  const recognised = useRecognised(later);
  const [elsewhere, setElsewhere] = useState<ComponentKey | null>(null);
  const asked = compared?.after.components.find(({ key }) => key === elsewhere);
  // Once something shows it its keys are in documents.
  const isShown = effect
    ? [...effect.bills, ...effect.sheets].some(({ shows }) => (shows ?? revision.first) === is)
    : true;
  if (failed) return <p className="problem">{failed}</p>;
  if (!compared) return <div className="centre quiet">Opening both revisions …</div>;
  return (
    <>
      <p className="said" role="status">
        {effect ? effect.model.summary.text : 'Working out what it does …'}
      </p>
      <Doubtful recognised={recognised} compared={compared} onElsewhere={setElsewhere} />
      {asked && (
        <Elsewhere component={asked} compared={compared} recognised={recognised} onClose={() => setElsewhere(null)} />
      )}
      <div className="between">
        <MergedTree compared={compared} picked={picked} onPick={setPicked} />
        <Suspense fallback={<section className="overlay" />}>
          <Overlay
            before={compared.machines[0].assembly}
            after={compared.machines[1].assembly}
            names={names}
            picked={picked}
            onPick={setPicked}
          />
        </Suspense>
        <aside className="panel">
          {picked !== null && (
            <AboutPart
              picked={picked}
              compared={compared}
              effect={effect}
              {...(isShown ? {} : { onElsewhere: setElsewhere })}
            />
          )}
          {effectFailed && <p className="problem">{effectFailed}</p>}
          {effect ? (
            <WhatItDoes effect={effect} revision={later} names={names} />
          ) : (
            !effectFailed && <p className="quiet">Working out what it does to lists and sheets …</p>
          )}
        </aside>
      </div>
    </>
  );
}
