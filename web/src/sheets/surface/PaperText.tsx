import { useRef, useState, type ClipboardEvent } from 'react';
import { textToBlock } from '../../../../core/src/formats/index.ts';
import type { Box2 } from '../../../../core/src/geometry/index.ts';

/** A text of the sheet that is typed where it stands. */
export interface PaperTextProps {
  /** Of what is typed: another one begins anew. */
  readonly key?: string;
  readonly label: string;
  /** Where it stands; mm. */
  readonly box: Box2;
  readonly stored: string;
  readonly lines: boolean;
  /** CSS pixels per mm. */
  readonly zoom: number;
  readonly onKeep: (text: string) => void;
  readonly onClose: () => void;
  /** Takes several cells from a spreadsheet. */
  readonly onBlock?: (block: readonly (readonly string[])[]) => void;
  /** On to the next one, where there are several side by side. */
  readonly onStep?: (way: 'left' | 'right' | 'up' | 'down') => void;
}

const STEPS: Readonly<Record<string, 'up' | 'down'>> = { ArrowUp: 'up', ArrowDown: 'down' };
const LEAST_WIDTH = 120; // px, so that one sees what one types on a small picture of the paper

/** A field over the text: Enter keeps it (with Ctrl where it has several lines), Esc leaves it as it was. */
export function PaperText({
  label,
  box,
  stored,
  lines,
  zoom,
  onKeep,
  onClose,
  onStep,
  onBlock,
}: Omit<PaperTextProps, 'key'>) {
  const [text, setText] = useState(stored);
  const done = useRef(false);
  const close = (keep: boolean, then?: () => void) => {
    if (done.current) return; // leaving the field closes it too
    done.current = true;
    if (keep && text !== stored) onKeep(text);
    onClose();
    then?.();
  };
  const props = {
    'aria-label': label,
    className: 'papertext',
    autoFocus: true,
    value: text,
    maxLength: lines ? 4000 : 200,
    style: {
      left: box[0] * zoom,
      top: box[1] * zoom,
      width: Math.max(LEAST_WIDTH, (box[2] - box[0]) * zoom),
      height: Math.max(lines ? 90 : 26, (box[3] - box[1]) * zoom),
    },
    onFocus: (event: { currentTarget: HTMLInputElement | HTMLTextAreaElement }) => event.currentTarget.select(),
    onChange: (event: { currentTarget: { value: string } }) => setText(event.currentTarget.value),
    onPaste: (event: ClipboardEvent) => {
      const block = onBlock ? textToBlock(event.clipboardData.getData('text/plain')) : [];
      if (block.length < 2 && (block[0]?.length ?? 0) < 2) return;
      event.preventDefault();
      done.current = true;
      onBlock!(block);
      onClose();
    },
    onBlur: () => close(true),
    onPointerDown: (event: { stopPropagation: () => void }) => event.stopPropagation(),
    onKeyDown: (event: {
      key: string;
      ctrlKey: boolean;
      shiftKey: boolean;
      stopPropagation: () => void;
      preventDefault: () => void;
    }) => {
      event.stopPropagation();
      if (event.key === 'Escape') close(false);
      else if (event.key === 'Enter' && (!lines || event.ctrlKey)) {
        event.preventDefault();
        close(true);
      } else if (onStep) {
        const way = event.key === 'Tab' ? (event.shiftKey ? 'left' : 'right') : STEPS[event.key];
        if (!way) return;
        event.preventDefault();
        close(true, () => onStep(way));
      }
    },
  };
  return lines ? <textarea {...props} /> : <input {...props} />;
}
