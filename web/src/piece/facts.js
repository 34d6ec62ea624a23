// What the pages of a piece say of it in words and figures.
import { length } from '../figures.js';

/** Several lengths in mm as one size: "72 × 24 × 4.5 mm". */
export function sized(lengths, units) {
  const figures = lengths.map((mm) => length(mm, units, units === 'in' ? 4 : 2));
  return figures
    .map((text, i) => (i < lengths.length - 1 ? text.replace(` ${units}`, '') : text))
    .join(' × ');
}

/** The figures of the component that is shown, where there are several. */
export const ownFacts = (view) =>
  view?.own_facts && view.piece.components.length > 1 ? { ...view, facts: view.own_facts } : view;

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

const SOURCES = { printer: 'the printer’s', practice: 'common practice', ours: 'our own rule' };

/** What was measured, what it should be and who says so. */
function figuresOf({ figures, set_aside: reason }, units) {
  if (reason !== null) return `Left as it is: ${reason}`;
  if (figures === null) return '';
  const [measured, limit] = [figures.measured, figures.limit].map((mm) => length(mm, units));
  return `${measured}, limit ${limit} (${SOURCES[figures.source]})`;
}

/** The findings with their places in the list, their figures and the ways to mend them. */
export function findingsOf(view) {
  return (view?.findings ?? []).map((finding, index) => ({
    ...finding,
    index,
    isAside: finding.set_aside !== null,
    isOpen: finding.set_aside === null,
    why: figuresOf(finding, view.piece.units),
    ways: finding.remedies.map(({ label }, way) => ({ label, way, index })),
  }));
}

/** The words by the state of saving. */
export const STATE_WORDS = { saved: 'saved', saving: 'saving…', waiting: 'not saved yet, trying again' };

/** What a screen reader is told of saving: only that it does not work. */
export const troubleOf = (state) => (state === 'waiting' ? STATE_WORDS.waiting : '');

/** A list as it is spoken: "A, B and C". */
const listed = (names) =>
  names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`;

/** The face in one sentence, for who does not see the plan. */
export function planInWords(view, face, title = face) {
  const { frame } = view.plate;
  const size = sized([frame.x1 - frame.x0, frame.y1 - frame.y0], view.piece.units);
  const here = view.elements.filter((placed) => placed.face === face).map((placed) => placed.name);
  return `Plan of the ${title}, ${size}: ${here.length > 0 ? listed(here) : 'nothing on it yet'}.`;
}

/** The heights in one sentence, from the bed up. */
export function elevationInWords(view, elements = view.elements, blank = view.mesh ? 'mesh' : 'plate') {
  const high = (mm) => length(mm, view.piece.units);
  const bands = [...elements]
    .sort((a, b) => a.bottom - b.bottom || a.top - b.top)
    .map((placed) => `${placed.name} from ${high(placed.bottom)} to ${high(placed.top)}`);
  return `Elevation: the ${blank} to ${listed([high(view.plate.thickness), ...bands])}.`;
}

/** The solid in one sentence. */
export function solidInWords(view) {
  const { bodies, triangles } = view.facts;
  const colours = bodies.length > 1 ? ` in ${listed(bodies.map((body) => body.name))}` : '';
  return `Solid of ${view.piece.name}, ${sizeOf(view)}, ${volumeOf(view)}${colours}, ${triangles} triangles.`;
}
