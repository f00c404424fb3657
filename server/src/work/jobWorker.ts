import { parentPort, workerData } from 'node:worker_threads';
import { startPool } from '../../../engine/src/index.ts';
import { blobStore } from '../blobs.ts';
import { openDatabase } from '../database.ts';
import { startDesk } from '../desk.ts';
import { makeCutPlans } from './cutPlans.ts';
import { recogniseAgain } from './revisions.ts';
import { importFile } from './imports.ts';
import { makeProjectShapes } from './shapes.ts';
import { foresee } from './foresee.ts';
import { carryOutIntention } from './intentions.ts';
import { runJobs } from './jobRunner.ts';
import { jobQueue, type JobQueue, type JobRunner } from '../jobs.ts';
import type { JobThreadData, JobThreadOrder } from '../jobThread.ts';
import { drawPicture, drawViews } from './drawing.ts';

// Entry of the thread that does the jobs: with a database connection and workers of its own.
const { databaseUrl, threads } = workerData as JobThreadData;
const database = await openDatabase(databaseUrl);
const blobs = blobStore(database);
const pool = startPool(threads.engine);
const desk = startDesk(threads.desk);
const services = { database, blobs, pool, desk };
const runner: JobRunner = runJobs(database, {
  import: async (payload, context) => {
    const { project, hasShapes, revision } = await importFile(payload, context, services);
    if (hasShapes && revision) await jobs.add('shapes', { project, revision }, revision, { once: true });
    else await drawPicture(project, context, services);
    return project;
  },
  shapes: async (payload, context) => {
    const project = await makeProjectShapes(payload, context, services);
    await drawPicture(project, context, services);
    return project;
  },
  view: async (payload, context) => {
    await drawViews(payload, context, services);
    return null;
  },
  recognise: (payload, context) => recogniseAgain(payload, context, services),
  foresee: (payload, context) => foresee(payload, context, services),
  cutPlans: (payload, context) => makeCutPlans(payload, context, services),
  intention: (payload, context) => carryOutIntention(payload, context, services),
});
const jobs: JobQueue = jobQueue(database, runner);

parentPort!.on('message', (order: JobThreadOrder) => {
  if (order.what === 'look') runner.look();
  else if (order.what === 'cancelled') runner.cancelled(order.id);
  else void stop();
});

async function stop(): Promise<void> {
  await runner.stop();
  await jobs.stop();
  await pool.close();
  await desk.close();
  await database.destroy();
  parentPort!.close(); // nothing is left to wait for: the thread ends
}
