import { EntitySchema } from 'typeorm';
import type { DocumentKind } from '../../../core/src/documents/index.ts';

/** Rows as the database has them; JSON columns are text here and are parsed where they are read. */
export interface ProjectRow {
  /** UUID. */
  id: string;
  /** Of the machine. */
  name: string;
  /** When its file was brought in. */
  created: Date;
  /** When one of its documents was changed last. */
  changed: Date;
}
export interface RevisionRow {
  /** UUID. */
  id: string;
  /** Project id. */
  project: string;
  /** Revision that the file gives; empty for none. */
  label: string;
  /** As it was uploaded. */
  fileName: string;
  /** Name of the bytes as they were uploaded. */
  fileBlob: string;
  /** Name of the structure that was read. */
  assemblyBlob: string;
  /** Count of different parts. */
  parts: number;
  /** Pieces in one machine; up to 2⁵³−1. */
  leafOccurrences: number;
  /** When it was brought in. */
  created: Date;
  /** Name of the structure under the keys that it was read with; null where they are the project's. */
  sourceBlob: string | null;
  /** Revision that it was recognised against; null for the first. */
  base: string | null;
  /** Why it was brought in. */
  remark: string;
  /** By whom; as typed. */
  who: string;
  /** JSON of how it was recognised, see matchesSchema; null for the first. */
  matches: string | null;
}
export interface DocumentRow {
  /** UUID. */
  id: string;
  /** Project id. */
  project: string;
  /** Which record its content is. */
  kind: DocumentKind;
  /** Count of edits, from 1; every edit is made for one. */
  version: number;
  /** JSON of the record. */
  content: string;
  /** Oldest first within the project. */
  position: number;
  /** Taken away: as its content says it, for those who only count. */
  away: boolean;
  /** What it has alone in its project, away or not, see `orderClaim`; null for nothing. */
  claim: string | null;
}
export interface EditRow {
  /** Running number: the order in which edits were carried out. */
  id: number;
  /** Project id. */
  project: string;
  /** Edits of one gesture have one; given by the client, so that a repeated request is known. */
  gesture: string;
  /** Window that made it. */
  session: string;
  /** Document id. */
  document: string;
  /** Version of the document before it. */
  fromVersion: number;
  /** What Undo says. */
  label: string;
  /** JSON of the command. */
  command: string;
  /** JSON of the command that takes it back. */
  inverse: string;
  /** Form of command and inverse, see core's upgradeCommand. */
  form: number;
  /** Whether it was done, taken back or done again. */
  mode: 'do' | 'undo' | 'redo';
  /** Gesture that it takes back or does again; null for a new one. */
  undoes: string | null;
  /** When. */
  made: Date;
}
export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';
export interface JobRow {
  /** UUID. */
  id: string;
  /** Which work it is. */
  kind: 'import' | 'shapes' | 'view' | 'intention' | 'recognise' | 'foresee' | 'cutPlans';
  /** `done`, `failed` and `cancelled` are final. */
  state: JobState;
  /** JSON of what the work needs. */
  payload: string;
  /** What it is about: a file, a project, views by their keys. */
  about: string | null;
  /** Set while a job of which one is enough waits or runs; unique. */
  claim: string | null;
  /** JSON: what it is doing, how much of how much. */
  progress: string;
  /** Server that runs it; null for none. */
  owner: string | null;
  /** Until then it is that server’s; null for none. */
  leaseUntil: Date | null;
  /** How often it was begun. */
  attempts: number;
  /** Asked to stop. */
  cancel: boolean;
  /** Sentence: why it ended so, or what there is to say; null for none. */
  reason: string | null;
  /** Project that came of it; null for none. */
  project: string | null;
  /** Project that it is for; null for a file that becomes one. */
  ofProject: string | null;
  /** When it was asked for. */
  created: Date;
  /** When somebody was seen waiting for it; null for one from before that was noted. */
  wanted: Date | null;
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
    sourceBlob: { ...text, nullable: true },
    base: { type: 'char', length: 36, nullable: true },
    remark: { type: 'varchar', length: 400 },
    who: text,
    matches: { ...long, nullable: true },
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
    claim: { ...text, nullable: true },
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
    ofProject: { type: 'char', length: 36, nullable: true },
    wanted: { type: 'datetime', precision: 3, nullable: true },
  },
});
export const entities = [ProjectEntity, RevisionEntity, DocumentEntity, EditEntity, JobEntity];
