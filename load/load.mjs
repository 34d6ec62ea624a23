// Many people at once, and a server that is killed: `node load/load.mjs editors`, `node load/load.mjs beside` and
// `node load/load.mjs kills 200`, after `cargo build --release`. Needs nothing but Node.
//
// editors: so many people each change a piece of their own once a second, over loopback, for 30 s; what is
//          told is how long their answers take.
// beside:  the same of one person, while three others want fine exports of pieces that take seconds each.
// kills:   somebody changes a piece without a pause while the server is killed at a random moment, and
//          started again; what was acknowledged must be there.
import { spawn } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = fileURLToPath(new URL('.', import.meta.url));
const binary = process.env.KALOTYPE ?? join(here, '../target/release/kalotype');
const SECONDS = Number(process.env.SECONDS ?? 30);
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** A server over a folder; answers its address and how to end it. */
async function serve(folder) {
  const child = spawn(binary, ['serve', '--port', '0', '--data', folder], {
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  const home = await new Promise((resolve, reject) => {
    child.stdout.on('data', (text) => resolve(String(text).match(/http:\S+/)[0]));
    child.on('exit', () => reject(new Error('the server ended')));
  });
  const ended = new Promise((resolve) => child.on('exit', resolve));
  return { home, kill: () => child.kill('SIGKILL') && ended };
}

const post = (home, path, body, headers = {}) =>
  fetch(`${home}${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...headers },
    body,
  });

/** A piece made of a demo file; answers the path of its requests. */
async function pieceOf(home, demo) {
  const file = await readFile(join(here, `../demo/${demo}.kalotype.json`));
  const made = await (await post(home, 'api/pieces/import', file)).json();
  return `api/pieces/${made.id}`;
}

/** The view an answer begins with. */
async function viewOf(response) {
  const bytes = Buffer.from(await response.arrayBuffer());
  return JSON.parse(bytes.subarray(4, 4 + bytes.readUInt32LE(0)));
}

const thickness = (mm) =>
  JSON.stringify({ edits: [{ set: { target: 'component-1/blank', field: 'thickness', value: mm } }] });
const words = (text) =>
  JSON.stringify({
    edits: [{ set: { target: 'component-1/lettering-1', field: 'lines.0.words', value: text } }],
  });
const NAMES = ['SOLVEIG', 'ÅSE', 'ŁUCJA', 'ŞEYMA', 'ÓLAFUR', 'NOÉMIE', 'GROß', 'ΩΔΗ'];

/** How long answers take where so many people change a piece of this kind each, in ms. */
async function edited(home, demo, people) {
  const paths = await Promise.all(Array.from({ length: people }, () => pieceOf(home, demo)));
  const times = [];
  let refused = 0;
  const end = performance.now() + SECONDS * 1000;
  await Promise.all(
    paths.map(async (path, person) => {
      await pause(Math.random() * 1000);
      for (let round = 0; performance.now() < end; round += 1) {
        const body =
          round % 2 === 0
            ? thickness(3 + ((person * 7 + round) % 40) / 20)
            : words(NAMES[(person + round) % NAMES.length]);
        const start = performance.now();
        const response = await post(home, `${path}/edits`, body);
        await response.arrayBuffer();
        const took = performance.now() - start;
        if (response.ok) times.push(took);
        else refused += 1;
        await pause(Math.max(0, 1000 - took));
      }
    }),
  );
  times.sort((a, b) => a - b);
  const at = (share) => times[Math.min(times.length - 1, Math.floor(times.length * share))].toFixed(0);
  console.log(
    `${people} × ${demo}: ${times.length} edits, p50 ${at(0.5)} ms, p95 ${at(0.95)} ms, p99 ${at(0.99)} ms, longest ${at(1)} ms, refused ${refused}`,
  );
}

async function editors() {
  const folder = await mkdtemp(join(tmpdir(), 'kalotype-load-'));
  const server = await serve(folder);
  try {
    await edited(server.home, 'cabin-key-solveig', 40);
    await edited(server.home, 'watch-medal', 10);
  } finally {
    await server.kill();
    await rm(folder, { recursive: true });
  }
}

/** A plate with three hundred rounded letters, other ones each time. */
async function longPlate(home, round) {
  const path = await pieceOf(home, 'quay-tag');
  const all = [...NAMES.join('')];
  const letters = Array.from({ length: 300 }, (_, at) => all[(at * (round + 3)) % all.length]);
  const { edits } = JSON.parse(words(letters.join('')));
  const of = (field, value) => ({ set: { ...edits.at(-1).set, field, value } });
  edits.unshift(of('size', { height: 0.8 }));
  edits.push(of('edge', { round: 0.1 + (round % 9) / 100 }));
  const edited = await post(home, `${path}/edits`, JSON.stringify({ edits }));
  if (!edited.ok) throw new Error(await edited.text());
  return path.replace('api/', '');
}

/** Somebody takes away one plate after the other, finely made, until it is told to stop. */
async function exporting(home, plates, until) {
  const cookie = (await fetch(`${home}pieces`)).headers.getSetCookie()[0].split(';')[0];
  const took = [];
  for (const plate of plates) {
    if (until.isOver) break;
    const start = performance.now();
    const file = await fetch(`${home}${plate}/export?format=stl&tolerance=fine`, { headers: { cookie } });
    if (!file.ok) throw new Error(await file.text());
    await file.arrayBuffer();
    took.push(performance.now() - start);
  }
  return took;
}

async function beside() {
  const PLATES = 30;
  const folder = await mkdtemp(join(tmpdir(), 'kalotype-beside-'));
  const server = await serve(folder);
  const until = { isOver: false };
  try {
    const plates = [];
    for (let round = 0; round < PLATES; round += 1) plates.push(await longPlate(server.home, round));
    const third = (name) => plates.filter((_, at) => at % 3 === name);
    const others = [0, 1, 2].map((name) => exporting(server.home, third(name), until));
    await edited(server.home, 'cabin-key-solveig', 1);
    until.isOver = true;
    const took = (await Promise.all(others)).flat().sort((a, b) => a - b);
    const middle = took[Math.floor(took.length / 2)];
    console.log(
      `beside it ${took.length} exports, half of them answered within ${(middle / 1000).toFixed(1)} s`,
    );
  } finally {
    await server.kill();
    await rm(folder, { recursive: true });
  }
}

async function kills(count) {
  const folder = await mkdtemp(join(tmpdir(), 'kalotype-kills-'));
  let server = await serve(folder);
  const path = await pieceOf(server.home, 'cabin-key-solveig');
  let acknowledged = 3;
  let total = 0;
  for (let round = 1; round <= count; round += 1) {
    const { home } = server;
    let isUp = true;
    let sent = acknowledged;
    const work = (async () => {
      while (isUp) {
        sent = Math.round((sent >= 90 ? 1 : sent + 0.01) * 100) / 100;
        const response = await post(home, `${path}/edits`, thickness(sent)).catch(() => null);
        if (!response?.ok) return;
        acknowledged = sent;
        total += 1;
      }
    })();
    await pause(20 + Math.random() * 200);
    isUp = false;
    await server.kill();
    await work;
    server = await serve(folder);
    const view = await viewOf(await fetch(`${server.home}${path}`));
    const found = view.piece.components[0].blank.plate.thickness;
    // The last one may have been kept without its answer having come back.
    if (found !== acknowledged && found !== sent)
      throw new Error(`kill ${round}: ${acknowledged} was acknowledged, ${found} is there`);
    acknowledged = found;
  }
  await server.kill();
  await rm(folder, { recursive: true });
  console.log(`${count} kills, ${total} edits acknowledged, none lost`);
}

const [command = 'editors', count = '200'] = process.argv.slice(2);
await { editors, beside, kills: () => kills(Number(count)) }[command]();
