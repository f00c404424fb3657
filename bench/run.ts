// npm run bench: how the parts that must be fast stand against a bound or a library, as ratios within one run. Absolute
// times mean nothing on shared machines, so none are printed.
import { catalogueIndex, keyText, newCatalogue } from '../core/src/catalogues/index.ts';
import { readFileSync } from 'node:fs';
import loadKernel from 'occt-import-js';
import { munkres } from 'munkres';
import { arrangeRing, firstRow, type RingRequest } from '../core/src/balloons/index.ts';
import type { PathKey } from '../core/src/assembly/index.ts';
import { composePlacements, type Mesh } from '../core/src/geometry/index.ts';
import { makeBill, noDecisions, type Recipe } from '../core/src/bill/index.ts';
import { defaultColumns, readyForFormulas } from '../core/src/columns/index.ts';
import { SaxesParser } from 'saxes';
import { readLayout } from '../core/src/layouts/index.ts';
import { fillForm } from '../core/src/forms/index.ts';
import { changesBetween, recognise, withProjectKeys } from '../core/src/revisions/index.ts';
import { meshSlice, readStep } from '../core/src/step/index.ts';
import { kernelMesh } from '../engine/src/shapes/tessellate.ts';
import { drawLook, drawView, linesForPen, viewPlacement, type Body } from '../core/src/views/index.ts';
import { cutting } from './cutting.ts';
import { doors } from './doors.ts';
import { sharing } from './sharing.ts';
import { start } from './start.ts';
import { assemblyOf, leaf, node } from '../testkit/assemblies.ts';
import { bigStep } from '../testkit/bigStep.ts';
import { plateList, workshopForm, workshopMap } from '../testkit/forms.ts';
import { at, boxMesh, cylinderMesh } from '../testkit/shapes.ts';

/** Shortest of several runs, in ms: the one least disturbed by others on the machine. */
function shortest(work: () => unknown, runs = 5): number {
  let best = Infinity;
  for (let run = 0; run < runs; run++) {
    const start = performance.now();
    work();
    best = Math.min(best, performance.now() - start);
  }
  return best;
}
const ratio = (value: number) => value.toFixed(2).padStart(7);

/** JSON of about as many bytes: records with the kind of content that entities have. */
function comparableJson(bytes: number): string {
  const records: unknown[] = [];
  let size = 0;
  for (let id = 1; size < bytes; id++) {
    const record = { id, type: 'CARTESIAN_POINT', args: ['', [id * 0.37, -id * 1.21, 4.5]], refs: [id + 1, id + 2] };
    records.push(record);
    size += JSON.stringify(record).length + 1;
  }
  return JSON.stringify(records);
}

/** A revision of a large machine is recognised in no more than reading its structure takes. */
function recognising(): void {
  const file = bigStep({ assemblies: 1000, fan: 100, parts: 4000 });
  const { assembly } = readStep(file, { shapes: true });
  // Every tenth part renamed, and a tenth of the places moved: what a day of work does at most.
  const components = assembly.components.map((component, index) => ({
    ...component,
    name: index % 10 === 3 ? `${component.name} new` : component.name,
    usages: component.usages.map((usage, at) =>
      at % 10 === 3
        ? { ...usage, placement: usage.placement.map((value, entry) => value + (entry === 3 ? 7 : 0)) }
        : usage,
    ),
  }));
  const best = { read: Infinity, recognise: Infinity };
  for (let run = 0; run < 4; run++) {
    best.read = Math.min(
      best.read,
      shortest(() => readStep(file, { shapes: false }), 1),
    );
    best.recognise = Math.min(
      best.recognise,
      shortest(() => {
        const pair = { before: assembly, after: { ...assembly, components }, prints: new Map() };
        changesBetween(assembly, withProjectKeys(pair, recognise(pair)));
      }, 1),
    );
  }
  console.log('\nA revision of 5,000 components and 100,000 usages recognised, and what changed in it');
  console.log(`  against reading its structure: ${ratio(best.recognise / best.read)}   (bound 1)`);
}

