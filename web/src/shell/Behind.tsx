import { Link } from 'react-router';
import { count } from '../count.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { revisionName } from '../data/revisionName.ts';

/** That something shows an earlier revision than the newest, and the way to what changed. */
export function Behind() {
  const { id, revisions, sheets, bills } = useDocuments();
  const { revision } = useMachine();
  const newest = revisions[revisions.length - 1];
  const late = [...bills, ...sheets].filter(({ content }) => (content.revision ?? revision.first) !== newest.id).length;
  if (late === 0) return null;
  return (
    <Link className="behind" to={`/projects/${id}/changes`}>
      {revisionName(newest, revisions)} waits: {count(newest.changes, 'part')} otherwise,{' '}
      {count(late, 'list or sheet', 'lists and sheets')} behind
    </Link>
  );
}

/** That a list or sheet shows an earlier revision than the newest, and which. */
export function ShowsEarlier({ content }: { readonly content: { readonly revision?: string } }) {
  const { id, revisions } = useDocuments();
  const { revision } = useMachine();
  const shown = content.revision ?? revision.first;
  const newest = revisions[revisions.length - 1];
  if (shown === newest.id) return null;
  const of = revisions.find((one) => one.id === shown);
  return (
    <Link
      className="behind"
      to={`/projects/${id}/changes`}
      title={`${revisionName(newest, revisions)} waits to be taken over`}
    >
      shows {of ? revisionName(of, revisions) : 'an earlier revision'}
    </Link>
  );
}
