import { isFlatMesh, measureSizes, meshBox, meshMoments, type Mesh, type Moments } from '../geometry/index.ts';
import type { MeasuredValue, ShapeFacts } from './edited.ts';

/** What is measured once per shape: named sizes for bills, and what tells shapes apart. */
export interface ShapeMeasurement extends ShapeFacts {
  readonly moments: Pick<Moments, 'volume' | 'area' | 'principal'>;
}

/** Names of everything that shapes give a component, in words of bills. */
export const measuredNames = [
  'Overall size',
  'Stock',
  'Length',
  'Width',
  'Height',
  'Diameter',
  'Wall',
  'Thickness',
  'Mass',
] as const;

const length = (value: number): string => String(Number(value.toFixed(2)));

/** Named sizes of a mesh, its box and stock in words, volume and moments. */
export function measureShape(mesh: Mesh): ShapeMeasurement {
  const { box, stock, sizes } = measureSizes(mesh);
  const { volume, area, principal } = meshMoments(mesh);
  const moments = { volume, area, principal };
  if (isFlatMesh(mesh)) return { sizes: symbolSize(mesh), volume: null, moments };
  const found: Record<string, MeasuredValue> = {
    'Overall size': { value: box.map(length).join(' × '), unit: 'mm', how: 'box along the main axes of the shape' },
  };
  if (stock) found.Stock = { value: stock, how: 'recognised by shape' };
  for (const [name, { value, how }] of Object.entries(sizes)) found[name] = { value, unit: 'mm', how };
  return { sizes: found, volume: volume > 0 ? volume : null, moments };
}

/** A symbol of a layout has no stock and no thickness. */
function symbolSize(mesh: Mesh): Record<string, MeasuredValue> {
  const [x0, y0, , x1, y1] = meshBox(mesh);
  // Its lines have a breadth far below this.
  const value = [x1 - x0, y1 - y0].map((size) => length(Number(size.toFixed(1)))).join(' × ');
  return { 'Overall size': { value, unit: 'mm', how: 'box of the symbol as it is drawn' } };
}
