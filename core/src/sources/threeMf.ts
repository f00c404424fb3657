import { SaxesParser, type SaxesTagPlain } from 'saxes';
import {
  keyGraph,
  keyMesh,
  NO_KEY,
  propertyNameFor,
  Refusal,
  refuseBrokenGraph,
  unnamed,
  xmlFault,
  type ComponentDraft,
  type DraftUsage,
  type Finding,
  type PropertyValue,
  type ShapeKey,
  type ShapeMesh,
} from '../assembly/index.ts';
import { identityPlacement, meshOfTriangles, type Placement } from '../geometry/index.ts';
import type { ModelContent } from '../step/index.ts';
import { unzipBounded } from './zip.ts';

const MILLIMETRE = [1, 'mm'] as const;
const UNITS: ReadonlyMap<string, readonly [toMm: number, name: string]> = new Map(
  Object.entries({
    micron: [0.001, 'µm'],
    millimeter: MILLIMETRE,
    centimeter: [10, 'cm'],
    inch: [25.4, 'inch'],
    foot: [304.8, 'foot'],
    meter: [1000, 'm'],
  } as const),
);

interface Object3 {
  readonly where: string;
  readonly partNumber: string;
  readonly name: string;
  readonly type: string;
  readonly material: readonly [group: string, index: number] | null;
  readonly positions: number[];
  readonly triangles: number[];
  /** Per triangle: material, as group and index. */
  readonly materials: (readonly [group: string, index: number] | null)[];
  readonly components: { readonly object: string; readonly placement: Placement }[];
  readonly properties: Record<string, PropertyValue>;
}
interface BaseMaterial {
  readonly name: string;
  readonly colour: number;
}

/**
 * Structure and meshes of a 3MF package. Source: 3MF Core Specification 1.3, with component paths of the Production
 * Extension.
 * @throws Refusal where it is no such package, is damaged or refers to objects that it does not hold
 */
export function read3mf(bytes: Uint8Array): ModelContent {
  const files = unzipBounded(bytes, (name) => /\.(model|rels)$/i.test(name));
  const main = mainModel(files);
  return new PackageReader(files).read(main);
}

