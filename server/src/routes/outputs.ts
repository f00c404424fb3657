import type express from 'express';
import * as v from 'valibot';
import type { Assembly } from '../../../core/src/assembly/index.ts';
import { columnFindings, faultFindings } from '../../../core/src/bill/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import {
  billShownBy,
  editedFor,
  newSheetSet,
  projectBill,
  recipeFileOf,
  type BillDocument,
} from '../../../core/src/documents/index.ts';
import { billJson, billTable, billToText, sceneToSvg } from '../../../core/src/formats/index.ts';
import { drawSheet, sheetsInOrder, withPlaces, type Sheet, type SheetSet } from '../../../core/src/sheets/index.ts';
import { lookAt, type ViewLines } from '../../../core/src/views/index.ts';
import { embeddedFonts, loadThumbnails, makeView, sceneToPdf, writeBillWorkbook } from '../../../engine/src/index.ts';
import { lookOrder } from '../../../contract/src/index.ts';
import { attach, param, parse, type Services } from '../http.ts';
import { NotFound, NotReady } from '../errors.ts';
import { loadInputs, loadProject } from '../projects.ts';
import { isDrawn, orderViews } from '../views.ts';

/** Lists and sheets as files. */
export function outputRoutes(app: express.Express, services: Services): void {
  const { database, blobs } = services;
  const picturesOf = async (assembly: Assembly, { columns }: BillDocument) =>
    columns.some(({ source, hidden }) => source === 'picture' && !hidden)
      ? loadThumbnails(assembly, { store: blobs })
      : new Map<number, Uint8Array>();
  app.get('/api/projects/:id/bills/:document/:format', async (request, response) => {
    const { format } = parse(
      v.object({ id: v.string(), document: v.string(), format: v.picklist(['csv', 'tsv', 'xlsx', 'json', 'recipe']) }),
      request.params,
    );
    const project = await openProject(services, param(request, 'id'));
    const { bill, document, assembly } = project.bill(param(request, 'document'));
    attach(response, `${project.name} ${document.name}.${format === 'recipe' ? 'recipe.json' : format}`);
    switch (format) {
      case 'csv':
        return void response.type('text/csv; charset=utf-8').send(`\ufeff${billToText(bill, document.columns, ',')}`);
      case 'tsv':
        return void response
          .type('text/tab-separated-values; charset=utf-8')
          .send(`\ufeff${billToText(bill, document.columns, '\t')}`);
      case 'recipe':
        return void response.json(recipeFileOf(document, project.edits));
      case 'xlsx':
        return void response
          .type(XLSX)
          .send(
            Buffer.from(
              await writeBillWorkbook(
                billTable(bill, document.columns),
                document.name,
                await picturesOf(assembly, document),
              ),
            ),
          );
      case 'json':
        response.type('application/json');
        for (const piece of billJson(assembly, bill, project.fileName, document.columns, [
          ...columnFindings(bill, document.columns),
          ...faultFindings(bill, document.columns),
        ]))
          response.write(piece);
        response.end();
    }
  });
  app.get('/api/projects/:id/sheets/:document/:format', async (request, response) => {
    const { format } = parse(
      v.object({ id: v.string(), document: v.string(), format: v.picklist(['pdf', 'svg']) }),
      request.params,
    );
    const project = await openProject(services, param(request, 'id'));
    const found = project.sheet(param(request, 'document'));
    const { bill, document, assembly } = project.bill(billShownBy(project.bills, found.sheet).id);
    const lines = new Map<string, ViewLines>();
    for (const view of found.sheet.views) {
      const look = lookAt(assembly, view);
      if (!(await isDrawn(services, look.key)))
        throw new NotReady('Not all views of this sheet are drawn yet; order them first.');
      lines.set(view.id, (await makeView(look, { pool: services.pool, store: blobs })).lines);
    }
    const { scene } = drawSheet(
      { sheet: found.sheet, shared: project.set.fields, assembly, bill, columns: document.columns, lines },
      { sheet: project.sheets.indexOf(found) + 1, of: project.sheets.length },
    );
    attach(response, `${project.name} ${found.sheet.name}.${format}`);
    if (format === 'pdf') response.type('application/pdf').send(Buffer.from(await sceneToPdf(scene)));
    else response.type('image/svg+xml').send(sceneToSvg(scene, await embeddedFonts(scene)));
  });

  // A sheet is drawn from views that are there; this orders those that are not.
  app.post('/api/projects/:id/sheets/:document/views', async (request, response) => {
    const id = param(request, 'id');
    const project = await openProject(services, id);
    const { sheet } = project.sheet(param(request, 'document'));
    const variant = billShownBy(project.bills, sheet).content.recipe.variant ?? null;
    const looks = sheet.views.map((view) => lookOrder(view, variant));
    const { job } = looks.length === 0 ? { job: null } : await orderViews(services, id, looks);
    response.status(job ? 202 : 200).json({ job });
  });

  async function openProject(open: Services, id: string) {
    const project = await loadProject(database, blobs, id, '');
    const inputs = await loadInputs(open.database, open.blobs, id);
    await readyForFormulas();
    const edited = editedFor(inputs, null);
    const of = <Content>(kind: string) =>
      project.documents
        .filter((document) => document.kind === kind)
        .map((document) => ({ id: document.id, content: document.content as Content }));
    const bills = of<BillDocument>('bill').filter(({ content }) => !content.away);
    const set = of<SheetSet>('set')[0]?.content ?? newSheetSet;
    const inOrder = sheetsInOrder(set, of<Sheet>('sheet'));
    const sheets = inOrder.map(({ id: sheetId, content }) => ({ id: sheetId, sheet: content }));
    return {
      name: project.summary.name,
      fileName: project.summary.fileName,
      edits: inputs.edits,
      assembly: edited.assembly,
      bills,
      /** @throws NotFound */
      bill: (wanted: string) => {
        const found = bills.find((bill) => bill.id === wanted);
        if (!found) throw new NotFound('That bill is no longer in the project.');
        const own = found.content.recipe.variant ? undefined : edited;
        const made = projectBill({ ...inputs, bill: found.content, fileName: project.summary.fileName }, own);
        return {
          document: found.content,
          assembly: made.edited.assembly,
          bill: withPlaces(
            made.bill,
            made.edited.assembly,
            made.decisions,
            made.extras,
            inOrder.map(({ content }) => content),
          ),
        };
      },
      sheets,
      set,
      /** @throws NotFound */
      sheet: (wanted: string) => {
        const found = sheets.find((sheet) => sheet.id === wanted);
        if (!found) throw new NotFound('That sheet is no longer in the project.');
        return found;
      },
    };
  }
}

const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
