// The board: the sheet that is drawn on, with its grid and centre lines, what the lines enclose, the lines
// themselves and the points to take hold of. It knows the mouse and the keys, and tells what they mean.
import { keyed, node, set } from '../svg.js';
import { pointsOf } from './document.js';

/** How near the pointer counts as on something, in pixels. */
const NEAR = 8;

export class Board {
  /** `teller` is told: press, drag, drop, nudge, drop, choose; and asked for what is to be seen. */
  constructor(svg, teller) {
    this.svg = svg;
    this.teller = teller;
    this.half = 40;
    this.layers = {};
    for (const name of ['grid', 'face', 'limit', 'result', 'lines', 'trail', 'points']) {
      this.layers[name] = node('g', { class: `draw-${name}` });
    }
    this.flipped = node('g', { transform: 'scale(1 -1)' });
    this.flipped.append(...Object.values(this.layers));
    svg.append(this.flipped);
    svg.addEventListener('pointerdown', (event) => this.press(event));
    svg.addEventListener('pointermove', (event) => this.drag(event));
    svg.addEventListener('pointerup', (event) => this.release(event));
    svg.addEventListener('wheel', (event) => this.zoomed(event), { passive: false });
    new ResizeObserver(() => this.frame()).observe(svg);
    this.frame();
  }

  /** The view: as much around the middle as was asked for. */
  frame() {
    const { width, height } = this.svg.getBoundingClientRect();
    const shorter = Math.min(width, height) || 1;
    this.mm = (2 * this.half) / shorter;
    const [w, h] = [width * this.mm, height * this.mm];
    set(this.svg, { viewBox: `${-w / 2} ${-h / 2} ${w} ${h}` });
    this.seen = [w / 2, h / 2];
    this.show();
  }

  zoomed(event) {
    event.preventDefault();
    this.zoom(event.deltaY > 0 ? 1.15 : 1 / 1.15);
  }

  zoom(by) {
    this.half = Math.min(500, Math.max(5, this.half * by));
    this.frame();
  }

  /** How far the pointer reaches, in mm. */
  get reach() {
    return NEAR * this.mm;
  }

  at(event) {
    const box = this.svg.getBoundingClientRect();
    return [
      (event.clientX - box.left - box.width / 2) * this.mm,
      -(event.clientY - box.top - box.height / 2) * this.mm,
    ];
  }

  press(event) {
    if (event.button !== 0) return;
    const handle = event.target.closest('[data-point]');
    const held = handle ? JSON.parse(handle.dataset.point) : null;
    event.preventDefault();
    this.svg.setPointerCapture(event.pointerId);
    this.isHeld = true;
    this.teller.press(this.at(event), held, event.altKey);
    if (held) handle.focus();
  }

  drag(event) {
    if (this.isHeld) this.teller.drag(this.at(event), event.altKey);
  }

  release() {
    if (!this.isHeld) return;
    this.isHeld = false;
    this.teller.drop();
  }

  /** Draws everything anew that is to be seen. */
  show() {
    const { drawing, report, selected, grid, limit, trail, face } = this.teller.seen();
    this.showGrid(grid);
    set(this.layers.face, { transform: `scale(${face?.mirrored ? -1 : 1} -1)` });
    keyed(
      this.layers.face,
      face ? [face] : [],
      () => 'face',
      () => node('path'),
      (path, { d }) => set(path, { d }),
    );
    keyed(
      this.layers.limit,
      limit ? [limit] : [],
      () => 'limit',
      () => node('rect'),
      (rect, [w, h]) => set(rect, { x: -w / 2, y: -h / 2, width: w, height: h }),
    );
    const [cx, cy] = report?.centre ?? [0, 0];
    set(this.layers.result, { transform: `translate(${cx} ${cy}) scale(1 -1)` });
    keyed(
      this.layers.result,
      (report?.shapes ?? []).map((shape, key) => ({ ...shape, key })),
      (shape) => `shape-${shape.key}`,
      () => node('path', { 'fill-rule': 'evenodd' }),
      (path, shape) => set(path, { d: shape.path }),
    );
    keyed(
      this.layers.lines,
      (report?.drawn ?? []).map((d, key) => ({ d, key })),
      (line) => `line-${line.key}`,
      () => node('path'),
      (path, line) => set(path, { d: line.d, class: line.key === selected?.figure ? 'chosen' : null }),
    );
    const walked = trail.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x} ${y}`).join('');
    keyed(
      this.layers.trail,
      walked ? [walked] : [],
      () => 'trail',
      () => node('path'),
      (path, d) => set(path, { d }),
    );
    this.showPoints(drawing, selected);
  }

  showGrid(grid) {
    const [w, h] = this.seen ?? [0, 0];
    const lines = [];
    // As fine as can be seen: lines nearer than ten pixels are left out.
    let step = grid > 0 ? grid : 0;
    while (step > 0 && step < 10 * this.mm) step *= 5;
    if (step > 0) {
      for (let x = Math.ceil(-w / step) * step; x <= w; x += step) lines.push(`M${x} ${-h}V${h}`);
      for (let y = Math.ceil(-h / step) * step; y <= h; y += step) lines.push(`M${-w} ${y}H${w}`);
    }
    const parts = [
      { key: 'step', d: lines.join('') },
      { key: 'centre', d: `M0 ${-h}V${h}M${-w} 0H${w}` },
    ];
    keyed(
      this.layers.grid,
      parts,
      (part) => part.key,
      (part) => node('path', { class: part.key }),
      (path, part) => set(path, { d: part.d }),
    );
  }

  showPoints(drawing, selected) {
    const all = drawing.figures.flatMap((figure, i) =>
      pointsOf(figure).map((at, k) => ({ figure: i, point: k, at, first: k === 0 })),
    );
    keyed(
      this.layers.points,
      all,
      (one) => `${one.figure}-${one.point}`,
      () => this.handle(),
      (circle, one) => {
        const isChosen = selected?.figure === one.figure && selected?.point === one.point;
        set(circle, {
          cx: one.at[0],
          cy: one.at[1],
          r: (isChosen ? 6 : 4.5) * this.mm,
          'stroke-width': 1.5 * this.mm,
          class: isChosen ? 'chosen' : null,
          'aria-label': `Point ${one.point + 1} of line ${one.figure + 1}, ${one.at.map((mm) => Number(mm.toFixed(2))).join(', ')} mm`,
        });
        circle.dataset.point = JSON.stringify({ figure: one.figure, point: one.point });
      },
    );
  }

  handle() {
    const circle = node('circle', { tabindex: 0, role: 'button' });
    const own = () => JSON.parse(circle.dataset.point);
    circle.addEventListener('focus', () => this.teller.choose(own()));
    circle.addEventListener('keydown', (event) => {
      const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
      const factor = (event.shiftKey && 10) || (event.altKey && 0.1) || 1;
      if (step)
        this.teller.nudge(
          own(),
          step.map((one) => one * factor),
        );
      else if (event.key === 'Delete' || event.key === 'Backspace') this.teller.remove(own());
      else if (event.key === 'Enter') this.teller.close(own());
      else return;
      event.preventDefault();
    });
    return circle;
  }

  focus({ figure, point }) {
    this.layers.points.querySelector(`[data-key="${figure}-${point}"]`)?.focus();
  }
}
