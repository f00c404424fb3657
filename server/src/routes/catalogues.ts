import { readFile } from 'node:fs/promises';
import { createHash } from 'node:crypto';
import * as v from 'valibot';
import { api, type routes } from '../../../contract/src/index.ts';
import { NotFound } from '../errors.ts';
import type { Services } from '../http/http.ts';
import { receiveFile } from '../http/receiveFile.ts';
import { asJson, atDesk, made, type Call, type Handlers } from '../http/serve.ts';
import {
  addCatalogue,
  catalogueJson,
  catalogueTexts,
  catalogueVersions,
  deleteCatalogue,
  listCatalogues,
} from '../projects/catalogues.ts';
import { recall, remember } from '../store/remembered.ts';
import { askSuppliers } from '../suppliers/suppliers.ts';

/** Tables with these headings are read alike. */
const headingsKey = (headings: readonly string[]): string =>
  `catalogue ${createHash('sha256').update(JSON.stringify(headings)).digest('hex')}`;

export function catalogueRoutes(services: Services): Handlers<typeof routes.catalogues> {
  const { database, desk, pool, scratch, suppliers } = services;
  const bytesOf = ({ request }: Pick<Call<never>, 'request'>): Promise<Uint8Array> =>
    receiveFile(request, scratch, async ({ path }) => new Uint8Array(await readFile(path)));
  return {
    list: () => listCatalogues(database),
    versions: ({ query }) => catalogueVersions(database, query.ids),
    add: atDesk('catalogue', async ({ name, content }) => made({ id: await addCatalogue(database, name, content) })),
    preview: async (call) => {
      const preview = await pool.previewCatalogue(
        { bytes: await bytesOf(call), fileName: call.query.name },
        call.signal,
      );
      const known = v.safeParse(api.catalogueMappingSchema, await recall(database, headingsKey(preview.headings)));
      return {
        ...preview,
        ...(known.success ? { mapping: known.output, isUnsure: false } : {}),
        remembered: known.success,
      };
    },
    importTable: async (call) => {
      const { name, mapping, into } = call.query;
      const [current] = into === undefined ? [] : await catalogueTexts(database, [into]);
      if (into !== undefined && !current) throw new NotFound('There is no such catalogue; it may have been deleted.');
      const table = { bytes: await bytesOf(call), fileName: name, mapping, current: current?.content ?? null };
      const read = await pool.readCatalogue(table, call.signal);
      await remember(database, headingsKey(read.headings), mapping);
      if (current) return asJson(read.text);
      return made({ id: await addCatalogue(database, name, read.text), problems: [...read.problems] });
    },
    ask: atDesk('suppliers', ({ numbers }, { signal }) => askSuppliers(suppliers, numbers, signal)),
    load: async ({ params, query }) => asJson(await catalogueJson(database, desk, params.id, query.session)),
    remove: async ({ params }) => {
      await deleteCatalogue(database, params.id);
      return {};
    },
  };
}
