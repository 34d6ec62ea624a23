// The plan: the face of the piece to scale, with everything that can be done on it by hand.
import { figure, length, rounded } from '../figures.js';
import { keyed, node, set } from '../svg.js';
import { newGesture } from './desk.js';
import { leaveField } from './fields.js';
import { catches, distanceFrom, followsOutline, high, middle, movable, moved, nearestCatch, placeAt } from './placing.js';
import { drawDimensions } from './dimensions.js';
import { handlesOf } from './handles.js';
import { openWords } from './words.js';

const RULER = 26;
const CATCH_PX = 6;
const CSS_PX_PER_MM = 96 / 25.4;
const AXES = ['across', 'up'];

/** Whether the clear area matters for what is being placed. */
const showsClear = (element) => Boolean(element?.place) && element.kind !== 'hole' && !element.course?.circle;

export class Plan {
  constructor(host, desk) {
    this.host = host;
    this.desk = desk;
    this.scale = null;
    this.origin = [0, 0];
    this.fitted = true;
    this.drag = null;
    this.layers = {};
    this.svg = node('svg', { class: 'plan-svg', role: 'group', 'aria-label': 'Plan of the face. Tab goes through the elements, arrow keys move what is selected.' });
    for (const name of ['ground', 'sheet', 'elements', 'marks', 'dimensions', 'guides', 'handles', 'rulers']) {
      this.layers[name] = node('g', { class: name });
      this.svg.append(this.layers[name]);
    }
    this.ground = node('rect', { fill: 'transparent', width: '100%', height: '100%' });
    this.layers.ground.append(this.ground);
    host.append(this.svg);
    this.listen();
  }

  listen() {
    const { desk, svg } = this;
    svg.addEventListener('pointerdown', leaveField, { capture: true });
    desk.addEventListener('view', () => this.draw());
    desk.addEventListener('select', () => this.draw());
    new ResizeObserver(() => {
      if (this.fitted) this.scale = null;
      this.draw();
    }).observe(this.host);
    this.ground.addEventListener('pointerdown', (event) => this.startPan(event));
    // A captured pointer clicks on the whole plan; what was pressed is remembered.
    svg.addEventListener('dblclick', () => this.pressed && openWords(this, this.pressed));
    this.ground.addEventListener('dblclick', () => this.fit());
    svg.addEventListener('wheel', (event) => {
      event.preventDefault();
      const box = svg.getBoundingClientRect();
      this.zoom(Math.exp(-event.deltaY * 0.0015), [event.clientX - box.left, event.clientY - box.top]);
    }, { passive: false });
    svg.addEventListener('pointermove', (event) => this.drag?.move(event));
    for (const end of ['pointerup', 'pointercancel']) {
      svg.addEventListener(end, (event) => {
        const { drag } = this;
        this.drag = null;
        drag?.end?.(event);
        this.draw();
      });
    }
  }

  /** Millimetres to pixels. */
  px(x, y) {
    return [this.origin[0] + x * this.scale, this.origin[1] - y * this.scale];
  }

  /** Pixels of a pointer event to millimetres. */
  mm(event) {
    const box = this.svg.getBoundingClientRect();
    return [
      (event.clientX - box.left - this.origin[0]) / this.scale,
      (this.origin[1] - (event.clientY - box.top)) / this.scale,
    ];
  }

  fit() {
    this.fitted = true;
    this.scale = null;
    this.draw();
  }

  zoom(factor, at = null) {
    const [width, height] = [this.host.clientWidth, this.host.clientHeight];
    const [x, y] = at ?? [(width + RULER) / 2, (height + RULER) / 2];
    const scale = Math.min(400, Math.max(0.4, this.scale * factor));
    const ratio = scale / this.scale;
    this.origin = [x - (x - this.origin[0]) * ratio, y - (y - this.origin[1]) * ratio];
    this.scale = scale;
    this.fitted = false;
    this.draw();
  }

  /** Scale and origin that show the whole plate with room for its dimension lines. */
  place() {
    if (this.scale !== null) return;
    const [width, height] = [this.host.clientWidth - RULER, this.host.clientHeight - RULER];
    const { bounds } = this.desk.view.plate;
    const [wide, tall] = [bounds.x1 - bounds.x0, bounds.y1 - bounds.y0];
    // Room for the dimension lines, less of it where there is little.
    const room = (length) => Math.min(150, length * 0.3);
    this.scale = Math.max(0.1, Math.min((width - room(width)) / wide, (height - room(height)) / tall));
    const [x, y] = [middle(bounds, 'across'), middle(bounds, 'up')];
    this.origin = [RULER + (width - 20) / 2 - x * this.scale, RULER + (height - 16) / 2 + y * this.scale];
  }

