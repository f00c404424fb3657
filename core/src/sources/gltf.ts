import {
  Refusal,
  jsonFault,
  keyGraph,
  keyMesh,
  propertyNameFor,
  refuseBrokenGraph,
  unnamed,
  type Finding,
  type Properties,
  type PropertyValue,
  type ShapeKey,
  type ShapeMesh,
} from '../assembly/index.ts';
import { composePlacements, identityPlacement, meshOfTriangles, toSrgb, type Placement } from '../geometry/index.ts';
import type { ModelContent } from '../step/index.ts';
import { GltfNumbers } from './gltfNumbers.ts';
import type { Gltf, GltfNode } from './gltfRecords.ts';
import { shareAlike, type TreeNode } from './shareAlike.ts';

const TO_MM = 1000; // glTF is in metres
/** glTF has y up; here z is. Own coordinates of meshes are turned too, so placements are turned from both sides. */
const turnPlacement = (m: Placement): Placement => {
  const turned = composePlacements(
    composePlacements([1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0], m),
    [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0],
  );
  return turned.map((value, at) => (at % 4 === 3 ? value * TO_MM : value) + 0);
};
const MAX_DEPTH = 512;
const TRIANGLES = 4,
  STRIP = 5,
  FAN = 6;

/**
 * Structure, names, extras and meshes of a glTF 2.0 asset, text or binary. Nodes that are alike become one component.
 * @throws Refusal where it is no such asset or its node tree is broken
 */
export function readGltf(bytes: Uint8Array): ModelContent {
  const { json, binary } = openContainer(bytes);
  if (!text(json.asset?.version).startsWith('2.'))
    throw new Refusal(
      'not-gltf',
      `This is glTF version ${String(json.asset?.version ?? '(none given)').slice(0, 20)}; version 2 can be read. Export it as glTF 2.0.`,
    );
  return new GltfReader(json, binary).read();
}

function openContainer(bytes: Uint8Array): { json: Gltf; binary: Uint8Array | null } {
  if (bytes[0] !== 0x67) return { json: parseJson(bytes), binary: null };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const cut = () =>
    new Refusal(
      'truncated',
      `The binary glTF file is cut off: it says it has ${bytes.length >= 12 ? view.getUint32(8, true) : 'at least 12'} bytes, but there are ${bytes.length}. Copy or export it again; nothing was stored.`,
    );
  if (bytes.length < 20 || view.getUint32(8, true) > bytes.length) throw cut();
  let json: Gltf | null = null,
    binary: Uint8Array | null = null;
  for (let at = 12; at + 8 <= view.getUint32(8, true);) {
    const size = view.getUint32(at, true),
      kind = view.getUint32(at + 4, true);
    if (at + 8 + size > bytes.length) throw cut();
    const chunk = bytes.subarray(at + 8, at + 8 + size);
    if (kind === 0x4e4f534a) json ??= parseJson(chunk);
    if (kind === 0x004e4942) binary ??= chunk;
    at += 8 + size;
  }
  if (!json) throw new Refusal('not-gltf', 'The binary glTF file has no JSON chunk, so there is no structure to read.');
  return { json, binary };
}

function parseJson(bytes: Uint8Array): Gltf {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new Refusal('not-gltf', 'The text of the glTF file is not UTF-8, so it is damaged. Export it again.');
  }
  try {
    const value = JSON.parse(text) as unknown;
    if (value && typeof value === 'object' && !Array.isArray(value)) return value as Gltf;
  } catch (error) {
    throw new Refusal('not-gltf', `The glTF file is no valid JSON (${jsonFault(text, error)}). Export it again.`);
  }
  throw new Refusal('not-gltf', 'The glTF file holds no JSON object, so there is no structure to read.');
}

class GltfReader {
  private readonly findings: Finding[] = [];
  private readonly meshes = new Map<ShapeKey, ShapeMesh>();
  private readonly shapeOfMesh = new Map<number, ShapeKey | null>();
  private readonly reached = new Set<number>();

  private readonly numbers: GltfNumbers;

  constructor(
    private readonly json: Gltf,
    binary: Uint8Array | null,
  ) {
    this.numbers = new GltfNumbers(json, binary);
  }

