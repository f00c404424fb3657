import { Button, Checkbox, Group, Loader, Modal } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import {
  catalogueText,
  itemKey,
  keyWords,
  matchComponents,
  offerChange,
  offerValues,
  withOfferColumns,
  type Catalogue,
  type CatalogueLink,
} from '../../../core/src/catalogues/index.ts';
import { count } from '../count.ts';
import { askSuppliers, changeCatalogue } from '../data/api.ts';
import { useMachine } from '../data/openProject.ts';

/** What suppliers ask for the bought parts of the bill, beside what the catalogue says; what is accepted goes into it. */
export function SuppliersDialog({
  link,
  catalogue,
  onClose,
}: {
  readonly link: CatalogueLink;
  readonly catalogue: Catalogue;
  readonly onClose: () => void;
}) {
  const { edited, bill } = useMachine();
  const queries = useQueryClient();
  // What the bill lists when the dialog opens: an answer that comes later is for that.
  const [also, setAlso] = useState(false);
  const [{ assembly, rows, known }] = useState(() => ({
    assembly: edited.assembly,
    rows: bill.rows,
    known: catalogue,
  }));
  const asked = useMemo(() => {
    const matches = matchComponents(assembly, { link, catalogue: known });
    const listed = new Set(rows.filter(({ opened }) => !opened).flatMap(({ components }) => components));
    const found = [...listed].flatMap((component) => {
      const match = matches[component];
      return match?.how === 'found' && (also || assembly.components[component].source !== 'made')
        ? [known.items[match.item]]
        : [];
    });
    return [...new Map(found.map((item) => [keyWords(itemKey(known, item.values)!), item])).entries()];
  }, [assembly, rows, known, link, also]);
  const answers = useQuery({
    queryKey: ['suppliers', ...asked.map(([number]) => number)],
    queryFn: () => askSuppliers(asked.map(([number]) => number)),
    enabled: asked.length > 0,
    retry: false,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
  const { columns, ids } = useMemo(() => withOfferColumns(catalogue.columns, () => crypto.randomUUID()), [catalogue]);
  const items = new Map(catalogue.items.map((item) => [item.id, item]));
  const told = (answers.data ?? []).map((answer, at) => {
    const item = items.get(asked[at][1].id) ?? asked[at][1];
    return 'why' in answer ? { answer, change: null } : { answer, change: offerChange(item, answer, ids) };
  });
  const news = told.flatMap(({ change }) => (change?.isNews ? [change] : []));
  const failed = told.flatMap(({ answer }) => ('why' in answer ? [answer] : []));
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const taken = news.filter(({ item }) => !left.has(item.id));
  const take = async () => {
    const date = new Date().toISOString().slice(0, 10);
    try {
      await changeCatalogue(link.catalogue, `offers for ${count(taken.length, 'part')}`, [
        ...(columns.length > catalogue.columns.length
          ? [{ kind: 'setCatalogueColumns', columns, key: catalogue.key } as const]
          : []),
        { kind: 'typeItems', items: offerValues(taken, ids, date) },
      ]);
      await queries.invalidateQueries({ queryKey: ['catalogue versions'] });
      onClose();
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  return (
    <Modal opened onClose={onClose} size="lg" title={<span className="title">What suppliers ask</span>}>
      <Checkbox
        size="xs"
        mb="sm"
        label="Also for what is made here"
        checked={also}
        onChange={({ currentTarget: { checked } }) => setAlso(checked)}
      />
      {asked.length === 0 && <p>No bought part of this list is found in the catalogue, so there is nothing to ask.</p>}
      {answers.isLoading && asked.length > 0 && (
        <Group gap="sm" role="status">
          <Loader size={18} />
          Asking for {count(asked.length, 'part')} …
        </Group>
      )}
      {answers.isError && <p className="problem">{answers.error.message}</p>}
      {answers.data && (
        <>
          <p>
            {count(news.length, 'part')} with another price or lead time, {told.length - news.length - failed.length} as
            the catalogue says, {failed.length} without an answer.
          </p>
          {news.length > 0 && (
            <table className="changetable">
              <thead>
                <tr>
                  <th>Part</th>
                  <th>Unit cost</th>
                  <th>Lead time</th>
                  <th>Of</th>
                </tr>
              </thead>
              <tbody>
                {news.map(({ item, offer, cost, lead }) => (
                  <tr key={item.id}>
                    <td>
                      <Checkbox
                        size="xs"
                        label={offer.number}
                        checked={!left.has(item.id)}
                        onChange={({ currentTarget: { checked } }) => {
                          const next = new Set(left);
                          if (checked) next.delete(item.id);
                          else next.add(item.id);
                          setLeft(next);
                        }}
                      />
                    </td>
                    <td>
                      <s>{catalogueText(cost[0], 'money')}</s> {catalogueText(cost[1], 'money')}
                    </td>
                    <td>
                      <s>{catalogueText(lead[0], 'number')}</s> {catalogueText(lead[1], 'number')}
                    </td>
                    <td className="quiet">{offer.firm}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {failed.length > 0 && (
            <ul className="notfound">
              {failed.map(({ number, why }) => (
                <li key={number}>
                  <b>{number}</b> <span className="quiet">{why}</span>
                </li>
              ))}
            </ul>
          )}
        </>
      )}
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={onClose}>
          {answers.isLoading ? 'Stop' : 'Leave'}
        </Button>
        {failed.length > 0 && (
          <Button variant="default" loading={answers.isFetching} onClick={() => void answers.refetch()}>
            Ask again
          </Button>
        )}
        <Button disabled={taken.length === 0} onClick={() => void take()}>
          Put {count(taken.length, 'offer')} into the catalogue
        </Button>
      </Group>
    </Modal>
  );
}
