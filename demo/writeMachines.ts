import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { machines } from './machines.ts';
import { productStep } from './writeDemo.ts';

// Machines unlike the demo, for looking at: node scripts/run.mjs demo/writeMachines.ts FOLDER
const folder = process.argv[2] ?? 'data/machines';
mkdirSync(folder, { recursive: true });
for (const [name, make] of Object.entries(machines)) {
  const path = join(folder, `${name}.step`);
  writeFileSync(path, productStep(make(), `${name}.step`));
  console.log(`wrote ${path}`);
}
