import { Button, Menu } from '@mantine/core';
import { IconChevronDown, IconDownload, IconTrash } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import { compareOrder, costOfOrder, type IssuedOrder } from '../../../core/src/buying/index.ts';
import { buyingFile, orderInForm } from '../data/buying.ts';
import { listForms } from '../data/forms.ts';
import { useDocuments, useDoing } from '../data/openProject.ts';
import { count } from '../count.ts';
import type { PaneProps } from './paneProps.ts';
import { money } from './words.ts';

/** Orders as they were on their day, each with what is different now. */
export function IssuedOrders({ buying }: PaneProps) {
  const { orders } = useDocuments();
  if (orders.length === 0)
    return (
      <p className="quiet padded">
        Nothing was issued yet. “Issue the order” keeps what is to be ordered today under a number, for each supplier as
        a file, and tells later what has become more or fewer.
      </p>
    );
  return (
    <div className="issued">
      {[...orders].reverse().map((order) => (
        <Issued key={order.id} {...order} buying={buying} />
      ))}
    </div>
  );
}

function Issued({ id, content: order, buying }: { id: string; content: IssuedOrder } & Pick<PaneProps, 'buying'>) {
  const { perform } = useDoing();
  const { known, unknown } = costOfOrder(order.lines);
  const differences = compareOrder(order, buying.order);
  return (
    <section aria-label={`Order ${order.number}`}>
      <header>
        <h2>
          {order.number}
          <span className="quiet">
            {' '}
            {order.date} · {order.plan}, {order.what}
            {order.revision && ` · revision ${order.revision}`}
          </span>
        </h2>
        <span className="wide" />
        <Handing id={id} order={order} />
        <Button
          size="compact-xs"
          variant="subtle"
          color="ink"
          leftSection={<IconTrash size={14} />}
          onClick={() =>
            perform(`take the order ${order.number} away`, { document: id, command: { kind: 'setAway', away: true } })
          }
        >
          Take away
        </Button>
      </header>
      <p>
        {count(order.lines.length, 'line')}, {money(known)} {order.currency}
        {unknown.length > 0 && ` and ${count(unknown.length, 'line')} whose cost was not known`}
      </p>
      {differences.length === 0 ? (
        <p className="quiet">What is needed now is what was ordered.</p>
      ) : (
        <ul>
          {differences.map(({ line, words }) => (
            <li key={line.key}>
              {words}
              <span className="quiet"> {[line.partNumber, line.name].filter(Boolean).join(' ')}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** Files of an order, whole or per supplier. */
function Handing({ id, order }: { id: string; order: IssuedOrder }) {
  const { id: project } = useDocuments();
  const { data: forms = [] } = useQuery({ queryKey: ['forms'], queryFn: listForms });
  const suppliers = [...new Set(order.lines.filter(({ kind }) => kind !== 'make').map(({ supplier }) => supplier))];
  const filled = forms.filter(({ map }) => map !== null);
  const files = (supplier?: string) => (
    <>
      {(['xlsx', 'csv', 'json'] as const).map((format) => (
        <Menu.Item key={format} component="a" href={buyingFile(project, 'orders', id, format, supplier)} download>
          {format.toUpperCase()}
        </Menu.Item>
      ))}
      {filled.map(({ name }) => (
        <Menu.Item key={name} component="a" href={orderInForm(project, name, id, supplier)} download>
          {name}
        </Menu.Item>
      ))}
    </>
  );
  return (
    <Menu position="bottom-end" width={230}>
      <Menu.Target>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconDownload size={14} />}
          rightSection={<IconChevronDown size={12} />}
        >
          Hand over
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Everything</Menu.Label>
        {files()}
        {suppliers.map((supplier) => (
          <Menu.Sub key={supplier} position="left-start">
            <Menu.Sub.Target>
              <Menu.Sub.Item>{supplier || 'Supplier not said'}</Menu.Sub.Item>
            </Menu.Sub.Target>
            <Menu.Sub.Dropdown>{files(supplier)}</Menu.Sub.Dropdown>
          </Menu.Sub>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
