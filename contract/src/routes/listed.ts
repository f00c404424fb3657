import { routes } from './index.ts';
import type { Route } from './route.ts';

const sizes = { small: '', large: ', up to 4 MB', gesture: ', up to 64 MB' } as const;
const taken = ({ body, size = 'small', sends }: Route): string =>
  sends === 'file' ? 'a file' : sends === 'picture' ? 'a picture' : body ? `JSON${sizes[size]}` : '';
const given = ({ answer }: Route): string => (typeof answer === 'string' ? answer : 'JSON');

/** The list of routes for people, as docs/routes.md has it. */
export const routesText = (): string =>
  [
    '# HTTP routes',
    '',
    'Made by `npm run routes` from the table in `contract/src/routes`, which has the schemas too. Errors are',
    '`{ "error": sentence }`; 409 on `edits` carries the edits since, 409 on a sheet says that its views are to be ordered first.',
    '*Needs* says what who asks has to be allowed; today who reaches the program may do everything.',
    ...Object.entries(routes as Readonly<Record<string, Readonly<Record<string, Route>>>>).flatMap(([subject, all]) => [
      '',
      `## ${subject}`,
      '',
      '| verb | path | what it does | takes | answers | needs |',
      '| --- | --- | --- | --- | --- | --- |',
      ...Object.values(all).map(
        (one) =>
          `| ${one.verb} | \`${one.path}\` | ${one.does.replaceAll('|', '\\|')} | ${taken(one)} | ${given(one)} | ${one.needs} |`,
      ),
    ]),
    '',
  ].join('\n');
