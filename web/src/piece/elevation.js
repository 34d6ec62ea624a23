// The elevation: what is at which height, to scale, and the list of the elements.
import { length, rounded } from '../figures.js';
import { keyed, node, set } from '../svg.js';
import { newGesture } from './desk.js';
import { elevationInWords } from './facts.js';
import { leaveField } from './fields.js';
import { isHere, spotsOf } from './spots.js';

const SCALE_LEFT = 58;
const DRAWING_WIDTH = 76;
const CSS_PX_PER_MM = 96 / 25.4;
const FOOT = 46;
const HEAD = 34;
const titled = (word) => word[0].toUpperCase() + word.slice(1);
const NO_EDGE = { kind: 'square', size: 0 };

export class Elevation {
  constructor(host, desk) {
    this.host = host;
    this.desk = desk;
    this.drag = null;
    // The scale, and where the bed is in pixels, once it was zoomed; else all of it is shown.
    this.zoomed = null;
    this.layers = {};
    this.svg = node('svg', {
      class: 'elevation-svg',
      role: 'group',
      'aria-label': 'Elevation: the elements by height',
    });
    for (const name of ['ground', 'scale', 'bands', 'layers', 'swaps', 'troubles']) {
      this.layers[name] = node('g', {});
      this.svg.append(this.layers[name]);
    }
    const ground = node('rect', { width: '100%', height: '100%', fill: 'transparent' });
    ground.addEventListener('pointerdown', (event) => {
      desk.select(null);
      this.startPan(event);
    });
    ground.addEventListener('dblclick', () => this.fit());
    this.svg.addEventListener(
      'wheel',
      (event) => {
        event.preventDefault();
        this.zoom(Math.exp(-event.deltaY * 0.0015), event.clientY - this.svg.getBoundingClientRect().top);
      },
      { passive: false },
    );
    this.layers.ground.append(ground);
    host.append(this.svg);
    this.svg.addEventListener('pointerdown', leaveField, { capture: true });
    desk.addEventListener('view', () => this.draw());
    desk.addEventListener('select', () => this.draw());
    for (const name of ['findings', 'pointed']) desk.addEventListener(name, () => this.draw());
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
    const lanes = desk.stacked.length;
    const lane = (index) => {
      const pitch = DRAWING_WIDTH / lanes;
      const width = Math.min(30, pitch * 0.62);
      return [SCALE_LEFT + pitch * (index + 0.5) - width / 2, width];
    };
    const edges = desk.plate.edges;
    const grip = desk.isPlate ? { grip: face, up: 1, field: ['blank', 'thickness'] } : {};
    const plate = {
      key: 'plate',
      id: null,
      name: titled(desk.blankNoun),
      bottom: 0,
      top: face,
      x: SCALE_LEFT,
      width: DRAWING_WIDTH,
      kind: 'blank',
      figure: face,
      ...grip,
      fill: view.tones[view.plate.colour].flat,
      line: view.tones[view.plate.colour].line,
      inlays: this.inlays(),
      profile: { top: edgeSize(edges.top, view.plate), bottom: edgeSize(edges.bottom, view.plate) },
    };
    const elements = desk.stacked.map((placed, index) => {
      const [x, width] = lane(index);
      const element = desk.element(placed.id);
      const band = { key: placed.id, id: placed.id, bottom: placed.bottom, top: placed.top, x, width };
      return {
        ...band,
        ...this.describe(placed, element),
        ...this.colours(placed, element),
        profile: this.profile(placed, element),
      };
    });
    // What of a mesh reaches above the face stands at the side.
    const rest = view.mesh &&
      view.mesh.top > face + 0.01 && {
        ...plate,
        key: 'rest',
        name: 'rest of it',
        bottom: face,
        top: view.mesh.top,
        width: 10,
        figure: view.mesh.top - face,
        sign: '+',
      };
    return [plate, ...elements, rest].filter(Boolean);
  }

  /** Whether it is on the far side of what lies flat. */
  isBehind(placed) {
    return placed.face === 'back' && !this.desk.view.chart;
  }

  /** The faces of the plate that have a colour of their own, from where to where. */
  inlays() {
    const { tones, plate } = this.desk.view;
    const { faces, thickness } = this.desk.plate;
    const top = faces.top && {
      from: Math.max(0, thickness - faces.top.depth),
      to: thickness,
      fill: tones[plate.front].flat,
    };
    const bottom = faces.bottom && {
      from: 0,
      to: Math.min(thickness, faces.bottom.depth),
      fill: tones[plate.back].flat,
    };
    return [top, bottom].filter(Boolean);
  }

