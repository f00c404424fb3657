import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { revisionA, revisionB, sledge } from '../../demo/sledge.ts';
import { sledgeStep } from '../../demo/writeDemo.ts';
import { volume } from '../../demo/solids.ts';
import type { Product } from '../../demo/product.ts';
import { readFileSync } from 'node:fs';
import { isAssembly, structureTotals } from '../../core/src/assembly/index.ts';
import { meshColour, meshVolume } from '../../core/src/geometry/index.ts';
import { textMark, type Scene } from '../../core/src/marks/index.ts';
import { readStep, type StepContent } from '../../core/src/step/index.ts';
import { unpackMesh } from '../../core/src/formats/index.ts';
import { makeMeshes, makeView, memoryStore, meshKey, sceneToPdf, shownOccurrences, startPool, type Pool } from './index.ts';

const demo = readFileSync('demo/files/hauling-sledge-A.step');
let pool: Pool;
beforeAll(() => {
  pool = startPool(process.env.SLEDGEBOARD_WORKER!);
});
afterAll(() => pool.close());

/** Every part of the generator, once. */
function partsOf(product: Product, known = new Map<string, Product>()): Map<string, Product> {
  if (product.solids) known.set(product.number, product);
  for (const { product: inner } of product.contents ?? []) partsOf(inner, known);
  return known;
}

describe('the demo sledge', () => {
  test('the committed files are what the generator writes', () => {
    for (const options of [revisionA, revisionB]) expect(readFileSync(`demo/files/hauling-sledge-${options.revision}.step`, 'utf8')).toBe(sledgeStep(options));
  });
  test('is rich enough: parts, pieces, levels, shared fasteners, mirrored pairs, tubes, a bought assembly', () => {
    const { assembly } = readStep(demo);
    const totals = structureTotals(assembly);
    expect(totals.parts).toBeGreaterThanOrEqual(45);
    expect(totals.leafOccurrences).toBeGreaterThanOrEqual(250);
    expect(Math.max(...shownOccurrences({ ...assembly, components: assembly.components.map((component) => ({ ...component, shape: 'x' as never })) }).map(({ path }) => path.length))).toBeGreaterThanOrEqual(4);
    expect(assembly.components.filter(({ partNumber }) => partNumber.endsWith('-L')).length).toBeGreaterThanOrEqual(5);
    expect(new Set(assembly.components.filter(({ description }) => description.startsWith('TUBE')).map(({ properties }) => properties.Length.value)).size).toBeGreaterThanOrEqual(5);
    expect(assembly.components.filter((component) => isAssembly(component) && component.source === 'bought').map(({ partNumber }) => partNumber)).toEqual(['WN-350']);
    expect(assembly.findings).toEqual([]);
  });
  test('every shape comes out with the volume and the colour that the generator means', async () => {
    const content = await pool.read(demo);
    const store = memoryStore();
    expect(await makeMeshes(content.slices, content.assembly, { pool, store })).toEqual([]);
    const wanted = partsOf(sledge(revisionA));
    for (const { partNumber, shape } of content.assembly.components.filter((component) => component.shape)) {
      const mesh = unpackMesh((await store.get(meshKey(shape!)))!);
      const exact = wanted.get(partNumber)!.solids!.reduce((sum, solid) => sum + volume(solid), 0);
      expect([partNumber, Math.abs(meshVolume(mesh) / exact - 1) < 0.012], partNumber).toEqual([partNumber, true]);
      const [r, g, b] = wanted.get(partNumber)!.colour!.map((channel) => Math.round(channel * 255));
      const colour = meshColour(mesh)!;
      for (const [got, meant] of [[colour >> 16, r], [(colour >> 8) & 255, g], [colour & 255, b]]) expect(Math.abs(got - meant)).toBeLessThanOrEqual(1);
    }
  });
});

describe('meshes and views', () => {
  test('a shape that cannot be made is a finding that names its parts; the others are there', async () => {
    const good = readStep(demo);
    const [first, second] = good.slices;
    const broken: StepContent = { ...good, slices: [{ ...first, text: first.text.replace(/CLOSED_SHELL\('',\([^)]*\)\)/g, "CLOSED_SHELL('',())") }, second] };
    const store = memoryStore();
    const findings = await makeMeshes(broken.slices, good.assembly, { pool, store });
    expect(findings).toEqual([{ code: 'shape-failed', message: expect.stringMatching(/^The shape of “[^”]+” could not be made .*counted in the bill but not drawn\.$/) as string }]);
    expect(await store.get(meshKey(second.key))).not.toBeNull();
  });
  test('a cancelled run stops with its reason', async () => {
    const { slices, assembly } = readStep(demo);
    const controller = new AbortController();
    const run = makeMeshes(slices, assembly, { pool, store: memoryStore(), signal: controller.signal });
    controller.abort(new Error('cancelled'));
    await expect(run).rejects.toThrow('cancelled');
  });
  test('a view asked for twice is computed once', async () => {
    const { slices, assembly } = readStep(demo);
    const store = memoryStore();
    await makeMeshes(slices, assembly, { pool, store });
    const first = await makeView(assembly, 'right', { pool, store });
    let asked = 0;
    const counting: Pool = { ...pool, view: (...args) => (asked++, pool.view(...args)) };
    expect(await makeView(assembly, 'right', { pool: counting, store })).toEqual(first);
    expect(asked).toBe(0);
  });
  test('a refusal crosses the thread as a refusal', async () => {
    await expect(pool.read(new Uint8Array(0))).rejects.toMatchObject({ name: 'Refusal', code: 'empty-file' });
  });
});

test('PDF: exact paper size, text that can be searched in every script shipped, fonts embedded', async () => {
  const source = { kind: 'note', id: '1' } as const;
  const scene: Scene = { widthMm: 420, heightMm: 297, title: 'Test', marks: [textMark(source, 'Deckslatte 18 × 84', 30, 30, 3.5), textMark(source, 'Ледобур', 30, 40, 3.5), { kind: 'circle', source, centre: [100, 100], radius: 6, pen: 0.25, opaque: true }] };
  const folder = mkdtempSync(join(tmpdir(), 'sledge-pdf-'));
  writeFileSync(join(folder, 'sheet.pdf'), await sceneToPdf(scene));
  const text = execFileSync('pdftotext', [join(folder, 'sheet.pdf'), '-'], { encoding: 'utf8' });
  const info = execFileSync('pdfinfo', [join(folder, 'sheet.pdf')], { encoding: 'utf8' });
  const fonts = execFileSync('pdffonts', [join(folder, 'sheet.pdf')], { encoding: 'utf8' }).trim().split('\n').slice(2);
  rmSync(folder, { recursive: true });
  expect(text).toContain('Deckslatte 18 × 84');
  expect(text).toContain('Ледобур');
  expect(info).toMatch(/Page size:\s+1190\.55 x 841\.89 pts \(A3\)/);
  expect(fonts.map((line) => line.split(/\s+/).slice(-5, -4))).toEqual(fonts.map(() => ['yes']));
});