  read(): ModelContent {
    const scene = this.json.scenes?.[this.json.scene ?? 0];
    const nodes = this.records(this.json.nodes, 'nodes');
    const used = new Set(nodes.flatMap((node) => this.list(node.children, 'children')));
    const roots = scene?.nodes
      ? this.list(scene.nodes, 'nodes of the scene')
      : [...nodes.keys()].filter((at) => !used.has(at));
    const tree = this.walk(nodes, roots);
    this.tellUnreached(nodes);
    if (tree.length === 0)
      throw new Refusal(
        'no-products',
        'The glTF file has no nodes, so there is nothing to list. Export it with its scene.',
      );
    const { drafts } = shareAlike(
      tree.length > 1 && roots.length === 1 ? tree : [this.top(roots.length), ...shift(tree)],
    );
    for (const name of this.numbers.missing)
      this.findings.push({
        code: 'external-file',
        message: `Shapes stand in another file, “${name}”, that was not given; they are counted but not drawn. Export as one binary file (.glb) to have them.`,
      });
    const assembly = {
      version: 1 as const,
      schema: `glTF ${this.json.asset!.version}`,
      sourceUnit: 'm',
      ...keyGraph(
        drafts.reverse().map((draft) => ({
          ...draft,
          usages: draft.usages.map((usage) => ({ ...usage, child: drafts.length - 1 - usage.child })),
        })),
      ),
      findings: this.findings,
    };
    refuseBrokenGraph(assembly);
    return { assembly, slices: [], meshes: [...this.meshes.values()] };
  }

  /** What stands in no scene is not shown by its writer, and is not listed; it may have been forgotten. */
  private tellUnreached(nodes: readonly GltfNode[]): void {
    const left = nodes.filter(({ mesh, name }, at) => !this.reached.has(at) && (mesh !== undefined || Boolean(name)));
    if (left.length === 0) return;
    const names = left.slice(0, 8).map(({ name, mesh }) => `“${text(name) || `mesh ${mesh}`}”`);
    this.findings.push({
      code: 'not-in-scene',
      message: `${left.length} ${left.length === 1 ? 'node stands' : 'nodes stand'} in no scene that is shown and ${left.length === 1 ? 'is' : 'are'} not listed: ${names.join(', ')}${left.length > 8 ? ' …' : ''}. Put them into the scene and export again if they belong to the machine.`,
    });
  }

  /** Several roots stand under an unnamed top, in their places. */
  private top(roots: number): TreeNode {
    return {
      ...unnamed,
      usage: place(identityPlacement, ''),
      children: Array.from({ length: roots }, (_, at) => at + 1),
    };
  }

  private list<Item>(value: readonly Item[] | undefined, name: string): readonly Item[] {
    if (value !== undefined && !Array.isArray(value))
      throw new Refusal('not-gltf', `“${name}” of the glTF file is no list.`);
    return value ?? [];
  }

  /** A list of records, each of them one. */
  private records<Item extends object>(value: readonly Item[] | undefined, name: string): readonly Item[] {
    const all = this.list(value, name);
    const stranger = all.findIndex((one) => !one || typeof one !== 'object');
    if (stranger >= 0)
      throw new Refusal('not-gltf', `Number ${stranger} of “${name}” of the glTF file is no record. Export it again.`);
    return all;
  }

  /** The node tree breadth first, so that children stand behind their parents. */
  private walk(nodes: readonly GltfNode[], roots: readonly number[]): TreeNode[] {
    const tree: TreeNode[] = [];
    const waiting = roots.map((node) => ({ node, depth: 0 }));
    const seen = this.reached;
    for (const { node: at, depth } of waiting) {
      const node = nodes[at];
      if (!node)
        throw new Refusal(
          'dangling-reference',
          `The glTF file refers to node ${at}, but it has ${nodes.length}. Parts may be missing, so it is refused; export it again.`,
        );
      if (seen.has(at))
        throw new Refusal(
          'cyclic-structure',
          `Node ${at} (“${node.name ?? ''}”) of the glTF file stands in two places or in itself; a node may have one parent. Export it again.`,
        );
      if (depth > MAX_DEPTH) throw new Refusal('too-deep', `The node tree is more than ${MAX_DEPTH} levels deep.`);
      seen.add(at);
      const children = this.list(node.children, 'children');
      const first = waiting.length;
      for (const child of children) waiting.push({ node: child, depth: depth + 1 });
      tree.push(
        this.treeNode(
          node,
          children.map((_, order) => first + order),
        ),
      );
    }
    return tree;
  }

