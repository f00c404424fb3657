import { Button, Group, Menu, Modal, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconChevronDown, IconDownload, IconFileCheck, IconPlus } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { nextOrderNumber, type Buying, type IssuedOrder } from '../../../core/src/buying/index.ts';
import { addPlan, buyingFile, issueOrder } from '../data/buying.ts';
import { useDocuments } from '../data/openProject.ts';
import { useEditing } from '../data/editing/Editing.tsx';
import { count } from '../count.ts';
import { ComparePlansDialog } from './ComparePlansDialog.tsx';
import { usePlanEdit, type StoredPlan } from './usePlanEdit.ts';
import { money } from './words.ts';

type Asking =
  { readonly what: 'new' | 'copy' | 'rename' | 'issue' } | { readonly what: 'compare'; readonly other: string } | null;

/** The plans of the project, and what is done with the open one. */
export function PlansBar({
  open,
  buying,
  onOpen,
  onIssued,
}: {
  open: StoredPlan;
  buying: Buying | null;
  onOpen: (id: string | null) => void;
  onIssued: () => void;
}) {
  const { id: project, plans } = useDocuments();
  const { edits } = useEditing();
  const { change } = usePlanEdit(open);
  const queries = useQueryClient();
  const [asking, setAsking] = useState<Asking>(null);
  const [text, setText] = useState('');
  const ask = (what: 'new' | 'copy' | 'rename' | 'issue', words: string) => {
    setText(words);
    setAsking({ what });
  };
  const during = async (work: () => Promise<unknown>) => {
    setAsking(null);
    try {
      await work();
      await queries.invalidateQueries({ queryKey: ['project', project] });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  const isPlanned = buying?.planned.every(({ group, plan }) => group.problem === null || plan !== null) ?? false;
  const finish = () => {
    const name = text.trim();
    if (asking?.what === 'rename') {
      change(`name the plan ${name}`, { kind: 'renamePlan', name });
      setAsking(null);
    } else if (asking?.what === 'issue')
      void during(async () => {
        await issueOrder(project, open.id, name);
        onIssued();
      });
    else if (asking)
      void during(async () => {
        const made = await addPlan(project, name, asking.what === 'copy' ? open.id : undefined);
        await queries.invalidateQueries({ queryKey: ['project', project] });
        onOpen(made);
      });
  };
  return (
    <div className="bills">
      <div className="billnames" role="tablist" aria-label="Plans of this project">
        {plans.map((plan) => (
          <button
            key={plan.id}
            role="tab"
            aria-selected={plan.id === open.id}
            className={plan.id === open.id ? 'open' : ''}
            onClick={() => onOpen(plan.id)}
          >
            {plan.content.name}
          </button>
        ))}
      </div>
      <Menu position="bottom-start">
        <Menu.Target>
          <button aria-label="What can be done with this plan">
            <IconChevronDown size={15} />
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => ask('rename', open.content.name)}>Rename …</Menu.Item>
          <Menu.Item onClick={() => ask('copy', `${open.content.name}, other bars`)}>Copy …</Menu.Item>
          {plans
            .filter(({ id }) => id !== open.id)
            .map(({ id, content }) => (
              <Menu.Item key={id} onClick={() => setAsking({ what: 'compare', other: id })}>
                Compare with {content.name}
              </Menu.Item>
            ))}
          <Menu.Item
            onClick={() => {
              change(`take the plan ${open.content.name} away`, { kind: 'setAway', away: true });
              onOpen(null);
            }}
          >
            Take away
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <button aria-label="Another plan" onClick={() => ask('new', 'Buying')}>
        <IconPlus size={15} />
      </button>
      <span className="wide" />
      <Menu position="bottom-end">
        <Menu.Target>
          <Button size="compact-sm" variant="default" disabled={!isPlanned} leftSection={<IconDownload size={15} />}>
            Hand over
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item component="a" href={buyingFile(project, 'buying', open.id, 'pdf')} download>
            Cut list of the workshop (PDF)
          </Menu.Item>
          {(['xlsx', 'csv', 'json'] as const).map((format) => (
            <Menu.Item key={format} component="a" href={buyingFile(project, 'buying', open.id, format)} download>
              {format === 'json' ? 'Everything (JSON)' : `Order list (${format.toUpperCase()})`}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      <Button
        size="compact-sm"
        ml={6}
        disabled={!isPlanned || buying?.order.length === 0}
        leftSection={<IconFileCheck size={15} />}
        onClick={() =>
          ask(
            'issue',
            nextOrderNumber(
              // Those that were taken away keep theirs: they may come back.
              edits.documents.flatMap(({ kind, content }) =>
                kind === 'order' ? [(content as IssuedOrder).number] : [],
              ),
              new Date().getFullYear(),
            ),
          )
        }
      >
        Issue the order
      </Button>
      {asking && asking.what !== 'compare' && (
        <Modal
          opened
          onClose={() => setAsking(null)}
          title={
            asking.what === 'issue' ? 'Issue the order' : asking.what === 'rename' ? 'Rename the plan' : 'Another plan'
          }
        >
          <form
            onSubmit={(event) => {
              event.preventDefault();
              finish();
            }}
          >
            {asking.what === 'issue' && buying && (
              <p>
                {count(buying.order.length, 'line')}, {money(buying.cost.known)} {open.content.currency}
                {buying.cost.unknown.length > 0 &&
                  ` and ${count(buying.cost.unknown.length, 'line')} whose cost is not known`}
                . It is kept as of today; prices and counts in it do not change any more.
              </p>
            )}
            <TextInput
              label={asking.what === 'issue' ? 'Number of the order' : 'Name'}
              data-autofocus
              maxLength={asking.what === 'issue' ? 100 : 400}
              value={text}
              onChange={({ currentTarget }) => setText(currentTarget.value)}
            />
            <Group mt="md" gap="xs">
              <Button type="submit" disabled={text.trim() === ''}>
                {asking.what === 'issue' ? 'Issue it' : asking.what === 'rename' ? 'Rename' : 'Make it'}
              </Button>
              <Button variant="default" onClick={() => setAsking(null)}>
                Leave
              </Button>
            </Group>
          </form>
        </Modal>
      )}
      {asking?.what === 'compare' && buying && (
        <ComparePlansDialog
          open={open}
          buying={buying}
          other={plans.find(({ id }) => id === asking.other)!}
          onClose={() => setAsking(null)}
        />
      )}
    </div>
  );
}
