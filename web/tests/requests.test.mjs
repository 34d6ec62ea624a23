// Requests that make something, asked again where their answer was lost.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { make, send } from '../src/requests.js';

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
