import * as v from 'valibot';
import {
  api,
  houseStyleSchema,
  MAX_FILE,
  MOST_LABEL,
  type Accepted,
  type CataloguePreview,
  type CatalogueSummary,
  type TableChanges,
  type Gesture,
  type HouseStyle,
  type Job,
  type ListPreview,
  type LookOrder,
  type Project,
  type ProjectSummary,
  type Shapes,
  type UnsurePart,
  type Stale,
  type Styles,
  type ViewsAnswer,
} from '../../../contract/src/index.ts';
import { sessionOf } from './editing/session.ts';
import type { Assembly } from '../../../core/src/assembly/index.ts';
import type { ComparedLine, Comparison, Effect, ForeseenSheet } from '../../../core/src/formats/index.ts';
import type { Catalogue, CatalogueMapping } from '../../../core/src/catalogues/index.ts';
import type { CatalogueCommand, Intention } from '../../../core/src/documents/index.ts';
import type { ListMapping } from '../../../core/src/sources/index.ts';

/** An answer that is no success, with the server's sentence. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}
/** A job was cancelled before it was done: by somebody, or because nobody seemed to wait for it. */
export class Dropped extends Refused {}
/** Somebody else changed the document first. */
export class OutOfDate extends Error {
  constructor(readonly stale: Stale) {
    super(stale.error);
  }
}

/** An answer that this page does not understand: it is older or newer than the server. Asking again does not help. */
export class Misfit extends Error {
  override readonly name = 'Misfit';
  constructor() {
    super('The program was changed while this page was open. Reload the page; what is kept is not lost.');
  }
}

/** This window's name in the edit history. */
export const session: string = sessionOf(sessionStorage, window, () => crypto.randomUUID());

/** @throws Misfit */
export function fit<Schema extends v.GenericSchema>(schema: Schema, body: unknown): v.InferOutput<Schema> {
  const read = v.safeParse(schema, body);
  if (!read.success) throw new Misfit();
  return read.output;
}

export async function answer(response: Response): Promise<unknown> {
  const body: unknown = await response.json().catch(() => null);
  if (response.ok) return body;
  // A view that has to be drawn first is a 409 too, with a sentence alone.
  if (response.status === 409 && body && typeof body === 'object' && 'since' in body)
    throw new OutOfDate(fit(api.staleSchema, body));
  const said = v.safeParse(api.errorSchema, body);
  throw new Refused(response.status, said.success ? said.output.error : `The program answered ${response.status}.`);
}
export const get = async <Schema extends v.GenericSchema>(
  path: string,
  schema: Schema,
): Promise<v.InferOutput<Schema>> => fit(schema, await answer(await fetch(path)));
export const post = async <Schema extends v.GenericSchema>(
  path: string,
  body: unknown,
  schema: Schema,
): Promise<v.InferOutput<Schema>> =>
  fit(
    schema,
    await answer(
      await fetch(path, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      }),
    ),
  );

export const listProjects = (): Promise<ProjectSummary[]> => get('/api/projects', v.array(api.projectSummarySchema));
export const loadProject = (id: string): Promise<Project> =>
  get(`/api/projects/${id}?session=${session}`, api.projectSchema);
/** @param onBytes told from time to time how much has arrived */
export async function loadAssembly(
  id: string,
  revision: string,
  onBytes: (bytes: number) => void = () => {},
): Promise<Assembly> {
  const response = await fetch(`/api/projects/${id}/assembly?revision=${revision}`);
  if (!response.ok || !response.body) return (await answer(response)) as Assembly;
  const pieces: Uint8Array<ArrayBuffer>[] = [];
  let bytes = 0,
    told = 0;
  for (const reader = response.body.getReader(); ;) {
    const { done, value } = await reader.read();
    if (done) break;
    pieces.push(value);
    bytes += value.length;
    if (bytes - told < 1_000_000) continue;
    onBytes((told = bytes));
  }
  const read: unknown = JSON.parse(await new Blob(pieces).text());
  return fit(v.looseObject({ version: v.literal(1) }), read) as unknown as Assembly;
}
export const deleteProject = async (id: string): Promise<void> =>
  void (await answer(await fetch(`/api/projects/${id}`, { method: 'DELETE' })));
