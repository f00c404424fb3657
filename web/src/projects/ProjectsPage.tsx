import { count } from '../count.ts';
import { useDocumentTitle } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import type { ProjectSummary } from '../../../contract/src/index.ts';
import { deleteProject, listProjects } from '../data/api.ts';
import { ImportDrop } from './ImportDrop.tsx';
import { usePicture } from '../data/made/made.ts';
import { Picture } from '../shell/Picture.tsx';
import { DeleteButton } from '../controls/DeleteButton.tsx';

const RemoveDialog = lazy(() =>
  import('../shell/RemoveDialog.tsx').then((module) => ({ default: module.RemoveDialog })),
);

/** Start page: all projects, and a place to drop a file. */
export function ProjectsPage() {
  const projects = useQuery({ queryKey: ['projects'], queryFn: listProjects });
  const [removing, setRemoving] = useState<ProjectSummary | null>(null);
  useDocumentTitle('Projects – Sledgeboard');
  return (
    <main className="projects">
      <h1>Projects</h1>
      <p className="quiet">
        Drop an assembly; its bill and a sheet are one step away. What all projects share stands in the{' '}
        <Link to="/catalogues">catalogues</Link>.
      </p>
      <ImportDrop />
      {projects.isError && <p className="problem">{projects.error.message}</p>}
      {projects.data?.length === 0 && <p className="quiet">No project yet.</p>}
      <div className="cards">
        {projects.data?.map((project) => (
          <Card key={project.id} project={project} onRemove={() => setRemoving(project)} />
        ))}
      </div>
      {removing && (
        <Suspense fallback={null}>
          <RemoveDialog
            title="Delete this project?"
            from="projects"
            onRemove={() => deleteProject(removing.id)}
            onClose={() => setRemoving(null)}
          >
            “{removing.name}” with its bill, sheets and history will be gone for good. The file that you imported stays
            where it is on your disk.
          </RemoveDialog>
        </Suspense>
      )}
    </main>
  );
}

function Card({ project, onRemove }: { project: ProjectSummary; onRemove: () => void }) {
  return (
    <article className="card">
      <Link to={`/projects/${project.id}/sheets`}>
        <Picture lines={usePicture(project.id, project.changed)} />
        <div className="words">
          <div className="title" style={{ fontSize: 16 }}>
            {project.name}
          </div>
          <div className="quiet">
            {count(project.parts, 'part')}, {count(project.leafOccurrences, 'piece')} · {project.sheets}{' '}
            {project.sheets === 1 ? 'sheet' : 'sheets'}
          </div>
          <div className="quiet">
            {project.fileName} · {new Date(project.changed).toLocaleString()}
          </div>
          {project.behind > 0 && (
            <span className="behind">A later revision waits: {count(project.behind, 'part')} otherwise</span>
          )}
        </div>
      </Link>
      <DeleteButton name={project.name} onClick={onRemove} />
    </article>
  );
}