async function reading(): Promise<void> {
  const one = readFileSync('demo/files/hauling-sledge-A.step');
  const json = comparableJson(one.length);
  const parse = shortest(() => JSON.parse(json), 9);
  console.log('STEP structure of the demo (0.7 MB) against JSON.parse of equal bytes (1.00 is as fast)');
  console.log(
    `  structure, properties:             ${ratio(shortest(() => readStep(one, { shapes: false }), 9) / parse)}`,
  );
  console.log(`  with placements and shape slices:  ${ratio(shortest(() => readStep(one), 5) / parse)}`);
  const kernel = await loadKernel({ print: () => {}, printErr: () => {} });
  const whole = shortest(() => kernel.ReadStepFile(one, null), 1);
  console.log(
    `  structure against the whole read by the geometry kernel's own reader: 1 to ${(whole / shortest(() => readStep(one, { shapes: false }), 3)).toFixed(0)}`,
  );
}

/** Shapes of the demo as meshes: ours against the geometry kernel's, both warm and both from nothing. */
async function tessellating(): Promise<void> {
  const { slices } = readStep(readFileSync('demo/files/hauling-sledge-A.step'));
  const time = async (make: (slice: (typeof slices)[number], deflection: number) => unknown): Promise<number> => {
    const start = performance.now();
    for (const slice of slices) await make(slice, Math.max(0.005, slice.diagonalMm / 2000));
    return performance.now() - start;
  };
  const ours = () => time(({ text }, deflection) => meshSlice(text, { deflection, angle: 0.1 })),
    kernels = () => time(({ text }, deflection) => kernelMesh(text, deflection));
  const cold = (await ours()) / (await kernels());
  const warm = Math.min(await ours(), await ours()) / Math.min(await kernels(), await kernels());
  console.log(`\nThe ${slices.length} shapes of the demo as meshes, against the geometry kernel`);
  console.log(`  from nothing: ${ratio(cold)}   warm: ${ratio(warm)}   (bound 0.5)`);
}

/**
 * The bound set for large files: 0.35 of what V8 takes to parse as many bytes of JSON. Runs take turns, so that both
 * meet the same machine.
 */
function largeFile(): void {
  const file = bigStep({ assemblies: 2000, fan: 120, parts: 4000 });
  const json = comparableJson(file.length / 2); // half, counted twice: a string of all of it would be larger than V8 allows for
  const best = { json: Infinity, read: Infinity };
  const before = process.memoryUsage().rss;
  let most = 0;
  for (let run = 0; run < 4; run++) {
    best.read = Math.min(
      best.read,
      shortest(() => {
        readStep(file, { shapes: false });
        most = Math.max(most, process.memoryUsage().rss);
      }, 1),
    );
    best.json = Math.min(best.json, 2 * shortest(() => JSON.parse(json), 1));
  }
  console.log(
    `\nSTEP structure of ${(file.length / 1e6).toFixed(0)} MB, 240,000 usages, 1.7 million entities, against JSON.parse of equal bytes`,
  );
  console.log(`  structure: ${ratio(best.read / best.json)}   (bound 0.35)`);
  console.log(
    `  memory while reading beside the file itself: ${((most - before) / file.length).toFixed(1)} × its size (the bound of 3 × counts the file)`,
  );
  const { assembly } = readStep(file, { shapes: false });
  const scan = best.read;
  console.log(
    `  bill of every part once from it, as a share of reading: ${ratio(shortest(() => makeBill(assembly, { depth: 'parts-only', identity: 'part-number' }), 3) / scan)}`,
  );
  const shared = readStep(bigStep({ assemblies: 400, fan: 250, parts: 1000 }), { shapes: false }).assembly;
  const small = readStep(bigStep({ assemblies: 40, fan: 250, parts: 1000 }), { shapes: false }).assembly;
  const bill = (of: typeof shared) => shortest(() => makeBill(of, { depth: 'parts-only', identity: 'part-number' }), 5);
  console.log(
    `  100,000 usages against 10,000: ${(bill(shared) / bill(small)).toFixed(1)} times the work for the bill (10 is linear)`,
  );
}

/**
 * Rows of a machine of 100,000 pieces and 5,000 different parts, beside a plain walk over all its places that only
 * counts them by part number.
 */
