import type { Assembly } from '../assembly/index.ts';
import type { LineFacts } from '../columns/index.ts';
import type { Row } from './records.ts';

/** A row as columns see it. */
export const lineFacts = (assembly: Assembly, row: Row): LineFacts => ({
  item: row.item, quantity: row.quantity, totalQuantity: row.totalQuantity,
  components: row.components.map((index) => assembly.components[index]),
});