  private treeNode(node: GltfNode, children: readonly number[]): TreeNode {
    const mesh = node.mesh === undefined ? undefined : this.json.meshes?.[node.mesh];
    if (node.mesh !== undefined && !mesh)
      throw new Refusal(
        'dangling-reference',
        `Node “${node.name ?? ''}” refers to mesh ${node.mesh}, which the glTF file does not define. Export it again.`,
      );
    const own = text(node.name);
    const leaf = children.length === 0;
    const facts = factsOf({ ...plain(mesh?.extras), ...plain(node.extras) });
    return {
      ...facts,
      shape: node.mesh === undefined ? null : this.shape(node.mesh),
      // Writers number the places of one mesh (“Bolt.003”): the mesh says what it is, the node where.
      name: leaf && mesh ? text(mesh.name) || stem(own) : stem(own),
      usage: place(nodePlacement(node), own),
      children,
    };
  }

  private shape(mesh: number): ShapeKey | null {
    let key = this.shapeOfMesh.get(mesh);
    if (key === undefined) {
      const made = this.makeMesh(mesh);
      if (made) this.meshes.set(made.key, made);
      this.shapeOfMesh.set(mesh, (key = made?.key ?? null));
    }
    return key;
  }

  private makeMesh(mesh: number): ShapeMesh | null {
    const positions: number[] = [],
      triangles: number[] = [],
      groups: number[] = [],
      colours: number[] = [];
    /** Where the points of an accessor begin: primitives of a mesh often share theirs. */
    const begins = new Map<number, { first: number; count: number }>();
    this.records(this.json.meshes![mesh].primitives, 'primitives').forEach((primitive, group) => {
      const mode = primitive.mode ?? TRIANGLES;
      if (mode < TRIANGLES || mode > FAN) return; // points and lines have no surface
      const packed = Object.keys(primitive.extensions ?? {}).find((name) => /compression/.test(name));
      const wanted = primitive.attributes?.POSITION;
      let begin = wanted === undefined ? undefined : begins.get(wanted);
      if (!begin) {
        const points = packed ? null : this.numbers.values(wanted, 3);
        if (!points) return this.tellUnreadable(mesh, packed);
        begin = { first: positions.length / 3, count: points.length / 3 };
        begins.set(wanted!, begin);
        for (let at = 0; at + 2 < points.length; at += 3)
          positions.push(points[at] * TO_MM, 0 - points[at + 2] * TO_MM, points[at + 1] * TO_MM);
      }
      const { first, count } = begin;
      const indices =
        primitive.indices === undefined
          ? Float64Array.from({ length: count }, (_, at) => at)
          : this.numbers.values(primitive.indices, 1);
      if (!indices) return this.tellUnreadable(mesh, undefined);
      addTriangles(indices, mode, count, first, triangles);
      while (groups.length < triangles.length / 3) groups.push(group);
      const factor = this.json.materials?.[primitive.material ?? -1]?.pbrMetallicRoughness?.baseColorFactor;
      colours[group] =
        Array.isArray(factor) && factor.length >= 3
          ? toSrgb(factor[0]) * 65536 + toSrgb(factor[1]) * 256 + toSrgb(factor[2])
          : -1;
    });
    if (triangles.length === 0) return null;
    const made = meshOfTriangles({
      positions: Float64Array.from(positions),
      triangles: Uint32Array.from(triangles),
      groups: Uint32Array.from(groups),
      colours,
    });
    return made.triangles.length > 0 ? keyMesh(made) : null;
  }

  private tellUnreadable(mesh: number, extension: string | undefined): void {
    const name = text(this.json.meshes![mesh].name) || `number ${mesh}`;
    if (extension)
      this.findings.push({
        code: 'shape-failed',
        message: `The mesh “${name}” is packed by ${extension}, which is not read; it is counted in the bill but not drawn. Export without compression to have it.`,
      });
    else if (this.numbers.missing.size === 0)
      this.findings.push({
        code: 'shape-failed',
        message: `The mesh “${name}” is incomplete; it is counted in the bill but not drawn.`,
      });
  }
}

