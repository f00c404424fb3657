// Many drafters in one project of a running server: node bench/drafters.mjs http://127.0.0.1:4640 [drafters] [seconds]
// Each types every 200 ms into a line of its own, one gesture on its way at a time, as the page does. Prints how long it
// takes from typing to kept, what is not sent at the end, and whether all end on the same document. Brings a small
// project in and takes it away again.
const [url = 'http://127.0.0.1:4640', drafters = '50', seconds = '15'] = process.argv.slice(2);
const EVERY = 200; // ms

const call = async (path, init) => {
  const response = await fetch(`${url}${path}`, init);
  return { status: response.status, body: await response.json() };
};
const post = (path, body) =>
  call(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

const { body: brought } = await call('/api/imports?name=drafters.csv', {
  method: 'POST',
  body: ['Part number,Name,Quantity', ...Array.from({ length: 200 }, (_, at) => `P-${at},Slat ${at},1`)].join('\n'),
});
let job;
do {
  await pause(100);
  job = (await call(`/api/jobs/${brought.job}`)).body;
} while (job.state === 'queued' || job.state === 'running');
if (job.state !== 'done') throw new Error(job.reason);
const project = job.project;

const open = async (session) => (await call(`/api/projects/${project}?session=${session}`)).body;
const billOf = ({ documents }) => documents.find(({ kind }) => kind === 'bill');

/** One window: types on a fixed beat, sends one after the other. */
async function drafter(at, until) {
  const session = `drafter-${at}`;
  let { id, version } = billOf(await open(session));
  const waiting = [];
  const took = [];
  let typed = 0,
    conflicts = 0;
  const beat = setInterval(() => waiting.push({ at: performance.now(), gesture: `${session}-${++typed}` }), EVERY);
  const numbers = (number) => ({ [at.toString(16).padStart(32, '0')]: { number } });
  for (let tries = 0; performance.now() < until || waiting.length > 0;) {
    if (performance.now() >= until) clearInterval(beat);
    const [next] = waiting;
    if (!next) {
      await pause(5);
      continue;
    }
    const { status, body } = await post(`/api/projects/${project}/edits`, {
      gesture: next.gesture,
      session,
      label: 'a number',
      steps: [{ document: id, version, command: { kind: 'setNumbers', numbers: numbers(1000 + typed) } }],
    });
    if (status === 200) {
      took.push(performance.now() - next.at);
      waiting.shift();
      tries = 0;
    } else if (status === 409) {
      conflicts++;
      await pause(Math.min(1000, 15 * 2 ** tries++) * (0.5 + Math.random()));
    } else throw new Error(`${status}: ${body.error}`);
    version = billOf(body).version;
    if (performance.now() > until + 60_000) break;
  }
  clearInterval(beat);
  return { took, conflicts, unsent: waiting.length };
}

const began = performance.now();
await pause(Math.random() * EVERY);
const until = performance.now() + Number(seconds) * 1000;
const windows = await Promise.all(
  Array.from({ length: Number(drafters) }, async (_, at) => {
    await pause((at / Number(drafters)) * EVERY);
    return drafter(at, until);
  }),
);
const took = windows.flatMap((window) => window.took).sort((a, b) => a - b);
const at = (share) => took[Math.min(took.length - 1, Math.floor(share * took.length))].toFixed(0);
const ends = new Set(
  await Promise.all(windows.map(async (_, index) => JSON.stringify(billOf(await open(`drafter-${index}`)).content))),
);
console.log(
  [
    `${drafters} drafters, ${seconds} s: ${took.length} edits kept (${(took.length / ((performance.now() - began) / 1000)).toFixed(0)} a second)`,
    `from typing to kept: median ${at(0.5)} ms, p99 ${at(0.99)} ms, longest ${at(1)} ms`,
    `conflicts ${windows.reduce((sum, { conflicts }) => sum + conflicts, 0)}, not sent ${windows.reduce((sum, { unsent }) => sum + unsent, 0)}, different ends ${ends.size}`,
  ].join('\n'),
);
await call(`/api/projects/${project}`, { method: 'DELETE' });