/** What Undo will say, as long as it may be; no letter is cut in two. */
const shortLabel = (label: string): string => label.slice(0, MOST_LABEL).replace(/[\ud800-\udbff]$/, '');
export const sendGesture = (project: string, gesture: Gesture): Promise<Accepted> =>
  post(`/api/projects/${project}/edits`, { ...gesture, label: shortLabel(gesture.label) }, api.acceptedSchema);
export const stepBack = (project: string, mode: 'undo' | 'redo', gesture: string): Promise<Accepted> =>
  post(`/api/projects/${project}/${mode}`, { session, gesture }, api.acceptedSchema);
/** Takes a document that cannot be read back to what it was last when it could be. */
export const takeDocumentBack = async (project: string, document: string): Promise<void> =>
  void (await answer(await fetch(`/api/projects/${project}/documents/${document}/take-back`, { method: 'POST' })));
export const loadShapes = (id: string, revision: string): Promise<Shapes> =>
  get(`/api/projects/${id}/shapes?revision=${revision}`, api.shapesSchema);
/** Brings a list in, its columns read as the mapping says. */
export const importList = async (file: File, mapping: ListMapping): Promise<{ job: string }> =>
  fit(
    v.object({ job: v.string() }),
    await answer(
      await fetch(
        `/api/lists/import?name=${encodeURIComponent(file.name)}&mapping=${encodeURIComponent(JSON.stringify(mapping))}`,
        { method: 'POST', body: file },
      ),
    ),
  );
/** Sends a structure list and answers with its first rows. */
export const previewList = async (file: File): Promise<ListPreview> => {
  refuseTooLarge(file);
  return fit(
    api.listPreviewSchema,
    await answer(await fetch(`/api/lists?name=${encodeURIComponent(file.name)}`, { method: 'POST', body: file })),
  );
};
export const cancelJob = async (id: string): Promise<void> =>
  void (await answer(await fetch(`/api/jobs/${id}/cancel`, { method: 'POST' })));

/** Before anything is sent: the server would refuse it too. @throws Refused */
export function refuseTooLarge({ name, size }: File): void {
  if (size > MAX_FILE)
    throw new Refused(413, `${name} is larger than ${MAX_FILE / 1024 / 1024} MB; that is more than can be read.`);
}

/**
 * Sends a file; `onSent` gets the share that has left, 0 to 1. The job's id.
 * @param revisionOf the project that it is a further revision of; a project of its own where null
 */
export async function uploadFile(
  file: File,
  onSent: (share: number) => void,
  signal: AbortSignal,
  revisionOf: { readonly project: string; readonly remark: string; readonly who: string } | null = null,
): Promise<string> {
  refuseTooLarge(file);
  const query = new URLSearchParams({ name: file.name });
  if (revisionOf) {
    query.set('into', revisionOf.project);
    query.set('remark', revisionOf.remark);
    query.set('who', revisionOf.who);
  }
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest(); // fetch tells nothing about what has left
    request.open('POST', `/api/imports?${query}`);
    request.upload.onprogress = ({ loaded, total }) => onSent(total ? loaded / total : 1);
    request.onerror = () => reject(new Refused(0, 'The connection broke while the file was sent; try again.'));
    request.onabort = () => reject(new DOMException('cancelled', 'AbortError'));
    request.onload = () => {
      const body = JSON.parse(request.responseText || 'null') as { job?: string; error?: string } | null;
      if (request.status === 202 && body?.job) resolve(body.job);
      else reject(new Refused(request.status, body?.error ?? `The program answered ${request.status}.`));
    };
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}

