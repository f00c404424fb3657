import type express from 'express';
import type { Request, Response } from 'express';
import * as v from 'valibot';
import { lookOrder, readStored } from '../../../contract/src/index.ts';
import { billShownBy, type BillDocument } from '../../../core/src/documents/index.ts';
import type { Sheet } from '../../../core/src/sheets/index.ts';
import { NotFound } from '../errors.ts';
import { attach, param, parse, type Services } from '../http.ts';
import { billFormats, sheetFormats, type OutputTask } from '../outputs.ts';
import { outputInputs, storedDocuments } from '../projects.ts';
import { orderViews } from '../views.ts';

const billParams = v.object({ id: v.string(), document: v.string(), format: v.picklist(billFormats) });
const sheetParams = v.object({ id: v.string(), document: v.string(), format: v.picklist(sheetFormats) });
const MEDIA_TYPE: Readonly<Record<OutputTask['format'], string>> = {
  csv: 'text/csv; charset=utf-8',
  tsv: 'text/tab-separated-values; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  json: 'application/json',
  recipe: 'application/json',
  pdf: 'application/pdf',
  svg: 'image/svg+xml',
};

/** Lists and sheets as files. */
export function outputRoutes(app: express.Express, services: Services): void {
  const { database, blobs, desk } = services;
  const send = async (request: Request, response: Response, format: OutputTask['format']) => {
    const inputs = await outputInputs(database, desk, param(request, 'id'));
    const gone = new AbortController();
    response.once('close', () => gone.abort()); // who asked has gone: the thread is free for another
    const { fileName, bytes } = await desk.output(
      { ...inputs, format, document: param(request, 'document') },
      blobs,
      gone.signal,
    );
    attach(response, fileName);
    response.type(MEDIA_TYPE[format]).end(bytes);
  };
  app.get('/api/projects/:id/bills/:document/:format', (request, response) =>
    send(request, response, parse(billParams, request.params).format),
  );
  app.get('/api/projects/:id/sheets/:document/:format', (request, response) =>
    send(request, response, parse(sheetParams, request.params).format),
  );

  // A sheet is drawn from views that are there; this orders those that are not.
  app.post('/api/projects/:id/sheets/:document/views', async (request, response) => {
    const id = param(request, 'id');
    const open = (await desk.current(await storedDocuments(database, id))).map((stored) => ({
      id: stored.id,
      kind: stored.kind,
      content: readStored(stored),
    }));
    const sheet = open.find((one) => one.kind === 'sheet' && one.id === param(request, 'document'));
    if (!sheet || (sheet.content as Sheet).away) throw new NotFound('That sheet is no longer in the project.');
    const bills = open
      .filter(({ kind, content }) => kind === 'bill' && !(content as BillDocument).away)
      .map((bill) => ({ id: bill.id, content: bill.content as BillDocument }));
    const variant = billShownBy(bills, sheet.content as Sheet).content.recipe.variant ?? null;
    const looks = (sheet.content as Sheet).views.map((view) => lookOrder(view, variant));
    const { job } = looks.length === 0 ? { job: null } : await orderViews(services, id, looks);
    response.status(job ? 202 : 200).json({ job });
  });
}