function rows(): void {
  const machine = assemblyOf(
    node(
      'TOP',
      ...Array.from(
        { length: 100 },
        (_, a) =>
          [
            10,
            node(`AS-${a}`, ...Array.from({ length: 50 }, (_, p) => [2, leaf(`PT-${a * 50 + p}`)] as const)),
          ] as const,
      ),
    ),
  );
  const walk = () => {
    const counts = new Map<string, number>();
    const visit = (at: number): void => {
      const { usages, partNumber } = machine.components[at];
      if (usages.length === 0) counts.set(partNumber, (counts.get(partNumber) ?? 0) + 1);
      for (const { child, quantity } of usages) for (let piece = 0; piece < quantity; piece++) visit(child);
    };
    visit(machine.root);
    return counts;
  };
  if ([...walk().values()].reduce((sum, count) => sum + count, 0) !== 100_000)
    throw new Error('The machine has not 100,000 pieces.');
  const bound = shortest(walk, 9);
  console.log('\nRows of 100,000 pieces, 5,000 different parts, against a plain walk over all places');
  for (const depth of ['parts-only', 'structured', 'single-level'] as const)
    console.log(
      `  ${depth.padEnd(20)}  ${ratio(shortest(() => makeBill(machine, { depth, identity: 'part-number' }), 9) / bound)}`,
    );
}

/**
 * A list of many lines: each choice of the sentence, beside what V8 takes to write its rows as JSON; and how work
 * grows.
 */
async function lists(): Promise<void> {
  await readyForFormulas();
  const machine = (assemblies: number) =>
    assemblyOf(
      node(
        'TOP',
        ...Array.from(
          { length: assemblies },
          (_, a) =>
            [
              1,
              node(
                `AS-${a}`,
                ...Array.from(
                  { length: 100 },
                  (_, p) =>
                    [
                      1 + (p % 4),
                      leaf(`PT-${a * 100 + p}`, {
                        name: `Part ${(a * 7919 + p * 31) % 10007}`,
                        material: ['Ash', 'Steel'][p % 2],
                        properties: { Mass: { value: p, unit: 'g' } },
                      }),
                    ] as const,
                ),
              ),
            ] as const,
        ),
      ),
    );
  const base: Recipe = { depth: 'parts-only', identity: 'part-number' };
  const columns = [
    ...defaultColumns(machine(1)),
    { id: 'f', source: 'formula' as const, heading: 'All', expression: '{quantity} × {massEach}' },
  ];
  const [large, small] = [machine(100), machine(10)];
  const json = JSON.stringify(makeBill(large, base).rows);
  const bound = shortest(() => JSON.stringify(JSON.parse(json)), 5);
  const bill = (of: typeof large, recipe: Recipe) => shortest(() => makeBill(of, recipe, noDecisions, { columns }), 5);
  console.log('\nA list of 10,000 lines, against reading and writing its rows as JSON');
  console.log(`  every part once:      ${ratio(bill(large, base) / bound)}`);
  console.log(`  indented:             ${ratio(bill(large, { ...base, depth: 'structured' }) / bound)}`);
  console.log(`  sorted by name:       ${ratio(bill(large, { ...base, sort: [{ source: 'name' }] }) / bound)}`);
  console.log(
    `  grouped and filtered: ${ratio(bill(large, { ...base, groups: [{ source: 'property:Material' }], filter: { holds: 'all', of: [{ source: 'massEach', comparison: 'is more than', operand: '10 g' }] } }) / bound)}`,
  );
  const made = makeBill(large, base, noDecisions, { columns });
  console.log(
    `  a formula in all of them: ${ratio(shortest(() => made.rows.forEach((row) => made.cell(row, columns.at(-1)!)), 3) / bound)}`,
  );
  console.log(
    `  10,000 lines against 1,000: ${(bill(large, base) / bill(small, base)).toFixed(1)} times the work (10 is linear)`,
  );
}

