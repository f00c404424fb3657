// What is noticed while a bill is made, each in a sentence, and with what settles it where one click does.
import { ownFields, partLabel, type Assembly } from '../assembly/index.ts';
import { propertyNameOf, propertyNames, sourcesIn, type ColumnSource } from '../columns/index.ts';
import { eachDraft, type Draft } from './lines.ts';
import { decidedFor, type Address, type BillDecisions, type BillFinding, type Recipe, type Row } from './records.ts';

/** Printable ASCII without blanks: nothing to normalize. */
const PLAIN = /^[!-~]*$/;

/** Lines whose texts differ only in capitals or blanks: never merged in silence, joined with one click. */
export function almostAlike(assembly: Assembly, drafts: readonly Draft[], decisions: BillDecisions): BillFinding[] {
  const findings: BillFinding[] = [];
  const told = new Set<string>();
  const visit = (siblings: readonly Draft[]): void => {
    const seen = new Map<string, Draft>();
    for (const draft of siblings) {
      if (draft.children.length > 0) visit(draft.children);
      const { match } = draft;
      if (
        draft.line ||
        !(match.startsWith('number:') || match.startsWith('name:')) ||
        decidedFor(decisions.apart, draft.addresses[0])
      )
        continue;
      const alike = (PLAIN.test(match) ? match : match.normalize('NFKC').replace(/\s+/gu, '')).toLowerCase();
      const first = seen.get(alike);
      if (!first) seen.set(alike, draft);
      else if (first.match !== draft.match && first.canOpen === draft.canOpen) {
        const [one, other] = [first, draft].map(({ components }) => assembly.components[components[0]]);
        const key = `almost-alike ${[one.key, other.key].sort().join(' ')}`;
        if (told.has(key)) continue;
        told.add(key);
        findings.push({
          code: 'almost-alike',
          key,
          components: [one.key, other.key],
          join: { from: draft.addresses[0], to: first.addresses[0] },
          message: `“${partLabel(one)}” and “${partLabel(other)}” differ only in capitals or blanks. They are two lines; join them if they are one part.`,
        });
      }
    }
  };
  visit(drafts);
  return findings;
}

/** Addresses with numbers, not retired, whose components the machine no longer has. */
export function addressesWithoutPart(
  assembly: Pick<Assembly, 'components'>,
  { ledger, lines = [] }: Pick<BillDecisions, 'ledger' | 'lines'>,
): Address[] {
  const known = new Set<string>([
    ...assembly.components.map(({ key }) => key as string),
    ...lines.map(({ id }) => `line:${id}`),
  ]);
  return (Object.keys(ledger) as Address[]).filter((address) => {
    const at = address.indexOf('@');
    return !ledger[address].retired && !known.has(at < 0 ? address : address.slice(0, at));
  });
}

/** Numbers that belong to components which the machine no longer has. */
export function withoutPart(assembly: Assembly, decisions: BillDecisions): BillFinding[] {
  const { ledger } = decisions;
  const gone = addressesWithoutPart(assembly, decisions);
  if (gone.length === 0) return [];
  const numbers = [...new Set(gone.map((address) => ledger[address].number))].sort((a, b) => a - b);
  return [
    {
      code: 'number-without-part',
      retire: gone,
      message: `The parts of ${numbers.length === 1 ? 'number' : 'numbers'} ${numbers.slice(0, 12).join(', ')}${numbers.length > 12 ? ' …' : ''} are gone. Retire what is not to be used again.`,
    },
  ];
}

export function withoutSize(drafts: readonly Draft[]): BillFinding[] {
  let lines = 0;
  eachDraft(drafts, ({ amount }) => {
    if (amount.kind === 'sum' && amount.perParent === null) lines++;
  });
  return lines === 0
    ? []
    : [
        {
          code: 'size-missing',
          message: `${lines} ${lines === 1 ? 'line is' : 'lines are'} counted by a size that is not known for all of their parts; their quantity stays empty.`,
        },
      ];
}

/** Rules, order and groups that look at a property which nothing in this machine has (any more). */
export function goneProperties(
  assembly: Assembly,
  { filter, sort = [], groups = [], quantityRules = [], identityWith = [] }: Recipe,
  { lines = [] }: BillDecisions,
): BillFinding[] {
  const uses: readonly (readonly [string, readonly ColumnSource[]])[] = [
    ['which lines are shown', filter ? sourcesIn(filter) : []],
    ['the order', sort.map(({ source }) => source)],
    ['the groups', groups.map(({ source }) => source)],
    ['what is counted', quantityRules.flatMap(({ when }) => sourcesIn(when))],
    ['what makes lines one', identityWith.map((name) => `property:${name}` as const)],
  ];
  if (uses.every(([, sources]) => sources.every((source) => propertyNameOf(source) === null))) return [];
  const known = new Set([
    ...propertyNames(assembly),
    ...ownFields,
    ...lines.flatMap(({ properties }) => Object.keys(properties)),
  ]);
  return uses.flatMap(([what, sources]) => {
    const gone = [...new Set(sources.map(propertyNameOf))].filter((name) => name !== null && !known.has(name));
    return gone.length === 0
      ? []
      : [
          {
            code: 'property-gone',
            message: `${what[0].toUpperCase()}${what.slice(1)} ${what === 'the groups' ? 'rest' : 'rests'} on ${gone.map((name) => `“${name}”`).join(', ')}, but nothing in this machine has that property. Choose another one, or give it to the parts.`,
          },
        ];
  });
}

/** A line of several components of which more than one holds an override of the same cell. */
export function claimedTwice({ overrides }: BillDecisions, rows: readonly Row[]): BillFinding[] {
  if (!overrides) return [];
  return rows.flatMap((row): BillFinding[] => {
    if (row.addresses.length < 2) return [];
    const texts = new Map<string, Set<string>>();
    for (const address of row.addresses)
      for (const [reference, text] of Object.entries(decidedFor(overrides, address) ?? {}))
        texts.set(reference, (texts.get(reference) ?? new Set()).add(text));
    return [...texts.values()].some((all) => all.size > 1)
      ? [
          {
            code: 'override-twice',
            message: `Line ${row.item} holds parts for which different texts were typed; the first one is shown.`,
          },
        ]
      : [];
  });
}

/** Lines that were joined by hand and cannot be one. */
export function joinedInVain({ components }: Assembly, pairs: Iterable<readonly [number, number]>): BillFinding[] {
  return [...pairs].map(([one, other]) => ({
    code: 'join-different-contents',
    message: `“${partLabel(components[one])}” was made one with “${partLabel(components[other])}”, but they hold different things; they stay lines of their own so that no quantity is wrong.`,
  }));
}
