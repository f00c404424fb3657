import { listOccurrences, pathKey, type Assembly, type ShapeKey } from '../core/src/assembly/index.ts';
import { makeBill } from '../core/src/bill/index.ts';
import { defaultColumns } from '../core/src/columns/index.ts';
import {
  blankSheet,
  drawSheet,
  noTitleFields,
  planBalloons,
  planSheet,
  usualPaper,
  withViews,
  type SheetInputs,
} from '../core/src/sheets/index.ts';
import { drawView, findSpots, viewPlacement, type Body } from '../core/src/views/index.ts';
import { assemblyOf, leaf, node } from './assemblies.ts';
import { at, boxMesh } from './shapes.ts';

/** Blocks in a row, each a part of its own number, with boxes as shapes. */
export function blocks(count: number): { assembly: Assembly; bodies: Body[] } {
  const plan = node(
    'TOP',
    ...Array.from(
      { length: count },
      (_, index) =>
        [1, leaf(`N${index + 1}`, { name: `Block ${index + 1}`, material: 'Ash' })] as [
          number,
          ReturnType<typeof leaf>,
        ],
    ),
  );
  const bare = assemblyOf(plan);
  const mesh = boxMesh(40, 30, 20);
  let place = 0;
  const assembly: Assembly = {
    ...bare,
    components: bare.components.map((component) => ({
      ...component,
      shape: component.usages.length ? null : (`shape` as ShapeKey),
      usages: component.usages.map((usage) => ({
        ...usage,
        placement: at(60 * (place % 6), 50 * Math.floor(place++ / 6), 0),
      })),
    })),
  };
  const bodies = listOccurrences(assembly, (index) => assembly.components[index].shape !== null).map(
    ({ placement, path }) => ({ mesh, placement, path: pathKey(path) }),
  );
  return { assembly, bodies };
}

/** Of these a drawing with its list and balloons, and what it is made from. */
export function drawing(count: number, paper: 'A4' | 'A3' | 'A2' = 'A3') {
  const { assembly, bodies } = blocks(count);
  const bill = makeBill(assembly, { depth: 'parts-only', identity: 'part-number' });
  const columns = defaultColumns(assembly);
  let id = 0;
  const newId = () => `id${++id}`;
  const view = viewPlacement('isometric');
  const lines = drawView(bodies, view);
  const shared = { ...noTitleFields, title: 'Blocks', drawingNumber: 'D-1', revision: 'A' };
  const blank = withViews(blankSheet('Blocks', usualPaper(paper)), [{ direction: 'isometric' }], newId);
  const given: SheetInputs = {
    sheet: blank,
    shared,
    assembly,
    bill,
    columns,
    lines: new Map([[blank.views[0].id, lines]]),
  };
  const planned = planSheet(given);
  const inputs = { ...given, sheet: planned };
  const spots = new Map([[planned.views[0].id, findSpots(bodies, view, lines)]]);
  const plan = planBalloons(inputs, spots, newId);
  const sheet = { ...planned, balloons: plan.balloons };
  return { sheet, spots, newId, inputs: { ...inputs, sheet }, plan, drawn: drawSheet({ ...inputs, sheet }) };
}
