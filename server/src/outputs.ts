import type express from 'express';
import * as v from 'valibot';
import type { Assembly } from '../../core/src/assembly/index.ts';
import { columnFindings, faultFindings } from '../../core/src/bill/index.ts';
import { readyForFormulas } from '../../core/src/columns/index.ts';
import {
  billShownBy,
  editedFor,
  projectBill,
  recipeFileOf,
  type BillDocument,
} from '../../core/src/documents/index.ts';
import { billJson, billTable, billToText, sceneToSvg } from '../../core/src/formats/index.ts';
import { drawSheet, withPlaces, type Sheet } from '../../core/src/sheets/index.ts';
import type { ViewLines } from '../../core/src/views/index.ts';
import { embeddedFonts, loadThumbnails, makeView, sceneToPdf, writeBillWorkbook } from '../../engine/src/index.ts';
import { attach, param, parse, type Services } from './http.ts';
import { makeProjectShapes, shapesComplete } from './imports.ts';
import { loadInputs, loadProject, NotFound } from './projects.ts';

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
    // A view drawn before all shapes are there would lack parts, and would be kept so.
    if (!(await shapesComplete(project.assembly, blobs)))
      await makeProjectShapes(
        { project: param(request, 'id') },
        { signal: new AbortController().signal, report: () => {} },
        services,
      );
    const found = project.sheets.find(({ id }) => id === param(request, 'document'));
    if (!found) throw new NotFound('That sheet is no longer in the project.');
    const lines = new Map<string, ViewLines>();
    for (const view of found.sheet.views)
      lines.set(
        view.id,
        (await makeView(project.assembly, view.direction, { pool: services.pool, store: blobs })).lines,
      );
    const { bill, document } = project.bill(billShownBy(project.bills, found.sheet).id);
    const { scene } = drawSheet(
      { sheet: found.sheet, assembly: project.assembly, bill, columns: document.columns, lines, up: 'z' },
      { sheet: project.sheets.indexOf(found) + 1, of: project.sheets.length },
    );
    attach(response, `${project.name} ${found.sheet.name}.${format}`);
    if (format === 'pdf') response.type('application/pdf').send(Buffer.from(await sceneToPdf(scene)));
    else response.type('image/svg+xml').send(sceneToSvg(scene, await embeddedFonts(scene)));
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
            of<Sheet>('sheet').map(({ content }) => content),
          ),
        };
      },
      sheets: of<Sheet>('sheet').map(({ id: sheetId, content }) => ({ id: sheetId, sheet: content })),
    };
  }
}

const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
