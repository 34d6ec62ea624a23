import assert from 'node:assert/strict';
import { test } from 'node:test';
import { isSpotSeen, ringsOf, spotsOf } from '../src/piece/spots.js';

// A plate with an element on its front.
const placed = { id: 'a', path: 'M1 1L2 1L2 2Z', face: 'front', bottom: 3, top: 3.6 };
const view = { component: 'plate', plate: { path: 'M0 0L9 0L9 9Z', thickness: 3 }, mesh: null, charts: [] };
const desk = {
  view: { ...view, findings: [] },
  pointed: null,
  face: 'front',
  placed: (target) => (target === 'plate/a' ? placed : null),
  isSeen: ({ face }) => face === 'front',
};
const finding = (target, spots = []) => ({ target, spots });

/** The places of a finding that is pointed at. */
function pointedAt(one, at = view) {
  return spotsOf({ ...desk, view: { ...at, findings: [one] }, pointed: 0 }, one);
}

test('a finding without a place is all of what it concerns', () => {
  const [element] = spotsOf(desk, finding('plate/a'));
  assert.deepEqual([element.path, element.bottom, element.top], [placed.path, 3, 3.6]);
  const [blank] = pointedAt(finding('plate/blank'));
  assert.deepEqual([blank.path, blank.bottom, blank.top], [view.plate.path, 0, 3]);
  // It would lie round everything else.
  assert.deepEqual(spotsOf(desk, finding('plate/blank')), []);
  assert.ok(isSpotSeen(desk, finding('plate/blank'), blank));
});

test('of a mesh all that is seen from above is shown, up to its highest point', () => {
  const mesh = { silhouette: 'M0 0L5 0L5 5Z', top: 12 };
  const [blank] = pointedAt(finding('plate/blank'), { ...view, mesh });
  assert.deepEqual([blank.path, blank.top], [mesh.silhouette, 12]);
});

test('what another component is told of is not shown here, nor what is told of the piece', () => {
  assert.deepEqual(pointedAt(finding('foot/blank')), []);
  assert.deepEqual(pointedAt(finding('piece')), []);
});

test('places of its own come before the whole', () => {
  const own = { seen: 'sections', path: 'M0 0L1 0L1 1Z', bottom: 0, top: 1 };
  assert.deepEqual(spotsOf(desk, finding('plate/blank', [own])), [own]);
  assert.deepEqual(ringsOf('M0 0L1 0L1 -1Z M5 5L6 5L6 6Z'), [
    [
      [0, -0],
      [1, -0],
      [1, 1],
    ],
    [
      [5, -5],
      [6, -5],
      [6, -6],
    ],
  ]);
});
