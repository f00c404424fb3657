import { useQuery } from '@tanstack/react-query';
import { Navigate } from 'react-router';
import { listProjects } from '../data/api.ts';
import { ProjectsPage } from './ProjectsPage.tsx';

/** The first address: straight to the drawing when there is only one project, else all projects. */
export function StartPage() {
  const { data, isError } = useQuery({ queryKey: ['projects'], queryFn: listProjects });
  if (data?.length === 1) return <Navigate to={`/projects/${data[0].id}/sheets`} replace />;
  return data || isError ? <ProjectsPage /> : null;
}
