// What the pages of a piece say of it in words and figures.
import { length } from '../figures.js';

/** Several lengths in mm as one size: "72 × 24 × 4.5 mm". */
export function sized(lengths, units) {
  const figures = lengths.map((mm) => length(mm, units, units === 'in' ? 4 : 2));
  return figures
    .map((text, i) => (i < lengths.length - 1 ? text.replace(` ${units}`, '') : text))
    .join(' × ');
}

/** Overall size. */
export const sizeOf = (view) => (view ? sized(view.facts.size_mm, view.piece.units) : '');

/** Volume, in the unit of the piece. */
export function volumeOf(view) {
  if (!view) return '';
  const { volume_mm3: mm3 } = view.facts;
  return view.piece.units === 'in' ? `${(mm3 / 25.4 ** 3).toFixed(3)} in³` : `${(mm3 / 1000).toFixed(2)} cm³`;
}

/** Mass if it is printed solid. */
export const massOf = (view) => (view ? `${view.facts.mass_g.toFixed(1)} g` : '');

/** The findings with their places in the list and the ways to mend them. */
export function findingsOf(view) {
  return (view?.findings ?? []).map((finding, index) => ({
    ...finding,
    index,
    ways: finding.remedies.map(({ label }, way) => ({ label, way, index })),
  }));
}

/** The words by the state of saving. */
export const STATE_WORDS = { saved: 'saved', saving: 'saving…', waiting: 'not saved yet, trying again' };
