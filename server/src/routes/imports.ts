import { createHash } from 'node:crypto';
import type express from 'express';
import type { Request } from 'express';
import * as v from 'valibot';
import { api, type ListPreview } from '../../../contract/src/index.ts';
import { mappingProblem, proposeMapping, type Table } from '../../../core/src/sources/index.ts';
import { BadRequest, NotFound, TooLarge } from '../errors.ts';
import { param, parse, type Services } from '../http.ts';
import { fileKey, type ImportPayload } from '../imports.ts';
import { recall, remember } from '../remembered.ts';

const MAX_FILE = 600 * 1024 * 1024; // bytes
const EVENT_EVERY = 400; // ms
const PREVIEW_ROWS = 15;

/** Lists with these headings are read alike. */
const headingsKey = (table: Table, headingRow: number): string =>
  `list ${createHash('sha256')
    .update(JSON.stringify(table[Math.max(0, headingRow)] ?? []))
    .digest('hex')}`;

/** Files that come in, and the jobs that read them. */
export function importRoutes(app: express.Express, { database, blobs, jobs, pool }: Services): void {
  app.post('/api/imports', async (request, response) => {
    const { name } = parse(v.object({ name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)) }), request.query);
    const bytes = await readBody(request);
    if (bytes.length === 0)
      throw new BadRequest(`“${name}” is empty (0 bytes). Export it again and check that it was copied whole.`);
    const fileBlob = fileKey(bytes);
    await blobs.put(fileBlob, bytes);
    const id = await jobs.add(
      'import',
      { fileName: name, fileBlob, finished: false } satisfies ImportPayload,
      fileBlob,
    );
    response.status(202).json({ job: id });
  });
  app.post('/api/lists', async (request, response) => {
    const { name } = parse(v.object({ name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)) }), request.query);
    const bytes = await readBody(request);
    const table = await pool.table({ bytes, fileName: name });
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
    const bytes = await readBody(request);
    const file = fileKey(bytes);
    await blobs.put(file, bytes);
    await remember(database, headingsKey(await pool.table({ bytes, fileName: name }), mapping.headingRow), mapping);
    response.status(202).json({
      job: await jobs.add(
        'import',
        {
          fileName: name,
          fileBlob: file,
          finished: false,
          mapping,
        } satisfies ImportPayload,
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
  app.get('/api/jobs/:id/events', async (request, response) => {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
    });
    let last = '';
    for (let open = true; open && !request.destroyed;) {
      const job = await jobs.find(param(request, 'id'));
      const text = JSON.stringify(job);
      if (text !== last) response.write(`data: ${(last = text)}\n\n`);
      open = job !== null && (job.state === 'queued' || job.state === 'running');
      if (open) await new Promise((resolve) => setTimeout(resolve, EVENT_EVERY));
    }
    response.end();
  });
}

async function readBody(request: Request): Promise<Uint8Array> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > MAX_FILE)
      throw new TooLarge(`The file is larger than ${MAX_FILE / 1024 / 1024} MB; that is more than can be read.`);
    chunks.push(chunk);
  }
  const whole = Buffer.concat(chunks);
  return new Uint8Array(whole.buffer, whole.byteOffset, whole.length); // the same bytes, not a second copy of them
}
