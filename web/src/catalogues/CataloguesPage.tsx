import { Button } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import { notifications } from '@mantine/notifications';
import { IconPlus } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { CatalogueSummary } from '../../../contract/src/index.ts';
import { newCatalogue } from '../../../core/src/catalogues/index.ts';
import { count } from '../count.ts';
import { createCatalogue, deleteCatalogue, importCatalogue, listCatalogues } from '../data/api.ts';
import { RemoveDialog } from '../shell/RemoveDialog.tsx';
import { freeName } from '../data/freeName.ts';
import { CataloguesShell } from './CataloguesShell.tsx';
import { TableDrop } from './TableDrop.tsx';
import { DeleteButton } from '../controls/DeleteButton.tsx';

/** All catalogues, and a place to drop a table. */
export function CataloguesPage() {
  const catalogues = useQuery({ queryKey: ['catalogues'], queryFn: listCatalogues });
  const navigate = useNavigate();
  useDocumentTitle('Catalogues – Sledgeboard');
  const make = async () => {
    const name = freeName(
      'Catalogue',
      (catalogues.data ?? []).map((one) => one.name),
    );
    void navigate(`/catalogues/${await createCatalogue({ ...newCatalogue, name })}`);
  };
  const [removing, setRemoving] = useState<CatalogueSummary | null>(null);
  return (
    <CataloguesShell top={<h1 className="title ellipsis">Catalogues</h1>}>
      <main className="main" style={{ overflow: 'auto' }}>
        <div className="projects" style={{ flex: 1 }}>
          <p className="quiet">
            What is known of parts outside of models: prices, suppliers, order numbers. Every bill can take its values
            from them, and they stay live.
          </p>
          <TableDrop
            words="Drop a table of parts (XLSX or CSV), or click to choose one"
            take="Make the catalogue"
            onTake={async (file, mapping) => {
              const { id, problems } = await importCatalogue(file, mapping);
              for (const message of problems) notifications.show({ message, color: 'orange', autoClose: 15_000 });
              void navigate(`/catalogues/${id}`);
            }}
          />
          <Button mt="sm" variant="default" leftSection={<IconPlus size={16} />} onClick={() => void make()}>
            An empty one
          </Button>
          {catalogues.isError && <p className="problem">{catalogues.error.message}</p>}
          {catalogues.data?.length === 0 && <p className="quiet">No catalogue yet.</p>}
          <div className="cards">
            {catalogues.data?.map((one) => {
              const { id, name, items, changed } = one;
              return (
                <article className="card" key={id}>
                  <Link to={`/catalogues/${id}`}>
                    <div className="words">
                      <div className="title" style={{ fontSize: 16 }}>
                        {name || 'without a name'}
                      </div>
                      <div className="quiet">{count(items, 'item')}</div>
                      <div className="quiet">{new Date(changed).toLocaleString()}</div>
                    </div>
                  </Link>
                  <DeleteButton name={name} onClick={() => setRemoving(one)} />
                </article>
              );
            })}
          </div>
        </div>
        {removing && (
          <RemoveDialog
            title="Delete this catalogue?"
            from="catalogues"
            onRemove={() => deleteCatalogue(removing.id)}
            onClose={() => setRemoving(null)}
          >
            “{removing.name}” with its {count(removing.items, 'item')} will be gone for good.
          </RemoveDialog>
        )}
      </main>
    </CataloguesShell>
  );
}
