export { depths, identities, noDecisions, addressOf } from './records.ts';
export type { Address, Bill, BillDecisions, Depth, Identity, Ledger, LedgerEntry, Recipe, Row } from './records.ts';
export { makeBill, numbersToKeep, MAX_ROWS } from './makeBill.ts';
export { lineFacts } from './lineFacts.ts';
