import type { buyingFormats, routes } from '../../../contract/src/index.ts';
import type { BuyingWish } from '../desk/buyingOutputs.ts';
import type { Services } from '../http/http.ts';
import { asFile, asJson, atDesk, made, underWay, type Handlers } from '../http/serve.ts';
import { addPlan, issueOrder, orderCutPlans } from '../projects/buying.ts';
import { findRevision, storedProject } from '../projects/projects.ts';
import { mediaTypes } from './mediaTypes.ts';

interface FileCall {
  readonly params: {
    readonly id: string;
    readonly document: string;
    readonly format: (typeof buyingFormats)[number];
  };
  readonly query: { readonly supplier?: string | undefined };
  readonly signal: AbortSignal;
}

export function buyingRoutes(services: Services): Handlers<typeof routes.buying> {
  const { database, blobs, desk } = services;
  const output = async ({ params: { id, document, format }, signal }: Omit<FileCall, 'query'>, wish: BuyingWish) =>
    desk.output({ ...(await storedProject(database, id)), format, document, ...wish }, blobs, signal);
  const file = async (call: FileCall) => {
    const { fileName, bytes } = await output(call, call.query);
    return asFile(bytes, fileName, mediaTypes[call.params.format]);
  };
  return {
    add: async ({ params, body }) => made(await addPlan(services, params.id, body)),
    cutPlans: atDesk('cutPlans', async ({ problems, again }, { params }) => {
      await findRevision(database, params.id); // a project that is not there orders nothing
      const { plans, job } = await orderCutPlans(services, params.id, problems, again);
      const rest = JSON.stringify({ job }).slice(1);
      return asJson(`{"plans":[${plans.map((plan) => plan ?? 'null').join()}],${rest}`, job ? 202 : 200);
    }),
    // A file of a plan is made from cut plans that are there; this orders those that are not.
    orderPlans: async ({ params, signal }) => {
      const { bytes } = await output({ params: { ...params, format: 'json' }, signal }, { problems: true });
      const wish = Buffer.from(bytes);
      const body = Buffer.concat([Buffer.from('{"problems":'), wish, Buffer.from('}')]);
      const problems = wish.length > 2 ? (await desk.read('cutPlans', body, signal)).problems : [];
      const { job } = await orderCutPlans(services, params.id, problems);
      return underWay({ job });
    },
    file,
    issue: async ({ params, body }) => made(await issueOrder(services, params.id, params.document, body)),
    orderFile: file,
  };
}