  /** How a band is coloured: what it adds, and what is inlaid below it. */
  colours(placed, element) {
    const { tones, plate } = this.desk.view;
    const own = tones[placed.colour];
    const isBack = this.isBehind(placed);
    const from = isBack ? placed.top : placed.bottom;
    const inlay = (depth) => ({
      from: Math.max(0, isBack ? from : from - depth),
      to: isBack ? from + depth : from,
      fill: own.flat,
    });
    if (placed.kind === 'recess') return { inlays: element.floor ? [inlay(element.floor.depth)] : [] };
    const inlays = placed.root > 0 && placed.colour !== plate.colour ? [inlay(placed.root)] : [];
    return { fill: placed.colour === plate.colour ? own.raised : own.flat, line: own.line, inlays };
  }

  /** The edges of an element as they are carried out, seen from the front: at its top and its foot. */
  profile(placed, element) {
    const size = (edge) => edgeSize(edge, placed);
    const isBack = this.isBehind(placed);
    if (placed.kind === 'loop') {
      const edges = element.own?.edges ?? this.desk.plate.edges;
      return { top: size(edges.top), bottom: size(edges.bottom) };
    }
    if (placed.kind === 'hole') {
      const near = size(element.edges.top);
      const far = element.depth === null ? size(element.edges.bottom) : NO_EDGE;
      return isBack ? { top: far, bottom: near } : { top: near, bottom: far };
    }
    if (element.relief?.flush !== undefined) return { top: NO_EDGE, bottom: NO_EDGE };
    const own = size(element.edge ?? 'square');
    if (element.relief === 'through') return { top: own, bottom: own };
    return isBack ? { top: NO_EDGE, bottom: own } : { top: own, bottom: NO_EDGE };
  }

  /** What is particular to a kind of element: its name, its figure, and what a drag changes. */
  describe(placed, element) {
    const { thickness } = this.desk.plate;
    const isBack = this.isBehind(placed);
    const cut = { kind: 'open-band' };
    // What stands up is dragged by its far end, what is sunk by its floor.
    const outwards = isBack ? -1 : 1;
    const sunk = (name, field, make) => ({
      ...cut,
      name,
      figure: placed.top - placed.bottom,
      sign: '−',
      grip: isBack ? placed.top : placed.bottom,
      up: -outwards,
      field: [placed.id, field],
      make,
    });
    // As deep as the plate is thick is through, and back again.
    const orThrough = (name, field, make, through) => ({
      ...sunk(name, field, (depth) => (depth >= thickness - 1e-6 ? through : make(depth))),
      ...(placed.through ? { word: 'through' } : {}),
    });
    const depthOf = (now) => (depth) =>
      now?.floor === undefined
        ? { by: depth }
        : { floor: Math.max(0.05, rounded(placed.ground - depth, this.desk.units)) };
    switch (placed.kind) {
      case 'hole':
        return orThrough('Hole', 'depth', (depth) => depth, null);
      case 'loop':
        if (element.own === null) return { ...cut, name: 'Loop', figure: element.inside, sign: '⌀ ' };
        return {
          kind: 'adds',
          name: 'Loop',
          figure: element.own.thickness,
          grip: placed.top,
          up: 1,
          field: [placed.id, 'own.thickness'],
        };
      case 'recess':
        return sunk('Recess', 'depth', depthOf(element.depth));
      default: {
        const { name } = placed;
        const { relief } = element;
        // Of several steps each is as high, or as deep, as the relief says.
        const steps = placed.kind === 'halo' ? element.steps : 1;
        const each = (mm) => rounded(mm / steps, this.desk.units);
        if (relief === 'through' || relief.recessed !== undefined) {
          const whole = depthOf(relief.recessed);
          const depth = (mm) => whole(each(mm));
          if (placed.kind === 'halo') return sunk(name, 'relief', (by) => ({ recessed: depth(by) }));
          return orThrough(name, 'relief', (by) => ({ recessed: depth(by) }), 'through');
        }
        const grip = isBack ? placed.bottom : placed.top;
        if (relief.flush !== undefined)
          return { ...sunk(name, 'relief', (depth) => ({ flush: depth })), kind: 'inlay', sign: 'in ' };
        return {
          kind: 'adds',
          name,
          figure: placed.top - placed.bottom,
          sign: '+',
          grip,
          up: outwards,
          field: [placed.id, 'relief'],
          make: (by) => ({
            raised: relief.raised['from-foot'] === undefined ? { by: each(by) } : { 'from-foot': by },
          }),
        };
      }
    }
  }

