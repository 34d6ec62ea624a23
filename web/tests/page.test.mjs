// What the page says of a piece in a sentence, and what a click reaches.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { elevationInWords, planInWords, solidInWords } from '../src/piece/facts.js';
import { CORNERS, cornersOf } from '../src/piece/paths.js';
import { nextOf } from '../src/piece/pressing.js';

const view = {
  piece: { name: 'Berth 7', units: 'mm' },
  mesh: null,
  plate: { frame: { x0: -36, x1: 36, y0: -12, y1: 12 }, thickness: 3 },
  elements: [
    { name: 'ÅSE', face: 'front', bottom: 3, top: 4.5 },
    { name: 'Hole', face: 'front', bottom: 0, top: 3 },
    { name: 'Rim', face: 'back', bottom: -1, top: 0 },
  ],
  facts: {
    size_mm: [72, 24, 5.5],
    volume_mm3: 5440,
    triangles: 252,
    bodies: [{ name: 'Harbour blue' }, { name: 'Sail white' }],
  },
};

test('each view is told in a sentence', () => {
  assert.equal(planInWords(view, 'front'), 'Plan of the front, 72 × 24 mm: ÅSE and Hole.');
  assert.equal(
    elevationInWords(view),
    'Elevation: the plate to 3 mm, Rim from -1 mm to 0 mm, Hole from 0 mm to 3 mm and ÅSE from 3 mm to 4.5 mm.',
  );
  assert.equal(
    solidInWords(view),
    'Solid of Berth 7, 72 × 24 × 5.5 mm, 5.44 cm³ in Harbour blue and Sail white, 252 triangles.',
  );
  const bare = { ...view, elements: [] };
  assert.equal(planInWords(bare, 'back'), 'Plan of the back, 72 × 24 mm: nothing on it yet.');
});

test('clicking again goes down a pile and begins anew', () => {
  const pile = ['lettering', 'emblem', 'rim'];
  assert.equal(nextOf(pile, 'lettering'), 'emblem');
  assert.equal(nextOf(pile, 'rim'), 'lettering');
});

test('the corners of a rectangle are its corners only', () => {
  const rectangle = Object.fromEntries(CORNERS.map((name) => [name, { round: 3 }]));
  assert.deepEqual(cornersOf({ rectangle: { ...rectangle, rounding: 2 } }), Array(4).fill({ round: 3 }));
  assert.deepEqual(cornersOf('ellipse'), []);
});