/** What any view has to do at least: every corner of every triangle into view coordinates, and looked at once. */
function plainPass(bodies: readonly Body[]): number {
  const view = viewPlacement('isometric');
  let nearest = -Infinity;
  for (const { mesh, placement } of bodies) {
    const m = composePlacements(view, placement);
    const { positions: p, triangles: t } = mesh;
    for (let at = 0; at < t.length; at++) {
      const from = t[at] * 3;
      const z = m[8] * p[from] + m[9] * p[from + 1] + m[10] * p[from + 2] + m[11];
      if (z > nearest) nearest = z;
    }
  }
  return nearest;
}

/** Pins in plates, side by side: most of each pin is hidden, as in machines. */
const standing = (count: number, pin: Mesh, board: Mesh): Body[] =>
  Array.from({ length: count }, (_, index) => {
    const side = Math.ceil(Math.sqrt(count / 2));
    const place = Math.floor(index / 2);
    const [x, y] = [(place % side) * 30, Math.floor(place / side) * 30];
    return {
      mesh: index % 2 ? pin : board,
      path: String(index) as PathKey,
      placement: index % 2 ? at(x, y, 0) : at(x - 14, y - 14, 10),
    };
  });

function views(): void {
  console.log('\nHidden lines: work per thousand triangles as the model doubles (1.00 is linear growth)');
  const mesh = cylinderMesh(8, 30, 64),
    pin = cylinderMesh(8, 30, 128);
  const plate = boxMesh(28, 28, 10);
  let before = 0;
  for (let count = 64; count <= 1024; count *= 2) {
    const side = Math.ceil(Math.sqrt(count));
    const bodies: Body[] = Array.from({ length: count }, (_, index) => ({
      mesh,
      path: String(index) as PathKey,
      placement: at((index % side) * 20, Math.floor(index / side) * 20, (index * 7) % 40),
    }));
    const triangles = (count * mesh.triangles.length) / 3;
    const perThousand = shortest(() => drawView(bodies, viewPlacement('isometric')), 3) / (triangles / 1000);
    const plain = shortest(() => plainPass(bodies), 3) / (triangles / 1000);
    console.log(
      `  ${String(triangles).padStart(7)} triangles: ${before ? ratio(perThousand / before) : '      –'}; against a plain pass that carries and compares every corner once: ${(perThousand / plain).toFixed(1)}`,
    );
    before = perThousand;
  }
  console.log('\nLines that can be seen and spots of a machine of pins and plates, to a million triangles');
  let less = 0;
  for (const count of [250, 500, 1000, 2000, 4000]) {
    const bodies = standing(count, pin, plate);
    const triangles = bodies.reduce((sum, body) => sum + body.mesh.triangles.length / 3, 0);
    const rss = process.memoryUsage().rss;
    const work = shortest(() => drawLook(bodies, viewPlacement('isometric')), count < 2000 ? 3 : 1);
    console.log(
      `  ${String(triangles).padStart(7)} triangles: ${less ? ratio(work / triangles / less) : '      –'} per triangle of the step before (1.05 is n·log n); memory grew by ${Math.max(0, Math.round((process.memoryUsage().rss - rss) / 1e6))} MB`,
    );
    less = work / triangles;
  }
  const fresh = () => {
    return standing(500, pin, plate).map((body, index) => ({
      ...body,
      mesh: index % 2 ? body.mesh : structuredClone(body.mesh),
    }));
  };
  const kept = fresh();
  const first = Math.min(
    ...[fresh(), fresh(), fresh()].map((bodies) => shortest(() => drawLook(bodies, viewPlacement('isometric')), 1)),
  );
  const moved = kept.map((body, index) =>
    index < 5 ? { ...body, placement: composePlacements(at(0, 0, 400), body.placement) } : body,
  );
  drawLook(kept, viewPlacement('isometric'));
  console.log(
    `  a view in which 5 of 500 things moved, against the first view of the machine (every other shape of its own): ${ratio(shortest(() => drawLook(moved, viewPlacement('isometric')), 3) / first)}`,
  );
  console.log('\nLines that can be seen and spots, as sheets ask for them, against all lines cut by every triangle');
  const packed: Body[] = Array.from({ length: 1000 }, (_, index) => ({
    mesh,
    path: String(index) as PathKey,
    placement: at((index % 10) * 15, (Math.floor(index / 10) % 10) * 15, Math.floor(index / 100) * 25),
  }));
  const whole = shortest(() => drawView(packed, viewPlacement('isometric')), 3);
  console.log(
    `  1,000 pins packed in a block: ${ratio(shortest(() => drawLook(packed, viewPlacement('isometric')), 3) / whole)}`,
  );
  console.log('\nA view that is cut open in its middle, with what of it is hatched, against the same view whole');
  for (const count of [1024, 4096]) {
    const bodies = standing(count, pin, plate);
    const { box } = drawLook(bodies, viewPlacement('top')).lines;
    const cut = { cuts: [[{ normal: [0, 1, 0], offset: (box[1] + box[3]) / 2 }]], lengthwise: true } as const;
    const plain = shortest(() => drawLook(bodies, viewPlacement('front')), 3);
    console.log(
      `  ${count} things, ${bodies.reduce((sum, one) => sum + one.mesh.triangles.length / 3, 0)} triangles: ${ratio(shortest(() => drawLook(bodies, viewPlacement('front'), { cut }), 3) / plain)}`,
    );
  }
  console.log('\nLines thinned for the pen of a sheet on which they clot, against drawing the view');
  for (const count of [250, 1000]) {
    const bodies = standing(count, pin, plate);
    const drawing = shortest(() => drawLook(bodies, viewPlacement('isometric')), 3);
    const { lines } = drawLook(bodies, viewPlacement('isometric'));
    console.log(`  ${count} things: ${ratio(shortest(() => linesForPen({ ...lines }, 1.5), 5) / drawing)}`);
  }
}

