import { mkdirSync, writeFileSync } from 'node:fs';
import { ProductWriter, type Product } from './product.ts';
import { revisionA, revisionB, sledge, type SledgeOptions } from './sledge.ts';
import { workshopCatalogueCsv } from './workshopCatalogue.ts';
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

/** Writes both revisions and the workshop's catalogue into a folder. */
export function writeDemoFiles(folder: string): void {
  mkdirSync(folder, { recursive: true });
  for (const options of [revisionA, revisionB]) {
    const path = `${folder}/hauling-sledge-${options.revision}.step`;
    writeFileSync(path, sledgeStep(options));
    console.log(`wrote ${path}`);
  }
  const catalogue = `${folder}/camp-workshop.csv`;
  writeFileSync(catalogue, workshopCatalogueCsv());
  console.log(`wrote ${catalogue}`);
}
