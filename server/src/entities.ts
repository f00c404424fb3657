import { EntitySchema } from 'typeorm';
import type { DocumentKind } from '../../core/src/documents/index.ts';

/** Rows as the database has them; JSON columns are text here and are parsed where they are read. */
export interface ProjectRow {
  id: string;
  name: string;
  created: Date;
  changed: Date;
}
export interface RevisionRow {
  id: string;
  project: string;
  label: string;
  fileName: string;
  fileBlob: string;
  assemblyBlob: string;
  parts: number;
  leafOccurrences: number;
  created: Date;
}
export interface DocumentRow {
  id: string;
  project: string;
  kind: DocumentKind;
  version: number;
  content: string;
  position: number;
  /** Taken away: as its content says it, for those who only count. */
  away: boolean;
}
export interface EditRow {
  id: number;
  project: string;
  gesture: string;
  session: string;
  document: string;
  fromVersion: number;
  label: string;
  command: string;
  inverse: string;
  /** Form of command and inverse, see core's upgradeCommand. */
  form: number;
  mode: 'do' | 'undo' | 'redo';
  undoes: string | null;
  made: Date;
}
export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';
export interface JobRow {
  id: string;
  kind: 'import' | 'shapes' | 'view' | 'intention';
  state: JobState;
  payload: string;
  /** What it is about: a file, a project, views by their keys. */
  about: string | null;
  /** Set while a job of which one is enough waits or runs; unique. */
  claim: string | null;
  progress: string;
  owner: string | null;
  leaseUntil: Date | null;
  attempts: number;
  cancel: boolean;
  reason: string | null;
  project: string | null;
  created: Date;
}

const text = { type: 'varchar', length: 191 } as const;
const long = { type: 'longtext' } as const;

export const ProjectEntity = new EntitySchema<ProjectRow>({
  name: 'project',
  columns: {
    id: { type: 'char', length: 36, primary: true },
    name: { type: 'varchar', length: 400 },
    created: { type: 'datetime', precision: 3 },
    changed: { type: 'datetime', precision: 3 },
  },
});
export const RevisionEntity = new EntitySchema<RevisionRow>({
  name: 'revision',
  columns: {
    id: { type: 'char', length: 36, primary: true },
    project: { type: 'char', length: 36 },
    label: text,
    fileName: { type: 'varchar', length: 400 },
    fileBlob: text,
    assemblyBlob: text,
    parts: { type: 'int' },
    leafOccurrences: { type: 'double' },
    created: { type: 'datetime', precision: 3 },
  },
});
export const DocumentEntity = new EntitySchema<DocumentRow>({
  name: 'document',
  columns: {
    id: { type: 'char', length: 36, primary: true },
    project: { type: 'char', length: 36 },
    kind: { type: 'varchar', length: 20 },
    version: { type: 'int' },
    content: long,
    position: { type: 'int' },
    away: { type: 'boolean' },
  },
});
export const EditEntity = new EntitySchema<EditRow>({
  name: 'edit',
  columns: {
    id: { type: 'int', primary: true, generated: true },
    project: { type: 'char', length: 36 },
    gesture: { type: 'varchar', length: 64 },
    session: { type: 'varchar', length: 64 },
    document: { type: 'char', length: 36 },
    fromVersion: { type: 'int' },
    label: { type: 'varchar', length: 200 },
    command: long,
    inverse: long,
    form: { type: 'int' },
    mode: { type: 'varchar', length: 8 },
    undoes: { type: 'varchar', length: 64, nullable: true },
    made: { type: 'datetime', precision: 3 },
  },
});
export const JobEntity = new EntitySchema<JobRow>({
  name: 'job',
  columns: {
    id: { type: 'char', length: 36, primary: true },
    kind: { type: 'varchar', length: 20 },
    state: { type: 'varchar', length: 12 },
    payload: long,
    about: { ...text, nullable: true },
    claim: { ...text, nullable: true },
    progress: long,
    owner: { ...text, nullable: true },
    leaseUntil: { type: 'datetime', precision: 3, nullable: true },
    attempts: { type: 'int' },
    cancel: { type: 'boolean' },
    reason: { type: 'text', nullable: true },
    project: { type: 'char', length: 36, nullable: true },
    created: { type: 'datetime', precision: 3 },
  },
});
export const entities = [ProjectEntity, RevisionEntity, DocumentEntity, EditEntity, JobEntity];