  /** Whether all of the piece is in sight: until then a fitted plan stays still. */
  showsAll() {
    if (this.scale === null) return false;
    const { bounds } = this.desk.view.plate;
    const [left, top] = this.px(bounds.x0, bounds.y1);
    const [right, bottom] = this.px(bounds.x1, bounds.y0);
    const isSmall = right - left < this.host.clientWidth * 0.3 && bottom - top < this.host.clientHeight * 0.3;
    return !isSmall && left > RULER + 40 && top > RULER + 30 && right < this.host.clientWidth - 60 && bottom < this.host.clientHeight - 66;
  }

  draw() {
    const { desk } = this;
    if (!desk.view || this.host.clientWidth === 0) return;
    if (!this.drag?.keepsScale) {
      if (this.fitted && !this.showsAll()) this.scale = null;
      this.place();
    }
    this.host.dispatchEvent(new CustomEvent('scaled', { detail: this.scale / CSS_PX_PER_MM, bubbles: true }));
    this.drawSheet();
    this.drawElements();
    this.drawMarks();
    drawDimensions(this);
    this.drawGuides();
    this.drawHandles();
    this.drawRulers();
  }

  /** From the paths' own coordinates, which are those of the front, to pixels. */
  get transform() {
    const flip = this.desk.face === 'back' ? -1 : 1;
    return `translate(${this.origin[0]} ${this.origin[1]}) scale(${flip * this.scale} ${this.scale})`;
  }

  drawSheet() {
    const { plate, mesh, tones } = this.desk.view;
    const face = { key: 'plate', path: plate.path, fill: tones[plate.shown].flat };
    const rest = mesh && { key: 'rest', path: mesh.silhouette, fill: tones[plate.shown].sunk };
    keyed(
      this.layers.sheet,
      [rest, face].filter(Boolean),
      (item) => item.key,
      ({ key }) => {
        const blank = node('path', { class: key === 'rest' ? 'rest' : 'blank', 'fill-rule': 'evenodd' });
        blank.addEventListener('pointerdown', (event) => {
          this.desk.select(null);
          this.startPan(event);
        });
        return blank;
      },
      (path, item) => set(path, { d: item.path, transform: this.transform, fill: item.fill, stroke: tones[plate.shown].line }),
    );
  }

  /** How far the dragged element is from where the server last put it, in mm. */
  offsetOf(placed) {
    const target = this.drag?.id === placed.id ? this.drag.frame : null;
    return target ? [middle(target, 'across') - middle(placed.frame, 'across'), middle(target, 'up') - middle(placed.frame, 'up')] : [0, 0];
  }

  shownFrame(placed) {
    return moved(placed.frame, ...this.offsetOf(placed));
  }

  drawElements() {
    const { view, selected } = this.desk;
    // Fields lie under everything, holes go through everything.
    const rank = { recess: -1, hole: 1 };
    const seen = view.elements.filter((placed) => this.desk.isSeen(placed));
    const flip = this.desk.face === 'back' ? -1 : 1;
    const inOrder = seen.sort((a, b) => (rank[a.kind] ?? 0) - (rank[b.kind] ?? 0));
    keyed(
      this.layers.elements,
      inOrder,
      (placed) => placed.id,
      (placed) => this.makeElement(placed.id),
      (group, placed) => {
        const [dx, dy] = this.offsetOf(placed);
        const [path, reach] = group.children;
        const isOwnLoop = placed.kind === 'loop' && placed.colour !== view.plate.colour;
        const kind = placed.kind === 'loop' && !isOwnLoop ? 'reach' : placed.adds ? 'adds' : placed.through ? 'opens' : 'cuts';
        const follows = followsOutline(this.desk.element(placed.id));
        set(path, {
          d: placed.path,
          class: selected === placed.id && follows ? `${kind} chosen-outline` : kind,
          fill: kind === 'adds' || kind === 'cuts' ? this.desk.toneOf(placed) : null,
          stroke: kind === 'adds' ? view.tones[view.plate.shown].line : null,
          'fill-rule': 'evenodd',
          transform: `${this.transform} translate(${flip * dx} ${-dy})`,
        });
        const [x, y] = this.px(placed.frame.x0 + dx, placed.frame.y1 + dy);
        const pad = placed.kind === 'lettering' ? 4 : 0;
        // A rim or a field is taken hold of by itself, not by the box around it.
        set(reach, { visibility: follows ? 'hidden' : 'visible' });
        set(reach, {
          x: x - pad,
          y: y - pad,
          width: Math.max(8, (placed.frame.x1 - placed.frame.x0) * this.scale) + 2 * pad,
          height: Math.max(8, (placed.frame.y1 - placed.frame.y0) * this.scale) + 2 * pad,
        });
        set(group, { 'aria-label': this.nameOf(placed), 'aria-pressed': this.desk.selection.includes(placed.id) });
      },
    );
  }

