import { useId, useRef, useState } from 'react';

interface CellInputFieldProps {
  readonly label: string;
  readonly width: number;
  readonly text: string;
  /** Begins with all of the text selected, so that typing replaces it. */
  readonly whole: boolean;
  /** The words that can stand there, where there are only some. */
  readonly choices: readonly string[];
  /** Enter goes down, Tab to the side, Ctrl Enter fills the selection. */
  readonly onFinish: (text: string, then: 'down' | 'right' | 'left' | 'fill' | null) => void;
  readonly onLeave: () => void;
}

/** A cell of a list while something is typed into it. */
export function CellInputField({ label, width, text, whole, choices, onFinish, onLeave }: CellInputFieldProps) {
  const words = useId();
  const [value, setValue] = useState(text);
  const done = useRef(false);
  const finish = (then: Parameters<typeof onFinish>[1]) => {
    if (done.current) return;
    done.current = true;
    onFinish(value, then);
  };
  return (
    <>
      <input
        className="cell cellinput"
        aria-label={label}
        autoFocus
        list={choices.length > 0 ? words : undefined}
        onFocus={(event) => {
          if (whole) event.currentTarget.select();
        }}
        style={{ width }}
        value={value}
        onChange={(event) => setValue(event.currentTarget.value)}
        onBlur={() => finish(null)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') finish(event.ctrlKey || event.metaKey ? 'fill' : 'down');
          else if (event.key === 'Tab') finish(event.shiftKey ? 'left' : 'right');
          else if (event.key === 'Escape') {
            done.current = true;
            onLeave();
          } else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      {choices.length > 0 && (
        <datalist id={words}>
          {choices.map((word) => (
            <option key={word} value={word} />
          ))}
        </datalist>
      )}
    </>
  );
}
