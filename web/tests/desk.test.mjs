// How the desk sends: what is lost on the way, refused, or overtaken by somebody else.
import assert from 'node:assert/strict';
import { beforeEach, test } from 'node:test';

globalThis.window = new EventTarget();
// Waiting costs nothing here.
globalThis.setTimeout = (go) => queueMicrotask(go);
const { Desk } = await import('../src/piece/desk.js');
const { decode } = await import('../src/piece/decode.js');

/** An answer as the server encodes it, with one body of a triangle. */
function encoded(view) {
  const json = new TextEncoder().encode(JSON.stringify(view));
  const padded = Math.ceil(json.length / 4) * 4;
  const bytes = new ArrayBuffer(4 + padded + 4 + 12 + 36 + 12);
  const data = new DataView(bytes);
  data.setUint32(0, padded, true);
  new Uint8Array(bytes, 4).fill(32, 0, padded);
  new Uint8Array(bytes, 4).set(json);
  [1, 2, 3, 1].forEach((count, i) => data.setUint32(4 + padded + 4 * i, count, true));
  [0, 0, 0, 1, 0, 0, 0, 1, 0].forEach((at, i) => data.setFloat32(4 + padded + 16 + 4 * i, at, true));
  [0, 1, 2].forEach((corner, i) => data.setUint32(4 + padded + 52 + 4 * i, corner, true));
  return bytes;
}

const hole = { id: 'hole-1', locked: false, face: 'front', kind: { hole: { diameter: 5 } } };
const viewOf = (revision, width) => ({
  revision,
  piece: {
    units: 'mm',
    filaments: [],
    components: [{ id: 'component-1', margin: 2, blank: { plate: { width } }, elements: [hole] }],
  },
  components: [
    {
      component: 'component-1',
      called: 'Plate',
      bodies: 1,
      faces: [
        { name: 'front', title: 'front' },
        { name: 'back', title: 'back' },
      ],
      charts: [],
      plate: { front: 0, back: 0 },
      elements: [
        {
          id: 'component-1/hole-1',
          kind: 'hole',
          face: 'front',
          through: true,
          frame: { x0: 1, x1: 2, y0: 0, y1: 1 },
        },
      ],
    },
  ],
  findings: [],
});

// What the server does with each request in turn, and what it was sent.
let script;
let sent;
let refusals;

// What preflight says of which revision; it is asked beside everything else.
let said;
let asked;

globalThis.fetch = async (address, { method, headers, body }) => {
  if (address.endsWith('/findings')) {
    asked += 1;
    return Response.json(said);
  }
  sent.push({ address, method, word: headers['kalotype-request'], ...JSON.parse(body ?? '{}') });
  const next = script.shift();
  if (next instanceof Error) throw next;
  return next;
};
const answers = (revision, width = 72) => new Response(encoded(viewOf(revision, width)));
const says = (status, message) => Response.json({ message, target: '', field: '' }, { status });
const lost = () => new TypeError('the network is gone');

async function loaded() {
  const desk = new Desk('p');
  desk.loadPalette = async () => {};
  desk.addEventListener('refused', (event) => refusals.push(event.detail.message));
  script.push(answers(1));
  await desk.load();
  return desk;
}

beforeEach(() => {
  [script, sent, refusals] = [[], [], []];
  [said, asked] = [{ revision: 1, findings: [] }, 0];
});

test('an answer is read: the view, and bodies with their figures', () => {
  const { view, bodies } = decode(encoded(viewOf(3, 72)));
  assert.equal(view.revision, 3);
  assert.equal(bodies.length, 1);
  assert.deepEqual([...bodies[0].positions], [0, 0, 0, 1, 0, 0, 0, 1, 0]);
  assert.deepEqual([...bodies[0].indices], [0, 1, 2]);
});

test('short names stand for the component that is shown', async () => {
  const desk = await loaded();
  assert.equal(desk.value('blank', 'width'), 72);
  assert.equal(desk.value('component', 'margin'), 2);
  assert.equal(desk.value('component-1/hole-1', 'diameter'), 5);
  assert.deepEqual(desk.element('component-1/hole-1'), {
    kind: 'hole',
    id: 'component-1/hole-1',
    locked: false,
    face: 'front',
    diameter: 5,
  });
  script.push(answers(2));
  await desk.set('blank', 'width', 80);
  assert.deepEqual(sent[1].edits, [{ set: { target: 'component-1/blank', field: 'width', value: 80 } }]);
  assert.equal(sent[1].revision, 1);
});

