import type { QuantityKind } from '../../../core/src/bill/index.ts';

/** How a quantity is counted, in words. */
export function quantityWords(kind: QuantityKind): string {
  switch (kind.kind) {
    case 'each': return 'by the piece';
    case 'sum': return `by ${kind.size} in ${kind.unit}`;
    case 'as required': return 'as required';
    case 'fixed': return `${kind.value}${kind.unit ? ` ${kind.unit}` : ''} fixed`;
  }
}
