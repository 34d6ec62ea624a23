// Colours: which filament what has, and how often it must be changed.
import { ownFacts } from './facts.js';
import { split } from './paths.js';

export const colours = (desk) => ({
  palette: [],

  get bodies() {
    return this.view?.facts.bodies ?? [];
  },
  get isColoured() {
    return this.bodies.length > 1;
  },
  get cost() {
    return this.view ? ownFacts(this.view).facts.cost.toFixed(2) : '';
  },
  get colourCount() {
    return this.bodies.length;
  },
  get swapWord() {
    const swaps = this.view?.swaps;
    if (!swaps) return '1 colour';
    const count = swaps.swaps.length;
    if (count === 0) return `${this.colourCount} colours side by side`;
    return `${this.colourCount} colours, ${count} ${count === 1 ? 'swap' : 'swaps'}`;
  },
  get hasConflicts() {
    return (this.view?.swaps?.reasons.length ?? 0) > 0;
  },
  /** The filament a field names, or nothing. */
  filamentAt(path) {
    if (!this.view) return '';
    const [target, field] = split(desk, path);
    return (target === null ? null : desk.value(target, field)) ?? '';
  },
  /** What it looks like: that of the plate where none is named. */
  swatch(path) {
    if (!this.view) return 'none';
    const id = this.filamentAt(path) || desk.plate.colour;
    return this.view.piece.filaments.find((one) => one.id === id)?.colour ?? 'none';
  },
  setColour(event) {
    const [target, field] = split(desk, event.target.dataset.colour);
    desk.edit([desk.colour(target, field, event.target.value)]);
  },
  /** The same colour for everything that is chosen and has one. */
  setColours(event) {
    const having = desk.selection.filter((id) => 'colour' in desk.element(id));
    desk.edit(having.map((id) => desk.colour(id, 'colour', event.target.value)));
    event.target.value = '';
  },
  /** Whether the colour is that of a floor. */
  get isFloorColour() {
    return Boolean(this.element?.colour) && this.relief === 'recessed' && 'root' in this.element;
  },
  get isOwnColour() {
    return Boolean(this.element?.colour) && this.relief === 'raised';
  },
});
