import { Menu } from '@mantine/core';
import type { ReactNode } from 'react';
import type { Vec2 } from '../../../../core/src/geometry/index.ts';
import {
  alignments,
  alignThings,
  distributeThings,
  inLineThings,
  kindOfThing,
  severalOf,
  type PlacedThing,
  type Ways,
} from '../../../../core/src/sheets/index.ts';
import { balloonActions } from '../balloonActions.ts';
import { alignWords } from '../words.ts';
import type { OnPaper } from './tools/paperTool.ts';
import type { useCopies } from './tools/useCopies.ts';

interface PaperMenuProps {
  readonly on: OnPaper;
  readonly placed: readonly PlacedThing[];
  /** In the window; null while it is closed. */
  readonly at: Vec2 | null;
  readonly copies: ReturnType<typeof useCopies>;
  readonly take: (label: string, ways: Ways) => void;
  readonly takeAway: () => void;
  readonly onClose: () => void;
}

/** What can be done with what is picked, beside the pointer. */
export function PaperMenu({ on, placed, at, copies, take, takeAway, onClose }: PaperMenuProps) {
  const { sheet, layout, things, thing, choose, change } = on;
  /** Of what is picked what can be brought in line. */
  const aligned = inLineThings(sheet, placed, things);
  return (
    <MenuAt at={at} onClose={onClose}>
      {things.some(({ kind }) => kind === 'view' || kind === 'note') && (
        <Menu.Item onClick={copies.copy}>Copy</Menu.Item>
      )}
      {copies.hasCopies() && <Menu.Item onClick={copies.paste}>Paste</Menu.Item>}
      {thing && thing.kind !== 'titleBlock' && (
        <Menu.Item onClick={() => choose(placed.map((one) => one.thing).filter(({ kind }) => kind === thing.kind))}>
          Pick every {kindOfThing(thing.kind).called}
        </Menu.Item>
      )}
      {balloonActions({ sheet, layout, things }).map(({ label, undo, after }) => (
        <Menu.Item key={label} onClick={() => change(undo, after())}>
          {label}
        </Menu.Item>
      ))}
      {aligned.length > 1 &&
        alignments.map((how) => (
          <Menu.Item key={how} onClick={() => take(alignWords[how], alignThings(aligned, how))}>
            {alignWords[how]}
          </Menu.Item>
        ))}
      {aligned.length > 2 && (
        <>
          <Menu.Item onClick={() => take('equal gaps from left to right', distributeThings(aligned, 0))}>
            Equal gaps from left to right
          </Menu.Item>
          <Menu.Item onClick={() => take('equal gaps downwards', distributeThings(aligned, 1))}>
            Equal gaps downwards
          </Menu.Item>
        </>
      )}
      {things.some(({ kind }) => kind !== 'titleBlock') ? (
        <Menu.Item onClick={takeAway}>Take away</Menu.Item>
      ) : (
        <Menu.Item onClick={() => choose(severalOf(placed))}>Pick everything</Menu.Item>
      )}
    </MenuAt>
  );
}

function MenuAt({ at, onClose, children }: Pick<PaperMenuProps, 'at' | 'onClose'> & { readonly children: ReactNode }) {
  return (
    <Menu opened={at !== null} onClose={onClose} position="right-start" shadow="md" returnFocus={false}>
      <Menu.Target>
        <button
          className="menuspot"
          tabIndex={-1}
          aria-label="What can be done with what is picked"
          style={{ left: at?.[0] ?? 0, top: at?.[1] ?? 0 }}
        />
      </Menu.Target>
      <Menu.Dropdown>{children}</Menu.Dropdown>
    </Menu>
  );
}
