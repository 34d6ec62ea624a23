// The page of shapes: what is kept, and drawings looked at before something is made of them.
import Alpine from '@alpinejs/csp';
import { figure, typed } from './figures.js';
import { attempting, make, send } from './requests.js';
import { keyed, node, set } from './svg.js';

/** What a name has in front of its ending. */
const stem = (name) => name.replace(/\.\w+$/, '').slice(0, 80);

/** The query of what is wanted of a drawing; what is null goes without saying. */
export function asked(wanted, more = {}) {
  const given = Object.entries({ ...wanted, ...more }).filter(([, value]) => value !== null && value !== '');
  return new URLSearchParams(given).toString();
}

/** Nothing said yet. */
const nothing = () => ({
  scale: null,
  width: null,
  layers: null,
  lines: null,
  line_width: null,
  join: null,
  division: 'together',
  tones: null,
  threshold: null,
  colours: null,
  smooth: null,
  corner: null,
  speck: null,
});

Alpine.data('shapes', () => ({
  ...attempting,
  // The drawing that is looked at, by its id.
  drawing: null,
  name: '',
  called: '',
  working: false,
  report: null,
  wanted: nothing(),
  // What was kept last.
  kept: [],
  // Looks are answered in any order; only the last one asked for is shown.
  looks: 0,

  get isLooking() {
    return this.drawing !== null;
  },
  get title() {
    return this.drawing ? this.name : 'Read a drawing or a picture';
  },
  get hasReport() {
    return this.report !== null;
  },
  get kind() {
    return this.report?.format ?? '';
  },
  get width() {
    return this.report?.size ? figure(this.report.size[0], 'mm', 2) : '';
  },
  get tall() {
    return this.report?.size ? `× ${figure(this.report.size[1], 'mm', 2)} mm` : '';
  },
  get isStated() {
    return this.report?.is_stated ?? true;
  },
  get unit() {
    return String(this.report?.scale ?? 1);
  },
  get units() {
    const known = [
      [25.4 / 96, 'pixels, 96 to an inch'],
      [25.4 / 72, 'points, 72 to an inch'],
      [1, 'millimetres'],
      [10, 'centimetres'],
      [25.4, 'inches'],
    ];
    const now = this.report?.scale ?? 1;
    const isKnown = known.some(([scale]) => Math.abs(scale / now - 1) < 1e-6);
    const all = isKnown ? known : [...known, [now, 'so that it has this width']];
    return all.map(([scale, word]) => ({
      key: word,
      value: String(scale),
      word,
      isNow: Math.abs(scale / now - 1) < 1e-6,
    }));
  },
  get layers() {
    const chosen = this.wanted.layers?.split(',');
    return (this.report?.layers ?? []).map((layer, place) => ({
      place,
      name: layer.name,
      fill: layer.colour ?? 'currentColor',
      count: layer.marks === 1 ? '1 line or area' : `${layer.marks} lines and areas`,
      isChosen: !chosen || chosen.includes(String(place)),
    }));
  },
  get hasLayers() {
    return this.layers.length > 1;
  },
  get isPicture() {
    return Boolean(this.report?.tracing);
  },
  get isDrawing() {
    return this.hasReport && !this.isPicture;
  },
  get tracing() {
    return this.report?.tracing ?? {};
  },
  get areDark() {
    return this.tracing.tones === 'dark';
  },
  get areLight() {
    return this.tracing.tones === 'light';
  },
  get areApart() {
    return this.tracing.tones === 'apart';
  },
  /** Whether it is an SVG, whose lines are read and which can be traced as well. */
  get canBeTraced() {
    return this.report?.can_be_traced ?? false;
  },
  get areColours() {
    return this.tracing.tones === 'colours';
  },
  get hasThreshold() {
    return this.isPicture && !this.areColours;
  },
  get threshold() {
    return Math.round((this.tracing.threshold ?? 0.5) * 100);
  },
  get thresholdWord() {
    return `${this.threshold} %`;
  },
  get colourCount() {
    return this.tracing.colours ?? 3;
  },
  get smooth() {
    return figure(this.tracing.smooth ?? 0, 'mm', 2);
  },
  get corner() {
    return String(Math.round(this.tracing.corner ?? 0));
  },
  get speck() {
    return figure(this.tracing.speck ?? 0, 'mm', 2);
  },
  get asksUnit() {
    return this.isDrawing && !this.isStated;
  },
  get isByLayer() {
    return this.wanted.division === 'by-layer';
  },
  get isTogether() {
    return !this.isByLayer;
  },
  get hasLines() {
    return this.report?.has_lines ?? false;
  },
  get areOutlines() {
    return this.report?.lines === 'outlines';
  },
  get areLines() {
    return this.report?.lines === 'lines';
  },
  get needsWidth() {
    return this.areLines && (this.report?.has_hairlines ?? false);
  },
  get lineWidth() {
    return figure(this.wanted.line_width ?? 1, 'mm');
  },
  get gap() {
    return figure(this.wanted.join ?? 0.05, 'mm');
  },
  get remarks() {
    return this.report?.remarks ?? [];
  },
  get hasRemarks() {
    return this.remarks.length > 0;
  },
  get refusal() {
    return this.report?.refusal ?? '';
  },
  get canKeep() {
    return (this.report?.shapes.length ?? 0) > 0;
  },
  get cannotKeep() {
    return !this.canKeep;
  },
  get facts() {
    const { shapes } = this.report ?? { shapes: [] };
    const count = (of, one, more) => (of === 1 ? `1 ${one}` : `${of} ${more}`);
    const sum = (what) => shapes.reduce((all, shape) => all + shape[what], 0);
    if (shapes.length === 0) return '';
    const parts = count(sum('parts'), 'part', 'parts');
    const openings = count(sum('openings'), 'opening', 'openings');
    return `${parts}, ${openings}, ${figure(sum('area'), 'mm', 1)} mm²`;
  },
  get hasKept() {
    return this.kept.length > 0;
  },
  get keptWord() {
    return this.kept.length === 1
      ? `“${this.kept[0].name}” is among your shapes: every emblem and outline can be it.`
      : `${this.kept.length} shapes are among yours: every emblem and outline can be one of them.`;
  },

  /** Shapes that were just kept are named in the address. */
  init() {
    const ids = location.hash.slice(1).split(',').filter(Boolean);
    const rows = ids.map((id) => document.querySelector(`[data-shape="${CSS.escape(id)}"]`));
    this.kept = rows.filter(Boolean).map((row) => ({ id: row.dataset.shape, name: row.dataset.name }));
  },

  choose(event) {
    const most = Number(event.target.dataset.mostMb);
    const [file] = event.target.files;
    event.target.value = '';
    if (!file) return undefined;
    return this.attempt(async () => {
      if (file.size > most << 20)
        throw new Error(
          `The file has ${(file.size / (1 << 20)).toFixed(0)} MB; a drawing may have ${most} MB at most.`,
        );
      this.back();
      this.kept = [];
      this.working = true;
      try {
        const address = `/api/drawings?name=${encodeURIComponent(file.name)}`;
        const { id } = await (await send('POST', address, file)).json();
        Object.assign(this, { drawing: id, name: file.name, called: stem(file.name), wanted: nothing() });
      } finally {
        this.working = false;
      }
      await this.look();
      // What is painted in several colours is most often meant to be printed in them.
      const isPainted = this.report.format === 'SVG' && this.report.layers.length > 1;
      if (isPainted) await this.want({ division: 'by-layer' });
    });
  },

  /** Asks what would be made of the drawing as it is chosen. */
  async look() {
    const mine = ++this.looks;
    this.working = true;
    try {
      const address = `/api/drawings/${this.drawing}/look?${asked(this.wanted)}`;
      const report = await (await send('GET', address)).json();
      if (mine !== this.looks) return;
      this.report = report;
      this.draw();
    } catch (error) {
      // An answer that was overtaken by a later question is none.
      if (mine === this.looks) throw error;
    } finally {
      if (mine === this.looks) this.working = false;
    }
  },

  want(changes) {
    this.wanted = { ...this.wanted, ...changes };
    return this.attempt(() => this.look());
  },
  wantTones(event) {
    const tones = event.target.value;
    const division = tones === 'colours' ? 'by-layer' : 'together';
    return this.want({ tones, division, layers: null, threshold: null });
  },
  wantTraced(event) {
    const tones = event.target.checked ? 'dark' : null;
    return this.want({ ...nothing(), width: this.wanted.width, tones });
  },
  wantThreshold(event) {
    return this.want({ threshold: Number(event.target.value) / 100 });
  },
  wantColours(event) {
    return this.want({ colours: Number(event.target.value), layers: null });
  },
  async wantSmooth(event) {
    const smooth = await typed(event);
    if (smooth !== undefined) await this.want({ smooth });
  },
  async wantCorner(event) {
    const corner = await typed(event, 'angle');
    if (corner !== undefined) await this.want({ corner });
  },
  async wantSpeck(event) {
    const speck = await typed(event);
    if (speck !== undefined) await this.want({ speck });
  },
  wantUnit(event) {
    return this.want({ scale: Number(event.target.value), width: null });
  },
  async wantWidth(event) {
    const width = await typed(event);
    if (width !== undefined) await this.want({ width, scale: null });
  },
  wantLines(event) {
    return this.want({ lines: event.target.value });
  },
  async wantLineWidth(event) {
    const width = await typed(event);
    if (width !== undefined) await this.want({ line_width: width });
  },
  async wantGap(event) {
    const join = await typed(event);
    if (join !== undefined) await this.want({ join });
  },
  wantDivision(event) {
    return this.want({ division: event.target.value });
  },
  wantLayer(event) {
    const place = Number(event.target.value);
    const chosen = this.layers.filter((layer) =>
      layer.place === place ? event.target.checked : layer.isChosen,
    );
    if (chosen.length > 0) return this.want({ layers: chosen.map((layer) => layer.place).join(',') });
    event.target.checked = true;
    return undefined;
  },
  call(event) {
    this.called = event.target.value;
  },

  /** The result to scale, with its width and height. */
  draw() {
    const drawing = this.$refs.drawing;
    const { size, shapes } = this.report;
    const [width, height] = size ?? [10, 10];
    const room = Math.max(width, height) * 0.12;
    const box = [-width / 2 - room, -height / 2 - room, width + 2 * room, height + 2 * room];
    set(drawing, { viewBox: box.map((side) => side.toFixed(4)).join(' ') });
    const under = this.isPicture
      ? [{ key: 'picture', href: `/api/drawings/${this.drawing}/picture.png`, place: this.tracing.place }]
      : [];
    const paint = this.isPicture && !this.areColours ? 'traced' : '';
    keyed(
      drawing,
      [...under, ...shapes.map((shape, i) => ({ ...shape, key: `shape-${i}` }))],
      (one) => one.key,
      (one) => node(one.href ? 'image' : 'path', one.href ? {} : { 'fill-rule': 'evenodd' }),
      (child, one) => {
        if (one.href) {
          const [x, y, wide, tall] = one.place;
          set(child, { href: one.href, x, y, width: wide, height: tall, preserveAspectRatio: 'none' });
        } else {
          set(child, { d: one.path, fill: one.colour ?? 'currentColor', class: paint });
        }
      },
    );
    drawing.dataset.ready = 'yes';
  },

  keep() {
    return this.attempt(async () => {
      const address = `/api/drawings/${this.drawing}/shapes?${asked(this.wanted, { name: this.called })}`;
      const kept = await (await send('POST', address)).json();
      location.hash = kept.map((shape) => shape.id).join();
      location.reload();
    });
  },
  back() {
    Object.assign(this, { drawing: null, report: null });
    this.looks += 1;
    this.$refs.drawing.replaceChildren();
  },
  /** Opens what a shape was made of, as it was chosen. */
  again(event) {
    const { id, name } = this.rowOf(event);
    return this.attempt(async () => {
      const source = await (await send('GET', `/api/shapes/${id}/source`)).json();
      if (source.name.endsWith('.drawing.json')) return location.assign(`/shapes/draw?from=${id}`);
      this.kept = [];
      const wanted = { ...nothing(), ...source.choice };
      Object.assign(this, { drawing: source.drawing, name: source.name, called: name, wanted });
      return this.look();
    });
  },

  makePlate() {
    return this.pieceOf(this.kept, 'plate');
  },
  putOn(event) {
    return this.pieceOf(this.kept, event.target.dataset.base);
  },
  plateOf(event) {
    return this.pieceOf([this.rowOf(event)], 'plate');
  },
  onPlate(event) {
    return this.pieceOf([this.rowOf(event)], 'emblems');
  },
  rowOf(event) {
    const { shape, name } = event.target.closest('[data-shape]').dataset;
    return { id: shape, name };
  },
  pieceOf(shapes, madeAs) {
    return this.attempt(async () => {
      const wanted = {
        name: shapes[0].name.split(', #')[0],
        units: 'mm',
        shapes: shapes.map((shape) => shape.id),
        made_as: madeAs,
      };
      const { id } = await (await make('/api/shapes/pieces', wanted)).json();
      location.assign(`/pieces/${id}`);
    });
  },

  rename(event) {
    const field = event.target;
    const { shape, name } = field.closest('[data-shape]').dataset;
    return this.attempt(async () => {
      try {
        await send('POST', `/api/shapes/${shape}/name`, { name: field.value });
        field.closest('[data-shape]').dataset.name = field.value.trim();
      } catch (error) {
        field.value = name;
        throw error;
      }
    });
  },
  drop(event) {
    const row = event.target.closest('[data-shape]');
    return this.attempt(async () => {
      await send('POST', `/api/shapes/${row.dataset.shape}/delete`);
      row.remove();
    });
  },
}));

Alpine.start();
