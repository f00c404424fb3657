import type { OrderLine } from '../../../core/src/buying/index.ts';

/** `1,234.50`. */
export const money = (value: number): string =>
  value.toLocaleString('en', { minimumFractionDigits: 2, maximumFractionDigits: 2 });
/** Prices of small things have more decimals. */
export const price = (value: number): string =>
  value.toLocaleString('en', { minimumFractionDigits: 2, maximumFractionDigits: 4 });
/** `1260`, `33.7`. */
export const mm = (value: number): string => String(Number(value.toFixed(1)));
export const amount = ({ quantity, unit }: Pick<OrderLine, 'quantity' | 'unit'>): string =>
  quantity === null ? 'as required' : `${Number(quantity.toFixed(3)).toLocaleString('en')}${unit ? ` ${unit}` : ''}`;
export const days = (value: number): string => `${Number(value.toFixed(1))} ${value === 1 ? 'day' : 'days'}`;
export const meters = (lengthMm: number): string =>
  `${(lengthMm / 1000).toLocaleString('en', { maximumFractionDigits: 2 })} m`;
