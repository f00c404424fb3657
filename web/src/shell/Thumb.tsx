import { IconBox, IconStack2 } from '@tabler/icons-react';
import { useState } from 'react';
import { isAssembly, type Component } from '../../../core/src/assembly/index.ts';
import { thumbnailAt } from '../data/addresses.ts';

interface ThumbProps {
  readonly component: Component;
  /** Edge in pixels. @default 26 */
  readonly size?: number;
}

/** The picture of a part; a mark for an assembly, and for a part whose picture is not there. */
export function Thumb({ component, size = 26 }: ThumbProps) {
  const [missing, setMissing] = useState<string | null>(null);
  const { shape } = component;
  if (shape && missing !== shape)
    return (
      <img
        className="thumb"
        src={thumbnailAt(shape)}
        width={size}
        height={size}
        loading="lazy"
        alt=""
        onError={() => setMissing(shape)}
      />
    );
  const Mark = isAssembly(component) ? IconStack2 : IconBox;
  return (
    <span className="thumb none" style={{ width: size, height: size }}>
      <Mark size={size * 0.62} stroke={1.4} />
    </span>
  );
}
