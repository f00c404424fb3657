import { NO_KEY, type ComponentDraft, type DraftUsage } from '../assembly/index.ts';

/** A place in a tree of places: what a file has that knows no shared definitions. */
export interface TreeNode extends Omit<ComponentDraft, 'usages'> {
  readonly usage: Omit<DraftUsage, 'key' | 'child'>;
  readonly children: readonly number[];
}

/**
 * Components of a tree: places that are alike in number, name, shape, own facts and contents become one component
 * that is used several times; labels of places do not count, those of the last such place are kept. Children stand
 * behind their parents in `nodes`; the result keeps the order of first appearance from the last node to the first.
 * Cost: one pass.
 * @returns drafts, and the draft of each node
 */
export function shareAlike(nodes: readonly TreeNode[]): { drafts: ComponentDraft[]; draftOf: Int32Array } {
  const draftOf = new Int32Array(nodes.length);
  const drafts: ComponentDraft[] = [];
  const known = new Map<string, number>();
  for (let at = nodes.length - 1; at >= 0; at--) {
    const { usage: _, children, ...facts } = nodes[at];
    const usages = children.map((child): DraftUsage => ({ key: NO_KEY, child: draftOf[child], ...nodes[child].usage }));
    const contents = usages.map(({ child, quantity, placement, properties }) => [
      child,
      quantity,
      placement.map((value) => Math.round(value * 1e6)),
      properties ?? null,
    ]);
    const signature = JSON.stringify([facts, contents]);
    const before = known.get(signature);
    if (before !== undefined) draftOf[at] = before;
    else {
      known.set(signature, drafts.length);
      draftOf[at] = drafts.length;
      drafts.push({ ...facts, usages });
    }
  }
  return { drafts, draftOf };
}
