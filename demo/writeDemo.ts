import { mkdirSync, writeFileSync } from 'node:fs';
import { barStockCsv } from './barStock.ts';
import { orderForm, orderFormMap } from './orderForm.ts';
import { ProductWriter, type Product } from './product.ts';
import { revisionA, revisionB, sledge, type SledgeOptions } from './sledge.ts';
import { workshopCatalogueCsv } from './workshopCatalogue.ts';
import { sitePlanSvg } from './sitePlan.ts';
import { StepWriter } from './stepWriter.ts';

/** A product as a STEP file; the same text at every call. */
export function productStep(product: Product, name: string, written = '2026-03-02T09:00:00'): string {
  const step = new StepWriter();
  const writer = new ProductWriter(step);
  writer.write(product);
  writer.finish();
  return step.finish(name, written);
}

/** The STEP text of one revision of the sledge. */
export const sledgeStep = (options: SledgeOptions): string =>
  productStep(
    sledge(options),
    `hauling-sledge-${options.revision}.step`,
    options.revision === 'A' ? '2026-03-02T09:00:00' : '2026-05-18T14:30:00',
  );

/** Writes both revisions of the sledge and of the site plan, the workshop's catalogue and bars and its order form into a folder. */
export async function writeDemoFiles(folder: string): Promise<void> {
  mkdirSync(folder, { recursive: true });
  for (const options of [revisionA, revisionB]) {
    const path = `${folder}/hauling-sledge-${options.revision}.step`;
    writeFileSync(path, sledgeStep(options));
    console.log(`wrote ${path}`);
  }
  const catalogue = `${folder}/camp-workshop.csv`;
  writeFileSync(catalogue, workshopCatalogueCsv());
  console.log(`wrote ${catalogue}`);
  writeFileSync(`${folder}/camp-bars.csv`, barStockCsv());
  for (const revision of ['A', 'B'] as const)
    writeFileSync(`${folder}/site-plan-${revision}.svg`, sitePlanSvg({ revision }));
  const form = `${folder}/camp-order-form.xlsx`;
  writeFileSync(form, await orderForm());
  writeFileSync(`${folder}/camp-order-form.map.json`, `${JSON.stringify(orderFormMap, null, 2)}\n`);
  console.log(`wrote ${form} and its map`);
}
