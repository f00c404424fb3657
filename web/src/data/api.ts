import * as v from 'valibot';
import {
  urlOf,
  api,
  houseStyleSchema,
  MAX_FILE,
  MOST_LABEL,
  routes,
  type Accepted,
  type AnswerOf,
  type RouteQuestion,
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
  type Route,
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
function fit<Schema extends v.GenericSchema>(schema: Schema, body: unknown): v.InferOutput<Schema> {
  const read = v.safeParse(schema, body);
  if (!read.success) throw new Misfit();
  return read.output;
}

async function answer(response: Response): Promise<unknown> {
  const body: unknown = await response.json().catch(() => null);
  if (response.ok) return body;
  // A view that has to be drawn first is a 409 too, with a sentence alone.
  if (response.status === 409 && body && typeof body === 'object' && 'since' in body)
    throw new OutOfDate(fit(api.staleSchema, body));
  const said = v.safeParse(api.errorSchema, body);
  throw new Refused(response.status, said.success ? said.output.error : `The program answered ${response.status}.`);
}

/**
 * Asks the server.
 * @param file what is sent where the route takes a file
 * @throws Refused with the server's sentence; OutOfDate; Misfit where the answer is not as this page knows it
 */
export async function ask<const One extends Route>(
  one: One,
  asked: RouteQuestion<One>,
  file?: File,
): Promise<AnswerOf<One>> {
  if (file) refuseTooLarge(file);
  const { body } = asked as { readonly body?: unknown };
  const init =
    file !== undefined
      ? { body: file }
      : body === undefined
        ? {}
        : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) };
  const given = await answer(await fetch(urlOf(one, asked), { method: one.verb, ...init }));
  return (typeof one.answer === 'string' ? given : fit(one.answer, given)) as AnswerOf<One>;
}
/** What makes a gesture of this window, answered once however often it is sent. */
export const ofWindow = () => ({ gesture: crypto.randomUUID(), session });

export const listProjects = (): Promise<ProjectSummary[]> => ask(routes.projects.list, {});
export const loadProject = (id: string): Promise<Project> =>
  ask(routes.projects.load, { params: { id }, query: { session } });
/** @param onBytes told from time to time how much has arrived */
export async function loadAssembly(
  id: string,
  revision: string,
  onBytes: (bytes: number) => void = () => {},
): Promise<Assembly> {
  const response = await fetch(urlOf(routes.projects.assembly, { params: { id }, query: { revision } }));
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
  return fit(routes.projects.assembly.answer, read) as unknown as Assembly;
}
export const deleteProject = async (id: string): Promise<void> =>
  void (await ask(routes.projects.remove, { params: { id } }));
/** What Undo will say, as long as it may be; no letter is cut in two. */
const shortLabel = (label: string): string => label.slice(0, MOST_LABEL).replace(/[\ud800-\udbff]$/, '');
export const sendGesture = (id: string, gesture: Gesture): Promise<Accepted> =>
  ask(routes.projects.edit, { params: { id }, body: { ...gesture, label: shortLabel(gesture.label) } });
export const stepBack = (id: string, mode: 'undo' | 'redo', gesture: string): Promise<Accepted> =>
  ask(routes.projects[mode], { params: { id }, body: { session, gesture } });
/** Takes a document that cannot be read back to what it was last when it could be. */
export const takeDocumentBack = async (id: string, document: string): Promise<void> =>
  void (await ask(routes.projects.takeBack, { params: { id, document } }));
export const loadShapes = (id: string, revision: string): Promise<Shapes> =>
  ask(routes.projects.shapes, { params: { id }, query: { revision } });
/** Brings a list in, its columns read as the mapping says. */
export const importList = (file: File, mapping: ListMapping): Promise<{ job: string }> =>
  ask(routes.imports.list, { query: { name: file.name, mapping: JSON.stringify(mapping) } }, file);
/** Sends a structure list and answers with its first rows. */
export const previewList = (file: File): Promise<ListPreview> =>
  ask(routes.imports.previewList, { query: { name: file.name } }, file);
export const cancelJob = async (id: string): Promise<void> =>
  void (await ask(routes.imports.cancel, { params: { id } }));

