// Writes web/src/shell/licences.json and docs/licences.md from what package-lock.json ships (not what only development
// uses). Run after packages change: npm run licences
import { existsSync, readFileSync, writeFileSync } from 'node:fs';

const lock = JSON.parse(readFileSync('package-lock.json', 'utf8'));
const shipped = new Map();
for (const [path, { version, dev, link, optional, license }] of Object.entries(lock.packages)) {
  const name = path.replace(/^.*node_modules\//, '');
  if (
    !path.includes('node_modules/') ||
    dev ||
    link ||
    name.startsWith('@sledgeboard/') ||
    (optional && !existsSync(path))
  )
    continue;
  const own = existsSync(`${path}/package.json`) ? JSON.parse(readFileSync(`${path}/package.json`, 'utf8')) : {};
  const licence =
    license ?? own.license?.type ?? own.license ?? own.licenses?.map((one) => one.type).join(' OR ') ?? 'see package';
  shipped.set(`${name} ${version}`, { name, version, licence });
}
const list = [...shipped.values()].sort(
  (a, b) => a.name.localeCompare(b.name, 'en') || a.version.localeCompare(b.version),
);
writeFileSync('web/src/shell/licences.json', `${JSON.stringify(list, null, 0).replace(/\},/g, '},\n')}\n`);
writeFileSync(
  'docs/licences.md',
  `# Third-party licences

Everything below ships with the application or is installed with it. Texts of the licences stand in each package's own folder.

- **Geometry kernel**: Open CASCADE Technology, LGPL 2.1 with exception, inside occt-import-js (LGPL 2.1). It is used
  unchanged as a separate WebAssembly file (\`node_modules/occt-import-js/dist\`) that can be replaced by another build.
- **Fonts**: B612, Source Sans 3 and Barlow Semi Condensed, each under the SIL Open Font License 1.1.
- **MariaDB** (GPL 2) is a separate program installed from Debian's packages; the application talks to it over the network.

${list.length} packages:

| package | version | licence |
| --- | --- | --- |
${list.map(({ name, version, licence }) => `| ${name} | ${version} | ${licence} |`).join('\n')}
`,
);
console.log(`${list.length} packages`);
