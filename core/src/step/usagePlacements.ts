import { groupBy, type Finding } from '../assembly/index.ts';
import { identityPlacement, type Placement } from '../geometry/index.ts';
import type { StepFile } from '../exchange/index.ts';
import { PlacementReader, placementBetween } from './placements.ts';
import { colourOf, readMappedItem, representationParts, type ShapeLinks } from './shapes.ts';
import type { RawUsages } from './structure.ts';
import { lengthUnitOf } from './units.ts';

/** What the file says about where each usage stands and how it is coloured. */
export interface PlacedUsages {
  /** By slot of the usage; one that is missing stands at the origin of its parent. */
  readonly placements: ReadonlyMap<number, Placement>;
  /** 0xRRGGBB by slot of the usage, where this one is coloured differently from its part. */
  readonly colours: ReadonlyMap<number, number>;
}

/** Placements by either mechanism, and colours of single usages; a finding where usages have no placement. */
export function placeUsages(file: StepFile, links: ShapeLinks, usages: RawUsages, findings: Finding[]): PlacedUsages {
  const placer = new UsagePlacer(file, links, usages);
  placer.contextDependentShapes();
  placer.mappedItems();
  const { placements } = placer;
  const unplaced = usages.slots.filter((slot) => !placements.has(slot));
  if (unplaced.length > 0) {
    findings.push({
      code: 'not-placed',
      message: `${unplaced.length} of ${usages.count} usages have no placement (first: ${file.nameOf(unplaced[0])}); they are drawn at the origin of their parent. Quantities are not affected.`,
    });
  }
  return { placements, colours: placer.colours() };
}

class UsagePlacer {
  readonly placements = new Map<number, Placement>();
  private readonly reader: PlacementReader;
  private readonly factors = new Map<number, number>();
  /** Usage by what a colour may name it through: its relationship, its context dependent shape, its mapped item. */
  private readonly usageBehind = new Map<number, number>();

  constructor(
    private readonly file: StepFile,
    private readonly links: ShapeLinks,
    private readonly usages: RawUsages,
  ) {
    this.reader = new PlacementReader(file);
  }

  /** CONTEXT_DEPENDENT_SHAPE_REPRESENTATION: a relationship with a transformation, for one usage. */
  contextDependentShapes(): void {
    const { file, links } = this;
    const { slots, parents, children } = this.usages;
    const atOf = new Map<number, number>();
    slots.forEach((slot, at) => atOf.set(slot, at));
    for (const slot of file.ofType('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION')) {
      const relationship = file.ref(slot, 'CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', 0);
      const shape = file.ref(slot, 'CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', 1);
      const at = atOf.get(file.ref(shape, 'PRODUCT_DEFINITION_SHAPE', 2));
      if (at === undefined) continue;
      this.usageBehind.set(slot, slots[at]).set(relationship, slots[at]);
      const first = file.ref(relationship, 'REPRESENTATION_RELATIONSHIP', 2),
        second = file.ref(relationship, 'REPRESENTATION_RELATIONSHIP', 3);
      const transformation = file.ref(relationship, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION', 0);
      const axes1 = file.ref(transformation, 'ITEM_DEFINED_TRANSFORMATION', 2),
        axes2 = file.ref(transformation, 'ITEM_DEFINED_TRANSFORMATION', 3);
      if (first < 0 || second < 0 || axes1 < 0 || axes2 < 0) continue;
      const one = this.reader.axes(axes1, this.unitFactor(first));
      const two = this.reader.axes(axes2, this.unitFactor(second));
      // Item 1 stands in representation 1. Writers differ in which of the two is the child's; the definitions tell.
      const reversed = links.definitionOf.get(first) === parents[at] && links.definitionOf.get(second) === children[at];
      const placement = reversed ? placementBetween(two, one) : placementBetween(one, two);
      if (placement) this.placements.set(slots[at], placement);
    }
  }

  /** MAPPED_ITEM in the parent's representation: the n-th one of a child serves that child's n-th unplaced usage. */
  mappedItems(): void {
    const { file, links } = this;
    const { slots, parents, children } = this.usages;
    const unplaced = [...slots.keys()].filter((at) => !this.placements.has(slots[at]));
    const waiting = groupBy(unplaced, (at) => `${parents[at]} ${children[at]}`);
    for (const parent of new Set(unplaced.map((at) => parents[at]))) {
      for (const representation of links.ofDefinition.get(parent) ?? []) {
        for (const item of representationParts(file, representation).items) {
          const mapped = readMappedItem(file, item);
          const at = mapped
            ? waiting.get(`${parent} ${links.definitionOf.get(mapped.representation)}`)?.shift()
            : undefined;
          if (!mapped || at === undefined) continue;
          const from = this.reader.axes(mapped.origin, this.unitFactor(mapped.representation));
          this.placements.set(
            slots[at],
            placementBetween(from, this.reader.axes(mapped.target, this.unitFactor(representation))) ??
              identityPlacement,
          );
          this.usageBehind.set(item, slots[at]);
        }
      }
    }
  }

  /** A style on a mapped item, or one that names the place it is meant for. */
  colours(): Map<number, number> {
    const { file } = this;
    const colours = new Map<number, number>();
    for (const keyword of ['STYLED_ITEM', 'OVER_RIDING_STYLED_ITEM', 'CONTEXT_DEPENDENT_OVER_RIDING_STYLED_ITEM']) {
      for (const slot of file.ofType(keyword)) {
        const size = file.size(slot, keyword);
        if (size < 3) continue; // split over partial records: such writers style the shape itself
        const places = keyword.startsWith('CONTEXT') ? file.refs(slot) : [file.ref(slot, keyword, 2)];
        const usage = places.map((place) => this.usageBehind.get(place)).find((known) => known !== undefined);
        const styles = file.value(slot, keyword, 1);
        const colour =
          usage === undefined || !Array.isArray(styles)
            ? null
            : colourOf(
                file,
                styles.flatMap((style: unknown) =>
                  style && typeof style === 'object' && 'ref' in style ? [style.ref as number] : [],
                ),
              );
        if (usage !== undefined && colour !== null) colours.set(usage, colour);
      }
    }
    return colours;
  }

  private unitFactor(representation: number): number {
    let factor = this.factors.get(representation);
    if (factor === undefined) {
      const { context } = representationParts(this.file, representation);
      factor = context < 0 ? 1 : lengthUnitOf(this.file, context).toMm;
      this.factors.set(representation, factor);
    }
    return factor;
  }
}