  draw() {
    const { desk } = this;
    if (!desk.view || this.host.clientHeight === 0) return;
    set(this.svg, { 'aria-label': elevationInWords(desk.view, desk.stacked, desk.blankNoun) });
    const bands = this.bands();
    this.lowest = Math.min(...bands.map((band) => band.bottom));
    const total = Math.max(...bands.map((band) => band.top)) - this.lowest;
    const room = this.host.clientHeight - FOOT - HEAD;
    // As tall as the column lets it be, but a single layer never fills a hand's breadth.
    this.whole = Math.min(0.86 * (room / total), 110);
    if (this.zoomed) ({ scale: this.scale, foot: this.foot } = this.zoomed);
    else {
      if (!this.drag) this.scale = this.whole;
      this.foot = this.host.clientHeight - FOOT - Math.max(0, (room - total * this.scale) / 2);
    }
    this.host.dispatchEvent(
      new CustomEvent('exaggerated', { detail: this.scale / CSS_PX_PER_MM, bubbles: true }),
    );
    this.drawLayers(total);
    this.drawScale(bands);
    this.drawSwaps(total);
    this.drawBands(bands);
    this.drawTroubles(bands);
  }

  /** From which height to which findings are, beside what they concern. */
  drawTroubles(bands) {
    const { desk } = this;
    const marks = desk.view.findings.flatMap((finding, index) => {
      if (finding.set_aside !== null || !isHere(desk, finding)) return [];
      const band = bands.find((one) => one.id === finding.target) ?? bands[0];
      const heights = spotsOf(desk, finding)
        .filter(({ seen }) => (desk.view.chart ? seen === desk.face : seen === 'sections'))
        .map(({ bottom, top }) => [bottom, top]);
      const different = [...new Map(heights.map((pair) => [pair.join(), pair])).values()];
      return different.map(([bottom, top], number) => ({ index, number, band, bottom, top }));
    });
    keyed(
      this.layers.troubles,
      marks,
      ({ index, number }) => `trouble-${index}-${number}`,
      () => node('path', {}),
      (path, { index, band, bottom, top }) => {
        const isPointed = index === desk.pointed;
        const [low, high] = [this.y(bottom), this.y(top)];
        const [foot, head] = low - high < 3 ? [low + 1.5, high - 1.5] : [low, high];
        const x = band.x - (isPointed ? 4 : 3);
        set(path, {
          class: isPointed ? 'trouble-height is-pointed' : 'trouble-height',
          d: `M${x + 3} ${foot}H${x}V${head}H${x + 3}`,
        });
      },
    );
  }

  /** Shows heights larger by a factor, what lies at a pixel staying there; never smaller than all of it. */
  zoom(factor, at = this.host.clientHeight / 2) {
    const MOST = 400;
    const scale = Math.min(MOST, this.scale * factor);
    this.zoomed = scale <= this.whole ? null : { scale, foot: at + ((this.foot - at) * scale) / this.scale };
    this.draw();
  }

  fit() {
    this.zoomed = null;
    this.draw();
  }

  startPan(event) {
    if (!this.zoomed) return;
    this.svg.setPointerCapture(event.pointerId);
    const { foot } = this.zoomed;
    const start = event.clientY;
    this.drag = {
      move: (now) => {
        this.zoomed.foot = foot + now.clientY - start;
        this.draw();
      },
    };
  }

  /** Heights count from the plate's foot; the piece stands on the bed by its lowest point. */
  y(height) {
    return this.foot - (height - this.lowest) * this.scale;
  }