test('a request whose answer is lost goes again under the same word, and later ones wait their turn', async () => {
  const desk = await loaded();
  script.push(lost(), lost(), answers(2, 80), answers(3, 81));
  const first = desk.set('blank', 'width', 80);
  assert.ok(desk.hasUnsent);
  desk.set('blank', 'width', 90);
  desk.set('blank', 'width', 81);
  await first;
  const edits = sent.slice(1);
  assert.deepEqual(
    edits.map((one) => one.edits[0].set.value),
    [80, 80, 80, 81],
  );
  assert.equal(new Set(edits.slice(0, 3).map((one) => one.word)).size, 1);
  assert.notEqual(edits[3].word, edits[0].word);
  assert.deepEqual(
    edits.map((one) => one.revision),
    [1, 1, 1, 2],
  );
  assert.equal(desk.state, 'saved');
  assert.ok(!desk.hasUnsent);
  assert.deepEqual(refusals, []);
});

test('a server that cannot do it is not asked for ever, and what waits behind goes on', async () => {
  const desk = await loaded();
  for (let i = 0; i < 5; i += 1) script.push(says(503, 'This took too long and was stopped.'));
  script.push(answers(2, 50));
  const first = desk.set('blank', 'height', 50);
  desk.set('blank', 'width', 50);
  await first;
  assert.equal(sent.length, 7);
  assert.deepEqual(sent[6].edits[0].set.field, 'width');
  assert.deepEqual(refusals, ['This took too long and was stopped.']);
  assert.equal(desk.state, 'saved');
});

test('who was overtaken is told, and sees what the other did', async () => {
  const desk = await loaded();
  script.push(says(409, 'Somebody else changed the width.'), answers(2, 60));
  await desk.set('blank', 'width', 80);
  assert.deepEqual(
    sent.map((one) => one.method),
    ['GET', 'POST', 'GET'],
  );
  assert.deepEqual(refusals, ['Somebody else changed the width.']);
  assert.equal(desk.value('blank', 'width'), 60);
});

test('a file is taken away once everything is kept', async () => {
  const desk = await loaded();
  let clicks = 0;
  let isHeld = false;
  const event = {
    preventDefault: () => (isHeld = true),
    target: { closest: () => ({ click: () => (clicks += 1) }) },
  };
  script.push(answers(2));
  desk.set('blank', 'width', 80);
  const link = desk.beforeLink(event);
  assert.deepEqual([isHeld, clicks], [true, 0]);
  await link;
  assert.equal(clicks, 1);
  isHeld = false;
  await desk.beforeLink(event);
  assert.deepEqual([isHeld, clicks], [false, 1]);
});

test('what something else wrote where copies are kept is no copy and breaks nothing', () => {
  const desk = new Desk('1');
  for (const [text, count] of [
    [null, 0],
    ['{"elements": [', 0],
    ['"words"', 0],
    ['{"elements": "three"}', 0],
    ['{"elements": [{}, {}]}', 2],
  ]) {
    globalThis.localStorage = { getItem: () => text };
    assert.equal(desk.copied.length, count, text);
    assert.deepEqual(desk.clipboard.filaments, []);
  }
});

test('components are looked at one by one, each from faces of its own', () => {
  const desk = new Desk('any');
  const view = viewOf(1, 72);
  const chart = (name) => ({ name, plate: { colour: 0 }, clear: null });
  const block = {
    ...view.components[0],
    component: 'component-2',
    called: 'Foot',
    charts: ['top', 'front'].map(chart),
    elements: [{ id: 'component-2/hole-1', face: 'front', through: true, frame: null }],
  };
  view.components.push(block);
  desk.show({ view, bodies: [{ filament: 0 }, { filament: 0 }] });
  assert.deepEqual(
    desk.bodies.map((body) => body.component),
    ['component-1', 'component-2'],
  );
  desk.look('back');
  assert.equal(desk.view.mirrored, true);
  desk.lookAt('component-2');
  assert.deepEqual([desk.face, desk.view.called], ['top', 'Foot']);
  // What goes through one wall is not seen from another.
  assert.equal(desk.isSeen(desk.view.elements[0]), false);
  desk.lookOn();
  assert.equal(desk.isSeen(desk.view.elements[0]), true);
  // What was added is looked at.
  desk.show({ view: { ...view, added: 'component-1' }, bodies: [] });
  assert.deepEqual([desk.face, desk.view.component], ['front', 'component-1']);
});

test('what preflight said stays, marked as old, until it has looked at what was changed', async () => {
  const thin = { code: 'thin-rim', weight: 'must', target: 'component-1/rim-1', place: null };
  said = { revision: 1, findings: [thin] };
  const desk = await loaded();
  while (desk.isLooking) await Promise.resolve();
  assert.deepEqual([desk.view.old, desk.view.findings.length], [false, 1]);
  // Of another revision than is shown nothing is believed.
  script.push(answers(2, 80));
  const sending = desk.set('blank', 'width', 80);
  await sending;
  for (let i = 0; i < 50; i += 1) await Promise.resolve();
  assert.deepEqual([desk.view.old, desk.view.findings.length], [true, 1]);
  said = { revision: 3, findings: [] };
  script.push(answers(3, 81));
  await desk.set('blank', 'width', 81);
  while (desk.isLooking) await Promise.resolve();
  assert.deepEqual([desk.view.old, desk.view.findings.length], [false, 0]);
  assert.equal(asked, 3);
});
