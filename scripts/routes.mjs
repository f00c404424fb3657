// npm run routes: writes docs/routes.md, the list of HTTP routes, from where they are defined.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';

const folder = 'server/src/routes';
const found = readdirSync(folder)
  .filter((file) => file.endsWith('.ts'))
  .sort()
  .map((file) => {
    const code = readFileSync(`${folder}/${file}`, 'utf8').replace(
      /for \(const mode of \['undo', 'redo'\] as const\) \{\s*app\.post\(\s*`([^`]*)\$\{mode\}`/,
      (_, start) => `app.post('${start}undo'\napp.post('${start}redo'`,
    );
    const routes = [...code.matchAll(/app\.(get|post|put|delete)\(\s*['`](\/[^'`]*)['`]/g)].map(([, verb, path]) => [
      verb.toUpperCase(),
      path,
    ]);
    return { subject: file.replace('.ts', ''), routes };
  })
  .filter(({ routes }) => routes.some(([, path]) => path.startsWith('/api')));
const text = [
  '# HTTP routes',
  '',
  'Made by `npm run routes`. What goes in and comes out stands in `contract/src`. Errors are `{ "error": sentence }`; 409 on',
  '`edits` carries the edits since, 409 on a sheet says that its views are to be ordered first.',
  ...found.flatMap(({ subject, routes }) => [
    '',
    `## ${subject}`,
    '',
    '| verb | path |',
    '| --- | --- |',
    ...routes.map(([verb, path]) => `| ${verb} | \`${path}\` |`),
  ]),
  '',
].join('\n');
if (process.argv.includes('--check')) {
  if (readFileSync('docs/routes.md', 'utf8') !== text) {
    console.error('docs/routes.md is not what the code says; run `npm run routes`.');
    process.exit(1);
  }
} else writeFileSync('docs/routes.md', text);
