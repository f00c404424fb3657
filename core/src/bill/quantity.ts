import type { Assembly, ComponentIndex } from '../assembly/index.ts';
import { asNumber, componentValue, convert, rulesHold } from '../columns/index.ts';
import type { Draft } from './lines.ts';
import type { Amount, QuantityKind, Recipe } from './records.ts';

const EACH: QuantityKind = { kind: 'each' };

/** How a component is counted: as chosen for it, else by the first rule that holds, else piece by piece. */
function quantityKindOf(assembly: Assembly, recipe: Recipe, component: ComponentIndex): QuantityKind {
  const one = assembly.components[component];
  const chosen = recipe.quantityOf?.[one.key];
  if (chosen) return chosen;
  return (
    recipe.quantityRules?.find(({ when }) => rulesHold(when, (source) => [componentValue(one, source)]))?.is ?? EACH
  );
}

/**
 * Amounts of lines counted by the piece, which are nearly all and repeat themselves: one record for all that are
 * alike.
 */
export class PieceAmounts {
  private readonly known = new Map<number, Map<number, Amount>>();

  of(perParent: number, total: number): Amount {
    let byTotal = this.known.get(perParent);
    if (!byTotal) this.known.set(perParent, (byTotal = new Map()));
    let amount = byTotal.get(total);
    if (!amount) byTotal.set(total, (amount = { kind: 'each', perParent, total, unit: '' }));
    return amount;
  }
}

/** What a line's number counts; a line of several components is counted as its first. */
export function amountOf(assembly: Assembly, recipe: Recipe, draft: Draft, pieces: PieceAmounts): Amount {
  if (draft.line) {
    const { quantity } = draft.line;
    return quantity.kind === 'fixed'
      ? { kind: 'fixed', perParent: draft.quantity, total: draft.totalQuantity, unit: quantity.unit }
      : { kind: 'as required', perParent: null, total: null, unit: '' };
  }
  const kind = quantityKindOf(assembly, recipe, draft.components[0]);
  const times = draft.quantity === 0 ? 0 : draft.totalQuantity / draft.quantity;
  switch (kind.kind) {
    case 'each':
      return pieces.of(draft.quantity, draft.totalQuantity);
    case 'as required':
      return { kind: 'as required', perParent: null, total: null, unit: '' };
    case 'fixed':
      return { kind: 'fixed', perParent: kind.value, total: kind.value * times, unit: kind.unit };
    case 'sum': {
      let sum = 0;
      for (const [at, component] of draft.components.entries()) {
        if (draft.counts[at] === 0) continue;
        const size = asNumber(componentValue(assembly.components[component], `property:${kind.size}`));
        const value = size && convert(size.value, size.unit, kind.unit);
        if (value === null) return { kind: 'sum', perParent: null, total: null, unit: kind.unit };
        sum += draft.counts[at] * value;
      }
      return { kind: 'sum', perParent: sum, total: sum * times, unit: kind.unit };
    }
  }
}
