import assert from 'node:assert/strict';
import { test } from 'node:test';
import { byHand, handsWith, handsWithout, pointOf, seatAt, sharesOf, turnOf } from '../src/piece/bridges.js';

// An O 10 mm tall at (20, 5), turned by a quarter to the left, and the same mirrored.
const turned = { line: 0, letter: 1, is: 'O', stand: [0, 1, -1, 0, 20, 5], wide: 8, tall: 10 };
const mirrored = { line: 0, letter: 2, is: 'A', stand: [-1, 0, 0, 1, -20, 0], wide: 8, tall: 10 };

test('shares of a letter and points of the plan lead to each other', () => {
  assert.deepEqual(pointOf(turned, 0.5, 0.5), [15, 9]);
  for (const seat of [turned, mirrored]) {
    const [across, up] = sharesOf(seat, pointOf(seat, 0.3, 0.8));
    assert.ok(Math.abs(across - 0.3) < 1e-12 && Math.abs(up - 0.8) < 1e-12);
  }
  // Upright in the plan lies across a letter that lies on its side.
  assert.ok(Math.abs(turnOf(turned, 90)) < 1e-9);
  assert.ok(Math.abs(turnOf(mirrored, 30) - 150) < 1e-9);
});

test('a bridge goes with the letter it lies in', () => {
  assert.equal(seatAt([turned, mirrored], [15, 9]), turned);
  assert.equal(seatAt([turned, mirrored], [-24, 3]), mirrored);
  assert.deepEqual(byHand([turned, mirrored], [15, 9], 90), {
    line: 0,
    letter: 1,
    is: 'O',
    across: 0.5,
    up: 0.5,
    turn: 0,
  });
});

test('what holds the same goes by hand with it, and what is taken away is left out', () => {
  const at = (x, holds, by_hand = null) => ({
    ends: [
      [x, 0],
      [x, 2],
    ],
    holds,
    by_hand,
  });
  const bridging = { seats: [turned], bridges: [at(9, null, 0), at(15, 3), at(16, 3), at(17, 4)] };
  const already = [{ line: 0, letter: 1, is: 'O', across: 0, up: 0, turn: 0 }];
  const moved = handsWith(bridging, already, 1);
  assert.equal(moved.index, 1);
  assert.equal(moved.hands.length, 3);
  assert.equal(handsWith(bridging, already, 0).index, 0);
  assert.equal(handsWithout(bridging, already, 2).length, 2);
  assert.deepEqual(handsWithout(bridging, already, 0), []);
});
