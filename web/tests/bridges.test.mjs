import assert from 'node:assert/strict';
import { test } from 'node:test';
import { bridgeHandles, layBridge } from '../src/piece/bridges.js';

const bridge = (x, by_hand) => ({
  ends: [
    [x, 0],
    [x, 4],
  ],
  by_hand,
  letter: 'O',
});

/** A desk with words that are held by a bridge put by hand and one that was found, and the edits it was asked for. */
function deskWith(face = 'front') {
  const edits = [];
  const desk = {
    view: { plate: { ties: null } },
    face,
    bridge: null,
    placed: () => ({
      face: 'front',
      bridging: { bridges: [bridge(9, 0), bridge(15, null)], low: '' },
    }),
    element: () => ({ bridges: { by_hand: [{}], width: 1 } }),
    pointAtBridge: (index) => (desk.bridge = index),
    layBridges: () => {},
    laying: 'lettering-1',
    edit: (asked, { key = null, gesture = null } = {}) => edits.push({ asked, key, gesture }),
  };
  return { desk, edits };
}

const acts = (edits) => edits.map(({ asked }) => asked[0].bridge.act);

test('what is dragged is put by hand once, and then moved, in one step', () => {
  const { desk, edits } = deskWith();
  const handle = bridgeHandles({ desk, scale: 10 }, 'lettering-1').find(({ key }) => key === 'bridge-1');
  const drag = handle.start();
  assert.deepEqual(edits, []);
  drag([16, 2], {});
  drag([17, 2], {});
  assert.deepEqual(acts(edits), [
    { keep: { bridge: 1 } },
    { move: { by_hand: 1, at: [16, 2], along: 90 } },
    { move: { by_hand: 1, at: [17, 2], along: 90 } },
  ]);
  assert.equal(new Set(edits.map(({ gesture }) => gesture)).size, 1);
  // Only moves may be left out for later ones.
  assert.deepEqual(
    edits.map(({ key }) => key !== null),
    [false, true, true],
  );
});

test('what was put by hand is turned where it is, and catches on whole steps', () => {
  const { desk, edits } = deskWith();
  const handle = bridgeHandles({ desk, scale: 10 }, 'lettering-1').find(({ key }) => key === 'bridge-turn-0');
  const drag = handle.start();
  drag([9 + 10, 2 + 10.2], { altKey: false });
  assert.deepEqual(acts(edits), [{ move: { by_hand: 0, at: [9, 2], along: 45 } }]);
  drag([9 + 10, 2 + 10.2], { altKey: true });
  assert.ok(Math.abs(acts(edits)[1].move.along - 45.57) < 0.01);
});

test('one more is laid where the face it is on is pressed, from either side', () => {
  for (const [face, at] of [
    ['front', [3, 4]],
    ['back', [-3, 4]],
  ]) {
    const { desk, edits } = deskWith(face);
    layBridge({ desk, mm: () => [3, 4] }, {});
    assert.deepEqual(acts(edits), [{ lay: { at } }]);
  }
});
