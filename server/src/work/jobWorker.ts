import { parentPort, workerData } from 'node:worker_threads';
import { startPool } from '../../../engine/src/index.ts';
import { blobStore } from '../store/blobs.ts';
import { openDatabase } from '../store/database.ts';
import { startDesk } from '../desk/desk.ts';
import { makeCutPlans } from './cutPlans.ts';
import { recogniseAgain } from './revisions.ts';
import { importFile } from './imports.ts';
import { makeProjectShapes } from './shapes.ts';
import { foresee } from './foresee.ts';
import { carryOutIntention } from './intentions.ts';
import { runJobs, type JobContext } from './jobRunner.ts';
import { jobQueue, type JobQueue, type JobRunner } from '../jobs/jobs.ts';
import { ALIVE_EVERY, type JobThreadData, type JobThreadOrder } from '../jobs/jobThread.ts';
import { drawPicture, drawViews } from './drawing.ts';
import { sweepAlone } from './sweep.ts';

// Entry of the thread that does the jobs: with a database connection and workers of its own.
const { databaseUrl, threads } = workerData as JobThreadData;
const database = await openDatabase(databaseUrl);
const blobs = blobStore(database);
const pool = startPool(threads.engine);
const desk = startDesk(threads.desk);
/** Each job is a group of its own among what waits for the workers. */
const of = ({ id }: JobContext) => ({ database, blobs, desk, pool: pool.of(id) });
const runner: JobRunner = runJobs(database, {
  import: async (payload, context) => {
    const { project, hasShapes, revision } = await importFile(payload, context, of(context));
    if (hasShapes && revision) await jobs.add('shapes', { project, revision }, revision, { once: true });
    else await drawPicture(project, context, of(context));
    return project;
  },
  shapes: async (payload, context) => {
    const project = await makeProjectShapes(payload, context, of(context));
    await drawPicture(project, context, of(context));
    return project;
  },
  view: async (payload, context) => {
    await drawViews(payload, context, of(context));
    return null;
  },
  recognise: (payload, context) => recogniseAgain(payload, context, of(context)),
  foresee: (payload, context) => foresee(payload, context, of(context)),
  cutPlans: (payload, context) => makeCutPlans(payload, context, of(context)),
  intention: (payload, context) => carryOutIntention(payload, context, of(context)),
});
const jobs: JobQueue = jobQueue(database, runner);

parentPort!.on('message', (order: JobThreadOrder) => {
  if (order.what === 'look') runner.look();
  else if (order.what === 'cancelled') runner.cancelled(order.id);
  else void stop();
});

/** What nothing needs any more is looked for every hour, by one server of those on the database. */
const SWEEP_EVERY = 3_600_000; // ms
const alive = setInterval(() => parentPort!.postMessage('alive'), ALIVE_EVERY);
const sweeping = setInterval(() => void sweepAlone(database), SWEEP_EVERY);
const firstSweep = setTimeout(() => void sweepAlone(database), SWEEP_EVERY / 12);

async function stop(): Promise<void> {
  clearInterval(alive);
  clearInterval(sweeping);
  clearTimeout(firstSweep);
  await runner.stop();
  await jobs.stop();
  await pool.close();
  await desk.close();
  await database.destroy();
  parentPort!.close(); // nothing is left to wait for: the thread ends
}
