import type { routes } from '../../../contract/src/index.ts';
import type { OutputTask } from '../desk/outputs.ts';
import type { Services } from '../http/http.ts';
import { asFile, underWay, type Handlers } from '../http/serve.ts';
import { storedProject } from '../projects/projects.ts';
import { looksOnSheets } from '../projects/sheets.ts';
import { orderViews } from '../projects/views.ts';
import { mediaTypes } from './mediaTypes.ts';

type Wanted = Pick<OutputTask, 'document' | 'view' | 'dots' | 'check'> & {
  readonly format: Exclude<OutputTask['format'], 'form'>;
};

export function outputRoutes(services: Services): Handlers<typeof routes.outputs> {
  const { database, blobs, desk } = services;
  const file = async (project: string, signal: AbortSignal, wanted: Wanted) => {
    const task = { ...(await storedProject(database, project)), ...wanted };
    const { fileName, bytes } = await desk.output(task, blobs, signal);
    return asFile(bytes, fileName, mediaTypes[wanted.format]);
  };
  // A sheet is drawn from views that are there; this orders those that are not.
  const order = async (project: string, signal: AbortSignal, document: string | null) => {
    // One job after the other where sheets show several revisions: who follows asks again until nothing is left.
    let job: string | null = null;
    for (const { revision, looks } of await looksOnSheets(services, project, document))
      if (!job && looks.length > 0) ({ job } = await orderViews(services, project, looks, revision, signal));
    return underWay({ job });
  };
  return {
    bill: ({ params: { id, document, format }, signal }) => file(id, signal, { document, format }),
    sheet: ({ params: { id, document, format }, query, signal }) => file(id, signal, { document, format, ...query }),
    set: ({ params, signal }) => file(params.id, signal, { document: null, format: 'pdf' }),
    check: ({ params: { id, format }, signal }) => file(id, signal, { document: null, format, check: true }),
    orderViews: ({ params, signal }) => order(params.id, signal, params.document),
    orderSetViews: ({ params, signal }) => order(params.id, signal, null),
  };
}
