// Requests that make something, asked again where their answer was lost.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { attempting, changeField, make, send, waitingWords } from '../src/requests.js';

test('a file is known again by its name, size and time, and is not another', async () => {
  const words = [];
  globalThis.fetch = async (_, { headers }) => {
    words.push(headers['kalotype-request']);
    throw new TypeError('the connection was lost');
  };
  const berth = (size) => new File(['{'.repeat(size)], 'berth.kalotype.json', { lastModified: 1 });
  for (const file of [berth(1), berth(1), berth(2)]) await assert.rejects(make('/api/pieces/import', file));
  assert.equal(words[0], words[1]);
  assert.notEqual(words[1], words[2]);
});

test('what was not answered is asked for with the same word, what was answered with another', async () => {
  const words = [];
  let isLost = true;
  globalThis.fetch = async (_, { headers }) => {
    words.push(headers['kalotype-request']);
    if (isLost) throw new TypeError('the connection was lost');
    return new Response('{}', { status: 201 });
  };
  await assert.rejects(make('/api/pieces', { name: 'Berth 7' }));
  isLost = false;
  await make('/api/pieces', { name: 'Berth 7' });
  await make('/api/pieces', { name: 'Berth 7' });
  await make('/api/pieces', { name: 'Berth 8' });
  assert.equal(words[0], words[1]);
  assert.equal(new Set(words).size, 3);
  assert.ok(words.every((word) => word.length <= 64));
  await send('GET', '/api/pieces');
  assert.equal(words.at(-1), undefined);
});

test('what is attempted in turn waits for what came before, and a reason stays until somebody does something else', async () => {
  const page = { ...attempting };
  const done = [];
  const slowly = (name, fails) => async () => {
    await new Promise((resolve) => setTimeout(resolve, 20));
    if (fails) throw new Error(`${name} is no number.`);
    done.push(name);
  };
  page.attemptInTurn(slowly('first'));
  page.attemptInTurn(slowly('dense', true));
  await page.attemptInTurn(async () => done.push('third'));
  assert.deepEqual([done, page.trouble], [['first', 'third'], 'dense is no number.']);
  await page.attemptInTurn(slowly('fourth'));
  assert.equal(page.trouble, '');
});

test('where somebody else changed a field, that field alone is shown anew, and what was typed is told', async () => {
  const shelf = [
    { id: 'a', name: 'Sea green', density: 1.27 },
    { id: 'b', name: 'Ash', density: 1.3 },
  ];
  globalThis.fetch = async (address) =>
    address.endsWith('/a')
      ? new Response(JSON.stringify({ message: 'Somebody else changed it.' }), { status: 409 })
      : new Response(JSON.stringify(shelf));
  const rows = [
    { id: 'a', name: 'Green', density: 1.24 },
    { id: 'b', name: 'Grey', density: 1.24 },
  ];
  const change = { field: 'density', seen: 1.24, value: 1.25 };
  await assert.rejects(
    changeField('/api/filaments', 'a', change, rows),
    /else changed it\. You typed “1.25”/,
  );
  assert.deepEqual(rows, [
    { id: 'a', name: 'Green', density: 1.27 },
    { id: 'b', name: 'Grey', density: 1.24 },
  ]);
});

test('a field within another is shown anew, and what lies beside it stays', async () => {
  const kept = { id: 'a', bed: { width: 220, depth: 200 }, filaments: 4 };
  globalThis.fetch = async (address) =>
    address.endsWith('/a')
      ? new Response(JSON.stringify({ message: 'Somebody else changed it.' }), { status: 409 })
      : new Response(JSON.stringify([kept]));
  const rows = [{ id: 'a', bed: { width: 180, depth: 180 }, filaments: null }];
  for (const field of ['bed.width', 'filaments']) {
    const change = { field, seen: null, value: 210 };
    await assert.rejects(changeField('/api/printers', 'a', change, rows), /You typed “210”/);
  }
  assert.deepEqual(rows, [{ id: 'a', bed: { width: 220, depth: 180 }, filaments: 4 }]);
});

test('who waits is told how much comes first', () => {
  const said = [null, 0, 1, 4].map(waitingWords);
  assert.equal(said[0], '');
  assert.match(said[1], /being worked out/);
  assert.match(said[2], /one other piece of work comes first/);
  assert.match(said[3], /4 others come first/);
});
