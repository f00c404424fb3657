import type express from 'express';
import type { Request, Response } from 'express';
import * as v from 'valibot';
import { attach, goneWith, param, parse, sendBytes, type Services } from '../http/http.ts';
import { billFormats, sheetFormats, type OutputTask } from '../desk/outputs.ts';
import { storedProject } from '../projects/projects.ts';
import { looksOnSheets } from '../projects/sheets.ts';
import { orderViews } from '../projects/views.ts';

const billParams = v.object({ id: v.string(), document: v.string(), format: v.picklist(billFormats) });
const sheetParams = v.object({ id: v.string(), document: v.string(), format: v.picklist(sheetFormats) });
const checkParams = v.object({ id: v.string(), format: v.picklist(['pdf', 'json']) });
/** Only one view of the sheet, and how finely a picture is drawn. */
const figureSchema = v.object({
  view: v.optional(v.pipe(v.string(), v.maxLength(64))),
  dots: v.optional(v.pipe(v.string(), v.regex(/^\d{1,4}$/), v.transform(Number))),
});
type Format = Exclude<OutputTask['format'], 'form'>;
const MEDIA_TYPE: Readonly<Record<Format, string>> = {
  csv: 'text/csv; charset=utf-8',
  tsv: 'text/tab-separated-values; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  json: 'application/json',
  recipe: 'application/json',
  pdf: 'application/pdf',
  svg: 'image/svg+xml',
  png: 'image/png',
};

/** Lists and sheets as files. */
export function outputRoutes(app: express.Express, services: Services): void {
  const { database, blobs, desk } = services;
  const send = async (
    request: Request,
    response: Response,
    format: Format,
    document: string | null = param(request, 'document'),
    wanted: Pick<OutputTask, 'view' | 'dots' | 'check'> = {},
  ) => {
    const inputs = await storedProject(database, param(request, 'id'));
    const task = { ...inputs, format, document, ...wanted };
    const { fileName, bytes } = await desk.output(task, blobs, goneWith(response));
    attach(response, fileName);
    sendBytes(response.type(MEDIA_TYPE[format]), bytes);
  };
  app.get('/api/projects/:id/bills/:document/:format', (request, response) =>
    send(request, response, parse(billParams, request.params).format),
  );
  app.get('/api/projects/:id/sheets/:document/:format', (request, response) =>
    send(request, response, parse(sheetParams, request.params).format, undefined, parse(figureSchema, request.query)),
  );

  app.get('/api/projects/:id/set/pdf', (request, response) => send(request, response, 'pdf', null));
  app.get('/api/projects/:id/check/:format', (request, response) =>
    send(request, response, parse(checkParams, request.params).format, null, { check: true }),
  );

  // A sheet is drawn from views that are there; this orders those that are not.
  const order = async (request: Request, response: Response, document: string | null) => {
    const id = param(request, 'id');
    // One job after the other where sheets show several revisions: who follows asks again until nothing is left.
    let job: string | null = null;
    for (const { revision, looks } of await looksOnSheets(services, id, document))
      if (!job && looks.length > 0) ({ job } = await orderViews(services, id, looks, revision, goneWith(response)));
    response.status(job ? 202 : 200).json({ job });
  };
  app.post('/api/projects/:id/sheets/:document/views', (request, response) =>
    order(request, response, param(request, 'document')),
  );
  app.post('/api/projects/:id/set/views', (request, response) => order(request, response, null));
}