/** Follows a job until it ends. @throws Refused with the reason where it failed */
export function followJob(id: string, onProgress: (job: Job) => void, signal?: AbortSignal): Promise<Job> {
  return new Promise((resolve, reject) => {
    const events = new EventSource(`/api/jobs/${id}/events`);
    signal?.addEventListener('abort', () => {
      events.close();
      reject(new DOMException('cancelled', 'AbortError'));
    });
    events.onmessage = ({ data }) => {
      const read = v.safeParse(v.nullable(api.jobSchema), JSON.parse(data as string));
      if (!read.success) {
        events.close();
        return reject(new Misfit());
      }
      const job = read.output;
      if (!job) {
        events.close();
        return reject(new Refused(404, 'The job is gone.'));
      }
      onProgress(job);
      if (job.state === 'queued' || job.state === 'running') return;
      events.close();
      if (job.state === 'done') resolve(job);
      else reject(new (job.state === 'cancelled' ? Dropped : Refused)(422, job.reason ?? 'It did not work.'));
    };
  });
}

/** Bytes that are named by their content; null where they are not made yet. */
export async function loadBytes(path: string): Promise<Uint8Array | null> {
  const response = await fetch(path);
  if (response.status === 404) return null;
  if (!response.ok) await answer(response);
  return new Uint8Array(await response.arrayBuffer());
}
/** @throws Refused while the shape is not made */
export async function loadMesh(shape: string): Promise<Uint8Array> {
  const bytes = await loadBytes(`/api/meshes/${shape}`);
  if (!bytes) throw new Refused(404, 'This shape is not made yet, or could not be made.');
  return bytes;
}
/** Has views drawn that are not; under which keys they are when the job is done. */
export const orderViews = (project: string, revision: string, looks: readonly LookOrder[]): Promise<ViewsAnswer> =>
  post(`/api/projects/${project}/views`, { looks, revision }, api.viewsAnswerSchema);
/** Has an intention carried out by the server, as a gesture of this window; the job that does it. */
export const orderIntention = async (project: string, label: string, intention: Intention): Promise<string> =>
  (
    await post(
      `/api/projects/${project}/intentions`,
      { gesture: crypto.randomUUID(), session, label: shortLabel(label), intention },
      api.workSchema,
    )
  ).job!;
/** Has the views of a sheet drawn that are not; the job that does it. */
export const orderSheetViews = async (project: string, sheet: string): Promise<string | null> =>
  (await post(`/api/projects/${project}/sheets/${sheet}/views`, {}, api.workSchema)).job;
/** The same for the views of all sheets. */
export const orderSetViews = async (project: string): Promise<string | null> =>
  (await post(`/api/projects/${project}/set/views`, {}, api.workSchema)).job;
/** Has the shapes made that are not; the job that does it. */
export const orderShapes = async (project: string, revision: string): Promise<string | null> =>
  (await post(`/api/projects/${project}/shapes?revision=${revision}`, {}, api.workSchema)).job;

export const listCatalogues = (): Promise<CatalogueSummary[]> =>
  get('/api/catalogues', v.array(api.catalogueSummarySchema));
/** A catalogue with what this window can take back in it. */
export const loadCatalogue = (id: string) => get(`/api/catalogues/${id}?session=${session}`, api.openCatalogueSchema);
export const catalogueVersions = (ids: readonly string[]) =>
  get(`/api/catalogues/versions?ids=${ids.join()}`, api.catalogueVersionsSchema);
export const createCatalogue = async (content: Catalogue): Promise<string> =>
  (await post('/api/catalogues', { content }, v.object({ id: v.string() }))).id;
export const deleteCatalogue = async (id: string): Promise<void> =>
  void (await answer(await fetch(`/api/catalogues/${id}`, { method: 'DELETE' })));
