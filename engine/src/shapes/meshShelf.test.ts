import { describe, expect, test } from 'vitest';
import { packMesh } from '../../../core/src/formats/index.ts';
import { boxMesh } from '../../../testkit/shapes.ts';
import { MeshShelf } from './meshShelf.ts';

const packed = (key: string) => ({ key, bytes: packMesh(boxMesh(1, 2, 3)) });
const { length } = packed('any').bytes;

describe('meshes that a worker keeps', () => {
  test('are the same records when asked for again, so that what was worked out for them is there', () => {
    const shelf = new MeshShelf(10 * length);
    const [one, other] = shelf.take([packed('a'), packed('b')]);
    expect(shelf.take([packed('b'), packed('a'), packed('c')]).slice(0, 2)).toEqual([other, one]);
    expect(shelf.take([packed('a')])[0]).toBe(one);
    expect(other).not.toBe(one);
  });
  test('those not used for longest go where there are too many', () => {
    const shelf = new MeshShelf(2 * length);
    const [a, b] = shelf.take([packed('a'), packed('b')]);
    shelf.take([packed('a')]);
    shelf.take([packed('c')]);
    expect(shelf.take([packed('a')])[0]).toBe(a);
    expect(shelf.take([packed('b')])[0]).not.toBe(b);
  });
  test('one piece of work gets all that it asks for, however large', () => {
    const shelf = new MeshShelf(length / 2);
    const meshes = shelf.take([packed('a'), packed('b'), packed('a')]);
    expect(meshes.map(({ positions }) => positions.length)).toEqual([72, 72, 72]);
    expect(meshes[2]).toBe(meshes[0]);
  });
});
