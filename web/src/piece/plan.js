// The plan: the face of the piece to scale, with everything that can be done on it by hand.
import { length } from '../figures.js';
import { keyed, node, set } from '../svg.js';
import { layBridge } from './bridges.js';
import { drawDimensions } from './dimensions.js';
import { planInWords } from './facts.js';
import { startPan, startPull } from './dragging.js';
import { leaveField } from './fields.js';
import { handlesOf } from './handles.js';
import { drawGuides, drawMarks } from './marks.js';
import { followsOutline, middle, moved } from './placing.js';
import { RULER, drawRulers } from './rulers.js';
import { listenForClicks, press } from './pressing.js';
import { openWords } from './words.js';

const CSS_PX_PER_MM = 96 / 25.4;

export class Plan {
  constructor(host, desk) {
    this.host = host;
    this.desk = desk;
    this.scale = null;
    this.origin = [0, 0];
    this.fitted = true;
    this.drag = null;
    this.layers = {};
    this.svg = node('svg', {
      class: 'plan-svg',
      role: 'group',
      tabindex: -1,
    });
    for (const name of [
      'ground',
      'sheet',
      'elements',
      'marks',
      'dimensions',
      'guides',
      'handles',
      'rulers',
    ]) {
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
    svg.addEventListener(
      'pointerdown',
      (event) => {
        if (desk.laying === null) return;
        event.preventDefault();
        event.stopPropagation();
        layBridge(this, event);
      },
      { capture: true },
    );
    desk.addEventListener('view', () => this.draw());
    desk.addEventListener('select', () => this.draw());
    for (const name of ['findings', 'pointed']) desk.addEventListener(name, () => this.draw());
    desk.addEventListener('laying', () =>
      set(svg, { class: desk.laying ? 'plan-svg is-laying' : 'plan-svg' }),
    );
    new ResizeObserver(() => {
      if (this.fitted) this.scale = null;
      this.draw();
    }).observe(this.host);
    this.ground.addEventListener('pointerdown', (event) => startPan(this, event));
    // A captured pointer clicks on the whole plan; what was pressed is remembered.
    this.pressed = null;
    this.goesOn = null;
    listenForClicks(this, (id) => openWords(this, id));
    this.ground.addEventListener('dblclick', () => this.fit());
    svg.addEventListener(
      'wheel',
      (event) => {
        event.preventDefault();
        const box = svg.getBoundingClientRect();
        this.zoom(Math.exp(-event.deltaY * 0.0015), [event.clientX - box.left, event.clientY - box.top]);
      },
      { passive: false },
    );
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
    const room = (length) => Math.min(150, Math.max(120, length * 0.3), length * 0.5);
    this.scale = Math.max(0.1, Math.min((width - room(width)) / wide, (height - room(height)) / tall));
    const [x, y] = [middle(bounds, 'across'), middle(bounds, 'up')];
    // Dimension lines stand at the right and below.
    const [right, below] = [width < 360 ? 60 : 20, height < 320 ? 64 : 16];
    this.origin = [
      RULER + (width - right) / 2 - x * this.scale,
      RULER + (height - below) / 2 + y * this.scale,
    ];
  }

  /** Whether all of the piece is in sight: until then a fitted plan stays still. */
  showsAll() {
    if (this.scale === null) return false;
    const { bounds } = this.desk.view.plate;
    const [left, top] = this.px(bounds.x0, bounds.y1);
    const [right, bottom] = this.px(bounds.x1, bounds.y0);
    const isSmall = right - left < this.host.clientWidth * 0.3 && bottom - top < this.host.clientHeight * 0.3;
    return (
      !isSmall &&
      left > RULER + 40 &&
      top > RULER + 30 &&
      right < this.host.clientWidth - 60 &&
      bottom < this.host.clientHeight - 66
    );
  }

  draw() {
    const { desk } = this;
    if (!desk.view || this.host.clientWidth === 0) return;
    if (!this.drag?.keepsScale) {
      if (this.fitted && !this.showsAll()) this.scale = null;
      this.place();
    }
    this.host.dispatchEvent(new CustomEvent('scaled', { detail: this.scale / CSS_PX_PER_MM, bubbles: true }));
    const said = planInWords(desk.view, desk.face, desk.faceTitle);
    set(this.svg, { 'aria-label': `${said} Tab goes through it, arrow keys move what is selected.` });
    this.drawSheet();
    this.drawElements();
    drawMarks(this);
    drawDimensions(this);
    drawGuides(this);
    this.drawHandles();
    drawRulers(this);
  }

  /** From the paths' own coordinates, which are those of the front, to pixels. */
  get transform() {
    const flip = this.desk.view.mirrored ? -1 : 1;
    return `translate(${this.origin[0]} ${this.origin[1]}) scale(${flip * this.scale} ${this.scale})`;
  }

  /** Which side of what lies flat is looked at. */
  get sheet() {
    return this.desk.view.mirrored ? 'back' : 'front';
  }

  drawSheet() {
    const { plate, mesh, tones } = this.desk.view;
    const face = { key: 'plate', path: plate.path, fill: tones[plate.shown].flat };
    const edges = { key: 'edges', path: plate.edge_lines[this.sheet] };
    const rest = mesh && { key: 'rest', path: mesh.silhouette, fill: tones[plate.shown].sunk };
    keyed(
      this.layers.sheet,
      [rest, face, edges].filter(Boolean),
      (item) => item.key,
      ({ key }) => {
        if (key === 'edges') return node('path', { class: 'edge-line' });
        const blank = node('path', { class: key === 'rest' ? 'rest' : 'blank', 'fill-rule': 'evenodd' });
        blank.addEventListener('pointerdown', (event) => {
          this.desk.select(null);
          startPan(this, event);
        });
        return blank;
      },
      (path, item) =>
        set(path, {
          d: item.path,
          transform: this.transform,
          fill: item.fill ?? 'none',
          stroke: tones[plate.shown].line,
        }),
    );
  }

  /** How far the dragged element is from where the server last put it, in mm. */
  offsetOf(placed) {
    const target = this.drag?.id === placed.id ? this.drag.frame : null;
    return target
      ? [
          middle(target, 'across') - middle(placed.frame, 'across'),
          middle(target, 'up') - middle(placed.frame, 'up'),
        ]
      : [0, 0];
  }

  shownFrame(placed) {
    return moved(placed.frame, ...this.offsetOf(placed));
  }

  drawElements() {
    const { view, selected } = this.desk;
    // Fields lie under everything, holes go through everything.
    const rank = { recess: -3, halo: -2, pattern: -1, hole: 1 };
    const seen = view.elements.filter((placed) => this.desk.isSeen(placed));
    const flip = this.desk.view.mirrored ? -1 : 1;
    const inOrder = seen.sort((a, b) => (rank[a.kind] ?? 0) - (rank[b.kind] ?? 0));
    keyed(
      this.layers.elements,
      inOrder,
      (placed) => placed.id,
      (placed) => this.makeElement(placed.id),
      (group, placed) => {
        const [dx, dy] = this.offsetOf(placed);
        const [path, edge, around, reach] = group.children;
        const isOwnLoop = placed.kind === 'loop' && placed.colour !== view.plate.colour;
        const kind =
          placed.kind === 'loop' && !isOwnLoop
            ? 'reach'
            : placed.adds
              ? 'adds'
              : placed.through
                ? 'opens'
                : 'cuts';
        const follows = followsOutline(this.desk.element(placed.id));
        set(path, {
          d: placed.path,
          class: selected === placed.id && follows ? `${kind} chosen-outline` : kind,
          fill: kind === 'adds' || kind === 'cuts' ? this.desk.toneOf(placed) : null,
          stroke: kind === 'adds' ? view.tones[view.plate.shown].line : null,
          'fill-rule': 'evenodd',
          transform: `${this.transform} translate(${flip * dx} ${-dy})`,
        });
        const inPlace = { transform: path.getAttribute('transform') };
        const line = view.tones[view.plate.shown].line;
        set(edge, { d: placed.edge_lines[this.sheet], stroke: line, ...inPlace });
        set(around, { d: placed.path, ...inPlace });
        const [x, y] = this.px(placed.frame.x0 + dx, placed.frame.y1 + dy);
        const pad = placed.kind === 'lettering' ? 4 : 0;
        // A thing is taken hold of by itself and a little around it; by a box only what is not drawn.
        set(reach, { visibility: placed.path ? 'hidden' : 'visible' });
        set(reach, {
          x: x - pad,
          y: y - pad,
          width: Math.max(8, (placed.frame.x1 - placed.frame.x0) * this.scale) + 2 * pad,
          height: Math.max(8, (placed.frame.y1 - placed.frame.y0) * this.scale) + 2 * pad,
        });
        set(group, {
          'aria-label': this.nameOf(placed),
          'aria-pressed': String(this.desk.selection.includes(placed.id)),
        });
      },
    );
  }

  nameOf(placed) {
    const element = this.desk.element(placed.id);
    const shown = (mm) => length(mm, this.desk.units);
    const names = {
      hole: () => `Hole, ${shown(element.diameter)}`,
      lettering: () => `Lettering, ${this.desk.words(element) || 'no words yet'}`,
      emblem: () => `Emblem, ${placed.name}`,
      rim: () => `Rim, ${shown(element.width)}`,
      loop: () => `Loop, ${shown(element.inside)}`,
      halo: () => `Halo, ${shown(element.distance)}`,
    };
    return names[placed.kind]?.() ?? placed.name;
  }

  makeElement(id) {
    const group = node(
      'g',
      { class: 'element', tabindex: 0, role: 'button' },
      node('path'),
      node('path', { class: 'edge-line', fill: 'none' }),
      node('path', { class: 'around' }),
      node('rect', { class: 'reach' }),
    );
    group.addEventListener('focus', () => !this.holds && this.desk.select(id));
    group.addEventListener('pointerdown', (event) => {
      if (event.button !== 0) return;
      event.preventDefault();
      event.stopPropagation();
      if (event.shiftKey) {
        this.pressed = id;
        this.goesOn = null;
        this.desk.toggle(id);
        return;
      }
      press(this, event, id);
    });
    group.addEventListener('keydown', (event) => {
      if (event.key !== 'Enter') return;
      event.preventDefault();
      event.stopPropagation();
      openWords(this, id);
    });
    return group;
  }

  /** Puts the focus on an element, or on the plan itself. */
  focusOn(id) {
    const groups = [...this.layers.elements.children];
    const group = groups.find((one) => one.dataset.key === id) ?? this.svg;
    this.holds = true;
    group.focus({ preventScroll: true });
    this.holds = false;
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

  drawHandles() {
    const { desk } = this;
    const items = [];
    for (const id of desk.selection) {
      const placed = desk.placed(id);
      if (
        placed.frame.x1 > placed.frame.x0 &&
        desk.isSeen(placed) &&
        !followsOutline(desk.element(id)) &&
        !desk.element(id).course?.circle
      ) {
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
        const handle = node('rect', {
          class: 'handle',
          width: 9,
          height: 9,
          cursor: item.cursor,
          'data-handle': item.key,
        });
        handle.addEventListener('pointerdown', (event) => {
          event.preventDefault();
          event.stopPropagation();
          startPull(this, event, handle.item);
        });
        return handle;
      },
      (child, item) => {
        if (item.frame)
          return set(child, {
            class: item.kept ? 'selection kept' : 'selection',
            ...this.box(item.frame, 2),
          });
        child.item = item;
        const [x, y] = this.px(...item.at);
        const tone = item.tone ? `handle ${item.tone}` : 'handle';
        return set(child, { class: tone, x: x - 4.5, y: y - 4.5, rx: item.round ? 4.5 : null });
      },
    );
  }

  capture(event) {
    this.svg.setPointerCapture(event.pointerId);
  }
}
