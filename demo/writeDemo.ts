import { mkdirSync, writeFileSync } from 'node:fs';
import { ProductWriter } from './product.ts';
import { revisionA, revisionB, sledge, type SledgeOptions } from './sledge.ts';
import { StepWriter } from './stepWriter.ts';

/** The STEP text of one revision of the sledge; the same at every call. */
export function sledgeStep(options: SledgeOptions): string {
  const step = new StepWriter();
  const writer = new ProductWriter(step);
  writer.write(sledge(options));
  writer.finish();
  return step.finish(
    `hauling-sledge-${options.revision}.step`,
    options.revision === 'A' ? '2026-03-02T09:00:00' : '2026-05-18T14:30:00',
  );
}

/** Writes both revisions into a folder. */
export function writeDemoFiles(folder: string): void {
  mkdirSync(folder, { recursive: true });
  for (const options of [revisionA, revisionB]) {
    const path = `${folder}/hauling-sledge-${options.revision}.step`;
    writeFileSync(path, sledgeStep(options));
    console.log(`wrote ${path}`);
  }
}