/** Before anything is sent: the server would refuse it too. @throws Refused */
function refuseTooLarge({ name, size }: File): void {
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
  const into = revisionOf && { into: revisionOf.project, remark: revisionOf.remark, who: revisionOf.who };
  const address = urlOf(routes.imports.file, { query: { name: file.name, ...into } });
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest(); // fetch tells nothing about what has left
    request.open('POST', address);
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
    const events = new EventSource(urlOf(routes.imports.follow, { params: { id } }));
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
  const bytes = await loadBytes(urlOf(routes.views.mesh, { params: { shape } }));
  if (!bytes) throw new Refused(404, 'This shape is not made yet, or could not be made.');
  return bytes;
}
/** Has views drawn that are not; under which keys they are when the job is done. */
export const orderViews = (id: string, revision: string, looks: readonly LookOrder[]): Promise<ViewsAnswer> =>
  ask(routes.views.order, { params: { id }, body: { looks, revision } });
/** Has an intention carried out by the server, as a gesture of this window; the job that does it. */
export const orderIntention = async (id: string, label: string, intention: Intention): Promise<string> =>
  (await ask(routes.projects.intend, { params: { id }, body: { ...ofWindow(), label: shortLabel(label), intention } }))
    .job!;
/** Has the views of a sheet drawn that are not; the job that does it. */
export const orderSheetViews = async (id: string, document: string): Promise<string | null> =>
  (await ask(routes.outputs.orderViews, { params: { id, document } })).job;
/** The same for the views of all sheets. */
export const orderSetViews = async (id: string): Promise<string | null> =>
  (await ask(routes.outputs.orderSetViews, { params: { id } })).job;
/** Has the shapes made that are not; the job that does it. */
export const orderShapes = async (id: string, revision: string): Promise<string | null> =>
  (await ask(routes.projects.orderShapes, { params: { id }, query: { revision } })).job;

export const listCatalogues = (): Promise<CatalogueSummary[]> => ask(routes.catalogues.list, {});
/** A catalogue with what this window can take back in it. */
export const loadCatalogue = (id: string) => ask(routes.catalogues.load, { params: { id }, query: { session } });
export const catalogueVersions = (ids: readonly string[]) => ask(routes.catalogues.versions, { query: { ids } });
export const createCatalogue = async (content: Catalogue): Promise<string> =>
  (await ask(routes.catalogues.add, { body: { content } })).id;
export const deleteCatalogue = async (id: string): Promise<void> =>
  void (await ask(routes.catalogues.remove, { params: { id } }));
/** Changes a catalogue that is not open here, as a gesture of this window. */
export async function changeCatalogue(
  id: string,
  label: string,
  commands: readonly CatalogueCommand[],
): Promise<Accepted> {
  const [now] = await catalogueVersions([id]);
  if (!now) throw new Refused(404, 'There is no such catalogue; it may have been deleted.');
  const steps = commands.map((command) => ({ document: id, version: now.version, command }));
  return sendGesture(id, { ...ofWindow(), label, steps });
}
/** What suppliers ask for these numbers, or why that is not known. */
export const askSuppliers = (numbers: readonly string[]) => ask(routes.catalogues.ask, { body: { numbers } });
/** How a table would be read as a catalogue. */
export const previewCatalogue = (file: File): Promise<CataloguePreview> =>
  ask(routes.catalogues.preview, { query: { name: file.name } }, file);
const importTable = (file: File, mapping: CatalogueMapping, into?: string) =>
  ask(routes.catalogues.importTable, { query: { name: file.name, mapping: JSON.stringify(mapping), into } }, file);
/** Makes a catalogue of a table. */
export const importCatalogue = async (
  file: File,
  mapping: CatalogueMapping,
): Promise<{ id: string; problems: readonly string[] }> =>
  fit(api.madeCatalogueSchema, await importTable(file, mapping));
/** What a table would do to a catalogue that is there. */
export const compareWithTable = async (file: File, mapping: CatalogueMapping, into: string): Promise<TableChanges> =>
  fit(api.tableChangesSchema, await importTable(file, mapping, into));

/** What changed between two revisions, and what taking the later one over does. */
export const loadEffect = async (id: string, was: string, is: string): Promise<Effect> =>
  (await ask(routes.revisions.changes, { params: { id }, query: { was, is } })) as unknown as Effect;
