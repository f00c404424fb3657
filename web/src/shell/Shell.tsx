import { ActionIcon, Button, Tooltip } from '@mantine/core';
import { useDocumentTitle, useHotkeys } from '@mantine/hooks';
import { spotlight } from '@mantine/spotlight';
import {
  IconArrowBackUp,
  IconArrowForwardUp,
  IconBox,
  IconCheck,
  IconFileText,
  IconFolders,
  IconGitCompare,
  IconListDetails,
  IconHelpCircle,
  IconSearch,
} from '@tabler/icons-react';
import { lazy, Suspense, useState } from 'react';
import { Link, NavLink, Outlet, useMatch, useParams } from 'react-router';
import { count } from '../count.ts';
import { ProjectProvider, useProject, type Arriving } from '../data/ProjectContext.tsx';
import { Behind } from './Behind.tsx';
import { Find } from './Find.tsx';
import { Notices, Standing } from './Notices.tsx';

const Help = lazy(() => import('./Help.tsx').then((module) => ({ default: module.Help })));

/** A project with its stations. */
export function Shell() {
  const { id = '' } = useParams();
  const failed = (sentence: string) => (
    <div className="centre">
      <p>{sentence}</p>
      <Button component={Link} to="/projects">
        All projects
      </Button>
    </div>
  );
  return (
    <ProjectProvider id={id} waiting={(arriving) => <Opening {...arriving} />} failed={failed}>
      <Stations />
    </ProjectProvider>
  );
}

function Stations() {
  const {
    summary,
    stepBack,
    pick,
    edits: { keeping },
  } = useProject();
  // What is asked about is not kept yet: a step back would take another gesture than the one it names.
  const back = (mode: 'undo' | 'redo') => keeping.state !== 'clash' && keeping.state !== 'halted' && stepBack(mode);
  const [help, setHelp] = useState(false);
  useDocumentTitle(`${summary.name} – Sledgeboard`);
  useHotkeys([
    ['mod+Z', () => back('undo')],
    ['mod+Y', () => back('redo')],
    ['mod+shift+Z', () => back('redo')],
    ['mod+K', () => spotlight.open()],
    ['Escape', () => pick(null)],
  ]);
  return (
    <div className="shell">
      <TopBar onHelp={() => setHelp(true)} />
      <Rail />
      <Suspense fallback={<main className="main centre quiet">Opening …</main>}>
        <Outlet />
      </Suspense>
      <Notices />
      <Standing />
      <Find />
      {help && (
        <Suspense fallback={null}>
          <Help opened onClose={() => setHelp(false)} />
        </Suspense>
      )}
    </div>
  );
}

function Rail() {
  // The way back to the sheets leads to the one that was open.
  const match = useMatch('/projects/:id/sheets/:sheet?');
  const [sheet, setSheet] = useState(match?.params.sheet);
  if (match?.params.sheet && match.params.sheet !== sheet) setSheet(match.params.sheet);
  return (
    <nav className="rail" aria-label="Stations">
      <NavLink to="model">
        <IconBox size={22} stroke={1.6} />
        Model
      </NavLink>
      <NavLink to="bill">
        <IconListDetails size={22} stroke={1.6} />
        Bill
      </NavLink>
      <NavLink to={sheet ? `sheets/${sheet}` : 'sheets'} className={match ? 'active' : undefined}>
        <IconFileText size={22} stroke={1.6} />
        Sheets
      </NavLink>
      <NavLink to="changes">
        <IconGitCompare size={22} stroke={1.6} />
        Changes
      </NavLink>
      <div className="gap" />
      <NavLink to="/projects" end>
        <IconFolders size={22} stroke={1.6} />
        Projects
      </NavLink>
    </nav>
  );
}

/** While the structure of the machine still arrives: which project it is, how far it is, and the way elsewhere. */
function Opening({ summary, arrived }: Arriving) {
  return (
    <div className="shell">
      <header className="top">
        <h1 className="title ellipsis">{summary?.name ?? 'Opening the project'}</h1>
        {summary?.revision && <span className="revision">revision {summary.revision}</span>}
      </header>
      <Rail />
      <main className="main centre">
        <div className="quiet" role="status">
          {summary
            ? `Opening ${count(summary.parts, 'part')} in ${count(summary.leafOccurrences, 'place')}`
            : 'Opening the project'}{' '}
          …{arrived > 0 && ` ${Math.round(arrived / 1e6)} MB of its structure are here`}
        </div>
      </main>
    </div>
  );
}

function TopBar({ onHelp }: { onHelp: () => void }) {
  const {
    summary,
    edits: { history, keeping },
    stepBack,
  } = useProject();
  const step = (mode: 'undo' | 'redo', label: string | null) => {
    const waits = keeping.state === 'clash' || keeping.state === 'halted';
    const words = waits
      ? keeping.state === 'clash'
        ? 'Decide first whose change stands'
        : 'Reload the page first'
      : label
        ? `${mode === 'undo' ? 'Undo' : 'Redo'}: ${label}`
        : mode === 'undo'
          ? 'Nothing to undo'
          : 'Nothing to redo';
    return (
      <Tooltip label={words}>
        <ActionIcon
          variant="subtle"
          color="ink"
          disabled={!label || waits}
          aria-label={words}
          onClick={() => stepBack(mode)}
        >
          {mode === 'undo' ? <IconArrowBackUp size={19} /> : <IconArrowForwardUp size={19} />}
        </ActionIcon>
      </Tooltip>
    );
  };
  return (
    <header className="top">
      <h1 className="title ellipsis">{summary.name}</h1>
      {summary.revision && <span className="revision">revision {summary.revision}</span>}
      <Behind />
      <button className="find" onClick={() => spotlight.open()}>
        <IconSearch size={15} />
        Find a part or a place<kbd>Ctrl K</kbd>
      </button>
      {step('undo', history.undo)}
      {step('redo', history.redo)}
      <span className={keeping.state === 'kept' ? 'kept' : 'kept open'} role="status">
        {keeping.state === 'kept' && (
          <>
            <IconCheck size={15} />
            All kept
          </>
        )}
        {keeping.state === 'keeping' && 'Keeping …'}
        {keeping.state === 'waiting' && 'Not kept yet'}
        {keeping.state === 'clash' && 'Not kept: decide below'}
        {keeping.state === 'halted' && 'Not kept: reload the page'}
      </span>
      <ActionIcon variant="subtle" color="ink" aria-label="Help" onClick={onHelp}>
        <IconHelpCircle size={20} />
      </ActionIcon>
    </header>
  );
}