  drawScale(bands) {
    const { units } = this.desk;
    const heights = [
      ...new Set(bands.flatMap((band) => [band.bottom, band.top]).map((h) => Math.round(h * 1e4) / 1e4)),
    ].sort((a, b) => a - b);
    const parts = [];
    let lastY = Infinity;
    for (const height of heights) {
      const y = this.y(height);
      if (y < 0 || y > this.host.clientHeight) continue;
      parts.push(
        node('line', { class: 'height-tick', x1: SCALE_LEFT - 8, x2: SCALE_LEFT - 2, y1: y, y2: y }),
      );
      if (lastY - y < 13) continue;
      lastY = y;
      const text = length(height - this.lowest, units, units === 'in' ? 4 : 2).replace(` ${units}`, '');
      parts.push(node('text', { x: SCALE_LEFT - 12, y: y + 4, 'text-anchor': 'end', class: 'soft' }, text));
    }
    const foot = this.y(this.lowest);
    parts.push(
      node('line', {
        class: 'bed',
        x1: SCALE_LEFT - 6,
        x2: SCALE_LEFT + DRAWING_WIDTH + 6,
        y1: foot + 2,
        y2: foot + 2,
      }),
    );
    parts.push(
      node(
        'text',
        { x: SCALE_LEFT + DRAWING_WIDTH / 2, y: foot + 22, 'text-anchor': 'middle', class: 'soft' },
        `${this.desk.view.chart ? 'other side' : 'bed'} (${units})`,
      ),
    );
    this.layers.scale.replaceChildren(...parts);
  }

  /** The layers the printer puts down, where they are far enough apart to be seen. */
  drawLayers(total) {
    const { view } = this.desk;
    // Layers lie level; a face that leans or stands has none of its own, and what is printed on another
    // side has them across.
    if (view.chart || this.desk.component.lies !== 'as-made') {
      this.layers.layers.replaceChildren();
      return;
    }
    const { height, first } = view.piece.layers;
    const lines = [];
    if (view.swaps && height * this.scale >= 4) {
      for (let z = first; z < total + height / 2; z += height) {
        const y = this.y(z + this.lowest);
        if (y < 0 || y > this.host.clientHeight) continue;
        lines.push(
          node('line', { class: 'layer', x1: SCALE_LEFT, x2: SCALE_LEFT + DRAWING_WIDTH, y1: y, y2: y }),
        );
      }
    }
    this.layers.layers.replaceChildren(...lines);
  }

  /** Where the filament is changed, with the layer that begins there. */
  drawSwaps(total) {
    const { view } = this.desk;
    const { lies } = this.desk.component;
    const isLevel = !view.chart && ['as-made', 'on-top'].includes(lies);
    const parts = (isLevel ? (view.swaps?.swaps ?? []) : []).flatMap((swap) => {
      const height = lies === 'on-top' ? total - swap.height : swap.height;
      const y = this.y(height + this.lowest);
      return [
        node('line', { class: 'swap', x1: SCALE_LEFT - 8, x2: SCALE_LEFT + DRAWING_WIDTH + 8, y1: y, y2: y }),
        node('rect', {
          class: 'swap-colour',
          x: 6,
          y: y - 17,
          width: 9,
          height: 9,
          fill: view.tones[swap.filament].flat,
        }),
        node('text', { class: 'swap-word', x: 19, y: y - 9 }, `L${swap.layer}`),
      ];
    });
    this.layers.swaps.replaceChildren(...parts);
  }

