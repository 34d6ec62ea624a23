// The cut through a component: where its faces lie in it, and where the bed is.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { bedOf, linesOf } from '../src/piece/side.js';

const frame = { x0: -10, x1: 10, y0: -4, y1: 6 };
const plate = { frame, thickness: 3 };

test('a face that is seen edge on is a line, one that is looked at is none', () => {
  const top = { origin: [0, 0, 5], across: [1, 0, 0], up: [0, 1, 0], out: [0, 0, 1] };
  assert.deepEqual(linesOf({ lies: top, plate }, 0), [
    [
      [-10, 8],
      [10, 8],
    ],
  ]);
  assert.deepEqual(linesOf({ lies: top, plate }, 1), [
    [
      [-4, 8],
      [6, 8],
    ],
  ]);
  const front = { origin: [0, -2, 5], across: [1, 0, 0], up: [0, 0, 1], out: [0, -1, 0] };
  assert.deepEqual(linesOf({ lies: front, plate }, 0), []);
  assert.deepEqual(linesOf({ lies: front, plate }, 1), [
    [
      [-5, 1],
      [-5, 11],
    ],
  ]);
});

test('a face that runs round is a line at either side', () => {
  const round = { radius: 20, middle: 8 };
  assert.deepEqual(linesOf({ round, plate }, 0), [
    [
      [-20, 4],
      [-20, 14],
    ],
    [
      [20, 4],
      [20, 14],
    ],
  ]);
});

test('the bed is on the side that lies on it', () => {
  const cut = { bounds: { x0: 0, x1: 100, y0: 0, y1: 20 }, right: 1 };
  const heights = (lies) => bedOf(cut, lies)?.map(([, z]) => z);
  assert.deepEqual(heights('as-made'), [0, 0]);
  assert.deepEqual(heights('on-top'), [20, 20]);
  assert.deepEqual(
    bedOf(cut, 'on-back').map(([x]) => x),
    [100, 100],
  );
  assert.equal(bedOf(cut, 'on-left'), undefined);
});
