import { ActionIcon, Button } from '@mantine/core';
import { useDocumentTitle, useHotkeys } from '@mantine/hooks';
import { spotlight } from '@mantine/spotlight';
import {
  IconBooks,
  IconBox,
  IconFileText,
  IconFolders,
  IconGitCompare,
  IconListDetails,
  IconHelpCircle,
  IconShoppingCart,
  IconSearch,
} from '@tabler/icons-react';
import { lazy, Suspense, useState } from 'react';
import { Link, NavLink, Outlet, useMatch, useParams } from 'react-router';
import { count } from '../count.ts';
import { useDocuments, usePicking } from '../data/openProject.ts';
import { ProjectProvider, type Arriving } from '../data/ProjectContext.tsx';
import { Behind } from './Behind.tsx';
import { Find } from './Find.tsx';
import { Notices, Standing } from './Notices.tsx';
import { Steps } from './Steps.tsx';

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
  const { summary } = useDocuments();
  const { pick } = usePicking();
  const [help, setHelp] = useState(false);
  useDocumentTitle(`${summary.name} – Sledgeboard`);
  useHotkeys([
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
      <NavLink to="buying">
        <IconShoppingCart size={22} stroke={1.6} />
        Buying
      </NavLink>
      <NavLink to="changes">
        <IconGitCompare size={22} stroke={1.6} />
        Changes
      </NavLink>
      <div className="gap" />
      <NavLink to="/catalogues">
        <IconBooks size={22} stroke={1.6} />
        Catalogues
      </NavLink>
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
  const { summary } = useDocuments();
  return (
    <header className="top">
      <h1 className="title ellipsis">{summary.name}</h1>
      {summary.revision && <span className="revision">revision {summary.revision}</span>}
      <Behind />
      <button className="find" onClick={() => spotlight.open()}>
        <IconSearch size={15} />
        Find a part or a place<kbd>Ctrl K</kbd>
      </button>
      <Steps />
      <ActionIcon variant="subtle" color="ink" aria-label="Help" onClick={onHelp}>
        <IconHelpCircle size={20} />
      </ActionIcon>
    </header>
  );
}
