import { describe, expect, it } from 'vitest';
import { editAssembly, LEFT_OUT_REASON, pathKey } from '../../assembly/index.ts';
import { makeBill } from '../../bill/index.ts';
import { newComponentEdits } from '../../documents/index.ts';
import { readLayout } from '../../layouts/index.ts';
import { assemblyOf, leaf, node } from '../../../../testkit/assemblies.ts';
import { countOf } from './liveCounts.ts';

const uses = (more = '') =>
  new TextEncoder().encode(
    `<svg xmlns="http://www.w3.org/2000/svg"><symbol id="c"><title>Cap</title><rect width="1" height="1"/></symbol>${[
      'red',
      'red',
      'black',
    ]
      .map((colour, at) => `<use href="#c" x="${at * 9}" data-colour="${colour}" data-height="${at + 1} m"/>`)
      .join('')}${more}</svg>`,
  );
const opened = (bytes: Uint8Array, edits = newComponentEdits) => {
  const { assembly } = editAssembly(readLayout(bytes).assembly, edits, new Map());
  return { assembly, bill: makeBill(assembly, { depth: 'parts-only', identity: 'name' }) };
};

describe('what stands behind “count of”', () => {
  const { assembly, bill } = opened(uses());
  it('is a name, with rules over attributes where wanted, or a line of the list', () => {
    expect(countOf('Cap', assembly, bill)).toBe(3);
    expect(countOf('cap where Colour = red', assembly, bill)).toBe(2);
    expect(countOf('Cap where Colour is red and Height is more than 1 m', assembly, bill)).toBe(1);
    expect(countOf('row 1', assembly, bill)).toBe(3);
  });
  it('is nothing where nothing is called so, or the rule cannot be read', () => {
    expect(countOf('Hat', assembly, bill)).toBeNull();
    expect(countOf('Cap where Shoe = 4', assembly, bill)).toBeNull();
    expect(countOf('row 9', assembly, bill)).toBeNull();
    expect(countOf('', assembly, bill)).toBeNull();
  });
  it('follows what is added, and what is left out with a reason', () => {
    const more = opened(uses('<use href="#c" x="50" data-colour="red"/>'));
    expect(countOf('Cap where Colour = red', more.assembly, more.bill)).toBe(3);
    const { usages } = assembly.components[assembly.root];
    const typedAt = { [pathKey([usages[0].key])]: { [LEFT_OUT_REASON]: { value: 'spare' } } };
    const less = opened(uses(), { ...newComponentEdits, typedAt });
    expect(countOf('Cap', less.assembly, less.bill)).toBe(2);
  });
  it('counts parts of a machine through its assemblies', () => {
    const machine = assemblyOf(
      node('TOP', [3, node('FOOT', [4, leaf('B-1', { name: 'Bolt' })])], [2, leaf('B-1', { name: 'Bolt' })]),
    );
    const rows = makeBill(machine, { depth: 'parts-only', identity: 'part-number' });
    expect(countOf('bolt', machine, rows)).toBe(14);
    expect(countOf('B-1', machine, rows)).toBe(14);
    expect(countOf('FOOT', machine, rows)).toBe(3);
  });
});
