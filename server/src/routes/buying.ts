import type express from 'express';
import type { Request, Response } from 'express';
import * as v from 'valibot';
import { buying } from '../../../contract/src/index.ts';
import { addPlan, issueOrder, orderCutPlans } from '../projects/buying.ts';
import { buyingFormats, type BuyingWish } from '../desk/buyingOutputs.ts';
import {
  attach,
  goneWith,
  jsonBody,
  largeBody,
  param,
  parse,
  readFrom,
  sendBytes,
  type Services,
} from '../http/http.ts';
import { findRevision, storedProject } from '../projects/projects.ts';

const fileParams = v.object({ id: v.string(), document: v.string(), format: v.picklist(buyingFormats) });
const orderParams = v.object({ ...fileParams.entries, format: v.picklist(['json', 'csv', 'xlsx']) });
const supplierSchema = v.object({ supplier: v.optional(v.pipe(v.string(), v.maxLength(10_000))) });
const MEDIA_TYPE = {
  json: 'application/json',
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  pdf: 'application/pdf',
} as const;

/** Plans of buying, how pieces are cut from bars, and issued orders. */
export function buyingRoutes(app: express.Express, services: Services): void {
  const { database, blobs, desk } = services;
  const json = jsonBody();
  const output = async (request: Request, response: Response, format: keyof typeof MEDIA_TYPE, wish: BuyingWish) => {
    const inputs = await storedProject(database, param(request, 'id'));
    const task = { ...inputs, format, document: param(request, 'document'), ...wish };
    return desk.output(task, blobs, goneWith(response));
  };
  const send = async (request: Request, response: Response, format: keyof typeof MEDIA_TYPE) => {
    const { fileName, bytes } = await output(request, response, format, parse(supplierSchema, request.query));
    attach(response, fileName);
    sendBytes(response.type(MEDIA_TYPE[format]), bytes);
  };

  app.post('/api/projects/:id/buying', json, async (request, response) => {
    response.status(201).json(await addPlan(services, param(request, 'id'), parse(buying.newPlanSchema, request.body)));
  });
  app.post('/api/projects/:id/cut-plans', largeBody(), async (request, response) => {
    const { problems, again } = await readFrom(services, 'cutPlans', request, response);
    await findRevision(database, param(request, 'id')); // a project that is not there orders nothing
    const { plans, job } = await orderCutPlans(services, param(request, 'id'), problems, again);
    const rest = JSON.stringify({ job });
    response
      .status(job ? 202 : 200)
      .type('json')
      .send(`{"plans":[${plans.map((plan) => plan ?? 'null').join()}],${rest.slice(1)}`);
  });
  // A file of a plan is made from cut plans that are there; this orders those that are not.
  app.post('/api/projects/:id/buying/:document/plans', async (request, response) => {
    const { bytes } = await output(request, response, 'json', { problems: true });
    const wish = Buffer.from(bytes);
    const body = Buffer.concat([Buffer.from('{"problems":'), wish, Buffer.from('}')]);
    const problems = wish.length > 2 ? (await desk.read('cutPlans', body, goneWith(response))).problems : [];
    const { job } = await orderCutPlans(services, param(request, 'id'), problems);
    response.status(job ? 202 : 200).json({ job });
  });
  app.get('/api/projects/:id/buying/:document/:format', (request, response) =>
    send(request, response, parse(fileParams, request.params).format),
  );
  app.post('/api/projects/:id/buying/:document/orders', json, async (request, response) => {
    const wish = parse(buying.issueSchema, request.body);
    response.status(201).json(await issueOrder(services, param(request, 'id'), param(request, 'document'), wish));
  });
  app.get('/api/projects/:id/orders/:document/:format', (request, response) =>
    send(request, response, parse(orderParams, request.params).format),
  );
}