/** A view that grows with what it shows, its balloons wanted at places that are spread evenly but not regularly. */
function crowd(count: number, seed: number): RingRequest {
  const size = count * 14;
  const share = (at: number, of: number) => ((seed * 0.3819660113 + at * of) % 1) * 0.9 + 0.05;
  return {
    items: Array.from({ length: count }, (_, at) => ({
      choices: [
        {
          point: [200 + size * share(at, 0.754877666), 200 + size * share(at, 0.569840291)],
          end: 'dot' as const,
          room: 2,
          spot: at,
        },
      ],
    })),
    hull: [
      [200, 200],
      [200 + size, 200],
      [200 + size, 200 + size],
      [200, 200 + size],
    ],
    standing: [],
    obstacles: [],
    frame: [0, 0, size + 400, size + 400],
    radius: 6,
    distance: 22,
  };
}

function balloons(): void {
  console.log('\nBalloon arrangement as balloons double (the assignment alone grows up to 8-fold)');
  let before = 0;
  for (let count = 25; count <= 400; count *= 2) {
    const time = shortest(() => arrangeRing(crowd(count, 0)), 2);
    console.log(
      `  ${String(count).padStart(4)} balloons: ${before ? `${ratio(time / before)} times the work` : '      –'}`,
    );
    before = time;
  }
  console.log('Total leader length against the shortest assignment to the places of the first row, 21 views');
  for (const count of [20, 40, 60]) {
    const lengths = Array.from({ length: 21 }, (_, seed) => {
      const request = crowd(count, seed + 1);
      const points = request.items.map(({ choices }) => choices[0].point);
      const placed = arrangeRing(request);
      const slots = firstRow(request);
      const costs = points.map(([x, y]) => slots.map((slot) => Math.hypot(slot[0] - x, slot[1] - y)));
      const shortestOf = munkres(costs).reduce((sum, [row, column]) => sum + costs[row][column], 0);
      const own = placed.reduce(
        (sum, one, at) => sum + Math.hypot(one!.centre[0] - points[at][0], one!.centre[1] - points[at][1]),
        0,
      );
      return own / shortestOf;
    }).sort((a, b) => a - b);
    console.log(`  ${count} balloons: median ${lengths[10].toFixed(3)}, most ${lengths[20].toFixed(3)}`);
  }
}

