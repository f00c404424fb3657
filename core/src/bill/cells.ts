import { partLabel, type Assembly, type ComponentIndex } from '../assembly/index.ts';
import {
  isPerPiece,
  MOST_LETTERS,
  asNumber,
  componentValue,
  convert,
  evaluateFormula,
  fillPattern,
  formatValue,
  FormulaMismatch,
  formulasAreReady,
  numberValue,
  propertyNameOf,
  readFormula,
  referenceOf,
  textValue,
  typedValue,
  valueKey,
  valueOfProperty,
  type Cell,
  type Column,
  type ColumnSource,
  type Formula,
  type Value,
} from '../columns/index.ts';
import { decidedFor, type Address, type Amount, type BillDecisions, type Recipe } from './records.ts';

/** What a cell needs to know of a line. */
interface LineFacts {
  readonly components: readonly ComponentIndex[];
  readonly counts: readonly number[];
  readonly quantity: number;
  readonly totalQuantity: number;
  readonly addresses: readonly Address[];
  readonly amount: Amount;
  readonly number: number;
  readonly item?: string;
  readonly key?: string;
  readonly inVariants?: Readonly<Record<string, number | null>> | undefined;
}

/** What cells may say beyond the assembly. */
export interface CellContext {
  readonly fileName?: string;
  /** Where a row is ballooned, by its key. */
  readonly places?: ReadonlyMap<string, { readonly sheet: string; readonly zone: string }>;
}

const DASH = '–';
/** Whether units of quantities stand in a column of their own. */
export const hasUnitColumn = (columns: readonly Column[]): boolean =>
  columns.some(({ source, hidden }) => source === 'unit' && !hidden);

/** Reads cells of one bill; what several cells need is looked up once. */
export class CellReader {
  private readonly masses = new Map<number, number | null>();
  private readonly formulas = new Map<string, Formula | string>();
  private readonly running = new Set<string>();
  private readonly byReference: ReadonlyMap<string, Column>;
  private readonly lineProperties;
  private users: Map<number, { parents: Set<string>; labels: Set<string> }> | null = null;
  private readonly unitShown: boolean;
  /** Cells of expressions of the line that was asked for last, by column. */
  private readonly ofLine = new Map<string, Cell>();
  private line: LineFacts | null = null;

  constructor(
    private readonly assembly: Assembly,
    private readonly recipe: Recipe,
    private readonly decisions: BillDecisions,
    columns: readonly Column[],
    private readonly context: CellContext,
  ) {
    this.byReference = new Map(columns.toReversed().map((column) => [referenceOf(column), column]));
    this.unitShown = hasUnitColumn(columns);
    this.lineProperties = new Map((decisions.lines ?? []).map(({ id, properties }) => [`line:${id}`, properties]));
  }

  cell(line: LineFacts, column: Column): Cell {
    if (column.source !== 'pattern' && column.source !== 'formula') return this.read(line, column);
    // What several expressions of a line are made of is worked out once.
    if (this.line !== line) {
      this.line = line;
      this.ofLine.clear();
    }
    let known = this.ofLine.get(column.id);
    if (!known) {
      known = this.read(line, column);
      // While a circle is followed, what it says depends on where it was entered.
      if (this.running.size === 0 || known.fault === undefined) this.ofLine.set(column.id, known);
    }
    return known;
  }

  private read(line: LineFacts, column: Column): Cell {
    const reference = referenceOf(column);
    const format = column.format ?? {};
    const typed = this.override(line, reference);
    let faultText: string | undefined;
    let values: readonly Value[];
    try {
      values = this.modelValues(line, column.source, column);
    } catch (error) {
      if (!(error instanceof CannotTell)) throw error;
      faultText = error.message;
      values = [null];
    }
    const write = (value: Value) =>
      value === null && this.isLacking(line, column.source)
        ? DASH
        : formatValue(this.shown(value, column.source), format);
    const own = values[0] ?? null;
    if (typed !== undefined)
      return {
        value: typedValue(typed, own),
        text: formatValue(typedValue(typed, own), { ...format, empty: typed === '' ? '' : (format.empty ?? '') }),
        differing: 1,
        model: write(own),
      };
    return {
      value: own,
      text: write(own),
      differing: values.length,
      ...(faultText === undefined ? {} : { fault: faultText }),
    };
  }

