import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type express from 'express';
import type { Response } from 'express';
import * as v from 'valibot';
import { api, type ListPreview } from '../../../contract/src/index.ts';
import { mappingProblem, proposeMapping, type Table } from '../../../core/src/sources/index.ts';
import { fileKey } from '../store/blobs.ts';
import { BadRequest, logError, NotFound } from '../errors.ts';
import { param, parse, type Services } from '../http/http.ts';
import { structureOf } from '../projects/projects.ts';
import { receiveFile } from '../http/receiveFile.ts';
import { recall, remember } from '../store/remembered.ts';

const PREVIEW_ROWS = 15;

/** Lists with these headings are read alike. */
const headingsKey = (table: Table, headingRow: number): string =>
  `list ${createHash('sha256')
    .update(JSON.stringify(table[Math.max(0, headingRow)] ?? []))
    .digest('hex')}`;

/** Files that come in, and the jobs that read them. */
export function importRoutes(app: express.Express, { database, blobs, jobs, pool, scratch }: Services): void {
  /** Reading ends when who asked has gone. */
  const tableOf = async (path: string, fileName: string, response: Response) => {
    const gone = new AbortController();
    response.once('close', () => gone.abort());
    return pool.table({ bytes: new Uint8Array(await readFile(path)), fileName }, gone.signal);
  };
  app.post('/api/imports', async (request, response) => {
    const { name, into, ...said } = parse(api.importSchema, request.query);
    if (into !== undefined) await structureOf(database, into); // before anything is sent: that there is such a project
    const fileBlob = await receiveFile(request, scratch, async ({ path, size, hash }) => {
      if (size === 0)
        throw new BadRequest(`“${name}” is empty (0 bytes). Export it again and check that it was copied whole.`);
      await blobs.putFile(fileKey(hash), path);
      return fileKey(hash);
    });
    const payload = { fileName: name, fileBlob, finished: false, ...(into === undefined ? {} : { into, ...said }) };
    const id = await jobs.add('import', payload, fileBlob);
    // Who cancelled while the last bytes were on their way was told that nothing is stored.
    const forget = () => void jobs.cancel(id).catch((error) => logError(error, 'cancelling an import'));
    if (response.destroyed) return forget();
    response.once('close', () => response.writableFinished || forget());
    response.status(202).json({ job: id });
  });
  app.post('/api/lists', async (request, response) => {
    const { name } = parse(v.object({ name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)) }), request.query);
    const table = await receiveFile(request, scratch, ({ path }) => tableOf(path, name, response));
    const proposed = proposeMapping(table);
    const known = await recall(database, headingsKey(table, proposed.headingRow));
    const mapping = v.safeParse(api.listMappingSchema, known);
    response.json({
      rows: table.slice(0, PREVIEW_ROWS).map((row) => [...row]),
      of: table.length,
      mapping: mapping.success ? mapping.output : { ...proposed, roles: [...proposed.roles] },
      remembered: mapping.success,
    } satisfies ListPreview);
  });
  // The list comes a second time with its mapping: nothing is stored for one that the drafter only looked at.
  app.post('/api/lists/import', async (request, response) => {
    const { name, mapping } = parse(api.listImportSchema, request.query);
    const problem = mappingProblem(mapping);
    if (problem) throw new BadRequest(problem);
    const file = await receiveFile(request, scratch, async ({ path, hash }) => {
      const table = await tableOf(path, name, response);
      await blobs.putFile(fileKey(hash), path);
      await remember(database, headingsKey(table, mapping.headingRow), mapping);
      return fileKey(hash);
    });
    response.status(202).json({
      job: await jobs.add(
        'import',
        {
          fileName: name,
          fileBlob: file,
          finished: false,
          mapping,
        },
        file,
      ),
    });
  });
  app.get('/api/jobs/:id', async (request, response) => {
    const job = await jobs.find(param(request, 'id'));
    if (!job) throw new NotFound('There is no such job.');
    response.json(job);
  });
  app.post('/api/jobs/:id/cancel', async (request, response) => {
    await jobs.cancel(param(request, 'id'));
    response.json({});
  });
  app.get('/api/jobs/:id/events', (request, response) => {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
    });
    response.flushHeaders();
    const leave = jobs.follow(param(request, 'id'), (job) => {
      response.write(`data: ${JSON.stringify(job)}\n\n`);
      if (!job || (job.state !== 'queued' && job.state !== 'running')) response.end();
    });
    response.once('close', leave);
  });
}