/** The package says which model is the main one; usually 3D/3dmodel.model. */
function mainModel(files: ReadonlyMap<string, Uint8Array>): string {
  const relations = files.get('_rels/.rels');
  const said = relations ? modelRelation(relations) : null;
  const wanted = (said ?? '/3D/3dmodel.model').replace(/^\//, '');
  const found = [wanted, ...files.keys()].find((name) => files.has(name) && name.endsWith('.model'));
  if (!found)
    throw new Refusal('not-3mf', 'The archive holds no 3D model (3D/3dmodel.model), so it is no 3MF package.');
  return found;
}

/** Target of the relation that names the model; null where none does. */
function modelRelation(bytes: Uint8Array): string | null {
  let target: string | null = null;
  const parser = new SaxesParser();
  parser.on('opentag', ({ name, attributes }) => {
    if (local(name) === 'Relationship' && /3dmodel$/.test(attributes.Type ?? '')) target ??= attributes.Target ?? null;
  });
  parser.on('error', () => {}); // what the relations do not say is looked for
  parser.write(new TextDecoder().decode(bytes)).close();
  return target;
}

class PackageReader {
  private readonly objects = new Map<string, Object3>();
  private readonly baseMaterials = new Map<string, BaseMaterial[]>();
  private readonly items: { readonly object: string; readonly placement: Placement; readonly partNumber: string }[] =
    [];
  private readonly findings: Finding[] = [];
  private readonly meshes = new Map<ShapeKey, ShapeMesh>();
  private readonly read_ = new Set<string>();
  private readonly unknown = new Map<string, number>();
  private unit: readonly [number, string] = MILLIMETRE;
  private title = '';

  constructor(private readonly files: ReadonlyMap<string, Uint8Array>) {}

  read(main: string): ModelContent {
    const waiting = [main];
    for (const path of waiting) for (const other of this.readFile(path, path === main)) waiting.push(other);
    this.tellUnknown();
    const drafts: ComponentDraft[] = [];
    const draftOf = new Map<string, number>();
    if (this.items.length === 0)
      throw new Refusal('no-products', 'The 3MF package has no build items, so there is nothing to list.');
    const roots = this.items.map(({ object, placement }): DraftUsage => ({
      key: NO_KEY,
      child: this.addDraft(object, drafts, draftOf),
      label: '',
      quantity: 1,
      placement,
    }));
    if (roots.length > 1 || this.title)
      drafts.push({
        ...unnamed,
        name: this.title,
        usages: roots,
      });
    const assembly = {
      version: 1 as const,
      schema: '3MF',
      sourceUnit: this.unit[1],
      ...keyGraph(drafts),
      findings: this.findings,
    };
    refuseBrokenGraph(assembly);
    return { assembly, slices: [], meshes: [...this.meshes.values()] };
  }

  /** Objects by what they hold first, without recursion: a package may nest deeply. */
  private addDraft(root: string, drafts: ComponentDraft[], draftOf: Map<string, number>): number {
    const waiting = [root];
    const onWay = new Set<string>();
    while (waiting.length > 0) {
      const at = waiting[waiting.length - 1];
      const object = this.object(at);
      const open = draftOf.has(at)
        ? []
        : object.components.map((component) => component.object).filter((other) => !draftOf.has(other));
      if (open.length > 0) {
        if (onWay.has(at))
          throw new Refusal(
            'cyclic-structure',
            `Object ${at.split('#')[1]} of the 3MF package contains itself. Export it again; nothing was stored.`,
          );
        onWay.add(at);
        const back = open.find((other) => onWay.has(other));
        if (back)
          throw new Refusal(
            'cyclic-structure',
            `Object ${back.split('#')[1]} of the 3MF package contains itself. Export it again; nothing was stored.`,
          );
        for (const other of new Set(open)) waiting.push(other);
        continue;
      }
      waiting.pop();
      onWay.delete(at);
      if (draftOf.has(at)) continue;
      draftOf.set(at, drafts.length);
      drafts.push(this.draft(object, draftOf));
    }
    return draftOf.get(root)!;
  }

  private draft(object: Object3, draftOf: ReadonlyMap<string, number>): ComponentDraft {
    const { partNumber, name, properties, components } = object;
    const material = object.material && this.baseMaterials.get(object.material[0])?.[object.material[1]]?.name;
    return {
      partNumber,
      name,
      description: '',
      revision: '',
      source: null,
      shape: this.shape(object),
      properties: { ...(material ? { Material: { value: material } } : {}), ...properties },
      usages: components.map(({ object: child, placement }) => ({
        key: NO_KEY,
        child: draftOf.get(child)!,
        label: '',
        quantity: 1,
        placement,
      })),
    };
  }

  private object(key: string): Object3 {
    const found = this.objects.get(key);
    if (!found)
      throw new Refusal(
        'dangling-reference',
        `The 3MF package refers to object ${key.split('#')[1]}, which it does not hold. Parts may be missing, so it is refused; export it again.`,
      );
    return found;
  }

  private shape({ positions, triangles, materials, material, type }: Object3): ShapeKey | null {
    if (triangles.length === 0 || type === 'other') return null;
    const groupOf = new Map<string, number>();
    const colours: number[] = [];
    const groups = Uint32Array.from(materials, (own) => {
      const [id, index] = own ?? material ?? ['', -1];
      const name = `${id} ${index}`;
      let group = groupOf.get(name);
      if (group === undefined) {
        groupOf.set(name, (group = colours.length));
        colours.push(this.baseMaterials.get(id)?.[index]?.colour ?? -1);
      }
      return group;
    });
    const mesh = meshOfTriangles({
      positions: Float64Array.from(positions),
      triangles: Uint32Array.from(triangles),
      groups,
      colours,
    });
    if (mesh.triangles.length === 0) return null;
    const made = keyMesh(mesh);
    this.meshes.set(made.key, made);
    return made.key;
  }

  /** Paths of further parts that this one refers to. */
  private readFile(path: string, isMain: boolean): Iterable<string> {
    if (this.read_.has(path)) return [];
    this.read_.add(path);
    const bytes = this.files.get(path);
    if (!bytes)
      throw new Refusal(
        'dangling-reference',
        `The 3MF package refers to “${path}”, which it does not hold. Parts may be missing, so it is refused; export it again.`,
      );
    return new ModelParser(path, isMain, this).parse(bytes);
  }

  /** Whether further names of unknown elements are worth noting. */
  knowsFew(): boolean {
    return this.unknown.size < 1000;
  }
  addUnknown(element: string): void {
    this.unknown.set(element, (this.unknown.get(element) ?? 0) + 1);
  }
  /** What an extension adds is not read; it may hold parts. */
  private tellUnknown(): void {
    if (this.unknown.size === 0) return;
    const names = [...this.unknown].slice(0, 8).map(([name, count]) => `${name.slice(0, 60)} (${count})`);
    this.findings.push({
      code: 'unknown-elements',
      message: `The 3MF package holds elements that are not read: ${names.join(', ')}${this.unknown.size > 8 ? ' …' : ''}. If parts stand in them, they are missing; export without that extension.`,
    });
  }

  addObject(key: string, object: Object3): void {
    if (this.objects.has(key))
      throw new Refusal(
        'duplicate-id',
        `Object ${key.split('#')[1]} is defined twice in “${object.where}”. Which one counts cannot be known, so the file is refused.`,
      );
    this.objects.set(key, object);
  }
  addItem(object: string, placement: Placement, partNumber: string): void {
    this.items.push({ object, placement, partNumber });
  }
  addMaterials(key: string, materials: BaseMaterial[]): void {
    this.baseMaterials.set(key, materials);
  }
  setModel(unit: string, isMain: boolean): number {
    const known = UNITS.get(unit || 'millimeter');
    if (!known)
      throw new Refusal(
        'unknown-length-unit',
        `The 3MF package is in “${unit}”, which is no unit of 3MF (micron, millimeter, centimeter, inch, foot, meter).`,
      );
    if (isMain) this.unit = known;
    return known[0];
  }
  setTitle(title: string): void {
    this.title = title.trim();
  }
}

/** Elements of the core specification and of its materials extension that say nothing of structure or quantity. */
const IGNORED = new Set([
  'mesh',
  'vertices',
  'triangles',
  'components',
  'resources',
  'build',
  'metadatagroup',
  'colorgroup',
  'color',
  'texture2d',
  'texture2dgroup',
  'tex2coord',
  'compositematerials',
  'composite',
  'multiproperties',
  'multi',
  'pbspeculardisplayproperties',
  'pbspecular',
  'pbmetallicdisplayproperties',
  'pbmetallic',
  'trianglesets',
  'triangleset',
  'ref',
  'refrange',
]);

/**
 * Reads one .model part. Attribute names are taken without their prefix: the extensions' prefixes are the writer's
 * choice.
 */
class ModelParser {
  private toMm = 1;
  private object: Object3 | null = null;
  private materials: { key: string; list: BaseMaterial[] } | null = null;
  private metadata: { name: string; text: string } | null = null;
  private readonly others = new Set<string>();

  constructor(
    private readonly path: string,
    private readonly isMain: boolean,
    private readonly into: PackageReader,
  ) {}

  /** Paths of further parts that this one refers to. */
  parse(bytes: Uint8Array): Set<string> {
    const parser = new SaxesParser();
    parser.on('opentag', (tag) => this.open(tag));
    parser.on('closetag', (tag) => this.close(local(tag.name)));
    parser.on('text', (text) => {
      if (this.metadata) this.metadata.text += text;
    });
    parser.on('error', () => {
      throw new Refusal(
        'malformed-xml',
        `“${this.path}” of the 3MF package is damaged: ${xmlFault(parser)}. Export it again; nothing was stored.`,
      );
    });
    const decoder = new TextDecoder();
    const PIECE = 1 << 20;
    for (let at = 0; at < bytes.length; at += PIECE)
      parser.write(decoder.decode(bytes.subarray(at, at + PIECE), { stream: true }));
    parser.write(decoder.decode()).close();
    return this.others;
  }

  private open(tag: SaxesTagPlain): void {
    const name = local(tag.name);
    const attribute = (wanted: string): string =>
      tag.attributes[wanted] ?? Object.entries(tag.attributes).find(([key]) => local(key) === wanted)?.[1] ?? '';
    switch (name) {
      case 'vertex':
        return void this.object?.positions.push(
          Number(attribute('x')) * this.toMm,
          Number(attribute('y')) * this.toMm,
          Number(attribute('z')) * this.toMm,
        );
      case 'triangle':
        return this.triangle(attribute);
      case 'model':
        return void (this.toMm = this.into.setModel(attribute('unit'), this.isMain));
      case 'object':
        return this.openObject(attribute);
      case 'component':
        return void this.object?.components.push({
          object: this.objectKey(attribute),
          placement: this.transform(attribute('transform')),
        });
      case 'item':
        return this.isMain
          ? this.into.addItem(
              this.objectKey(attribute),
              this.transform(attribute('transform')),
              attribute('partnumber'),
            )
          : undefined;
      case 'basematerials':
        return void (this.materials = { key: `${this.path}#${attribute('id')}`, list: [] });
      case 'base':
        return void this.materials?.list.push({
          name: attribute('name').trim(),
          colour: /^#[0-9a-f]{6}/i.test(attribute('displaycolor'))
            ? parseInt(attribute('displaycolor').slice(1, 7), 16)
            : -1,
        });
      case 'metadata':
        return void (this.metadata = { name: attribute('name'), text: '' });
      default:
        if (!IGNORED.has(name) && this.into.knowsFew()) this.into.addUnknown(name);
    }
  }

  private openObject(attribute: (name: string) => string): void {
    const group = attribute('pid');
    this.object = {
      where: this.path,
      partNumber: attribute('partnumber').trim(),
      name: attribute('name').trim(),
      type: attribute('type') || 'model',
      material: group ? [`${this.path}#${group}`, Number(attribute('pindex') || 0)] : null,
      positions: [],
      triangles: [],
      materials: [],
      components: [],
      properties: {},
    };
    this.into.addObject(`${this.path}#${attribute('id')}`, this.object);
  }

  private triangle(attribute: (name: string) => string): void {
    if (!this.object) return;
    const count = this.object.positions.length / 3;
    const corners = [attribute('v1'), attribute('v2'), attribute('v3')].map(Number);
    if (!corners.every((at) => Number.isInteger(at) && at >= 0 && at < count)) return;
    this.object.triangles.push(...corners);
    const group = attribute('pid'),
      index = attribute('p1');
    this.object.materials.push(
      group || index ? [group ? `${this.path}#${group}` : (this.object.material?.[0] ?? ''), Number(index || 0)] : null,
    );
  }

  private close(name: string): void {
    if (name === 'object') this.object = null;
    if (name === 'basematerials' && this.materials) {
      this.into.addMaterials(this.materials.key, this.materials.list);
      this.materials = null;
    }
    if (name !== 'metadata' || !this.metadata) return;
    const { name: key, text } = this.metadata;
    this.metadata = null;
    if (this.object && key) this.object.properties[propertyNameFor(local(key))] = { value: text.trim() };
    else if (key === 'Title' && this.isMain) this.into.setTitle(text);
  }

  private objectKey(attribute: (name: string) => string): string {
    const path = attribute('path').replace(/^\//, '') || this.path;
    if (path !== this.path) this.others.add(path);
    return `${path}#${attribute('objectid')}`;
  }

  /** Twelve numbers of a matrix for row vectors, lengths in the model's unit. */
  private transform(text: string): Placement {
    if (!text.trim()) return identityPlacement;
    const m = text.trim().split(/\s+/).map(Number);
    if (m.length !== 12 || !m.every(Number.isFinite))
      throw new Refusal(
        'malformed-transform',
        `“${this.path}” of the 3MF package holds a transform that is no 12 numbers: “${text.slice(0, 60)}”.`,
      );
    return [
      m[0],
      m[3],
      m[6],
      m[9] * this.toMm,
      m[1],
      m[4],
      m[7],
      m[10] * this.toMm,
      m[2],
      m[5],
      m[8],
      m[11] * this.toMm,
    ];
  }
}

const local = (name: string): string => name.slice(name.indexOf(':') + 1);
