import { count } from '../count.ts';
import { ActionIcon, Button, Group, Modal } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import { notifications } from '@mantine/notifications';
import { IconTrash } from '@tabler/icons-react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ProjectSummary } from '../../../contract/src/index.ts';
import { deleteProject, listProjects } from '../data/api.ts';
import { ImportDrop } from './ImportDrop.tsx';
import { usePicture } from '../data/made.ts';
import { Picture } from './Picture.tsx';

/** Start page: all projects, and a place to drop a file. */
export function ProjectsPage() {
  const projects = useQuery({ queryKey: ['projects'], queryFn: listProjects });
  const [removing, setRemoving] = useState<ProjectSummary | null>(null);
  useDocumentTitle('Projects – Sledgeboard');
  return (
    <main className="projects">
      <h1>Projects</h1>
      <p className="quiet">Drop an assembly; its bill and a sheet are one step away.</p>
      <ImportDrop />
      {projects.isError && <p className="problem">{projects.error.message}</p>}
      {projects.data?.length === 0 && <p className="quiet">No project yet.</p>}
      <div className="cards">
        {projects.data?.map((project) => (
          <Card key={project.id} project={project} onRemove={() => setRemoving(project)} />
        ))}
      </div>
      <RemoveDialog project={removing} onClose={() => setRemoving(null)} />
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
        </div>
      </Link>
      <ActionIcon
        className="remove"
        variant="subtle"
        color="ink"
        aria-label={`Delete ${project.name}`}
        onClick={onRemove}
      >
        <IconTrash size={16} />
      </ActionIcon>
    </article>
  );
}

function RemoveDialog({ project, onClose }: { project: ProjectSummary | null; onClose: () => void }) {
  const queries = useQueryClient();
  const remove = async () => {
    try {
      await deleteProject(project!.id);
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    await queries.invalidateQueries({ queryKey: ['projects'] });
    onClose();
  };
  return (
    <Modal opened={project !== null} onClose={onClose} title="Delete this project?">
      <p>
        “{project?.name}” with its bill, sheets and history will be gone for good. The file that you imported stays
        where it is on your disk.
      </p>
      <Group justify="flex-end">
        <Button variant="default" onClick={onClose}>
          Keep it
        </Button>
        <Button color="signal" onClick={() => void remove()}>
          Delete
        </Button>
      </Group>
    </Modal>
  );
}
