import { routes } from '../../../contract/src/index.ts';
import type { Services } from '../http/http.ts';
import { atDesk, made, type Handlers } from '../http/serve.ts';
import { addBill } from '../projects/bills.ts';
import { addSheet } from '../projects/sheets.ts';
import { dropStyle, keepStyle, listStyles, setUsualStyle } from '../projects/styles.ts';

export function billRoutes(services: Services): Handlers<typeof routes.bills> {
  const { database } = services;
  return {
    add: atDesk('newBill', async (wish, { params, signal }) => made(await addBill(services, params.id, wish, signal))),
    addSheet: async ({ params, body }) => made(await addSheet(services, params.id, body)),
    styles: () => listStyles(database),
    keepStyle: atDesk('style', async (style) => {
      await keepStyle(database, style);
      return listStyles(database);
    }),
    setUsualStyle: async ({ body }) => {
      await setUsualStyle(database, body.name);
      return listStyles(database);
    },
    dropStyle: async ({ params }) => {
      await dropStyle(database, params.name);
      return listStyles(database);
    },
  };
}
