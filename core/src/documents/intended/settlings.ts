import type { Address, BillFinding } from '../../bill/index.ts';
import type { BillCommand, BillDocument } from '../kinds/bill.ts';

/** Something that settles what was noticed in a bill. */
interface Settling {
  /** On its button. */
  readonly label: string;
  /** What undo says. */
  readonly undo: string;
  /** What it does to the bill. */
  readonly command: BillCommand;
  /** Whether its label alone does not say what it is about. */
  readonly needsMessage?: true;
}

const componentOf = (address: Address): string => address.split('@')[0];

/** All that can be done about a finding of a bill, the usual one first. */
export function settlingsOf(
  { join, retire, idle, overtaken }: BillFinding,
  { ledger }: Pick<BillDocument, 'ledger'>,
): Settling[] {
  const found: Settling[] = [];
  if (join) {
    const decide = (joins: object, apart: object) => ({ kind: 'decideLines', joins, apart }) as BillCommand;
    const from = componentOf(join.from);
    found.push(
      { label: 'Join them', undo: 'join two lines', command: decide({ [from]: componentOf(join.to) }, {}) },
      { label: 'Keep apart', undo: 'keep two lines apart', command: decide({}, { [from]: 'apart' }) },
    );
  }
  if (idle !== undefined)
    found.push(
      {
        label: 'Hide it',
        undo: 'hide a column',
        command: { kind: 'changeColumn', id: idle, change: { hidden: true } },
      },
      { label: 'Keep it', undo: 'keep a column', command: { kind: 'changeColumn', id: idle, change: { stays: true } } },
    );
  if (overtaken) {
    const cells = { [overtaken.address]: { [overtaken.reference]: null } } as never;
    found.push(
      {
        label: 'Take the model’s',
        undo: 'give a cell back to the model',
        command: { kind: 'typeCells', cells },
        needsMessage: true,
      },
      {
        label: 'Keep what I wrote',
        undo: 'keep what was typed',
        command: { kind: 'noteOvertaken', cells },
        needsMessage: true,
      },
    );
  }
  if (retire)
    found.push({
      label: 'Retire',
      undo: `retire ${retire.length === 1 ? 'a number' : 'numbers'}`,
      command: {
        kind: 'setNumbers',
        numbers: Object.fromEntries(retire.map((address) => [address, { ...ledger[address], retired: true }])) as never,
      },
      needsMessage: true,
    });
  return found;
}
