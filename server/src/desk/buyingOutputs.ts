import type { buyingFormats } from '../../../contract/src/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import {
  buyingOf,
  drawCutList,
  orderBill,
  type Buying,
  type BuyingPlan,
  type IssuedOrder,
  type OrderLine,
} from '../../../core/src/buying/index.ts';
import type { CutPlan } from '../../../core/src/cutting/index.ts';
import { buildsOf, needOf } from '../../../core/src/documents/index.ts';
import { buyingJson, orderCsv, orderTable } from '../../../core/src/formats/index.ts';
import { fillForm, formFields, formList, type FilledForm, type FormMap } from '../../../core/src/forms/index.ts';
import { scenesToPdf, writeBillWorkbook, type DerivedStore } from '../../../engine/src/index.ts';
import { keptPlan } from '../opened/keptPlan.ts';
import type { OpenedProject } from '../opened/openedSheets.ts';

type Format = (typeof buyingFormats)[number];
interface NamedBytes {
  readonly name: string;
  readonly bytes: Uint8Array;
}
/** What is wanted of a plan besides a file: the cut problems of it, or an order. */
export interface BuyingWish {
  readonly problems?: true | undefined;
  readonly issue?: { readonly number: string; readonly today: string } | undefined;
  /** Only what this supplier delivers; empty for what has none. */
  readonly supplier?: string | undefined;
}

const inUtf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const machinesOf = ({ builds }: BuyingPlan): number => builds.reduce((sum, { count }) => sum + count, 0);
const what = (plan: BuyingPlan): string => `${machinesOf(plan)} ${machinesOf(plan) === 1 ? 'machine' : 'machines'}`;

/** A plan of buying as a file. @throws Refusal `not-ready` where a cut plan is not made yet, `not-there` */
export async function planFile(
  project: OpenedProject,
  projectName: string,
  format: Format,
  id: string,
  { problems, issue, supplier }: BuyingWish,
  store: DerivedStore,
): Promise<NamedBytes> {
  const input = await project.buying(id);
  const { plan } = input;
  const builds = buildsOf(input);
  const need = needOf(input, builds);
  if (problems)
    return { name: plan.name, bytes: inUtf8(JSON.stringify(need.groups.flatMap(({ problem }) => problem ?? []))) };
  const plans = new Map<string, CutPlan>();
  for (const { key, problem } of need.groups) {
    if (!problem) continue;
    const made = await keptPlan(store, problem);
    if (!made)
      throw new Refusal('not-ready', 'Not all cut plans are made yet; order them first, and wait until they are.');
    plans.set(key, made);
  }
  const buying: Buying = buyingOf(builds, need, plans);
  const { currency } = plan;
  const { createdBy, date } = project.set.content.fields;
  if (issue) {
    const order: IssuedOrder = {
      version: 1,
      number: issue.number,
      date: issue.today,
      plan: plan.name,
      what: what(plan),
      revision: input.original.components[input.original.root].revision,
      currency,
      lines: buying.order,
    };
    return { name: issue.number, bytes: inUtf8(JSON.stringify(order)) };
  }
  const lines = ofSupplier(buying.order, supplier);
  switch (format) {
    case 'json':
      return { name: plan.name, bytes: inUtf8(`${JSON.stringify(buyingJson(buying, currency, machinesOf(plan)))}\n`) };
    case 'csv':
      return { name: plan.name, bytes: inUtf8(`\ufeff${orderCsv({ lines, currency })}`) };
    case 'xlsx':
      return {
        name: plan.name,
        bytes: await writeBillWorkbook(orderTable({ lines, currency }), plan.name, new Map()),
      };
    case 'pdf': {
      const facts = { title: projectName, what: `${plan.name} · ${what(plan)}`, date, currency };
      const scenes = drawCutList(buying.planned, buying.requirement.lines, facts);
      const title = `${projectName}, cut list`;
      return { name: `${plan.name} cut list`, bytes: await scenesToPdf(scenes, { title, author: createdBy, date }) };
    }
  }
}

const ofSupplier = (lines: readonly OrderLine[], supplier: string | undefined): readonly OrderLine[] =>
  supplier === undefined ? lines : lines.filter((line) => line.kind !== 'make' && line.supplier === supplier);

function orderOf(project: OpenedProject, id: string): IssuedOrder {
  const found = project.orders.find((order) => order.id === id);
  if (!found) throw new Refusal('not-there', 'That order is no longer in the project.');
  return found.content;
}
const supplierWords = (supplier: string | undefined): string => (supplier ? ` ${supplier}` : '');

/** An issued order as a file, as it was on its day. @throws Refusal `not-there` */
export async function orderFile(
  project: OpenedProject,
  format: Format,
  id: string,
  { supplier }: BuyingWish,
): Promise<NamedBytes> {
  const order = orderOf(project, id);
  const lines = ofSupplier(order.lines, supplier);
  const name = `order ${order.number}${supplierWords(supplier)}`;
  if (format === 'csv') return { name, bytes: inUtf8(`\ufeff${orderCsv({ ...order, lines })}`) };
  if (format === 'xlsx')
    return { name, bytes: await writeBillWorkbook(orderTable({ ...order, lines }), order.number, new Map()) };
  return { name, bytes: inUtf8(`${JSON.stringify({ ...order, lines })}\n`) };
}

/** The company's form with an issued order in it. */
export function orderForm(
  project: OpenedProject,
  projectName: string,
  id: string,
  supplier: string | undefined,
  map: FormMap,
  workbook: Uint8Array,
): FilledForm {
  const order = orderOf(project, id);
  const lines = ofSupplier(order.lines, supplier);
  const { bill, columns, assembly } = orderBill({ ...order, lines });
  const fields = new Map(
    formFields(assembly, {
      file: '',
      project: projectName,
      bill: `Order ${order.number}${supplierWords(supplier)}`,
      machines: 1,
      variant: '',
      today: order.date,
      set: project.set.content,
      isPart: false,
    }),
  );
  for (const [name, text] of [
    ['Order', order.number],
    ['Order number', order.number],
    ['Supplier', supplier ?? ''],
    ['Currency', order.currency],
    ['Machines', order.what],
  ] as const)
    fields.set(name, text);
  return fillForm(workbook, map, formList(bill, columns, map), fields);
}
