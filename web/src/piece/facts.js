// What the pages of a piece say of it in words and figures.
import { length } from '../figures.js';

/** Overall size: "72 × 24 × 4.5 mm". */
export function sizeOf(view) {
  if (!view) return '';
  const { units } = view.piece;
  const figures = view.facts.size_mm.map((mm) => length(mm, units, units === 'in' ? 4 : 2));
  return figures.map((text, i) => (i < 2 ? text.replace(` ${units}`, '') : text)).join(' × ');
}

/** Mass if it is printed solid. */
export const massOf = (view) => (view ? `${view.facts.mass_g.toFixed(1)} g` : '');

/** The findings with their places in the list and the words on their buttons. */
export function findingsOf(view) {
  return (view?.findings ?? []).map((finding, index) => ({ ...finding, index, label: finding.remedy?.label ?? '' }));
}

/** The words by the state of saving. */
export const STATE_WORDS = { saved: 'saved', saving: 'saving…', waiting: 'not saved yet, trying again' };
