// What npm start and npm test need before anything of the project can be loaded: packages from npm and from Debian.
// Only Node's own modules are used here.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { delimiter, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const projectRoot = dirname(dirname(fileURLToPath(import.meta.url)));

export const say = (text) => console.log(text);

/** Ends the program with a sentence that says what to do. */
export function stop(sentence) {
  console.error(`\n${sentence}`);
  process.exit(1);
}

/** Runs a command; its output is shown when it fails, or all along with `shown`. */
export async function run(command, args, { shown = false, env = {} } = {}) {
  const child = spawn(command, args, {
    cwd: projectRoot,
    env: { ...process.env, ...env },
    stdio: shown ? 'inherit' : ['ignore', 'pipe', 'pipe'],
  });
  let output = '';
  child.stdout?.on('data', (data) => (output += data));
  child.stderr?.on('data', (data) => (output += data));
  const code = await new Promise((resolve) => {
    child.on('error', (error) => {
      output += error.message;
      resolve(127);
    });
    child.on('close', resolve);
  });
  return { code, output };
}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 11))
    stop(`Node ${process.versions.node} is too old: version 20.11 or newer is needed.`);
}

/** Installs the npm packages when they are missing or the lock file changed since. */
export async function ensurePackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(projectRoot, 'package-lock.json')))
    .digest('hex');
  const stamp = join(projectRoot, 'node_modules/.sledgeboard-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('Installing packages (npm ci); the first time this takes a minute or two …');
  const { code, output } = await run('npm', ['ci', '--no-audit', '--no-fund']);
  if (code !== 0)
    stop(
      `The packages could not be installed:\n${output.split('\n').slice(-15).join('\n')}\nCheck the network and run the same command again.`,
    );
  writeFileSync(stamp, lock);
}

/** Path of a program, looked for also where Debian puts servers. */
export function findProgram(...names) {
  const folders = [...(process.env.PATH ?? '').split(delimiter), '/usr/sbin', '/usr/local/sbin', '/usr/bin'];
  for (const name of names)
    for (const folder of folders) if (folder && existsSync(join(folder, name))) return join(folder, name);
  return null;
}

/** Installs a Debian package unless one of its programs is there; the program's path. */
export async function ensureProgram(names, packageName, purpose) {
  const found = findProgram(...names);
  if (found) return found;
  const line = `apt-get update && apt-get install -y --no-install-recommends ${packageName}`;
  if (!findProgram('apt-get'))
    stop(
      `${purpose} needs ${names[0]}, which is not installed, and this is no Debian system. Install ${packageName} with the system's own package manager, then run this again.`,
    );
  if (process.getuid?.() !== 0)
    stop(
      `${purpose} needs ${names[0]}, which is not installed, and only root may install it. Run this line once, then start again:\n\n  sudo sh -c "${line}"\n`,
    );
  say(`Installing ${packageName} from Debian's packages (${purpose.toLowerCase()}) …`);
  const { code, output } = await run('sh', ['-c', line], { env: { DEBIAN_FRONTEND: 'noninteractive' } });
  const installed = findProgram(...names);
  if (code !== 0 || !installed)
    stop(
      `${packageName} could not be installed:\n${output.split('\n').slice(-10).join('\n')}\nRun this line and look at what it says: ${line}`,
    );
  return installed;
}

/** Whether a process is there and was started with this text on its command line. */
export function isRunning(pid, text) {
  try {
    process.kill(pid, 0);
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(text);
  } catch {
    return false;
  }
}
