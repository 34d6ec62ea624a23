// The elevation: what is at which height, to scale, and the list of the elements.
import { length, rounded } from '../figures.js';
import { keyed, node, set } from '../svg.js';
import { newGesture } from './desk.js';
import { leaveField } from './fields.js';

const SCALE_LEFT = 58;
const DRAWING_WIDTH = 76;
const CSS_PX_PER_MM = 96 / 25.4;
const FOOT = 46;
const HEAD = 34;

export class Elevation {
  constructor(host, desk) {
    this.host = host;
    this.desk = desk;
    this.drag = null;
    this.layers = {};
    this.svg = node('svg', { class: 'elevation-svg', role: 'group', 'aria-label': 'Elevation: the elements by height' });
    for (const name of ['ground', 'scale', 'bands']) {
      this.layers[name] = node('g', {});
      this.svg.append(this.layers[name]);
    }
    const ground = node('rect', { width: '100%', height: '100%', fill: 'transparent' });
    ground.addEventListener('pointerdown', () => desk.select(null));
    this.layers.ground.append(ground);
    host.append(this.svg);
    this.svg.addEventListener('pointerdown', leaveField, { capture: true });
    desk.addEventListener('view', () => this.draw());
    desk.addEventListener('select', () => this.draw());
    new ResizeObserver(() => this.draw()).observe(host);
    this.svg.addEventListener('pointermove', (event) => this.drag?.move(event));
    for (const end of ['pointerup', 'pointercancel']) {
      this.svg.addEventListener(end, () => {
        this.drag = null;
        this.draw();
      });
    }
  }

  /** The bands from the bed up: the plate, then the elements in their order. */
  bands() {
    const { desk } = this;
    const { view } = desk;
    const face = view.plate.thickness;
    const lanes = view.elements.length;
    const lane = (index) => {
      const pitch = DRAWING_WIDTH / lanes;
      const width = Math.min(30, pitch * 0.62);
      return [SCALE_LEFT + pitch * (index + 0.5) - width / 2, width];
    };
    const plate = { key: 'plate', id: null, name: 'Plate', bottom: 0, top: face, x: SCALE_LEFT, width: DRAWING_WIDTH, kind: 'blank', figure: face, grip: face, field: ['blank', 'thickness'] };
    const elements = view.elements.map((placed, index) => {
      const [x, width] = lane(index);
      const band = { key: placed.id, id: placed.id, bottom: placed.bottom, top: placed.top, x, width };
      return { ...band, ...this.describe(placed, desk.element(placed.id)) };
    });
    return [plate, ...elements];
  }

  /** What is particular to a kind of element: its name, its figure, and what a drag changes. */
  describe(placed, element) {
    const face = this.desk.view.plate.thickness;
    const cut = { kind: 'open-band' };
    const sunk = (name, field, make = (depth) => depth) => ({
      ...cut, name, figure: face - placed.bottom, sign: '−', grip: placed.bottom, down: true, field: [placed.id, field], make,
    });
    switch (placed.kind) {
      case 'hole':
        return element.depth === null ? { ...cut, name: 'Hole', word: 'through' } : sunk('Hole', 'depth');
      case 'loop':
        return { ...cut, name: 'Loop', word: `${Math.round(element.angle)}°` };
      case 'rim':
        return { kind: 'adds', name: 'Rim', figure: element.height, sign: '+', grip: placed.top, field: [placed.id, 'height'] };
      case 'recess':
        return sunk('Recess', 'depth', (depth) => ({ by: depth }));
      default: {
        const name = placed.kind === 'emblem' ? element.shape.replace(/-/g, ' ') : element.words.trim() || 'Lettering';
        const { relief } = element;
        if (relief === 'through') return { ...cut, name, word: 'through' };
        if (relief.recessed !== undefined) {
          return { ...cut, name, figure: relief.recessed, sign: '−', grip: placed.bottom, down: true, field: [placed.id, 'relief.recessed'] };
        }
        const height = placed.top - placed.bottom;
        return { kind: 'adds', name, figure: relief.raised ?? height, sign: '+', grip: placed.top, field: [placed.id, 'relief'], make: (raised) => ({ raised }) };
      }
    }
  }

  draw() {
    const { desk } = this;
    if (!desk.view || this.host.clientHeight === 0) return;
    const bands = this.bands();
    const total = Math.max(...bands.map((band) => band.top));
    const room = this.host.clientHeight - FOOT - HEAD;
    if (!this.drag) {
      // As tall as the column lets it be, but a single layer never fills a hand's breadth.
      this.scale = Math.min(0.86 * (room / total), 110);
    }
    this.foot = this.host.clientHeight - FOOT - Math.max(0, (room - total * this.scale) / 2);
    this.host.dispatchEvent(new CustomEvent('exaggerated', { detail: this.scale / CSS_PX_PER_MM, bubbles: true }));
    this.drawScale(bands);
    this.drawBands(bands);
  }

  y(height) {
    return this.foot - height * this.scale;
  }

