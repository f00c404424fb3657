import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';

/** Of many rows of one height those that are seen. @param height px */
export function useVirtualRows(count: number, height: number) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan: 15,
  });
  return { scroller, virtual };
}
