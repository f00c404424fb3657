import { IconBooks, IconFolders } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

/** What stands around catalogues, which belong to no project: the way between the two. */
export function CataloguesShell({ top, children }: { readonly top: ReactNode; readonly children: ReactNode }) {
  return (
    <div className="shell">
      <header className="top">{top}</header>
      <nav className="rail" aria-label="Stations">
        <NavLink to="/catalogues">
          <IconBooks size={22} stroke={1.6} />
          Catalogues
        </NavLink>
        <div className="gap" />
        <NavLink to="/projects" end>
          <IconFolders size={22} stroke={1.6} />
          Projects
        </NavLink>
      </nav>
      {children}
    </div>
  );
}
