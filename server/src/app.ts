import { createHash, randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import * as v from 'valibot';
import { api, houseStyleSchema, type ListPreview } from '../../contract/src/index.ts';
import { Refusal, type ShapeKey } from '../../core/src/assembly/index.ts';
import { mappingProblem, proposeMapping, type Table } from '../../core/src/sources/index.ts';
import { directionNames } from '../../core/src/views/index.ts';
import { loadMeasures, loadShapeFindings, meshKey, thumbnailKey, viewKeys } from '../../engine/src/index.ts';
import { addBill } from './bills.ts';
import { applyGesture, EditConflict, EditRefused, stepBack } from './edits.ts';
import { fileKey, shapesComplete, type ImportPayload, type ShapesPayload } from './imports.ts';
import { recall, remember } from './remembered.ts';
import { param, parse, type Services } from './http.ts';
import { outputRoutes } from './outputs.ts';
import { deleteProject, listProjects, loadAssembly, loadEdited, loadProject, NotFound } from './projects.ts';
import { dropStyle, keepStyle, listStyles, setUsualStyle } from './styles.ts';

const MAX_FILE = 600 * 1024 * 1024; // bytes
const MAX_JSON = '4mb';
const EVENT_EVERY = 400; // ms
const PREVIEW_ROWS = 15;

class BadRequest extends Error {
  override readonly name = 'BadRequest';
}

/** The HTTP side: routes, checks of what comes in, and one place that turns errors into sentences. */
export function makeApp(services: Services): express.Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'", 'data:'],
          workerSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(onlyFromHere);
  importRoutes(app, services);
  projectRoutes(app, services);
  billRoutes(app, services);
  outputRoutes(app, services);
  app.use('/api', () => {
    throw new NotFound('There is no such address.');
  });
  if (services.page) pageRoutes(app, services.page);
  app.use(answerError);
  return app;
}

/** Another site open in the same browser must not reach the program: its name would stand in Host or Origin. */
function onlyFromHere(request: Request, _: Response, next: NextFunction): void {
  const local = (host: string) => /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/.test(host);
  const { host = '', origin } = request.headers;
  if (!local(host) || (origin !== undefined && origin !== `http://${host}`))
    throw new Forbidden('This program answers only to its own page on this machine.');
  next();
}
class Forbidden extends Error {
  override readonly name = 'Forbidden';
}

const sessionOf = (request: Request): string =>
  parse(v.object({ session: v.optional(v.pipe(v.string(), v.maxLength(64)), '') }), request.query).session;

/** Lists with these headings are read alike. */
const headingsKey = (table: Table, headingRow: number): string =>
  `list ${createHash('sha256')
    .update(JSON.stringify(table[Math.max(0, headingRow)] ?? []))
    .digest('hex')}`;

