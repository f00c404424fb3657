import { identityPlacement, type Placement } from '../core/src/geometry/index.ts';
import { writeSolid } from './brep.ts';
import { axes, quote, real, type StepWriter } from './stepWriter.ts';
import { volume, type Solid } from './solids.ts';

/** A measure or a text carried by a part. */
export type Carried = string | { readonly value: number; readonly unit: 'mm' | 'kg' };

/** A part or assembly as the generator describes it. */
export interface Product {
  readonly number: string;
  readonly name: string;
  readonly description?: string;
  readonly revision?: string;
  readonly bought?: boolean;
  readonly properties?: Readonly<Record<string, Carried>>;
  /** Parts only. */
  readonly solids?: readonly Solid[];
  readonly colour?: readonly [number, number, number];
  /** Assemblies only. */
  readonly contents?: readonly Placed[];
}
export interface Placed {
  readonly product: Product;
  readonly placement: Placement;
  readonly label?: string;
}

export const place = (product: Product, placement: Placement, label?: string): Placed => ({
  product,
  placement,
  ...(label ? { label } : {}),
});

interface Written {
  readonly definition: string;
  readonly representation: string;
}

/** Writes products, structure, shapes, colours, properties and validation volumes (AP214). */
export class ProductWriter {
  private readonly written = new Map<Product, Written>();
  private readonly application: string;
  private readonly productContext: string;
  private readonly definitionContext: string;
  private readonly context: string;
  private readonly units: Readonly<Record<'mm' | 'kg' | 'mm³', string>>;
  private usageCount = 0;
  private readonly styled: string[] = [];

  constructor(private readonly step: StepWriter) {
    this.application = step.add("APPLICATION_CONTEXT('core data for automotive mechanical design processes')");
    step.add(`APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2000,${this.application})`);
    this.productContext = step.add(`PRODUCT_CONTEXT('',${this.application},'mechanical')`);
    this.definitionContext = step.add(`PRODUCT_DEFINITION_CONTEXT('part definition',${this.application},'design')`);
    const mm = step.add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))');
    const radian = step.add('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))');
    const steradian = step.add('(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())');
    const kg = step.add('(MASS_UNIT()NAMED_UNIT(*)SI_UNIT(.KILO.,.GRAM.))');
    const cubic = step.add(`DERIVED_UNIT((${step.add(`DERIVED_UNIT_ELEMENT(${mm},3.)`)}))`);
    this.units = { mm, kg, 'mm³': cubic };
    const uncertainty = step.add(
      `UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-5),${mm},'distance_accuracy_value','')`,
    );
    this.context = step.add(
      `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((${uncertainty}))GLOBAL_UNIT_ASSIGNED_CONTEXT((${mm},${radian},${steradian}))REPRESENTATION_CONTEXT('',''))`,
    );
  }

  /** Writes the product and everything in it, each product once. */
  write(product: Product): Written {
    const known = this.written.get(product);
    if (known) return known;
    const { step } = this;
    const origin = axes(step, identityPlacement);
    const ofProduct = step.add(
      `PRODUCT(${quote(product.number)},${quote(product.name)},${quote(product.description ?? '')},(${this.productContext}))`,
    );
    const formation = step.add(
      `PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE(${quote(product.revision ?? 'A')},'',${ofProduct},${product.bought ? '.BOUGHT.' : '.MADE.'})`,
    );
    const definition = step.add(`PRODUCT_DEFINITION('design','',${formation},${this.definitionContext})`);
    const shape = step.add(`PRODUCT_DEFINITION_SHAPE('','',${definition})`);
    const solids = (product.solids ?? []).map((solid) => this.writeStyled(solid, product.colour));
    const representation = step.add(
      `${solids.length ? 'ADVANCED_BREP_SHAPE_REPRESENTATION' : 'SHAPE_REPRESENTATION'}('',(${[origin, ...solids].join(',')}),${this.context})`,
    );
    step.add(`SHAPE_DEFINITION_REPRESENTATION(${shape},${representation})`);
    const result = { definition, representation };
    this.written.set(product, result);
    this.writeProperties(product, definition, shape);
    for (const placed of product.contents ?? []) this.writeUsage(result, placed, origin);
    return result;
  }

  /** Colours go into one representation at the end. */
  finish(): void {
    if (this.styled.length)
      this.step.add(
        `MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(${this.styled.join(',')}),${this.context})`,
      );
  }

  private writeStyled(solid: Solid, colour: Product['colour']): string {
    const { step } = this;
    const brep = writeSolid(step, solid);
    if (colour) {
      const rgb = step.once(`COLOUR_RGB('',${colour.map(real).join(',')})`);
      const fill = step.once(
        `SURFACE_STYLE_FILL_AREA(${step.once(`FILL_AREA_STYLE('',(${step.once(`FILL_AREA_STYLE_COLOUR('',${rgb})`)}))`)})`,
      );
      const style = step.once(
        `PRESENTATION_STYLE_ASSIGNMENT((${step.once(`SURFACE_STYLE_USAGE(.BOTH.,${step.once(`SURFACE_SIDE_STYLE('',(${fill}))`)})`)}))`,
      );
      this.styled.push(step.add(`STYLED_ITEM('',(${style}),${brep})`));
    }
    return brep;
  }

  private writeUsage(parent: Written, { product, placement, label }: Placed, origin: string): void {
    const { step } = this;
    const child = this.write(product);
    const usage = step.add(
      `NEXT_ASSEMBLY_USAGE_OCCURRENCE('${++this.usageCount}',${quote(label ?? '')},'',${parent.definition},${child.definition},$)`,
    );
    const shape = step.add(`PRODUCT_DEFINITION_SHAPE('','',${usage})`);
    const transformation = step.add(`ITEM_DEFINED_TRANSFORMATION('','',${origin},${axes(step, placement)})`);
    const relationship = step.add(
      `(REPRESENTATION_RELATIONSHIP('','',${child.representation},${parent.representation})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(${transformation})SHAPE_REPRESENTATION_RELATIONSHIP())`,
    );
    step.add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(${relationship},${shape})`);
  }

  private writeProperties(product: Product, definition: string, shape: string): void {
    const { step } = this;
    for (const [name, carried] of Object.entries(product.properties ?? {})) {
      const item =
        typeof carried === 'string'
          ? step.add(`DESCRIPTIVE_REPRESENTATION_ITEM(${quote(name)},${quote(carried)})`)
          : step.add(
              `MEASURE_REPRESENTATION_ITEM(${quote(name)},${carried.unit === 'kg' ? 'MASS_MEASURE' : 'LENGTH_MEASURE'}(${real(carried.value)}),${this.units[carried.unit]})`,
            );
      this.writeProperty(name, definition, item);
    }
    if (product.solids?.length) {
      const total = product.solids.reduce((sum, solid) => sum + volume(solid), 0);
      const item = step.add(
        `MEASURE_REPRESENTATION_ITEM('volume measure',VOLUME_MEASURE(${real(total)}),${this.units['mm³']})`,
      );
      this.writeProperty('geometric validation property', shape, item);
    }
  }

  private writeProperty(name: string, target: string, item: string): void {
    const property = this.step.add(`PROPERTY_DEFINITION(${quote(name)},'',${target})`);
    const representation = this.step.add(`REPRESENTATION('',(${item}),${this.context})`);
    this.step.add(`PROPERTY_DEFINITION_REPRESENTATION(${property},${representation})`);
  }
}