/** 10,000 parts looked up in a catalogue of 50,000 items. */
function catalogues(): void {
  const items = Array.from({ length: 50_000 }, (_, at) => ({
    id: `i${at}`,
    values: { number: { value: `P-${at * 7}` }, price: { value: at / 100, unit: 'EUR' } },
  }));
  const wanted = Array.from({ length: 10_000 }, (_, at) => `P-${at * 31}`);
  const plain = shortest(() => {
    const map = new Map<string, number>();
    for (let at = 0; at < items.length; at++) map.set(items[at].values.number.value, at);
    return map;
  });
  const look = (keys: readonly string[]) =>
    shortest(() => {
      // Another list of items each time: nothing is known from the time before.
      const { find } = catalogueIndex({ ...newCatalogue, items: [...items] });
      let found = 0;
      for (const key of keys) if (find(keyText([key])!).how === 'found') found++;
      return found;
    });
  console.log('\n10,000 parts looked up among 50,000 items, against building a plain Map of the keys (bound 2)');
  console.log(`  all of them there:                   ${ratio(look(wanted.map((_, at) => `P-${at * 7}`)) / plain)}`);
  console.log(`  most of them not: loosely too        ${ratio(look(wanted) / plain)}`);
}

/** A list of 10,000 lines filled into a company's form, against another library writing the same cells on a blank sheet. */
async function forms(): Promise<void> {
  const form = await workshopForm();
  const list = plateList(10_000);
  const { default: excel } = await import('exceljs');
  const best = { ours: Infinity, bare: Infinity };
  for (let run = 0; run < 3; run++) {
    let start = performance.now();
    fillForm(form, workshopMap, list, new Map()).write();
    best.ours = Math.min(best.ours, performance.now() - start);
    start = performance.now();
    const book = new excel.Workbook();
    const sheet = book.addWorksheet('Parts');
    list.lines.forEach(({ cells }, at) =>
      sheet.addRow([...cells.map((cell) => cell?.value ?? null), { formula: `D${at + 1}*E${at + 1}` }]),
    );
    await book.xlsx.writeBuffer();
    best.bare = Math.min(best.bare, performance.now() - start);
  }
  console.log('\nA form filled with 10,000 lines, against exceljs writing the same cells on a blank sheet (bound 1.5)');
  console.log(`  rows put in, a formula in each       ${ratio(best.ours / best.bare)}`);
}

/** A layout with 100,000 uses counted, against what the XML library takes to pass over the same file. */
function layouts(): void {
  const symbols = Array.from({ length: 40 }, (_, at) => `<symbol id="s${at}"><circle r="${at + 1}"/></symbol>`);
  const uses = Array.from(
    { length: 100_000 },
    (_, at) =>
      `<use href="#s${at % 40}" x="${(at * 37) % 5000}" y="${(at * 91) % 3000}" data-colour="${['red', 'black'][at % 2]}"/>`,
  );
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 5000 3000">${symbols.join('')}${uses.join('\n')}</svg>`;
  const bytes = new TextEncoder().encode(svg);
  const passed = shortest(() => {
    const parser = new SaxesParser();
    let elements = 0;
    parser.on('opentag', () => elements++);
    parser.write(new TextDecoder().decode(bytes)).close();
    return elements;
  });
  const kept = shortest(() => {
    const all: unknown[] = [];
    const parser = new SaxesParser();
    parser.on('opentag', ({ name, attributes }) => all.push({ name, attributes }));
    parser.write(new TextDecoder().decode(bytes)).close();
    return all;
  });
  const recipe: Recipe = { depth: 'parts-only', identity: 'part-number' };
  const counted = shortest(() => makeBill(readLayout(bytes, { shapes: false }).assembly, recipe, noDecisions));
  console.log('\nA layout of 100,000 uses counted, against the XML library on the same file (bound 1.5)');
  console.log(`  passing over its elements            ${ratio(counted / passed)}`);
  console.log(`  keeping them with their attributes   ${ratio(counted / kept)}`);
}

await reading();
await tessellating();
largeFile();
recognising();
rows();
await lists();
views();
catalogues();
await forms();
layouts();
await cutting();
doors(shortest);
await sharing(process.argv[2]);
start();

balloons();
