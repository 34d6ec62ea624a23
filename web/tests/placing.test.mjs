// Where what a hand drags comes to lie, whatever the server answers on the way.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { carried, lengthAt, lengthened, placeAt } from '../src/piece/placing.js';

const frame = { x0: 10, y0: -2, x1: 14, y1: 2 };
const beside = (id, at, gap, lift) => ({
  id,
  frame: at,
  by: { across: ['gap', gap, 1], up: ['lift', lift, 1] },
});
const alone = {
  id: 'plate/hole-1',
  frame,
  measured: { across: { left: [40, 1], right: [16, -1] }, up: { bottom: [10, 1] } },
};

test('a distance grows by as much as the hand went, however many answers came on the way', () => {
  const begun = beside('plate/emblem-1', frame, 2, 0);
  // No answer yet, and one after which the row of both was centred anew: half of the way is lost to it.
  const halfway = { x0: 11, y0: -2, x1: 15, y1: 2 };
  for (const now of [begun, beside('plate/emblem-1', halfway, 4, 0)]) {
    const desk = { placed: () => now };
    const at = carried(desk, begun, [3, 1]);
    const [across, up] = ['across', 'up'].map((axis) => placeAt(desk, begun.id, at, axis).set);
    assert.deepEqual([across.field, across.value], ['place.by.gap', 5]);
    assert.deepEqual([up.field, up.value], ['place.by.lift', 1]);
  }
});

test('what stands left of what it is placed by comes nearer by going right', () => {
  const begun = {
    ...beside('plate/emblem-1', frame, 6, 0),
    by: { across: ['gap', 6, -1], up: ['lift', 0, 1] },
  };
  const desk = { placed: () => begun };
  const at = carried(desk, begun, [2.5, 0]);
  assert.equal(placeAt(desk, begun.id, at, 'across').set.value, 3.5);
});

test('what has a place of its own lies where the hand is, and is measured from what it was', () => {
  const element = { place: { across: { from: 'right' }, up: { from: 'bottom' } } };
  const desk = {
    placed: () => ({ ...alone, frame: { x0: 99, y0: 0, x1: 103, y1: 4 } }),
    element: () => element,
  };
  const at = carried(desk, alone, [1, 2]);
  assert.deepEqual(at, { x0: 11, y0: 0, x1: 15, y1: 4 });
  const still = { placed: () => alone, element: () => element };
  assert.deepEqual(placeAt(still, alone.id, at, 'across').set, {
    target: 'plate/hole-1',
    field: 'place.across.distance',
    value: 15,
  });
  assert.deepEqual(placeAt(still, alone.id, at, 'across', 'left').set, {
    target: 'plate/hole-1',
    field: 'place.across',
    value: { from: 'left', distance: 41 },
  });
});

test('a frame is moved the way that makes its distance longer', () => {
  const longer = lengthened(alone, frame, 'across', 'right', 0.5);
  assert.equal(longer.x0, 9.5);
  assert.equal(lengthAt(alone, longer, 'across', 'right'), 16.5);
});