  /** The different values of a line's components, as this bill has them. */
  values(line: LineFacts, source: ColumnSource): readonly Value[] {
    const typed = this.override(line, source);
    if (typed === undefined) return this.modelValues(line, source, this.byReference.get(source));
    return [typedValue(typed, this.modelValues(line, source, this.byReference.get(source))[0] ?? null)];
  }

  /**
   * The values summed, over all pieces where they are of one; null where there is not one number among them, or they do
   * not measure the same.
   */
  sum(lines: readonly LineFacts[], column: Column): Cell | null {
    const counted = isPerPiece(column) && column.total !== 'one each';
    const machines = this.recipe.machines ?? 1;
    let total = 0,
      unit: string | null = null;
    for (const line of lines) {
      const value = asNumber(this.cell(line, column).value);
      if (!value) continue;
      unit ??= value.unit;
      const converted = convert(value.value, value.unit, unit);
      if (converted === null) return null;
      total += converted * (counted && line.components.length > 0 ? line.totalQuantity * machines : 1);
    }
    if (unit === null) return null;
    const value = numberValue(total, unit);
    const text = formatValue(this.shown(value, column.source), column.format);
    return {
      value,
      text: column.total === 'one each' && isPerPiece(column) ? `${text} (one each)` : text,
      differing: 1,
    };
  }

  private override(line: LineFacts, reference: string): string | undefined {
    const { overrides } = this.decisions;
    if (!overrides) return undefined;
    for (const address of line.addresses) {
      const typed = decidedFor(overrides, address)?.[reference];
      if (typed !== undefined) return typed;
    }
    return undefined;
  }

  /** A variant without the line, or a line that only a variant has: a dash, since there is none, not zero of it. */
  private isLacking(line: LineFacts, source: ColumnSource): boolean {
    return (
      source.startsWith('variant:') ||
      ((source === 'quantity' || source === 'totalQuantity') && line.amount.kind === 'each' && line.quantity === 0)
    );
  }

  /** Quantities leave their unit to the unit column where there is one. */
  private shown(value: Value, source: ColumnSource): Value {
    return value?.kind === 'number' && this.unitShown && (source === 'quantity' || source === 'totalQuantity')
      ? numberValue(value.value)
      : value;
  }

  private modelValues(line: LineFacts, source: ColumnSource, column: Column | undefined): readonly Value[] {
    const { machines = 1 } = this.recipe;
    switch (source) {
      case 'item':
        return [line.item === undefined ? numberValue(line.number) : textValue(line.item)];
      case 'quantity':
        return [this.amount(line, line.amount.perParent)];
      case 'totalQuantity':
        return [this.amount(line, line.amount.total === null ? null : line.amount.total * machines)];
      case 'unit':
        return [textValue(line.amount.unit)];
      case 'massEach':
        return this.distinct(line.components.map((component) => this.massOf(component)));
      case 'massTotal':
        return [this.massTotal(line, machines)];
      case 'usedIn':
      case 'labels':
        return [this.usersText(line, source)];
      case 'fileName':
        return [textValue(this.context.fileName ?? '')];
      case 'picture':
        return [null];
      case 'sheet':
      case 'zone':
        return [textValue(this.context.places?.get(line.key ?? '')?.[source] ?? '')];
      case 'pattern':
        return [column ? textValue(this.filled(line, column)) : null];
      case 'formula':
        return [column ? this.calculated(line, column) : null];
    }
    if (source.startsWith('variant:')) {
      const count = line.inVariants?.[source.slice('variant:'.length)] ?? null;
      return [count === null ? null : numberValue(count)];
    }
    if (line.components.length === 0)
      return [
        valueOfProperty(this.lineProperties.get(line.addresses[0].split('@')[0])?.[propertyNameOf(source) ?? '']),
      ];
    return this.distinct(
      line.components.map((component) => componentValue(this.assembly.components[component], source)),
    );
  }

  private distinct(values: readonly Value[]): readonly Value[] {
    if (values.length === 1) return values;
    return [...new Map(values.map((value) => [valueKey(value), value])).values()];
  }

  private amount({ amount, quantity }: LineFacts, count: number | null): Value {
    if (amount.kind === 'as required') return textValue('as required');
    if (amount.kind === 'each' && quantity === 0) return null;
    return count === null ? null : numberValue(count, amount.unit);
  }

