import { isAssembly, type Assembly, type Treatment, type ComponentIndex } from '../assembly/index.ts';

/** How long it takes until everything is there, and what it waits for. */
export interface LeadTime {
  /** Null where nothing is known at all. */
  readonly days: number | null;
  /** From what it ends with down to what it starts with: subassembly, part, bar. */
  readonly because: readonly { readonly name: string; readonly days: number }[];
}

/** What one component takes by itself. */
interface OwnTime {
  /** As it is told. */
  readonly name: string;
  /** Days; null where not known, 0 for what is there already. */
  readonly days: number | null;
  /** The bar that it is cut from. */
  readonly stock?: { readonly name: string; readonly days: number } | undefined;
}

/**
 * The longest way through the structure: a part waits for its bar, a subassembly for its parts. What is bought whole, or
 * left out, is not looked into. Parts of which no time is known take none.
 */
export function longestLead(
  { components, root }: Assembly,
  treatments: readonly (Treatment | undefined)[],
  ownOf: (component: ComponentIndex) => OwnTime,
): LeadTime {
  type Way = { readonly days: number; readonly isKnown: boolean; readonly because: LeadTime['because'] };
  const none: Way = { days: 0, isKnown: false, because: [] };
  const ways = new Map<number, Way>();
  const longer = (one: Way, other: Way): Way =>
    other.days > one.days || (other.days === one.days && other.isKnown && !one.isKnown) ? other : one;
  // Contents before what holds them, without going down the stack: structures can be deep.
  const open = [root];
  while (open.length > 0) {
    const at = open[open.length - 1];
    if (ways.has(at)) {
      open.pop();
      continue;
    }
    const component = components[at];
    const isOpened = at === root || (treatments[at]?.countContents ?? true);
    const below = isOpened && isAssembly(component) ? component.usages.map(({ child }) => child) : [];
    const missing = below.filter((child) => !ways.has(child));
    if (missing.length > 0) {
      open.push(...missing);
      continue;
    }
    open.pop();
    const { name, days, stock } = ownOf(at);
    const waits = below.reduce((most, child) => longer(most, ways.get(child)!), none);
    const bar: Way = stock ? { days: stock.days, isKnown: true, because: [stock] } : none;
    const first = longer(waits, bar);
    ways.set(
      at,
      days === null
        ? first
        : {
            days: first.days + days,
            isKnown: true,
            because: days > 0 || first.because.length === 0 ? [{ name, days }, ...first.because] : first.because,
          },
    );
  }
  const way = ways.get(root) ?? none;
  return { days: way.isKnown ? way.days : null, because: way.because };
}