  /** Where the names stand: beside their bands, pushed apart where they would meet. */
  labels(bands) {
    const [ceiling, floor] = [18, this.host.clientHeight - 18];
    const shown = (y) => Math.min(floor, Math.max(ceiling, y));
    const labels = bands.map((band) => ({
      band,
      y: (shown(this.y(band.bottom)) + shown(this.y(band.top))) / 2,
    }));
    // The plate is named low down, where nothing else reaches.
    const foot = shown(this.y(0));
    labels[0].y = foot - Math.min(16, (foot - shown(this.y(bands[0].top))) / 2);
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
        const [block, ring, leader, name, value, gripBar, grip, below, above, label] = group.children;
        const box = {
          x: band.x,
          width: band.width,
          y: this.y(band.top),
          height: Math.max(1, (band.top - band.bottom) * this.scale),
        };
        const chosen = band.id === desk.selected;
        set(group, { class: `band${chosen ? ' chosen' : ''}`, 'aria-pressed': chosen });
        set(block, {
          d: section(box, band, this.scale),
          class: band.kind,
          fill: band.kind === 'open-band' ? null : band.fill,
          stroke: band.kind === 'open-band' ? null : band.line,
        });
        [below, above].forEach((rect, i) => {
          const inlay = band.inlays?.[i];
          set(
            rect,
            inlay
              ? {
                  x: band.x,
                  width: band.width,
                  y: this.y(inlay.to),
                  height: Math.max(1, (inlay.to - inlay.from) * this.scale),
                  fill: inlay.fill,
                }
              : { width: 0, height: 0 },
          );
        });
        set(ring, band.id === null ? { width: 0, height: 0 } : box);
        const at = labels.get(band.key);
        const edge = band.x + band.width;
        const middle = Math.min(Math.max(at, box.y + 2), box.y + box.height - 2);
        set(leader, { d: `M${edge} ${middle}L${column - 6} ${at}L${column - 2} ${at}` });
        set(name, { x: column, y: at - 3 });
        set(label, { x: column - 4, y: at - 15 });
        name.textContent = `${band.name.length > 11 ? `${band.name.slice(0, 10)}…` : band.name} `;
        set(value, { x: column, y: at + 12, class: 'soft' });
        value.textContent =
          band.word ?? `${band.sign ?? ''}${length(band.figure, desk.units, desk.units === 'in' ? 4 : 2)}`;
        const y = band.grip === undefined ? 0 : this.y(band.grip);
        const canDrag = band.grip !== undefined;
        set(grip, { x: band.x, width: band.width, y: y - 5, height: canDrag ? 10 : 0 });
        set(gripBar, {
          x1: band.x,
          x2: band.x + band.width,
          y1: y,
          y2: y,
          visibility: chosen && canDrag ? 'visible' : 'hidden',
        });
      },
    );
  }

  makeBand(key) {
    const grip = node('rect', { class: 'grip' });
    const group = node(
      'g',
      { tabindex: 0, role: 'button' },
      node('path'),
      node('rect', { class: 'ring' }),
      node('path', { class: 'leader' }),
      node('text', { class: 'band-name' }),
      node('text'),
      node('line', { class: 'grip-bar' }),
      grip,
      node('rect', { class: 'inlaid' }),
      node('rect', { class: 'inlaid' }),
      // The label is clicked around its words, not on their strokes.
      node('rect', { class: 'label-reach', width: 84, height: 30 }),
    );
    const choose = () => {
      this.desk.select(group.item.id);
      if (group.item.id !== null) this.desk.lookFor(group.item.id);
    };
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
    if (band.id !== null && this.desk.element(band.id).locked) return;
    this.svg.setPointerCapture(event.pointerId);
    const start = event.clientY;
    const gesture = newGesture();
    this.drag = {
      move: (now) => {
        const by = (start - now.clientY) / this.scale;
        const next = Math.max(0.1, rounded(band.figure + band.up * by, this.desk.units));
        this.desk.set(...band.field, band.make ? band.make(next) : next, { gesture, refused: () => {} });
      },
    };
  }
}

/** An edge as it is carried out: its kind and its size in mm. */
function edgeSize(edge, placed) {
  if (edge === 'square' || edge === undefined) return NO_EDGE;
  const [[kind, size]] = Object.entries(edge);
  return { kind, size: Math.min(size, placed.reduced_edge ?? size) };
}

/**
 * The outline of a band in section: what stands up is drawn in at its edges, what is cut is
 * widened. Heights are true; a treatment wider than the band has room for is drawn narrower.
 */
function section({ x, y, width, height }, band, scale) {
  const { top, bottom } = band.profile;
  const cuts = band.kind === 'open-band';
  const tall = (edge) => Math.min(edge.size * scale, height);
  const wide = (edge) => (cuts ? 1 : -1) * Math.min(edge.size * scale, width * 0.3);
  const [right, foot] = [x + width, y + height];
  const join = (edge, to) => {
    if (edge.kind !== 'round') return `L${to[0]} ${to[1]}`;
    return `A${Math.abs(wide(edge))} ${tall(edge)} 0 0 ${cuts ? 0 : 1} ${to[0]} ${to[1]}`;
  };
  const corners = [
    `M${x} ${y + tall(top)}`,
    join(top, [x - wide(top), y]),
    `L${right + wide(top)} ${y}`,
    join(top, [right, y + tall(top)]),
    `L${right} ${foot - tall(bottom)}`,
    join(bottom, [right + wide(bottom), foot]),
    `L${x - wide(bottom)} ${foot}`,
    join(bottom, [x, foot - tall(bottom)]),
  ];
  return `${corners.join('')}Z`;
}
