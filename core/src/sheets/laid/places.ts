import { componentsAlong, type Assembly, type UsageKey, type ComponentIndex } from '../../assembly/index.ts';
import { checkCoverage, type Coverage } from '../../balloons/index.ts';
import { openBill, type Address, type Bill, type BillDecisions, type BillExtras } from '../../bill/index.ts';
import type { Vec2 } from '../../geometry/index.ts';
import { zoneOf } from '../paper/paper.ts';
import type { Sheet } from '../records.ts';
import type { SheetInputs } from '../sheetInputs.ts';

/** The row that a balloon on this path belongs to; −1 where its part is gone or has no line. */
export function rowOfPath(bill: Bill, assembly: Assembly, path: readonly UsageKey[]): number {
  const components = componentsAlong(assembly, path);
  return components ? bill.rowOf(components) : -1;
}

/** First address of every line of a component, or of what it holds; of opened subassemblies none. */
export function listedWithin(
  { bill, assembly }: Pick<SheetInputs, 'bill' | 'assembly'>,
  component: ComponentIndex,
): Address[] {
  const held = new Set([component]);
  for (const index of held) for (const { child } of assembly.components[index].usages) held.add(child);
  return bill.rows.flatMap(({ components, opened, addresses }) =>
    !opened && components.some((index) => held.has(index)) ? [addresses[0]] : [],
  );
}

/** Which lines are ballooned on any of these sheets. */
export function coverageOn(bill: Bill, assembly: Assembly, sheets: readonly Sheet[]): Coverage {
  const rows = sheets.flatMap(({ balloons }, at) =>
    // A copied sheet has the ids of its original.
    balloons.map(({ id, path }): [string, number] => [`${at} ${id}`, rowOfPath(bill, assembly, path)]),
  );
  const also = sheets.flatMap(({ balloons }, at) => balloons.flatMap((one) => (one.also ? [`${at} ${one.id}`] : [])));
  return checkCoverage(bill.rows, new Map(rows), new Set(), new Set(also));
}

/** The bill, now also knowing for every line the sheets and zones where it is ballooned. */
export function withPlaces(
  bill: Bill,
  assembly: Assembly,
  decisions: BillDecisions,
  extras: BillExtras,
  sheets: readonly Sheet[],
): Bill {
  const found = new Map<string, { sheets: Set<string>; zones: Set<string> }>();
  sheets.forEach((sheet, index) => {
    for (const { path, view: id, offset } of sheet.balloons) {
      const view = sheet.views.find((one) => one.id === id);
      const components = view && componentsAlong(assembly, path);
      const row = components ? bill.rowOf(components) : -1;
      if (!view || row < 0) continue;
      const { key } = bill.rows[row];
      let places = found.get(key);
      if (!places) found.set(key, (places = { sheets: new Set(), zones: new Set() }));
      const centre: Vec2 = [view.centre[0] + offset[0], view.centre[1] + offset[1]];
      places.sheets.add(String(index + 1));
      places.zones.add(zoneOf(sheet.paper, centre));
    }
  });
  const places = new Map(
    [...found].map(([key, one]) => [key, { sheet: [...one.sheets].join(', '), zone: [...one.zones].join(', ') }]),
  );
  return openBill(assembly, bill, decisions, { ...extras, places });
}