/** Changes a catalogue that is not open here, as a gesture of this window. */
export async function changeCatalogue(
  id: string,
  label: string,
  commands: readonly CatalogueCommand[],
): Promise<Accepted> {
  const [now] = await catalogueVersions([id]);
  if (!now) throw new Refused(404, 'There is no such catalogue; it may have been deleted.');
  const steps = commands.map((command) => ({ document: id, version: now.version, command }));
  return sendGesture(id, { gesture: crypto.randomUUID(), session, label, steps });
}
/** What suppliers ask for these numbers, or why that is not known. */
export const askSuppliers = (numbers: readonly string[]) =>
  post('/api/suppliers/ask', { numbers }, v.array(api.supplierAnswerSchema));
async function sendTable<Schema extends v.GenericSchema>(
  path: string,
  file: File,
  query: Record<string, string>,
  schema: Schema,
): Promise<v.InferOutput<Schema>> {
  refuseTooLarge(file);
  const asked = new URLSearchParams({ name: file.name, ...query });
  return fit(schema, await answer(await fetch(`${path}?${asked}`, { method: 'POST', body: file })));
}
/** How a table would be read as a catalogue. */
export const previewCatalogue = (file: File): Promise<CataloguePreview> =>
  sendTable('/api/catalogues/preview', file, {}, api.cataloguePreviewSchema);
/** Makes a catalogue of a table. */
export const importCatalogue = (
  file: File,
  mapping: CatalogueMapping,
): Promise<{ id: string; problems: readonly string[] }> =>
  sendTable('/api/catalogues/import', file, { mapping: JSON.stringify(mapping) }, api.madeCatalogueSchema);
/** What a table would do to a catalogue that is there. */
export const compareWithTable = (file: File, mapping: CatalogueMapping, into: string): Promise<TableChanges> =>
  sendTable('/api/catalogues/import', file, { mapping: JSON.stringify(mapping), into }, api.tableChangesSchema);

/** What changed between two revisions, and what taking the later one over does. */
export const loadEffect = async (project: string, was: string, is: string): Promise<Effect> =>
  // Worked out by the same program; only its shape at the top is looked at.
  fit(
    v.looseObject({ model: v.looseObject({}), bills: v.array(v.unknown()), sheets: v.array(v.unknown()) }),
    await answer(await fetch(`/api/projects/${project}/changes?was=${was}&is=${is}`)),
  ) as unknown as Effect;
/** What becomes of sheets, and how large their paper is before and after. */
export interface ForeseenSheets {
  readonly sheets: readonly (ForeseenSheet & {
    readonly id: string;
    readonly paper: Readonly<Record<'was' | 'is', { readonly widthMm: number; readonly heightMm: number }>>;
  })[];
}
/** Lines of two lists that differ, or of one in two variants. @param query see `comparedListsSchema` */
export const loadComparedLines = async (project: string, query: URLSearchParams): Promise<readonly ComparedLine[]> =>
  (
    fit(
      v.looseObject({ bill: v.array(v.unknown()) }),
      await answer(await fetch(`/api/projects/${project}/comparison/json?${query}`)),
    ) as unknown as Comparison
  ).bill;

/**
 * What would become of the sheets if a revision were taken over, worked out for what the documents are now: what that is
 * called, and the job that works it out where that is not done.
 */
export const orderForeseen = (project: string, revision: string): Promise<{ name: string; job: string | null }> =>
  post(
    `/api/projects/${project}/revisions/${revision}/foreseen`,
    {},
    v.object({ name: v.string(), job: v.nullable(v.string()) }),
  );
export const loadForeseen = async (project: string, name: string): Promise<ForeseenSheets> =>
  // Worked out by the same program; only its shape at the top is looked at.
  fit(
    v.looseObject({ sheets: v.array(v.looseObject({ id: v.string() })) }),
    await answer(await fetch(`/api/projects/${project}/foreseen/${name}`)),
  ) as unknown as ForeseenSheets;
