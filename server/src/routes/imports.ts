import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import * as v from 'valibot';
import { api, type routes } from '../../../contract/src/index.ts';
import { mappingProblem, proposeMapping, type Table } from '../../../core/src/sources/index.ts';
import { fileKey } from '../store/blobs.ts';
import { BadRequest, logError, NotFound } from '../errors.ts';
import type { Services } from '../http/http.ts';
import { asWritten, underWay, type Handlers } from '../http/serve.ts';
import { structureOf } from '../projects/projects.ts';
import { receiveFile } from '../http/receiveFile.ts';
import { recall, remember } from '../store/remembered.ts';

const PREVIEW_ROWS = 15;

/** Lists with these headings are read alike. */
const headingsKey = (table: Table, headingRow: number): string =>
  `list ${createHash('sha256')
    .update(JSON.stringify(table[Math.max(0, headingRow)] ?? []))
    .digest('hex')}`;

export function importRoutes(services: Services): Handlers<typeof routes.imports> {
  const { database, blobs, jobs, pool, scratch } = services;
  const tableOf = async (path: string, fileName: string, signal: AbortSignal) =>
    pool.table({ bytes: new Uint8Array(await readFile(path)), fileName }, signal);
  return {
    file: async ({ query: { name, into, ...said }, request, response }) => {
      if (into !== undefined) await structureOf(database, into); // before anything is sent: that there is such a project
      const fileBlob = await receiveFile(request, scratch, async ({ path, size, hash }) => {
        if (size === 0)
          throw new BadRequest(`“${name}” is empty (0 bytes). Export it again and check that it was copied whole.`);
        await blobs.putFile(fileKey(hash), path);
        return fileKey(hash);
      });
      const payload = { fileName: name, fileBlob, finished: false, ...(into === undefined ? {} : { into, ...said }) };
      const job = await jobs.add('import', payload, fileBlob);
      // Who cancelled while the last bytes were on their way was told that nothing is stored.
      const forget = () => void jobs.cancel(job).catch((error) => logError(error, 'cancelling an import'));
      if (response.destroyed) forget();
      else response.once('close', () => response.writableFinished || forget());
      return underWay({ job });
    },
    previewList: async ({ query: { name }, request, signal }) => {
      const table = await receiveFile(request, scratch, ({ path }) => tableOf(path, name, signal));
      const proposed = proposeMapping(table);
      const known = await recall(database, headingsKey(table, proposed.headingRow));
      const mapping = v.safeParse(api.listMappingSchema, known);
      return {
        rows: table.slice(0, PREVIEW_ROWS),
        of: table.length,
        mapping: mapping.success ? mapping.output : proposed,
        remembered: mapping.success,
      };
    },
    // The list comes a second time with its mapping: nothing is stored for one that the drafter only looked at.
    list: async ({ query: { name, mapping }, request, signal }) => {
      const problem = mappingProblem(mapping);
      if (problem) throw new BadRequest(problem);
      const file = await receiveFile(request, scratch, async ({ path, hash }) => {
        const table = await tableOf(path, name, signal);
        await blobs.putFile(fileKey(hash), path);
        await remember(database, headingsKey(table, mapping.headingRow), mapping);
        return fileKey(hash);
      });
      const payload = { fileName: name, fileBlob: file, finished: false, mapping };
      return underWay({ job: await jobs.add('import', payload, file) });
    },
    job: async ({ params }) => {
      const job = await jobs.find(params.id);
      if (!job) throw new NotFound('There is no such job.');
      return job;
    },
    cancel: async ({ params }) => {
      await jobs.cancel(params.id);
      return {};
    },
    follow: async ({ params }) =>
      asWritten((response) => {
        response.writeHead(200, {
          'Content-Type': 'text/event-stream',
          'Cache-Control': 'no-store',
          Connection: 'keep-alive',
        });
        response.flushHeaders();
        const leave = jobs.follow(params.id, (job) => {
          response.write(`data: ${JSON.stringify(job)}\n\n`);
          if (!job || (job.state !== 'queued' && job.state !== 'running')) response.end();
        });
        response.once('close', leave);
      }),
  };
}
