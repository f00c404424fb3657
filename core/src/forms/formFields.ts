import { partLabel, type Assembly } from '../assembly/index.ts';
import { propertyText } from '../columns/index.ts';
import type { SheetSet } from '../sheets/index.ts';
import type { FormFields } from './records.ts';

/** What the list is of, in words that a form may ask for. */
interface FieldFacts {
  /** Of the model that was brought in. */
  readonly file: string;
  /** Name of the project; the file's where there is none. */
  readonly project: string;
  /** Name of the list. */
  readonly bill: string;
  /** Count that totals are for. */
  readonly machines: number;
  /** Name of the variant; empty for the machine as a whole. */
  readonly variant: string;
  /** ISO 8601. */
  readonly today: string;
  /** What is in all title blocks; null where there is no drawing. */
  readonly set: SheetSet | null;
  /** Whether the list is of a subassembly: title and number of the drawing are the machine's, so its own take their place. */
  readonly isPart: boolean;
}

/**
 * What a form can be told: fields of the title block by the names that stand in them, what is known of the assembly (the first
 * name counts), and the list.
 */
export function formFields({ components, root }: Pick<Assembly, 'components' | 'root'>, facts: FieldFacts): FormFields {
  const top = components[root];
  const { set, isPart } = facts;
  const titles = set?.fields;
  const lastRevision = set?.block?.revisions.at(-1)?.revision ?? '';
  const pairs: (readonly [string, string])[] = [
    ['Title', (isPart ? '' : titles?.title) || top.name || partLabel(top)],
    ['Drawing number', (isPart ? '' : titles?.drawingNumber) || top.partNumber],
    ['Revision', (isPart ? '' : titles?.revision || lastRevision) || top.revision],
    ['Owner', titles?.owner ?? ''],
    ['Created by', titles?.createdBy ?? ''],
    ['Approved by', titles?.approvedBy ?? ''],
    ['Date', titles?.date || facts.today],
    ['Document type', titles?.documentType ?? ''],
    ...(set?.block?.further ?? []).map(({ label, value }) => [label, value] as const),
    ['Name', top.name],
    ['Part number', top.partNumber],
    ['Description', top.description],
    ['Project', facts.project],
    ['Bill', facts.bill],
    ['File', facts.file],
    ['Machines', String(facts.machines)],
    ['Variant', facts.variant],
    ['Today', facts.today],
    ...Object.entries(top.properties).map(([name, value]) => [name, propertyText(value)] as const),
  ];
  const fields = new Map<string, string>();
  for (const [name, value] of pairs) if (!fields.has(name)) fields.set(name, value);
  return fields;
}