  nameOf(placed) {
    const element = this.desk.element(placed.id);
    const shown = (mm) => length(mm, this.desk.units);
    const names = {
      hole: () => `Hole, ${shown(element.diameter)}`,
      lettering: () => `Lettering, ${this.desk.words(element) || 'no words yet'}`,
      emblem: () => `Emblem, ${element.shape}`,
      rim: () => `Rim, ${shown(element.width)}`,
      loop: () => `Loop, ${shown(element.inside)}`,
    };
    return names[placed.kind]?.() ?? placed.name;
  }

  makeElement(id) {
    const group = node('g', { class: 'element', tabindex: 0, role: 'button' }, node('path'), node('rect', { class: 'reach' }));
    group.addEventListener('focus', () => !this.holds && this.desk.select(id));
    group.addEventListener('pointerdown', (event) => {
      if (event.button !== 0) return;
      event.preventDefault();
      event.stopPropagation();
      this.pressed = id;
      if (event.shiftKey) {
        this.desk.toggle(id);
        return;
      }
      // Taking hold of one of several keeps them together.
      if (!this.desk.selection.includes(id)) this.desk.select(id);
      this.holds = true;
      group.focus({ preventScroll: true });
      this.holds = false;
      this.startMove(event, id);
    });
    group.addEventListener('keydown', (event) => {
      if (event.key !== 'Enter') return;
      event.preventDefault();
      event.stopPropagation();
      openWords(this, id);
    });
    return group;
  }

  /** Centre lines, the clear area, and where preflight has found something. */
  drawMarks() {
    const { view, selected } = this.desk;
    const { frame } = view.plate;
    const marks = [];
    const [left, top] = this.px(frame.x0, frame.y1);
    const [right, bottom] = this.px(frame.x1, frame.y0);
    const [cx, cy] = view.mesh ? this.px(middle(frame, 'across'), middle(frame, 'up')) : this.px(0, 0);
    marks.push({ key: 'level', name: 'line', class: 'centre-line', x1: left - 14, x2: right + 14, y1: cy, y2: cy });
    marks.push({ key: 'upright', name: 'line', class: 'centre-line', x1: cx, x2: cx, y1: top - 14, y2: bottom + 14 });
    if (view.clear && selected && showsClear(this.desk.element(selected))) {
      marks.push({ key: 'clear', name: 'rect', class: 'clear-area', ...this.box(view.clear) });
    }
    const chosen = selected === null ? null : this.desk.element(selected);
    if (chosen?.course?.circle && this.desk.isSeen(this.desk.placed(selected))) {
      const placed = this.shownFrame(this.desk.placed(selected));
      const [x, y] = this.px(middle(placed, 'across'), middle(placed, 'up'));
      marks.push({ key: 'circle', name: 'circle', class: 'clear-area', cx: x, cy: y, r: chosen.course.circle.radius * this.scale });
    }
    if (view.plate.guide.x1 !== view.plate.frame.x1 || view.plate.guide.y1 !== view.plate.frame.y1) {
      marks.push({ key: 'guide', name: 'rect', class: 'room', ...this.box(view.plate.guide) });
    }
    view.findings.forEach((finding, index) => {
      const target = this.desk.placed(finding.target);
      if (finding.place && (!target || this.desk.isSeen(target))) marks.push({ key: `trouble-${index}`, name: 'rect', class: 'trouble', ...this.box(finding.place, 3) });
    });
    keyed(this.layers.marks, marks, (mark) => mark.key, (mark) => node(mark.name), (child, { key, name, ...attributes }) => set(child, attributes));
  }

  box(frame, pad = 0) {
    const [x, y] = this.px(frame.x0, frame.y1);
    return {
      x: x - pad,
      y: y - pad,
      width: (frame.x1 - frame.x0) * this.scale + 2 * pad,
      height: (frame.y1 - frame.y0) * this.scale + 2 * pad,
    };
  }