  /** kg of one: what is given or measured, else the sum of the contents where all of them are known. */
  private massOf(component: ComponentIndex): Value {
    const mass = this.massInKg(component);
    return mass === null ? null : numberValue(mass, 'kg');
  }

  private massInKg(component: ComponentIndex): number | null {
    const known = this.masses.get(component);
    if (known !== undefined) return known;
    const { properties, usages } = this.assembly.components[component];
    const given = asNumber(valueOfProperty(properties.Mass));
    let mass: number | null = given ? convert(given.value, given.unit || 'kg', 'kg') : null;
    if (mass === null && usages.length > 0) {
      mass = 0;
      for (const { child, quantity } of usages) {
        const treatment = this.decisions.treatments[child];
        if (treatment && !treatment.ownLine && !treatment.countContents) continue; // left out
        const inner = this.massInKg(child);
        if (inner === null) {
          mass = null;
          break;
        }
        mass += quantity * inner;
      }
    }
    this.masses.set(component, mass);
    return mass;
  }

  private massTotal({ components, counts, quantity, totalQuantity }: LineFacts, machines: number): Value {
    let perParent = 0;
    for (const [at, component] of components.entries()) {
      if (counts[at] === 0) continue;
      const mass = this.massInKg(component);
      if (mass === null) return null;
      perParent += counts[at] * mass;
    }
    return components.length === 0 || quantity === 0
      ? null
      : numberValue((perParent / quantity) * totalQuantity * machines, 'kg');
  }

  private usersText({ components }: LineFacts, what: 'usedIn' | 'labels'): Value {
    if (!this.users) {
      this.users = new Map();
      for (const parent of this.assembly.components) {
        for (const { child, label } of parent.usages) {
          let of = this.users.get(child);
          if (!of) this.users.set(child, (of = { parents: new Set(), labels: new Set() }));
          of.parents.add(parent.name || partLabel(parent));
          if (label) of.labels.add(label);
        }
      }
    }
    const all = components.flatMap((component) => [
      ...(this.users!.get(component)?.[what === 'usedIn' ? 'parents' : 'labels'] ?? []),
    ]);
    return textValue([...new Set(all)].join(', '));
  }

  /** A cell that another one is made of. @throws CannotTell where it has no value for a reason */
  private needed(line: LineFacts, column: Column): Cell {
    const cell = this.cell(line, column);
    if (cell.fault !== undefined) throw new CannotTell(cell.fault);
    return cell;
  }

  private filled(line: LineFacts, column: Column): string {
    let letters = 0;
    return this.once(column, () =>
      fillPattern(column.expression ?? '', (reference) => {
        const shownAs = this.byReference.get(reference);
        const text = shownAs
          ? this.needed(line, shownAs).text
          : formatValue(this.values(line, reference as ColumnSource)[0] ?? null);
        letters += text.length;
        if (letters > MOST_LETTERS.text)
          throw new CannotTell(`“${column.heading}” would have over ${MOST_LETTERS.text} letters.`);
        return text;
      }),
    );
  }

  private calculated(line: LineFacts, column: Column): Value {
    const formula = this.formulaOf(column);
    try {
      return this.once(column, () =>
        evaluateFormula(formula, (reference) => {
          const shownAs = this.byReference.get(reference);
          return shownAs ? this.needed(line, shownAs).value : (this.values(line, reference as ColumnSource)[0] ?? null);
        }),
      );
    } catch (error) {
      if (error instanceof FormulaMismatch) throw new CannotTell(error.message);
      throw error;
    }
  }

  private formulaOf({ expression = '' }: Column): Formula {
    let known = this.formulas.get(expression);
    if (known === undefined) {
      if (!formulasAreReady()) throw new CannotTell('The formula is not worked out yet.');
      const read = readFormula(expression);
      this.formulas.set(expression, (known = read.ok ? read.content : read.fault.message));
    }
    if (typeof known === 'string') throw new CannotTell(known);
    return known;
  }

  /** Runs an expression unless it is running already: a column that leads back to itself has no value. */
  private once<Content>({ id, heading }: Column, work: () => Content): Content {
    if (this.running.has(id)) throw new CannotTell(`“${heading}” leads back to itself.`);
    this.running.add(id);
    try {
      return work();
    } finally {
      this.running.delete(id);
    }
  }
}

/** An expression has no value for a line, for a reason that can be said. */
class CannotTell extends Error {
  override readonly name = 'CannotTell';
}
