import { Button, Menu, Modal, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { IconDots, IconPlus } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { billShownBy } from '../../../core/src/documents/index.ts';
import type { Box2 } from '../../../core/src/geometry/index.ts';
import {
  ownLines,
  paperLabel,
  paperSize,
  placeView,
  titleBlockBox,
  type DrawnSheet,
  type Sheet,
} from '../../../core/src/sheets/index.ts';
import { addSheet } from '../data/api.ts';
import { type OpenProject, useDocuments, useDoing, useProject } from '../data/openProject.ts';
import { useMachineOf } from '../data/made/machineIn.ts';
import { useViewLines } from '../data/made/views.ts';
import { ShowsEarlier } from '../shell/Behind.tsx';
import { Picture } from '../shell/Picture.tsx';
import { DialogFoot } from '../controls/DialogFoot.tsx';

/** What can be done with the sheets of a project. */
export function useSheetList() {
  const { id, sheets, set } = useDocuments();
  const { perform } = useDoing();
  const queries = useQueryClient();
  const navigate = useNavigate();
  /** At once, not when there is time: what is done next is meant for the sheet that was asked for. */
  const open = (sheet: string) => navigate(`/projects/${id}/sheets/${sheet}`, { flushSync: true });
  return {
    open,
    /** Behind another sheet: a copy of `from`, or blank. */
    add: async (name: string, made: { from?: string; behind?: string } = {}) => {
      try {
        const sheet = await addSheet(id, name, made);
        await queries.invalidateQueries({ queryKey: ['project', id] });
        await open(sheet);
      } catch (error) {
        notifications.show({ message: (error as Error).message, color: 'orange' });
      }
    },
    rename: (sheet: string, name: string) =>
      perform(`name the sheet ${name}`, { document: sheet, command: { kind: 'renameSheet', name } }),
    /** Puts a sheet where another one stands. */
    move: (sheet: string, place: string) => {
      const order = sheets.map((one) => one.id);
      const [from, to] = [order.indexOf(sheet), order.indexOf(place)];
      if (from < 0 || to < 0 || from === to) return;
      perform(`move sheet ${sheets[from].content.name}`, {
        document: set.id,
        command: { kind: 'orderSheets', order: order.toSpliced(from, 1).toSpliced(to, 0, sheet) },
      });
    },
    takeAway: ({ id: sheet, content }: OpenProject['sheets'][number]) =>
      perform(`take the sheet ${content.name} away`, {
        document: sheet,
        command: { kind: 'setAway', away: true },
      }),
  };
}

interface Asking {
  readonly title: string;
  readonly words: string;
  readonly done: (name: string) => void;
}

interface SheetListProps {
  /** Document id of the sheet on the desk. */
  readonly open: string;
  /** What it looks like. */
  readonly drawn: DrawnSheet;
  /** When its own picture is clicked. */
  readonly onSheet: () => void;
}

/** The sheets of the set as small pictures, in their order; dragged into another one, or moved by menu. */
export function SheetList({ open, drawn, onSheet }: SheetListProps) {
  const { sheets } = useDocuments();
  const list = useSheetList();
  const [asking, setAsking] = useState<Asking | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => over && list.move(String(active.id), String(over.id));
  const ask = (title: string, words: string, done: Asking['done']) => setAsking({ title, words, done });
  return (
    <nav className="sheetlist" aria-label="Sheets of this project">
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={sheets.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
          {sheets.map((sheet, at) => (
            <SheetPage
              key={sheet.id}
              sheet={sheet}
              number={at + 1}
              drawn={sheet.id === open ? drawn : null}
              onOpen={() => (sheet.id === open ? onSheet() : void list.open(sheet.id))}
            >
              <Menu.Item
                onClick={() => ask('Rename the sheet', sheet.content.name, (name) => list.rename(sheet.id, name))}
              >
                Rename …
              </Menu.Item>
              <Menu.Item
                onClick={() =>
                  ask(
                    'Duplicate the sheet',
                    `${sheet.content.name}, copy`,
                    (name) => void list.add(name, { from: sheet.id, behind: sheet.id }),
                  )
                }
              >
                Duplicate …
              </Menu.Item>
              <Menu.Item disabled={at === 0} onClick={() => list.move(sheet.id, sheets[at - 1].id)}>
                Move up
              </Menu.Item>
              <Menu.Item disabled={at === sheets.length - 1} onClick={() => list.move(sheet.id, sheets[at + 1].id)}>
                Move down
              </Menu.Item>
              <Menu.Item onClick={() => list.takeAway(sheet)}>Take away</Menu.Item>
            </SheetPage>
          ))}
        </SortableContext>
      </DndContext>
      <Button
        fullWidth
        mt={4}
        size="compact-sm"
        variant="default"
        leftSection={<IconPlus size={14} />}
        onClick={() => ask('New sheet', `Sheet ${sheets.length + 1}`, (name) => void list.add(name, { behind: open }))}
      >
        Sheet
      </Button>
      {asking && <NameDialog {...asking} onClose={() => setAsking(null)} />}
    </nav>
  );
}

function NameDialog({ title, words, done, onClose }: Asking & { readonly onClose: () => void }) {
  const [name, setName] = useState(words);
  const finish = () => {
    onClose();
    done(name.trim());
  };
  return (
    <Modal opened onClose={onClose} title={title} size={420}>
      <TextInput
        size="xs"
        label="Name"
        data-autofocus
        maxLength={200}
        value={name}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => setName(event.currentTarget.value)}
        onKeyDown={(event) => event.key === 'Enter' && name.trim() && finish()}
      />
      <DialogFoot disabled={!name.trim()} onDo={finish} onClose={onClose}>
        {title.split(' ')[0] === 'Rename' ? 'Rename' : 'Make it'}
      </DialogFoot>
    </Modal>
  );
}

/** One sheet in the list: its picture, its number and name, and a menu. */
function SheetPage({
  sheet: { id, content },
  number,
  drawn,
  onOpen,
  children,
}: {
  sheet: OpenProject['sheets'][number];
  number: number;
  /** Of the open sheet; null for the others. */
  drawn: DrawnSheet | null;
  onOpen: () => void;
  children: React.ReactNode;
}) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id });
  const { widthMm, heightMm } = paperSize(content.paper);
  return (
    <div
      ref={setNodeRef}
      className={drawn ? 'sheetpage open' : 'sheetpage'}
      style={{ transform: CSS.Transform.toString(transform), transition }}
    >
      <button
        className="page"
        style={{ aspectRatio: `${widthMm} / ${heightMm}` }}
        {...attributes}
        {...listeners}
        aria-label={`Sheet ${number}, ${content.name}`}
        aria-current={drawn ? 'page' : undefined}
        title="Drag to another place in the set"
        onClick={onOpen}
      >
        {drawn ? <OpenMini drawn={drawn} /> : <OtherMini sheet={content} />}
      </button>
      <div className="sheetname">
        <span>
          {number} {content.name}
        </span>
        <Menu position="right-start" shadow="md">
          <Menu.Target>
            <button aria-label={`More about sheet ${content.name}`}>
              <IconDots size={15} />
            </button>
          </Menu.Target>
          <Menu.Dropdown>{children}</Menu.Dropdown>
        </Menu>
      </div>
      <div className="quiet" style={{ fontSize: 12 }}>
        {paperLabel(content.paper)} {content.paper.landscape ? 'landscape' : 'portrait'}
      </div>
      <ShowsEarlier content={content} />
    </div>
  );
}