  drawScale(bands) {
    const { units } = this.desk;
    const heights = [...new Set(bands.flatMap((band) => [band.bottom, band.top]).map((h) => Math.round(h * 1e4) / 1e4))].sort((a, b) => a - b);
    const parts = [];
    let lastY = Infinity;
    for (const height of heights) {
      const y = this.y(height);
      parts.push(node('line', { class: 'height-tick', x1: SCALE_LEFT - 8, x2: SCALE_LEFT - 2, y1: y, y2: y }));
      if (lastY - y < 13) continue;
      lastY = y;
      const text = length(height, units, units === 'in' ? 4 : 2).replace(` ${units}`, '');
      parts.push(node('text', { x: SCALE_LEFT - 12, y: y + 4, 'text-anchor': 'end', class: 'soft' }, text));
    }
    const foot = this.y(0);
    parts.push(node('line', { class: 'bed', x1: SCALE_LEFT - 6, x2: SCALE_LEFT + DRAWING_WIDTH + 6, y1: foot + 2, y2: foot + 2 }));
    parts.push(node('text', { x: SCALE_LEFT + DRAWING_WIDTH / 2, y: foot + 22, 'text-anchor': 'middle', class: 'soft' }, `bed (${units})`));
    this.layers.scale.replaceChildren(...parts);
  }

  /** Where the names stand: beside their bands, pushed apart where they would meet. */
  labels(bands) {
    const labels = bands.map((band) => ({ band, y: (this.y(band.bottom) + this.y(band.top)) / 2 }));
    // The plate is named low down, where nothing else reaches.
    labels[0].y = this.y(0) - Math.min(16, (this.y(0) - this.y(bands[0].top)) / 2);
    labels.sort((a, b) => b.y - a.y || bands.indexOf(a.band) - bands.indexOf(b.band));
    const pitch = 38;
    for (let i = 1; i < labels.length; i += 1) labels[i].y = Math.min(labels[i].y, labels[i - 1].y - pitch);
    const over = 18 - Math.min(...labels.map((label) => label.y));
    if (over > 0) labels.forEach((label) => (label.y += over));
    return new Map(labels.map((label) => [label.band.key, label.y]));
  }

  drawBands(bands) {
    const { desk } = this;
    const labels = this.labels(bands);
    const column = SCALE_LEFT + DRAWING_WIDTH + 16;
    keyed(
      this.layers.bands,
      bands,
      (band) => band.key,
      (band) => this.makeBand(band.key),
      (group, band) => {
        group.item = band;
        const [block, ring, leader, name, value, gripBar, grip] = group.children;
        const box = { x: band.x, width: band.width, y: this.y(band.top), height: Math.max(1, (band.top - band.bottom) * this.scale) };
        const chosen = band.id === desk.selected;
        set(group, { class: `band${chosen ? ' chosen' : ''}`, 'aria-pressed': chosen });
        set(block, { ...box, class: band.kind });
        set(ring, band.id === null ? { width: 0, height: 0 } : box);
        const at = labels.get(band.key);
        const edge = band.x + band.width;
        const middle = Math.min(Math.max(at, box.y + 2), box.y + box.height - 2);
        set(leader, { d: `M${edge} ${middle}L${column - 6} ${at}L${column - 2} ${at}` });
        set(name, { x: column, y: at - 3 });
        name.textContent = `${band.name.length > 11 ? `${band.name.slice(0, 10)}…` : band.name} `;
        set(value, { x: column, y: at + 12, class: 'soft' });
        value.textContent = band.word ?? `${band.sign ?? ''}${length(band.figure, desk.units, desk.units === 'in' ? 4 : 2)}`;
        const y = band.grip === undefined ? 0 : this.y(band.grip);
        const canDrag = band.grip !== undefined;
        set(grip, { x: band.x, width: band.width, y: y - 5, height: canDrag ? 10 : 0 });
        set(gripBar, { x1: band.x, x2: band.x + band.width, y1: y, y2: y, visibility: chosen && canDrag ? 'visible' : 'hidden' });
      },
    );
  }

  makeBand(key) {
    const grip = node('rect', { class: 'grip' });
    const group = node('g', { tabindex: 0, role: 'button' }, node('rect'), node('rect', { class: 'ring' }), node('path', { class: 'leader' }), node('text', { class: 'band-name' }), node('text'), node('line', { class: 'grip-bar' }), grip);
    const choose = () => this.desk.select(group.item.id);
    group.addEventListener('focus', choose);
    group.addEventListener('pointerdown', (event) => {
      event.stopPropagation();
      choose();
    });
    grip.addEventListener('pointerdown', (event) => this.startDrag(event, group.item, key));
    return group;
  }

  /** Drags the top of what stands up, or the floor of what is sunk. */
  startDrag(event, band) {
    event.preventDefault();
    this.svg.setPointerCapture(event.pointerId);
    const start = event.clientY;
    const gesture = newGesture();
    this.drag = {
      move: (now) => {
        const by = (start - now.clientY) / this.scale;
        const next = Math.max(0.1, rounded(band.figure + (band.down ? -by : by), this.desk.units));
        this.desk.set(...band.field, band.make ? band.make(next) : next, { gesture, refused: () => {} });
      },
    };
  }
}
