import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { LaidTable } from '../../../../core/src/sheets/index.ts';
import { followJob, orderIntention } from '../../data/api.ts';
import { useDocuments } from '../../data/openProject.ts';

/** Which lines of a list stand here, and letting it go on on further sheets. */
export function LongListFields({
  sheet,
  laid: { table, content, measured, of },
  onWhole,
}: {
  /** Document id. */
  readonly sheet: string;
  readonly laid: LaidTable;
  /** Shows all lines here again. */
  readonly onWhole: () => void;
}) {
  const { id } = useDocuments();
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const divide = async () => {
    setBusy(true);
    try {
      const intention = { kind: 'divideList', sheet, table: table.id } as const;
      const { reason } = await followJob(await orderIntention(id, 'let the list go on elsewhere', intention), () => {});
      await queries.invalidateQueries({ queryKey: ['project', id] });
      if (reason) notifications.show({ message: reason });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    setBusy(false);
  };
  const first = (table.lines?.after ?? 0) + 1;
  return (
    <>
      {table.lines && (
        <p className="quiet">
          Lines {first} to {first + content.rows.length - 1} of {of}; the others stand elsewhere.{' '}
          <Button size="compact-xs" variant="default" onClick={onWhole}>
            All lines here
          </Button>
        </p>
      )}
      {(!measured.fits || measured.strips.length > 1) && (
        <Button mt="xs" size="compact-sm" variant="default" loading={busy} onClick={() => void divide()}>
          Go on on further sheets
        </Button>
      )}
    </>
  );
}
