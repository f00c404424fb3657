import { createHash, randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import type { DataSource } from 'typeorm';
import { parseFormMap, readStored } from '../../contract/src/index.ts';
import { newBuyingPlan, type BuyingPlan } from '../../core/src/buying/index.ts';
import { newColumn, type Column } from '../../core/src/columns/index.ts';
import type { BillCommand, BillDocument } from '../../core/src/documents/index.ts';
import { startPool } from '../../engine/src/index.ts';
import { makeApp } from './app.ts';
import { blobStore, fileKey, type BlobStore } from './store/blobs.ts';
import { addCatalogue, listCatalogues } from './projects/catalogues.ts';
import { openDatabase } from './store/database.ts';
import { startDesk } from './desk/desk.ts';
import { keepForm, listForms, mapForm } from './projects/forms.ts';
import { applyGesture, bringDocument } from './log/gestureLog.ts';
import type { Services } from './http/http.ts';
import { jobPayloads, jobQueue, type JobQueue } from './jobs/jobs.ts';
import { startJobThread, type ThreadFiles } from './jobs/jobThread.ts';
import type * as v from 'valibot';
import { revisionsOf } from './store/revisions.ts';
import { startSuppliers } from './suppliers/simulatedSuppliers.ts';
import { listProjects, storedDocuments } from './projects/projects.ts';

interface ServerOptions {
  readonly databaseUrl: string;
  readonly threads: ThreadFiles;
  readonly page: string | null;
  /** 0 takes any free port. */
  readonly port: number;
  /** Folder for files that come in, until they are stored; null: where the system keeps such files. */
  readonly scratch?: string | null;
  /** STEP file to begin with when there is no project; null begins empty. */
  readonly demoFile: string | null;
  /** A further revision of that, brought in and not taken over; none where absent. */
  readonly demoRevision?: string;
  /** A table that comes with it as a catalogue; none where absent. */
  readonly demoCatalogue?: string;
  /** A table of bars that comes with that, from which the demo's plan buys; none where absent. */
  readonly demoBars?: string;
  /** A layout that comes with it as a second project, and a further revision of it; none where absent. */
  readonly demoLayouts?: readonly [first: string, second: string];
  /** A workbook that comes with it as a form, its map beside it; none where absent. */
  readonly demoForm?: string;
  /** Address of the service that says what suppliers ask; made-up ones where absent. */
  readonly suppliers?: string | undefined;
}
export interface RunningServer {
  readonly url: string;
  readonly close: () => Promise<void>;
}

/** Opens the database, starts jobs, and listens on loopback. */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const database = await openDatabase(options.databaseUrl);
  const blobs = blobStore(database);
  const pool = startPool(options.threads.engine);
  const desk = startDesk(options.threads.desk);
  const runner = startJobThread({ databaseUrl: options.databaseUrl, threads: options.threads });
  const jobs = jobQueue(database, runner);
  const scratch = options.scratch ?? join(tmpdir(), 'sledgeboard');
  const madeUp = options.suppliers === undefined ? await startSuppliers() : null;
  const suppliers = options.suppliers ?? madeUp!.url;
  const services = { database, blobs, pool, desk, jobs, page: options.page, scratch, suppliers };
  const server = createServer(makeApp(services));
  const close = async () => {
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
    await runner.stop();
    await jobs.stop();
    await pool.close();
    await desk.close();
    await madeUp?.close();
    await database.destroy();
  };
  try {
    await listen(server, options.port);
    if (options.demoFile && (await listProjects(database)).length === 0) {
      const into = await importDemo(options.demoFile, { finished: true }, blobs, jobs);
      if (options.demoRevision && (await revisionsOf(database, into)).length === 1)
        await importDemo(
          options.demoRevision,
          { finished: false, into, remark: 'Longer rails, a slat more, a tail lamp', who: 'T. Halvorsdal' },
          blobs,
          jobs,
        );
      if (options.demoCatalogue && (await listCatalogues(database)).length === 0)
        await addDemoCatalogue(options.demoCatalogue, options.demoBars, into, { database, desk, pool });
      if (options.demoLayouts && (await listProjects(database)).length === 1) {
        const [first, second] = options.demoLayouts;
        const plan = await importDemo(first, { finished: false }, blobs, jobs);
        const remark = 'Two flags and a lamp more, a crate moved';
        await importDemo(second, { finished: false, into: plan, remark, who: 'R. Aspvik' }, blobs, jobs);
      }
      if (options.demoForm && (await listForms(database)).length === 0)
        await addDemoForm(options.demoForm, database, blobs);
    }
  } catch (error) {
    await close();
    throw error;
  }
  const address = server.address();
  return { url: `http://127.0.0.1:${typeof address === 'object' && address ? address.port : options.port}`, close };
}