/** A sheet as it is or would be, as a picture. */
export const foreseenPicture = (project: string, name: string, sheet: string, side: 'was' | 'is'): string =>
  `/api/projects/${project}/foreseen/${name}/${sheet}/${side}`;
/**
 * Parts of a revision that were recognised with less than certainty; and the keys in the project of what was read with
 * other ones.
 */
export const loadRecognised = (
  project: string,
  revision: string,
): Promise<{ parts: UnsurePart[]; keys: Record<string, string> }> =>
  get(
    `/api/projects/${project}/revisions/${revision}/unsure`,
    v.object({ parts: v.array(api.unsurePartSchema), keys: v.record(v.string(), v.string()) }),
  );
/** Says about parts whether they are the same; the job that recognises the revision anew. */
export const answerUnsure = async (
  project: string,
  revision: string,
  answers: readonly { was: string; is: string; same: boolean }[],
): Promise<string> =>
  (await post(`/api/projects/${project}/revisions/${revision}/answers`, { answers }, api.workSchema)).job!;
export const remarkRevision = async (project: string, revision: string, remark: string, who: string): Promise<void> =>
  void (await answer(
    await fetch(`/api/projects/${project}/revisions/${revision}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ remark, who }),
    }),
  ));
export const removeRevision = async (project: string, revision: string): Promise<void> =>
  void (await answer(await fetch(`/api/projects/${project}/revisions/${revision}`, { method: 'DELETE' })));

/**
 * A new bill: a copy of `from`, what a recipe file asks for, or blank. Its document's id, and what the file names in
 * vain.
 */
export const addBill = (
  project: string,
  name: string,
  made: { from?: string; recipe?: unknown },
): Promise<{ document: string; missing: string[] }> =>
  post(
    `/api/projects/${project}/bills`,
    { name, ...made, gesture: crypto.randomUUID(), session },
    api.madeDocumentSchema,
  );

/** A new sheet behind another one: a copy of `from`, or blank. Its document's id. */
export const addSheet = async (
  project: string,
  name: string,
  made: { from?: string; behind?: string },
): Promise<string> =>
  (
    await post(
      `/api/projects/${project}/sheets`,
      { name, ...made, gesture: crypto.randomUUID(), session },
      api.madeSheetSchema,
    )
  ).document;

export const loadStyles = (): Promise<Styles> => get('/api/styles', api.stylesSchema);
/** Keeps a picture for title blocks; PNG or SVG. */
export const keepPicture = async (project: string, file: File): Promise<{ blob: string; ratio: number }> =>
  fit(
    api.pictureSchema,
    await answer(await fetch(`/api/projects/${project}/pictures`, { method: 'POST', body: file })),
  );

/** Keeps a picture for an item of a catalogue; PNG or SVG. */
export const keepCataloguePicture = async (file: File): Promise<string> =>
  fit(api.pictureSchema, await answer(await fetch('/api/pictures', { method: 'POST', body: file }))).blob;

export const keepStyle = (style: HouseStyle): Promise<Styles> => put('/api/styles', style);
export const setUsualStyle = (name: string | null): Promise<Styles> => put('/api/styles/usual', { name });
export const dropStyle = async (name: string): Promise<Styles> =>
  fit(api.stylesSchema, await answer(await fetch(`/api/styles/${encodeURIComponent(name)}`, { method: 'DELETE' })));
const put = async (path: string, body: unknown): Promise<Styles> =>
  fit(
    api.stylesSchema,
    await answer(
      await fetch(path, { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    ),
  );

/** A house style from a file. @throws Error with a sentence where the file is none */
export async function readStyle(file: File): Promise<HouseStyle> {
  const read = v.safeParse(v.pipe(v.string(), v.parseJson(), houseStyleSchema), await file.text());
  if (!read.success)
    throw new Error(
      `${file.name} is no house style: ${v.getDotPath(read.issues[0]) ?? 'the file'} is not as it should be. Choose a file that was handed on from the House style menu.`,
    );
  return read.output;
}
