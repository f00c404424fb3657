import { readFile } from 'node:fs/promises';
import type { routes } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import type { FormMap } from '../../../core/src/forms/index.ts';
import type { Services } from '../http/http.ts';
import { receiveFile } from '../http/receiveFile.ts';
import { asFile, asJson, atDesk, made, type Call, type Handlers } from '../http/serve.ts';
import { dropForm, findForm, formKey, keepForm, listForms, mapForm } from '../projects/forms.ts';
import { storedProject } from '../projects/projects.ts';
import { mediaTypes } from './mediaTypes.ts';

type FillCall = Pick<Call<(typeof routes.forms)['filled']>, 'params' | 'query' | 'signal'>;

export function formRoutes(services: Services): Handlers<typeof routes.forms> {
  const { database, blobs, desk, pool, scratch } = services;
  const workbookOf = async (name: string): Promise<Uint8Array> => {
    const { hash } = await findForm(database, name);
    const bytes = await blobs.get(formKey(hash));
    if (!bytes) throw new Refusal('not-there', 'The workbook of this form is gone; bring it in again.');
    return bytes;
  };
  const fill = async ({ params, query, signal }: FillCall, check: boolean) => {
    const { bills, assemblies, order, supplier } = query;
    const { hash, map, name } = await findForm(database, params.name);
    if (!map) throw new Refusal('no-map', `Nobody has said yet how “${name}” is filled; set it up first.`);
    const inputs = await storedProject(database, params.id);
    const today = new Date().toISOString().slice(0, 10);
    const form = {
      key: formKey(hash),
      map: map as never,
      bills,
      assemblies,
      today,
      check,
      order: order === undefined ? undefined : { id: order, supplier },
    };
    return desk.output({ ...inputs, format: 'form', document: null, form }, blobs, signal);
  };
  return {
    list: () => listForms(database),
    keep: ({ query: { name, fileName }, request, signal }) =>
      receiveFile(request, scratch, async ({ path, hash }) => {
        const bytes = new Uint8Array(await readFile(path));
        const seen = await pool.lookAtForm(bytes, signal); // refused before anything is kept
        await keepForm(database, blobs, { name, fileName, bytes, hash });
        return made(seen);
      }),
    look: async ({ params, signal }) => pool.lookAtForm(await workbookOf(params.name), signal),
    headings: async ({ params, query, signal }) => pool.headingsAbove(await workbookOf(params.name), query, signal),
    workbook: async ({ params: { name } }) =>
      asFile(await workbookOf(name), (await findForm(database, name)).fileName, mediaTypes.bytes),
    map: atDesk('formMap', async ({ map }, { params }) => {
      await mapForm(database, params.name, JSON.parse(map) as FormMap);
      return listForms(database);
    }),
    drop: async ({ params }) => {
      await dropForm(database, blobs, params.name);
      return listForms(database);
    },
    check: async (call) => asJson((await fill(call, true)).bytes),
    filled: async (call) => {
      const { fileName, bytes } = await fill(call, false);
      return asFile(bytes, fileName, mediaTypes[fileName.endsWith('.zip') ? 'zip' : 'xlsx']);
    },
  };
}