const listen = (server: Server, port: number): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve());
  });

/** A catalogue as a drafter would bring it in, from which the demo's second list takes prices and lead times. */
async function addDemoCatalogue(
  file: string,
  bars: string | undefined,
  project: string,
  { database, desk, pool }: Pick<Services, 'database' | 'desk' | 'pool'>,
): Promise<void> {
  const bring = async (path: string, fileName: string) => {
    const bytes = new Uint8Array(await readFile(path));
    const { mapping } = await pool.previewCatalogue({ bytes, fileName });
    const { text } = await pool.readCatalogue({ bytes, fileName, mapping, current: null });
    return addCatalogue(database, fileName, text);
  };
  const catalogue = await bring(file, 'Camp workshop.csv');
  if (bars) await addDemoPlan(project, catalogue, await bring(bars, 'Camp bars.csv'), { database, desk });
  const bills = (await storedDocuments(database, project)).filter(({ kind }) => kind === 'bill');
  const buyers = bills.at(-1);
  if (!buyers) return;
  const { columns } = readStored(buyers) as BillDocument;
  const priced: Column[] = [
    newColumn('property:Supplier'),
    newColumn('property:Order number'),
    { ...newColumn('property:Unit cost'), format: { decimals: 2, align: 'right' }, total: true },
    { ...newColumn('property:Lead time'), format: { align: 'right' } },
  ];
  const commands: BillCommand[] = [
    { kind: 'setCatalogues', links: [{ catalogue }] },
    { kind: 'setColumns', columns: columns.toSpliced(4, 0, ...priced) },
  ];
  await applyGesture({ database, desk }, project, {
    gesture: randomUUID(),
    session: 'demo',
    label: 'take values from the catalogue',
    steps: commands.map((command) => ({
      document: buyers.id,
      version: buyers.version,
      command: JSON.stringify(command),
    })),
  });
}

/** Three sledges, two with a long mast and one with a short one: bolts in packs, tubes and slats from bars. */
async function addDemoPlan(
  project: string,
  catalogue: string,
  bars: string,
  { database, desk }: Pick<Services, 'database' | 'desk'>,
): Promise<void> {
  const plan: BuyingPlan = {
    ...newBuyingPlan,
    name: 'Three sledges',
    builds: [
      { variant: 'long-mast', count: 2 },
      { variant: 'short-mast', count: 1 },
    ],
    sparePercent: 5,
    catalogues: [catalogue],
    stock: [bars],
    kerfMm: 2.5,
    trimMm: 5,
  };
  const gesture = { gesture: randomUUID(), session: 'demo', label: 'make the plan Three sledges' };
  await bringDocument({ database, desk }, project, 'buying', JSON.stringify(plan), gesture);
}

/** The form that the workshop orders on, set up. */
async function addDemoForm(file: string, database: DataSource, blobs: BlobStore): Promise<void> {
  const bytes = new Uint8Array(await readFile(file));
  const map = parseFormMap(JSON.parse(await readFile(file.replace(/\.xlsx$/, '.map.json'), 'utf8')));
  const name = 'Camp order form';
  const hash = createHash('sha256').update(bytes).digest('hex');
  await keepForm(database, blobs, { name, fileName: basename(file), bytes, hash });
  await mapForm(database, name, map);
}

/** The project that comes of it. @throws Error where the demo cannot be imported */
async function importDemo(
  file: string,
  how: Pick<v.InferInput<typeof jobPayloads.import>, 'finished' | 'into' | 'remark' | 'who'>,
  blobs: BlobStore,
  jobs: JobQueue,
): Promise<string> {
  const bytes = new Uint8Array(await readFile(file));
  const fileBlob = fileKey(createHash('sha256').update(bytes).digest('hex'));
  await blobs.put(fileBlob, bytes);
  // A start that was killed while making the demo, or another server that starts just now, has its job already.
  const id = await jobs.add('import', { fileName: basename(file), fileBlob, ...how }, fileBlob, { once: true });
  for (let told = ''; ; await new Promise((resolve) => setTimeout(resolve, 250))) {
    const job = await jobs.find(id);
    if (job?.state === 'done') return job.project!;
    if (job?.state === 'failed' || job?.state === 'cancelled')
      throw new Error(`The demo project could not be made: ${job.reason}`);
    if (job && job.progress.step !== told) console.log(`  demo: ${(told = job.progress.step)} …`);
  }
}