function addTriangles(indices: Float64Array, mode: number, vertices: number, first: number, triangles: number[]): void {
  const add = (a: number, b: number, c: number) => {
    if (a < vertices && b < vertices && c < vertices) triangles.push(first + a, first + b, first + c);
  };
  if (mode === TRIANGLES)
    for (let at = 0; at + 2 < indices.length; at += 3) add(indices[at], indices[at + 1], indices[at + 2]);
  if (mode === STRIP)
    for (let at = 0; at + 2 < indices.length; at++)
      add(indices[at], indices[at + 1 + (at % 2)], indices[at + 2 - (at % 2)]);
  if (mode === FAN) for (let at = 1; at + 1 < indices.length; at++) add(indices[0], indices[at], indices[at + 1]);
}

const place = (placement: Placement, label: string): TreeNode['usage'] => ({ label, quantity: 1, placement });
const shift = (tree: readonly TreeNode[]): TreeNode[] =>
  tree.map((node) => ({ ...node, children: node.children.map((child) => child + 1) }));
const text = (value: unknown): string => (typeof value === 'string' ? value.trim() : '');
/** “Bolt.003”, “Bolt:3” and “Bolt_003” are places of Bolt. */
const stem = (name: string): string => name.replace(/(\.\d{3}|:\d+|_\d{3})$/, '');
const plain = (extras: unknown): Record<string, unknown> =>
  extras && typeof extras === 'object' && !Array.isArray(extras) ? (extras as Record<string, unknown>) : {};

function nodePlacement({ matrix, translation, rotation, scale }: GltfNode): Placement {
  const finite = (values: readonly number[] | undefined, size: number): readonly number[] | null =>
    Array.isArray(values) && values.length === size && values.every(Number.isFinite) ? values : null;
  const m = finite(matrix, 16);
  if (m) return turnPlacement([m[0], m[4], m[8], m[12], m[1], m[5], m[9], m[13], m[2], m[6], m[10], m[14]]);
  const [x, y, z, w] = finite(rotation, 4) ?? [0, 0, 0, 1];
  const [sx, sy, sz] = finite(scale, 3) ?? [1, 1, 1];
  const [tx, ty, tz] = finite(translation, 3) ?? [0, 0, 0];
  return turnPlacement([
    (1 - 2 * (y * y + z * z)) * sx,
    2 * (x * y - z * w) * sy,
    2 * (x * z + y * w) * sz,
    tx,
    2 * (x * y + z * w) * sx,
    (1 - 2 * (x * x + z * z)) * sy,
    2 * (y * z - x * w) * sz,
    ty,
    2 * (x * z - y * w) * sx,
    2 * (y * z + x * w) * sy,
    (1 - 2 * (x * x + y * y)) * sz,
    tz,
  ]);
}

/**
 * Names under which writers keep what a part has of its own in extras, in small letters without marks between words.
 */
const OWN: ReadonlyMap<string, 'partNumber' | 'description' | 'revision'> = new Map(
  Object.entries({
    partnumber: 'partNumber',
    partno: 'partNumber',
    number: 'partNumber',
    description: 'description',
    revision: 'revision',
    rev: 'revision',
  } as const),
);

/** Extras as own fields of a component and properties; nested ones by their names joined with a point. */
export function factsOf(
  extras: Readonly<Record<string, unknown>>,
): Pick<TreeNode, 'partNumber' | 'description' | 'revision' | 'source' | 'properties'> {
  const facts = { partNumber: '', description: '', revision: '' };
  const properties: Record<string, PropertyValue> = {};
  const add = (name: string, value: unknown, depth: number) => {
    const own = OWN.get(name.toLowerCase().replace(/[^a-z]/g, ''));
    if (own && (typeof value === 'string' || typeof value === 'number')) facts[own] ||= String(value).trim();
    else if (
      typeof value === 'string' ||
      typeof value === 'boolean' ||
      (typeof value === 'number' && Number.isFinite(value))
    )
      properties[propertyNameFor(name)] = { value };
    else if (value && typeof value === 'object' && depth < 4)
      for (const [key, inner] of Object.entries(value)) add(`${name}.${key}`, inner, depth + 1);
  };
  for (const [name, value] of Object.entries(extras)) add(name, value, 0);
  return { ...facts, source: null, properties: properties as Properties };
}