  drawGuides() {
    const guides = [];
    const [width, height] = [this.host.clientWidth, this.host.clientHeight];
    for (const axis of AXES) {
      const caught = this.drag?.caught?.[axis];
      if (!caught) continue;
      const [x, y] = this.px(caught.at, caught.at);
      const line = axis === 'across' ? { x1: x, x2: x, y1: RULER, y2: height } : { x1: RULER, x2: width, y1: y, y2: y };
      guides.push({ key: axis, line, word: caught.word, at: axis === 'across' ? [x + 6, RULER + 16] : [RULER + 8, y - 6] });
    }
    keyed(
      this.layers.guides,
      guides,
      (guide) => guide.key,
      () => node('g', {}, node('line', { class: 'guide' }), node('text', { class: 'guide-word' })),
      (group, guide) => {
        set(group.children[0], guide.line);
        set(group.children[1], { x: guide.at[0], y: guide.at[1] });
        group.children[1].textContent = guide.word;
      },
    );
  }

  drawHandles() {
    const { desk } = this;
    const items = [];
    for (const id of desk.selection) {
      const placed = desk.placed(id);
      if (placed.frame.x1 > placed.frame.x0 && desk.isSeen(placed) && !followsOutline(desk.element(id)) && !desk.element(id).course?.circle) {
        items.push({ key: `frame ${id}`, frame: this.shownFrame(placed), kept: desk.kept.has(id) });
      }
    }
    items.push(...handlesOf(this));
    keyed(
      this.layers.handles,
      items,
      (item) => item.key,
      (item) => {
        if (item.frame) return node('rect');
        const handle = node('rect', { class: 'handle', width: 9, height: 9, cursor: item.cursor, 'data-handle': item.key });
        handle.addEventListener('pointerdown', (event) => {
          event.preventDefault();
          event.stopPropagation();
          this.startPull(event, handle.item);
        });
        return handle;
      },
      (child, item) => {
        if (item.frame) return set(child, { class: item.kept ? 'selection kept' : 'selection', ...this.box(item.frame, 2) });
        child.item = item;
        const [x, y] = this.px(...item.at);
        return set(child, { x: x - 4.5, y: y - 4.5, rx: item.round ? 4.5 : null });
      },
    );
  }

  drawRulers() {
    const { units, view } = this.desk;
    const [width, height] = [this.host.clientWidth, this.host.clientHeight];
    const unit = units === 'in' ? 25.4 : 1;
    const steps = units === 'in' ? [1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 5, 10] : [0.1, 0.5, 1, 2, 5, 10, 20, 50, 100];
    const fine = steps.find((one) => one * unit * this.scale >= 5) ?? steps.at(-1);
    const coarse = steps.find((one) => one * unit * this.scale >= 48 && Math.abs(Math.round(one / fine) - one / fine) < 1e-9) ?? steps.at(-1);
    const parts = [
      node('rect', { class: 'ruler-ground', x: 0, y: 0, width, height: RULER }),
      node('rect', { class: 'ruler-ground', x: 0, y: 0, width: RULER, height }),
    ];
    const every = Math.round(coarse / fine);
    const rule = (axis, from, to) => {
      const start = axis === 'across' ? view.plate.frame.x0 : view.plate.frame.y0;
      const first = Math.ceil((from - start) / unit / fine);
      const last = Math.floor((to - start) / unit / fine);
      for (let tick = first; tick <= last; tick += 1) {
        const at = start + tick * fine * unit;
        const isCoarse = tick % every === 0;
        const size = isCoarse ? 10 : 5;
        const [x, y] = this.px(at, at);
        if (axis === 'across' && x > RULER) {
          parts.push(node('line', { class: 'ruler-tick', x1: x, x2: x, y1: RULER - size, y2: RULER }));
          if (isCoarse) parts.push(node('text', { class: 'ruler-figure', x, y: 12, 'text-anchor': 'middle' }, figure(tick * fine * unit, units, 3)));
        } else if (axis === 'up' && y > RULER) {
          parts.push(node('line', { class: 'ruler-tick', x1: RULER - size, x2: RULER, y1: y, y2: y }));
          if (isCoarse) parts.push(node('text', { class: 'ruler-figure', transform: `translate(12 ${y}) rotate(-90)`, 'text-anchor': 'middle' }, figure(tick * fine * unit, units, 3)));
        }
      }
    };
    rule('across', -this.origin[0] / this.scale, (width - this.origin[0]) / this.scale);
    rule('up', (this.origin[1] - height) / this.scale, this.origin[1] / this.scale);
    parts.push(node('rect', { class: 'ruler-ground', x: 0, y: 0, width: RULER, height: RULER }));
    parts.push(node('text', { class: 'ruler-figure', x: RULER / 2, y: 16, 'text-anchor': 'middle' }, units));
    this.layers.rulers.replaceChildren(...parts);
  }

  capture(event) {
    this.svg.setPointerCapture(event.pointerId);
  }

