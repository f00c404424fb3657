// Walks over files that share nothing with the readers: they count the pieces of a machine as plainly as can be, and judge
// what the readers make of damaged files. Null where a file is more than they know.
import Papa from 'papaparse';

/** Paths from what nothing holds down to what holds nothing; null where something stands in itself. */
function pathsDown(
  joins: readonly (readonly [parent: string, child: string, count: number])[],
  all: Iterable<string>,
): number | null {
  const inside = new Map<string, (readonly [string, number])[]>();
  const held = new Set<string>();
  for (const [parent, child, count] of joins) {
    inside.set(parent, [...(inside.get(parent) ?? []), [child, count]]);
    held.add(child);
  }
  let cyclic = false;
  const count = (name: string, above: ReadonlySet<string>): number => {
    if (above.has(name)) {
      cyclic = true;
      return 0;
    }
    const contents = inside.get(name);
    return contents
      ? contents.reduce((sum, [child, times]) => sum + times * count(child, new Set([...above, name])), 0)
      : 1;
  };
  let sum = 0;
  for (const name of new Set([...all])) if (!held.has(name)) sum += count(name, new Set());
  return cyclic ? null : sum;
}

/** Pieces of a STEP file of plain products and usages, one statement a line. */
export function stepPieces(text: string): number | null {
  const joins: [string, string, number][] = [];
  const shaped = new Set<string>(),
    definitions = new Set<string>();
  const [, data] = /^DATA;$(.*?)^ENDSEC;$/ms.exec(text) ?? [];
  if (data === undefined) return null;
  for (const line of data.split('\n')) {
    if (line === '') continue;
    const [, id, keyword, inner] = /^#(\d+)=([A-Z_0-9]+)\((.*)\);\s*$/.exec(line) ?? [];
    if (inner?.includes(';')) return null; // two statements in a line
    if (!keyword) {
      if (/^#\d+=\(/.test(line)) continue; // several entities in one: units, contexts
      return null;
    }
    const references = [...inner.replace(/'[^']*'/g, '').matchAll(/#(\d+)/g)].map(([, name]) => name);
    if (keyword === 'PRODUCT_DEFINITION') definitions.add(id);
    else if (keyword === 'NEXT_ASSEMBLY_USAGE_OCCURRENCE' && references.length === 2)
      joins.push([references[0], references[1], 1]);
    else if (keyword === 'PRODUCT_DEFINITION_SHAPE' && references.length === 1) shaped.add(references[0]);
  }
  if (joins.some((ends) => !definitions.has(ends[0]) || !definitions.has(ends[1]))) return null;
  const used = new Set(joins.flatMap(([parent, child]) => [parent, child]));
  // What nothing uses, opens or draws is a document or the like.
  return pathsDown(
    joins,
    [...definitions].filter((id) => used.has(id) || shaped.has(id)),
  );
}

/** Pieces of a glTF file: nodes without others in them, as often as the scene comes to them. */
export function gltfPieces(text: string): number | null {
  interface Node {
    readonly mesh?: unknown;
    readonly children?: unknown;
  }
  let file: { scene?: number; scenes?: { nodes?: number[] }[]; nodes?: Node[] };
  try {
    file = JSON.parse(text) as typeof file;
  } catch {
    return null;
  }
  const nodes = file.nodes ?? [];
  let steps = 0;
  const count = (at: number): number => {
    if (++steps > 1000 || !nodes[at]) return NaN;
    const { mesh, children = [] } = nodes[at];
    if (!Array.isArray(children) || (children.length === 0 && mesh === undefined)) return NaN;
    return children.length === 0 ? 1 : (children as number[]).reduce((sum, child) => sum + count(child), 0);
  };
  const roots = file.scenes?.[file.scene ?? 0]?.nodes;
  if (!Array.isArray(roots)) return null;
  const sum = roots.reduce((all, root) => all + count(root), 0);
  return Number.isFinite(sum) ? sum : null;
}

/** Pieces of a 3MF model: objects with a mesh, as often as the build comes to them. */
export function threeMfPieces(text: string): number | null {
  const joins: [string, string, number][] = [];
  const meshes = new Set<string>();
  for (const [, id, inner] of text.matchAll(/<object id="(\d+)"[^>]*>(.*?)<\/object>/gs)) {
    if (inner.includes('<mesh>')) meshes.add(id);
    for (const [, of] of inner.matchAll(/<component objectid="(\d+)"/g)) joins.push([id, of, 1]);
  }
  for (const [, of] of text.matchAll(/<item objectid="(\d+)"/g)) joins.push(['build', of, 1]);
  if (joins.some(([, child]) => !meshes.has(child) && !joins.some(([parent]) => parent === child))) return null;
  return pathsDown(joins, ['build']);
}

/** Pieces of a list by levels: quantities multiplied downwards. */
export function listPieces(text: string, separator: string): number | null {
  const { data, errors } = Papa.parse<string[]>(text, { delimiter: separator, skipEmptyLines: 'greedy' });
  if (errors.length > 0) return null;
  if (data[0]?.slice(0, 4).join() !== 'Level,Part number,Name,Quantity') return null;
  const rows = data.slice(1).map(([level, , , quantity]) => ({ level: Number(level), quantity: Number(quantity) }));
  if (
    rows.some(
      ({ level, quantity }) =>
        !(level >= 0 && level < 512) || !Number.isInteger(level) || !Number.isInteger(quantity) || quantity < 1,
    )
  )
    return null; // what is no count is a size
  const above: number[] = [1];
  let sum = 0;
  rows.forEach(({ level, quantity }, at) => {
    const total = quantity * (above[level - 1] ?? NaN);
    above[level] = total;
    above.length = level + 1;
    if (!(rows[at + 1]?.level > level)) sum += total;
  });
  return Number.isFinite(sum) ? sum : null;
}

/** Uses of symbols in a layout that has no others. */
export const layoutPieces = (text: string): number | null => [...text.matchAll(/<use\s/g)].length;
