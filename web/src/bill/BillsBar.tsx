import { Button, Group, Menu, Modal, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconBooks, IconChevronDown, IconPlus } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { memo, lazy, Suspense, useRef, useState } from 'react';
import { addBill } from '../data/api.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { ShowsEarlier } from '../shell/Behind.tsx';
import { CompareDialog } from './CompareDialog.tsx';
import { StylesMenu } from './StylesMenu.tsx';
import { useBillEdit } from '../lines/useBillEdit.ts';

const CataloguesDialog = lazy(() => import('./CataloguesDialog.tsx'));

type Asking =
  | { readonly what: 'name'; readonly from?: string; readonly recipe?: unknown }
  | { readonly what: 'rename' | 'compare' | 'catalogues' }
  | null;

/** The bills of the project: the drawing's list, the buyer's, the spares; one of them is open. */
export const BillsBar = memo(function BillsBar({ open, onOpen }: { open: string; onOpen: (id: string) => void }) {
  const { id, bills, components } = useDocuments();
  const { billDocument } = useMachine();
  const hasVariants = Object.keys(components.content.variants).length > 0;
  const { change } = useBillEdit();
  const queries = useQueryClient();
  const [asking, setAsking] = useState<Asking>(null);
  const [name, setName] = useState('');
  const picker = useRef<HTMLInputElement>(null);
  const during = async (work: () => Promise<unknown>) => {
    try {
      await work();
      await queries.invalidateQueries({ queryKey: ['project', id] });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    setAsking(null);
  };
  const ask = (next: Asking, words: string) => {
    setName(words);
    setAsking(next);
  };
  const first = bills[0].id === open;
  const finish = () => {
    if (asking?.what === 'rename') {
      change(`name the bill ${name.trim()}`, { kind: 'renameBill', name: name.trim() });
      setAsking(null);
    }
    if (asking?.what === 'name')
      void during(async () => {
        const { what: _what, ...made } = asking;
        const { document, missing } = await addBill(id, name.trim(), made);
        for (const message of missing) notifications.show({ message, color: 'orange' });
        await queries.invalidateQueries({ queryKey: ['project', id] });
        onOpen(document);
      });
  };
  const openFile = (file: File | null) =>
    void file
      ?.text()
      .then((text) => {
        const recipe = JSON.parse(text) as { name?: unknown };
        ask(
          { what: 'name', recipe },
          typeof recipe.name === 'string' ? recipe.name : file.name.replace(/(\.recipe)?\.json$/i, ''),
        );
      })
      .catch(() =>
        notifications.show({ message: `${file.name} is no JSON, so there is no recipe in it.`, color: 'orange' }),
      );
  return (
    <div className="bills">
      <div className="billnames" role="tablist" aria-label="Bills of this project">
        {bills.map((bill) => (
          <button
            key={bill.id}
            role="tab"
            aria-selected={bill.id === open}
            className={bill.id === open ? 'open' : ''}
            onClick={() => onOpen(bill.id)}
          >
            {bill.content.name}
          </button>
        ))}
      </div>
      <Menu position="bottom-start" shadow="md">
        <Menu.Target>
          <button aria-label="More about the bill and others">
            <IconPlus size={14} />
            bill
            <IconChevronDown size={13} />
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => ask({ what: 'name' }, 'Buyer’s list')}>New bill …</Menu.Item>
          <Menu.Item onClick={() => picker.current?.click()}>New bill from a recipe file …</Menu.Item>
          <Menu.Item onClick={() => ask({ what: 'name', from: open }, `${billDocument.content.name}, copy`)}>
            Duplicate “{billDocument.content.name}” …
          </Menu.Item>
          <Menu.Item onClick={() => ask({ what: 'rename' }, billDocument.content.name)}>Rename …</Menu.Item>
          <Menu.Item disabled={bills.length < 2 && !hasVariants} onClick={() => setAsking({ what: 'compare' })}>
            Compare with another list or variant …
          </Menu.Item>
          <Menu.Item
            disabled={first}
            onClick={() => {
              change(`take the bill ${billDocument.content.name} away`, { kind: 'setAway', away: true });
              onOpen(bills[0].id);
            }}
          >
            {first ? 'The drawing’s list stays' : `Take “${billDocument.content.name}” away`}
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <input
        ref={picker}
        type="file"
        hidden
        accept=".json,application/json"
        aria-label="Recipe file"
        onChange={({ currentTarget }) => {
          openFile(currentTarget.files?.[0] ?? null);
          currentTarget.value = '';
        }}
      />
      <span className="wide" />
      <ShowsEarlier content={bills.find(({ id: of }) => of === open)?.content ?? billDocument.content} />
      <button onClick={() => setAsking({ what: 'catalogues' })}>
        <IconBooks size={15} />
        Catalogues
        {billDocument.content.kept && <span className="revision">as of {billDocument.content.kept.date}</span>}
      </button>
      <StylesMenu />
      {asking?.what === 'catalogues' && (
        <Suspense fallback={null}>
          <CataloguesDialog onClose={() => setAsking(null)} />
        </Suspense>
      )}
      {(asking?.what === 'name' || asking?.what === 'rename') && (
        <Modal
          opened
          onClose={() => setAsking(null)}
          title={asking.what === 'rename' ? 'Rename the bill' : 'from' in asking ? 'Duplicate the bill' : 'New bill'}
          size={420}
        >
          <TextInput
            size="xs"
            label="Name"
            data-autofocus
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
            onKeyDown={(event) => event.key === 'Enter' && name.trim() && finish()}
          />
          <Group mt="md" gap="xs">
            <Button size="compact-md" disabled={!name.trim()} onClick={finish}>
              {asking.what === 'rename' ? 'Rename' : 'Make it'}
            </Button>
            <Button size="compact-md" variant="default" onClick={() => setAsking(null)}>
              Leave
            </Button>
          </Group>
        </Modal>
      )}
      {asking?.what === 'compare' && <CompareDialog bill={open} onClose={() => setAsking(null)} />}
    </div>
  );
});
