/** A large exchange structure: assemblies of `fan` usages each over shared parts, written as bytes piece by piece. */
export interface BigStepPlan {
  readonly assemblies: number;
  readonly fan: number;
  readonly parts: number;
  /** The file is filled up with points until it has at least this many bytes. */
  readonly bytes?: number;
}

/** For benchmarks and tests of size: usages are `assemblies` × `fan`, seven entities each. */
export function bigStep({ assemblies, fan, parts, bytes = 0 }: BigStepPlan): Uint8Array {
  const writer = new ByteWriter(Math.max(bytes + (1 << 20), assemblies * fan * 460 + parts * 600));
  writer.text(
    "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('big.step','2026-01-01T00:00:00',(''),(''),'','','');\nFILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }'));\nENDSEC;\nDATA;\n",
  );
  let next = 0;
  const add = (body: string): number => {
    writer.text(`#${++next}=${body};\n`);
    return next;
  };
  const application = add("APPLICATION_CONTEXT('core data for automotive mechanical design processes')");
  const productContext = add(`PRODUCT_CONTEXT('',#${application},'mechanical')`);
  const definitionContext = add(`PRODUCT_DEFINITION_CONTEXT('part definition',#${application},'design')`);
  const mm = add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))');
  const context = add(
    `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#${mm}))REPRESENTATION_CONTEXT('',''))`,
  );
  const z = add("DIRECTION('',(0.,0.,1.))"),
    x = add("DIRECTION('',(1.,0.,0.))");
  const axesAt = (a: number, b: number, c: number) =>
    add(`AXIS2_PLACEMENT_3D('',#${add(`CARTESIAN_POINT('',(${a}.5,${b}.25,${c}.))`)},#${z},#${x})`);
  const origin = axesAt(0, 0, 0);
  const product = (number: string, name: string) => {
    const formation = add(
      `PRODUCT_DEFINITION_FORMATION('A','',#${add(`PRODUCT('${number}','${name}','',(#${productContext}))`)})`,
    );
    const definition = add(`PRODUCT_DEFINITION('design','',#${formation},#${definitionContext})`);
    const representation = add(`SHAPE_REPRESENTATION('',(#${origin}),#${context})`);
    add(
      `SHAPE_DEFINITION_REPRESENTATION(#${add(`PRODUCT_DEFINITION_SHAPE('','',#${definition})`)},#${representation})`,
    );
    return { definition, representation };
  };
  const tops = Array.from({ length: assemblies }, (_, at) => product(`AS-${at}`, `Assembly ${at}`));
  const leaves = Array.from({ length: parts }, (_, at) => product(`PT-${at}`, `Part number ${at}`));
  let usage = 0;
  tops.forEach((parent, at) => {
    for (let step = 0; step < fan; step++) {
      // Assemblies stand in a tree in order of number, each used once; the rest of every fan are shared parts.
      const below = at * 8 + step + 1;
      const child = step < 8 && below < assemblies ? tops[below] : leaves[(at * 31 + step * 7) % parts];
      const id = add(
        `NEXT_ASSEMBLY_USAGE_OCCURRENCE('${++usage}','place ${usage}','',#${parent.definition},#${child.definition},$)`,
      );
      const shape = add(`PRODUCT_DEFINITION_SHAPE('Placement','Placement of an item',#${id})`);
      const transformation = add(`ITEM_DEFINED_TRANSFORMATION('','',#${origin},#${axesAt(step * 20, at, step)})`);
      const relationship = add(
        `(REPRESENTATION_RELATIONSHIP('','',#${child.representation},#${parent.representation})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#${transformation})SHAPE_REPRESENTATION_RELATIONSHIP())`,
      );
      add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#${relationship},#${shape})`);
    }
  });
  while (writer.size < bytes) add(`CARTESIAN_POINT('',(${next * 0.5}1,${next % 97}.125,-3.75))`);
  writer.text('ENDSEC;\nEND-ISO-10303-21;\n');
  return writer.done();
}

/** ASCII text into one growing buffer. */
class ByteWriter {
  size = 0;
  private bytes: Uint8Array;
  constructor(room: number) {
    this.bytes = new Uint8Array(room);
  }

  text(text: string): void {
    if (this.size + text.length > this.bytes.length) {
      const wider = new Uint8Array(this.bytes.length * 2);
      wider.set(this.bytes);
      this.bytes = wider;
    }
    for (let at = 0; at < text.length; at++) this.bytes[this.size++] = text.charCodeAt(at);
  }

  done(): Uint8Array {
    return this.bytes.subarray(0, this.size);
  }
}