/** What becomes of sheets, and how large their paper is before and after. */
export interface ForeseenSheets {
  readonly sheets: readonly (ForeseenSheet & {
    readonly id: string;
    readonly paper: Readonly<Record<'was' | 'is', { readonly widthMm: number; readonly heightMm: number }>>;
  })[];
}
/** Lines of two lists that differ, or of one in two variants. */
export const loadComparedLines = async (
  id: string,
  query: NonNullable<RouteQuestion<typeof routes.revisions.comparison>['query']>,
): Promise<readonly ComparedLine[]> =>
  ((await ask(routes.revisions.comparison, { params: { id, format: 'json' }, query })) as unknown as Comparison).bill;

/**
 * What would become of the sheets if a revision were taken over, worked out for what the documents are now: what that is
 * called, and the job that works it out where that is not done.
 */
export const orderForeseen = (id: string, revision: string): Promise<{ name: string; job: string | null }> =>
  ask(routes.revisions.foresee, { params: { id, revision } });
export const loadForeseen = async (id: string, name: string): Promise<ForeseenSheets> =>
  (await ask(routes.revisions.foreseen, { params: { id, name } })) as unknown as ForeseenSheets;
/** A sheet as it is or would be, as a picture. */
export const foreseenPicture = (id: string, name: string, sheet: string, side: 'was' | 'is'): string =>
  urlOf(routes.revisions.foreseenPicture, { params: { id, name, sheet, side } });
/**
 * Parts of a revision that were recognised with less than certainty; and the keys in the project of what was read with
 * other ones.
 */
export const loadRecognised = (
  id: string,
  revision: string,
): Promise<{ parts: UnsurePart[]; keys: Record<string, string> }> =>
  ask(routes.revisions.unsure, { params: { id, revision } });
/** Says about parts whether they are the same; the job that recognises the revision anew. */
export const answerUnsure = async (
  id: string,
  revision: string,
  answers: readonly { was: string; is: string; same: boolean }[],
): Promise<string> => (await ask(routes.revisions.answer, { params: { id, revision }, body: { answers } })).job!;
export const remarkRevision = async (id: string, revision: string, remark: string, who: string): Promise<void> =>
  void (await ask(routes.revisions.remark, { params: { id, revision }, body: { remark, who } }));
export const removeRevision = async (id: string, revision: string): Promise<void> =>
  void (await ask(routes.revisions.remove, { params: { id, revision } }));

/**
 * A new bill: a copy of `from`, what a recipe file asks for, or blank. Its document's id, and what the file names in
 * vain.
 */
export const addBill = (
  id: string,
  name: string,
  made: { from?: string; recipe?: unknown },
): Promise<{ document: string; missing: string[] }> =>
  ask(routes.bills.add, { params: { id }, body: { name, ...made, ...ofWindow() } });

/** A new sheet behind another one: a copy of `from`, or blank. Its document's id. */
export const addSheet = async (id: string, name: string, made: { from?: string; behind?: string }): Promise<string> =>
  (await ask(routes.bills.addSheet, { params: { id }, body: { name, ...made, ...ofWindow() } })).document;

/** Keeps a picture for title blocks; PNG or SVG. */
export const keepPicture = (id: string, file: File): Promise<{ blob: string; ratio: number }> =>
  ask(routes.pictures.keep, { params: { id } }, file);
/** Keeps a picture for an item of a catalogue; PNG or SVG. */
export const keepCataloguePicture = async (file: File): Promise<string> =>
  (await ask(routes.pictures.keepShared, {}, file)).blob;

export const loadStyles = (): Promise<Styles> => ask(routes.bills.styles, {});
export const keepStyle = (style: HouseStyle): Promise<Styles> => ask(routes.bills.keepStyle, { body: style });
export const setUsualStyle = (name: string | null): Promise<Styles> =>
  ask(routes.bills.setUsualStyle, { body: { name } });
export const dropStyle = (name: string): Promise<Styles> => ask(routes.bills.dropStyle, { params: { name } });

/** A house style from a file. @throws Error with a sentence where the file is none */
export async function readStyle(file: File): Promise<HouseStyle> {
  const read = v.safeParse(v.pipe(v.string(), v.parseJson(), houseStyleSchema), await file.text());
  if (!read.success)
    throw new Error(
      `${file.name} is no house style: ${v.getDotPath(read.issues[0]) ?? 'the file'} is not as it should be. Choose a file that was handed on from the House style menu.`,
    );
  return read.output;
}
