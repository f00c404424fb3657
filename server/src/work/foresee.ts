import * as v from 'valibot';
import { readStored, type LookOrder } from '../../../contract/src/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import { billShownBy, type Intention } from '../../../core/src/documents/index.ts';
import type { Sheet } from '../../../core/src/sheets/index.ts';
import { foreseenKeys, foreseenName } from '../desk/foreseen.ts';
import type { Services } from '../http/http.ts';
import { jobPayloads } from '../jobs/jobs.ts';
import { openDocuments } from '../opened/openedDocuments.ts';
import { askedOf, storedProject } from '../projects/projects.ts';
import { revisionIn } from '../store/revisions.ts';
import { looksOnSheets } from '../projects/sheets.ts';
import { drawViews } from './drawing.ts';
import { takenOver } from './takeOver.ts';
import type { JobContext } from './jobRunner.ts';

/**
 * The job: what becomes of every list and sheet when a revision is taken over, and how the sheets look before and after.
 * No document is touched; what was worked out is kept under what the documents were.
 */
export async function foresee(
  payload: unknown,
  context: JobContext,
  services: Pick<Services, 'database' | 'blobs' | 'pool' | 'desk'>,
): Promise<string> {
  const { project, revision } = v.parse(jobPayloads.foresee, payload);
  await readyForFormulas();
  const stored = await storedProject(services.database, project);
  const keys = foreseenKeys(foreseenName(revision, [...stored.documents, ...(stored.catalogues ?? [])]));
  if (await services.blobs.has(keys.facts)) return project;
  const everything: Extract<Intention, { kind: 'takeOver' }> = {
    kind: 'takeOver',
    revision,
    documents: stored.documents.filter(({ kind }) => kind === 'bill' || kind === 'sheet').map(({ id }) => id),
    retire: true,
    clouds: false,
    line: null,
  };
  const behind = openDocuments(stored.documents)
    .sheets.filter(({ content }) => revisionIn(stored.revisions, content.revision).id !== revision)
    .map(({ id }) => id);
  context.sized(behind.length);
  for (const sheet of behind)
    for (const { revision: shown, looks } of await looksOnSheets(services, project, sheet))
      await drawViews({ project, looks: looks.map(openOrder), revision: shown }, context, services);
  const { after } = await takenOver(stored, everything, project, context, services);
  // Poses may have moves for what is new, so these are other pictures than those that leaders were put on.
  const { bills } = openDocuments(after);
  const set = after.find(({ kind }) => kind === 'set') ?? null;
  const asked = await askedOf(services.database, project, revision);
  for (const sheet of after) {
    if (!behind.includes(sheet.id)) continue;
    const { variant = null } = billShownBy(bills, readStored(sheet) as Sheet).content.recipe;
    const looks = await services.desk.question(asked, { what: 'sheetLooks', sheet, set, variant }, services.blobs);
    await drawViews({ project, looks: looks.map(openOrder), revision }, context, services);
  }
  context.report({ step: 'Drawing the sheets', done: 0, of: 1 });
  const { sheets, pictures } = await services.desk.foreseen(
    { ...stored, after, sheets: behind },
    services.blobs,
    context.signal,
  );
  const store = services.blobs.forProject(project);
  // What was worked out of earlier versions nobody asks for again.
  await store.removeOthers('foreseen ', keys.facts);
  for (const { sheet, side, png } of pictures) await store.put(keys.picture(sheet, side), png);
  // Last: who finds this finds the pictures.
  await store.put(keys.facts, new TextEncoder().encode(JSON.stringify({ sheets })));
  return project;
}
const openOrder = (order: string): LookOrder => JSON.parse(order) as LookOrder;