  startPan(event) {
    if (event.button > 1) return;
    this.pressed = null;
    this.capture(event);
    const start = [event.clientX, event.clientY];
    const origin = [...this.origin];
    let far = false;
    this.drag = {
      move: (now) => {
        const by = [now.clientX - start[0], now.clientY - start[1]];
        far ||= Math.hypot(...by) > 4;
        if (!far) return;
        this.origin = [origin[0] + by[0], origin[1] + by[1]];
        this.fitted = false;
        this.draw();
      },
      end: () => {
        if (!far) this.desk.select(null);
      },
    };
  }

  /** Moves an element: it catches on centre lines, margins and its neighbours unless Alt is held. */
  startMove(event, id) {
    this.capture(event);
    const { desk } = this;
    const element = desk.element(id);
    const { kind } = element;
    if (!desk.isAtHand(id) || followsOutline(element)) return;
    if (kind === 'loop') {
      this.startTurn(id);
      return;
    }
    const start = this.mm(event);
    const from = desk.placed(id).frame;
    // Passing a guide on the way must not change what the place is measured from.
    const data = Object.fromEntries(AXES.map((axis) => [axis, desk.value(id, `place.${axis}.from`)]));
    const others = movable(desk, desk.selection).filter((other) => other !== id).map((other) => ({ id: other, frame: desk.placed(other).frame }));
    const gesture = newGesture();
    let far = false;
    this.drag = {
      id,
      frame: null,
      caught: {},
      keepsScale: true,
      move: (now) => {
        const at = this.mm(now);
        const by = [at[0] - start[0], at[1] - start[1]];
        far ||= Math.hypot(...by) * this.scale > 3;
        if (!far) return;
        let frame = moved(from, ...by);
        this.drag.caught = {};
        const place = {};
        for (const axis of AXES) {
          const all = catches(desk, desk.selection, kind, frame, axis);
          const caught = now.altKey ? null : nearestCatch(all, frame, axis, CATCH_PX / this.scale);
          if (caught) {
            frame = axis === 'across' ? moved(frame, caught.shift, 0) : moved(frame, 0, caught.shift);
            this.drag.caught[axis] = caught;
          }
          const datum = caught?.from ?? data[axis];
          let distance = distanceFrom(desk.view, kind, frame, axis, datum);
          if (!caught) {
            // A distance a person would have typed; the frame follows, and all that moves along.
            const by = rounded(distance, desk.units) - distance;
            const inwards = datum === high(axis) ? -by : by;
            frame = axis === 'across' ? moved(frame, inwards, 0) : moved(frame, 0, inwards);
            distance += by;
          }
          place[axis] = { from: datum, distance: Math.round(distance * 1e6) / 1e6 };
        }
        this.drag.frame = frame;
        const shift = [frame.x0 - from.x0, frame.y0 - from.y0];
        const together = others.flatMap((other) => AXES.map((axis) => placeAt(desk, other.id, moved(other.frame, ...shift), axis)));
        desk.edit([{ set: { target: id, field: 'place', value: place } }, ...together], { key: `move ${id}`, gesture });
        this.draw();
      },
    };
  }

  /** Leads a loop around the outline; in a direction it catches every 15° unless Alt is held. */
  startTurn(id) {
    const { desk } = this;
    const gesture = newGesture();
    const flip = desk.face === 'back' ? -1 : 1;
    this.drag = {
      keepsScale: true,
      move: (now) => {
        const [x, y] = this.mm(now);
        if (desk.element(id).at.point) {
          const at = (mm) => ({ from: 'centre', distance: rounded(mm, desk.units) });
          desk.set(id, 'at', { point: { across: at(flip * x), up: at(y) } }, { gesture });
          return;
        }
        const degrees = (Math.atan2(y, flip * x) * 180) / Math.PI;
        const caught = Math.round(degrees / 15) * 15;
        const angle = !now.altKey && Math.abs(caught - degrees) < 4 ? caught : Math.round(degrees * 10) / 10;
        desk.set(id, 'at', { angle }, { gesture });
      },
    };
  }

  /** Pulls a handle. */
  startPull(event, handle) {
    this.capture(event);
    const pull = handle.start();
    this.drag = { keepsScale: true, move: (now) => pull(this.mm(now), now) };
  }

  /** Moves what is selected by arrow keys, in mm. */
  nudge(dx, dy, gesture) {
    const { desk } = this;
    const edits = movable(desk, desk.selection)
      .map((target) => ({ shift: { target, across: dx, up: dy } }));
    if (edits.length === 0) return;
    desk.edit(edits, { gesture });
  }
}