function importRoutes(app: express.Express, { database, blobs, jobs, pool }: Services): void {
  app.post('/api/imports', async (request, response) => {
    const { name } = parse(v.object({ name: v.pipe(v.string(), v.minLength(1), v.maxLength(400)) }), request.query);
    const bytes = await readBody(request);
    if (bytes.length === 0)
      throw new BadRequest(`“${name}” is empty (0 bytes). Export it again and check that it was copied whole.`);
    const fileBlob = fileKey(bytes);
    await blobs.put(fileBlob, bytes);
    const id = await jobs.add('import', { fileName: name, fileBlob, finished: false } satisfies ImportPayload);
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
      job: await jobs.add('import', {
        fileName: name,
        fileBlob: file,
        finished: false,
        mapping,
      } satisfies ImportPayload),
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
class TooLarge extends Error {
  override readonly name = 'TooLarge';
}

function projectRoutes(app: express.Express, { database, blobs, jobs }: Services): void {
  const json = express.json({ limit: MAX_JSON });
  app.get('/api/projects', async (_, response) => void response.json(await listProjects(database)));
  app.get(
    '/api/projects/:id',
    async (request, response) =>
      void response.json(await loadProject(database, blobs, param(request, 'id'), sessionOf(request))),
  );
  app.delete('/api/projects/:id', async (request, response) => {
    await deleteProject(database, param(request, 'id'));
    response.json({});
  });
  app.post(
    '/api/projects/:id/edits',
    json,
    async (request, response) =>
      void response.json(await applyGesture(database, param(request, 'id'), parse(api.gestureSchema, request.body))),
  );
  for (const mode of ['undo', 'redo'] as const) {
    app.post(
      `/api/projects/:id/${mode}`,
      json,
      async (request, response) =>
        void response.json(
          await stepBack(
            database,
            param(request, 'id'),
            parse(api.sessionSchema, request.body).session,
            mode,
            randomUUID(),
          ),
        ),
    );
  }
  app.get(
    '/api/projects/:id/assembly',
    async (request, response) => void response.json(await loadAssembly(database, blobs, param(request, 'id'))),
  );
  app.get('/api/projects/:id/shapes', async (request, response) => {
    const project = param(request, 'id');
    const assembly = await loadAssembly(database, blobs, project);
    const complete = await shapesComplete(assembly, blobs);
    const measures = await loadMeasures(assembly, { store: blobs });
    const [running] = (await database.query(
      "SELECT id FROM job WHERE kind = 'shapes' AND state IN ('queued', 'running') AND payload LIKE ? LIMIT 1",
      [`%${project}%`],
    )) as { id: string }[];
    const job = complete ? null : (running?.id ?? (await jobs.add('shapes', { project } satisfies ShapesPayload)));
    response.json({
      job,
      facts: Object.fromEntries([...measures].map(([shape, { sizes, volume }]) => [shape, { sizes, volume }])),
      findings: await loadShapeFindings(assembly, { store: blobs }),
    });
  });
  app.get('/api/thumbnails/:shape', async (request, response) => {
    const bytes = await blobs.get(thumbnailKey(param(request, 'shape') as ShapeKey));
    if (!bytes) throw new NotFound('There is no picture of this shape yet.');
    response.setHeader('Cache-Control', 'private, max-age=31536000, immutable'); // named by content
    response.type('png').send(Buffer.from(bytes));
  });
  app.get('/api/meshes/:shape', async (request, response) => {
    const bytes = await blobs.get(meshKey(param(request, 'shape') as ShapeKey));
    if (!bytes) throw new NotFound('This shape is not stored; it could not be made, or is not made yet.');
    sendBytes(response, bytes);
  });
  app.get('/api/projects/:id/views/:direction/:what', async (request, response) => {
    const { direction, what } = parse(
      v.object({ id: v.string(), direction: v.picklist(directionNames), what: v.picklist(['lines', 'spots']) }),
      request.params,
    );
    const { assembly } = await loadEdited(database, blobs, param(request, 'id'));
    const keys = viewKeys(assembly, direction, 'z', false);
    const [bytes, other] = [await blobs.get(keys[what]), await blobs.get(keys[what === 'lines' ? 'spots' : 'lines'])];
    if (bytes && other) sendBytes(response, bytes);
    else response.status(202).json({ job: await jobs.add('view', { project: param(request, 'id'), direction }) });
  });
}

const sendBytes = (response: Response, bytes: Uint8Array): void => {
  response.setHeader('Cache-Control', 'private, max-age=3600');
  response.type('application/octet-stream').send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
};

/** Several bills of one project, and the house styles that all projects share. */
function billRoutes(app: express.Express, { database, blobs }: Services): void {
  const json = express.json({ limit: MAX_JSON });
  app.post('/api/projects/:id/bills', json, async (request, response) => {
    response
      .status(201)
      .json(await addBill(database, blobs, param(request, 'id'), parse(api.newBillSchema, request.body)));
  });
  app.get('/api/styles', async (_, response) => void response.json(await listStyles(database)));
  app.put('/api/styles', json, async (request, response) => {
    await keepStyle(database, parse(houseStyleSchema, request.body));
    response.json(await listStyles(database));
  });
  app.put('/api/styles/usual', json, async (request, response) => {
    await setUsualStyle(database, parse(api.usualStyleSchema, request.body).name);
    response.json(await listStyles(database));
  });
  app.delete('/api/styles/:name', async (request, response) => {
    await dropStyle(database, param(request, 'name'));
    response.json(await listStyles(database));
  });
}

function pageRoutes(app: express.Express, folder: string): void {
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y' }));
  app.use(express.static(folder, { index: false }));
  app.get('/{*path}', (_, response) => {
    const page = join(folder, 'index.html');
    if (!existsSync(page)) throw new NotFound('The page is not built yet.');
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(page);
  });
}

const STATUS: Readonly<Record<string, number>> = {
  NotFound: 404,
  Forbidden: 403,
  BadRequest: 400,
  TooLarge: 413,
  EditRefused: 422,
  Refusal: 422,
};

// Express knows an error handler by its four parameters.
function answerError(
  error: Error & { status?: number; type?: string },
  _: Request,
  response: Response,
  next: NextFunction,
): void {
  if (response.headersSent) return next(error);
  if (error instanceof EditConflict) return void response.status(409).json(error.stale);
  if (error instanceof v.ValiError) {
    const [issue] = error.issues as v.BaseIssue<unknown>[];
    return void response.status(400).json({
      error: `What was sent is not as expected${issue ? ` at ${v.getDotPath(issue) ?? 'its top'}: ${issue.message}` : ''}.`,
    });
  }
  const known =
    error instanceof Refusal || error instanceof NotFound || error instanceof EditRefused
      ? STATUS[error.name]
      : (STATUS[error.name] ?? (error.status && error.status < 500 ? error.status : undefined));
  if (known)
    return void response.status(known).json({
      error:
        error.type === 'entity.parse.failed'
          ? 'What was sent is no JSON.'
          : error.type === 'entity.too.large'
            ? 'What was sent is too large.'
            : error.message,
    });
  console.error(error);
  response.status(500).json({
    error: 'Something went wrong in the program; what you did last may not be kept. Reload the page and look.',
  });
}
