import { move, block } from '../demo/solids.ts';
import { place, ProductWriter, type Placed, type Product } from '../demo/product.ts';
import { StepWriter } from '../demo/stepWriter.ts';

/** For tests: the STEP text of a product and everything in it. */
export function stepOf(product: Product): string {
  const step = new StepWriter();
  const writer = new ProductWriter(step);
  writer.write(product);
  writer.finish();
  return step.finish('test.step', '2026-01-01T00:00:00');
}

export const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);

export const part = (number: string, name: string, size = 10, extra: Partial<Product> = {}): Product => ({ number, name, solids: [block(size, size, size)], ...extra });
export const group = (number: string, name: string, ...contents: Placed[]): Product => ({ number, name, contents });
export const times = (count: number, product: Product): Placed[] => Array.from({ length: count }, (_, at) => place(product, move(at * 20, 0, 0)));

/** A table: four feet of two bolts and a plate each, and a top. */
export function tableProduct(): Product {
  const bolt = part('B-1', 'Bolt', 4), plate = part('P-1', 'Plate', 10), top = part('T-1', 'Top', 60);
  const foot = group('F-1', 'Foot', ...times(2, bolt), ...times(1, plate));
  return group('A-1', 'Table', ...times(4, foot), place(top, move(0, 0, 50)));
}