/** A box on paper, in shares of it. */
const placedAt = ([x0, y0, x1, y1]: Box2, { widthMm, heightMm }: { widthMm: number; heightMm: number }) => ({
  left: `${(100 * x0) / widthMm}%`,
  top: `${(100 * y0) / heightMm}%`,
  width: `${(100 * (x1 - x0)) / widthMm}%`,
  height: `${(100 * (y1 - y0)) / heightMm}%`,
});

/** What lies where on the open sheet, small: views as pictures, lists and title block as fields. */
function OpenMini({ drawn: { layout, scene } }: { drawn: DrawnSheet }) {
  return (
    <>
      <span className="filled" style={placedAt(layout.titleBlock, scene)} />
      {layout.tables.flatMap(({ table, measured }) =>
        measured.strips.map((strip) => (
          <span key={`${table.id} ${strip.from}`} className="filled" style={placedAt(strip.box, scene)} />
        )),
      )}
      {layout.views.map(({ view, box, drawn }) => (
        <span key={view.id} style={placedAt(box, scene)}>
          <Picture lines={drawn()} />
        </span>
      ))}
    </>
  );
}

/** A sheet that is not open: its views and its title block. */
function OtherMini({ sheet }: { sheet: Sheet }) {
  const project = useProject();
  const size = paperSize(sheet.paper);
  // Views of another build of the machine are not made only for this picture.
  const machine = useMachineOf(sheet.revision);
  const own = (billShownBy(project.bills, sheet).content.recipe.variant ?? null) === (machine?.variant ?? null);
  const { lines } = useViewLines(machine ?? project, machine && own ? sheet.views : []);
  return (
    <>
      <span className="filled" style={placedAt(titleBlockBox(sheet.paper, project.set.content.block), size)} />
      {sheet.views.map((view) => {
        const drawn = ownLines(view, lines);
        return (
          drawn && (
            <span key={view.id} style={placedAt(placeView(view, drawn).box, size)}>
              <Picture lines={drawn} />
            </span>
          )
        );
      })}
    </>
  );
}
