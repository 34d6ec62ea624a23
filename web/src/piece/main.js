// The piece page: plan, elevation and solid of one piece, and its settings.
import Alpine from '@alpinejs/csp';
import { length } from '../figures.js';
import { send } from '../requests.js';
import { Desk, newGesture } from './desk.js';
import { Elevation } from './elevation.js';
import { exporting } from './exporting.js';
import { STATE_WORDS, findingsOf, massOf, sizeOf, sized } from './facts.js';
import { CORNERS, fieldDirectives } from './fields.js';
import { listenForKeys } from './keys.js';
import { aligned, distanceFrom, distributed } from './placing.js';
import { Plan } from './plan.js';

const root = document.querySelector('[data-piece]');
const faces = JSON.parse(root.dataset.faces);
const emblems = JSON.parse(root.dataset.emblems);
const desk = new Desk(root.dataset.piece);
let plan;
let elevation;
let solid;

const ZOOM_FACTOR = 1.25;
/** The key of a value that is a word or an object of one key. */
const kindOf = (value) => (typeof value === 'string' ? value : (Object.keys(value ?? {})[0] ?? ''));
/** Its size, where it has one. */
const figureOf = (value) => (value && typeof value === 'object' ? Object.values(value)[0] : null);
const tenths = (mm) => Math.round(mm * 10) / 10;
/** "el.edges.top" → the selected element and "edges.top". */
const split = (path) => {
  const [target, ...field] = path.split('.');
  return [target === 'el' ? desk.selected : target, field.join('.')];
};
const valueAt = (path) => {
  const [target, field] = split(path);
  return target === null ? undefined : desk.value(target, field);
};

const WEIGHTS = { stop: 'cannot be built', wrong: 'to mend', look: 'to look at' };

/** Millimetres to the units a mesh may have been drawn in. */
const DRAWN_IN = [1, 10, 1000, 25.4, 304.8];

/** One object of two, what is worked out on asking included. */
const joined = (whole, part) => Object.defineProperties(whole, Object.getOwnPropertyDescriptors(part));

Alpine.data('piecePage', () => joined({
  view: null,
  selected: null,
  count: 0,
  state: 'saved',
  refusal: '',
  anotherUnit: false,
  scale: '',
  times: '',
  wire: false,
  faceOpen: false,
  samples: [],
  candidates: [],
  starterTrouble: '',
  kept: false,
  findingsOpen: false,
  palette: [],

  init() {
    plan = new Plan(this.$refs.plan, desk);
    elevation = new Elevation(this.$refs.elevation, desk);
    this.$refs.plan.addEventListener('scaled', (event) => {
      const ratio = event.detail;
      this.scale = ratio >= 1 ? `${ratio.toFixed(1)} : 1` : `1 : ${(1 / ratio).toFixed(1)}`;
    });
    this.$refs.elevation.addEventListener('exaggerated', (event) => {
      const times = event.detail;
      this.times = `${times >= 10 ? times.toFixed(0) : times.toFixed(1)} : 1`;
    });
    desk.addEventListener('view', () => {
      this.view = desk.view;
      document.title = `${desk.view.piece.name} – Kalotype`;
    });
    desk.addEventListener('select', () => {
      if (this.selected !== desk.selected) this.faceOpen = false;
      this.selected = desk.selected;
      this.count = desk.selection.length;
    });
    desk.addEventListener('state', () => (this.state = desk.state));
    desk.addEventListener('refused', (event) => (this.refusal = event.detail.message));
    desk.addEventListener('added', () => this.$nextTick(() => this.focusWords()));
    desk.addEventListener('view', () => (this.refusal = ''));
    const choices = () => (this.palette = desk.filaments);
    desk.addEventListener('palette', choices);
    desk.addEventListener('view', choices);
    // Filaments may be changed on another page meanwhile.
    window.addEventListener('focus', () => desk.loadPalette());
    listenForKeys(desk, plan, this);
    desk.load().then(() => this.openSolid());
  },

  async openSolid() {
    try {
      const { Solid } = await import('./solid.js');
      solid = new Solid(this.$refs.solid, desk);
      this.$refs.solid.dataset.ready = 'yes';
    } catch (error) {
      this.$refs.solid.textContent = 'This browser cannot draw solids (WebGL is switched off). Plan, elevation and export work without it.';
      console.warn(error);
    }
  },

  // What the page says.
  get ready() { return this.view !== null; },
  get isSeveral() { return this.count > 1; },
  get kind() { return this.isSeveral ? 'several' : this.view && this.selected ? (desk.element(this.selected)?.kind ?? 'plate') : 'plate'; },
  get isPlate() { return this.kind === 'plate' && !this.onMesh; },
  get isMeshBlank() { return this.kind === 'plate' && this.onMesh; },
  get onMesh() { return this.view !== null && desk.isMesh; },
  get asBlank() { return this.onMesh ? 'as the mesh' : 'as the plate'; },
  get emptyWord() { return this.onMesh ? 'A face of a mesh, ready for a name.' : 'A plate, ready for a name.'; },
  get meshFile() { return this.onMesh ? desk.blank.file : ''; },
  get meshExtent() { return this.view?.mesh ? sized(this.view.mesh.extent, this.units) : ''; },
  get meshFaces() {
    const size = (face) => sized(face.size.map((side) => side * desk.blank.scale), this.units);
    return (this.view?.mesh?.faces ?? []).map((face, index) => ({ index, word: `${index + 1}  ${face.facing}, ${size(face)}` }));
  },
  get meshFace() { return this.view?.mesh?.face ?? 0; },
  setMeshFace(event) {
    const { normal, level } = this.view.mesh.faces[event.target.value];
    desk.set('blank', 'face', { normal, level });
  },
  get drawnIn() { return this.onMesh && !this.anotherUnit && DRAWN_IN.includes(desk.blank.scale) ? String(desk.blank.scale) : 'other'; },
  setDrawnIn(event) {
    this.anotherUnit = event.target.value === 'other';
    if (!this.anotherUnit) desk.set('blank', 'scale', Number(event.target.value));
  },
  get isHole() { return this.kind === 'hole'; },
  get isLettering() { return this.kind === 'lettering'; },
  get isEmblem() { return this.kind === 'emblem'; },
  get isRim() { return this.kind === 'rim'; },
  get isRecess() { return this.kind === 'recess'; },
  get isLoop() { return this.kind === 'loop'; },
  get element() { return this.view && this.selected ? desk.element(this.selected) : null; },
  get relief() { return kindOf(this.element?.relief); },
  get elementSide() { return this.element?.side ?? 'front'; },
  get locked() { return this.element?.locked ?? false; },
  kindAt(path) { return this.view ? kindOf(valueAt(path)) : ''; },
  get hasRim() { return this.view?.elements.some((placed) => placed.kind === 'rim') ?? false; },
  get face() { return this.element?.face ?? ''; },
  get faceName() { return faces[this.face] ?? ''; },
  get emblem() { return this.element?.shape ?? ''; },
  get emblemName() { return emblems[this.emblem] ?? ''; },
  get mirrored() { return this.element?.mirrored ?? false; },
  cornerKind(path) {
    const kinds = new Set(Object.values((this.view && valueAt(path)?.rectangle) || {}).map(kindOf));
    return kinds.size === 1 ? [...kinds][0] : 'mixed';
  },
  hasCornerSize(path) { return !['square', 'mixed'].includes(this.cornerKind(path)); },
  get lineCount() { return this.isLettering ? this.element.lines.length : 0; },
  get linesMeet() { return this.element?.align ?? ''; },
  get capitals() { return this.element?.style?.capitals ?? false; },
  get sitsBy() { return this.element?.sits_by ?? ''; },
  get courseKind() { return this.element?.course?.circle?.reading ?? 'straight'; },
  get circleSide() { return this.element?.course?.circle?.side ?? ''; },
  get spreadKind() { return (this.element?.course?.circle?.spread ?? null) === null ? 'natural' : 'spread'; },
  get span() { return this.view && this.selected ? `${desk.placed(this.selected).span.toFixed(1)}°` : ''; },
  get letterHeight() { return this.view && this.selected ? length(desk.placed(this.selected).letter_height, this.units, this.units === 'in' ? 4 : 2) : ''; },
  lineFace(index) { return this.element?.lines?.[index]?.face ?? ''; },
  get ribbon() { return this.isLoop && this.element.ribbon !== null ? 'ribbon' : 'round'; },
  get thicknessKind() { return this.isLoop && this.element.own !== null ? 'own' : 'plate'; },
  get holeShape() { return kindOf(this.element?.shape); },
  get holeDepth() { return this.isHole && this.element.depth !== null ? 'blind' : 'through'; },
  get repeatKind() { return kindOf(this.element?.repeat) || 'once'; },
  edgeKind(path) { return this.view ? kindOf(valueAt(path)) : ''; },
  get units() { return this.view?.piece.units ?? 'mm'; },
  get empty() { return this.view !== null && this.view.elements.length === 0; },
  get canUndo() { return this.view?.can_undo ?? false; },
  get canRedo() { return this.view?.can_redo ?? false; },
  get stateWord() { return STATE_WORDS[this.state]; },
  get stateClass() { return this.state === 'waiting' ? 'text-accent' : 'text-good'; },
  get size() { return sizeOf(this.view); },
  get volume() { return this.view ? `${(this.view.facts.volume_mm3 / 1000).toFixed(2)} cm³` : ''; },
  get mass() { return massOf(this.view); },
  get triangles() { return this.view ? this.view.facts.triangles.toLocaleString('en').replace(/,/g, ' ') : ''; },
  get findings() { return findingsOf(this.view); },
  get findingCount() { return this.findings.length; },
  get hasFindings() { return this.findings.length > 0; },
  get verdict() {
    const counts = Object.keys(WEIGHTS).map((weight) => [this.findings.filter((f) => f.weight === weight).length, WEIGHTS[weight]]);
    return counts.filter(([count]) => count > 0).map(([count, words]) => `${count} ${words}`).join(', ');
  },

  // Colours.
  get bodies() { return this.view?.facts.bodies ?? []; },
  get isColoured() { return this.bodies.length > 1; },
  get cost() { return this.view ? this.view.facts.cost.toFixed(2) : ''; },
  get colourCount() { return this.bodies.length; },
  get swapWord() {
    const swaps = this.view?.swaps;
    if (!swaps) return '1 colour';
    const count = swaps.swaps.length;
    return `${this.colourCount} colours, ${count} ${count === 1 ? 'swap' : 'swaps'}`;
  },
  get hasConflicts() { return (this.view?.swaps?.reasons.length ?? 0) > 0; },
  /** The filament a field names, or nothing. */
  filamentAt(path) {
    if (!this.view) return '';
    const [target, field] = split(path);
    return (target === null ? null : desk.value(target, field)) ?? '';
  },
  /** What it looks like: that of the plate where none is named. */
  swatch(path) {
    if (!this.view) return 'none';
    const id = this.filamentAt(path) || desk.plate.colour;
    return this.view.piece.filaments.find((one) => one.id === id)?.colour ?? 'none';
  },
  setColour(event) {
    const [target, field] = split(event.target.dataset.colour);
    desk.edit([desk.colour(target, field, event.target.value)]);
  },
  /** The same colour for everything that is chosen and has one. */
  setColours(event) {
    const having = desk.selection.filter((id) => 'colour' in desk.element(id));
    desk.edit(having.map((id) => desk.colour(id, 'colour', event.target.value)));
    event.target.value = '';
  },
  get isOwnColour() { return Boolean(this.element?.colour) && this.relief === 'raised'; },
  setShowing(event) { solid?.setShowing(/^\d+$/.test(event.target.value) ? Number(event.target.value) : event.target.value); },

  // What can be done.
  undo() { desk.undo(); },
  redo() { desk.redo(); },
  add(event) { desk.add(event.currentTarget.dataset.kind); },
  removeSelected() { desk.remove(desk.selection); },
  duplicateSelected() { desk.duplicate(desk.selection); },
  moveSelected(event) { desk.move(this.selected, Number(event.currentTarget.dataset.by)); },
  align(event) {
    const { axis, side } = event.currentTarget.dataset;
    desk.edit(aligned(desk, desk.selection, axis, side));
  },
  distribute(event) { desk.edit(distributed(desk, desk.selection, event.currentTarget.dataset.axis)); },
  get canDistribute() { return this.count > 2; },
  setUnits(event) { desk.set('piece', 'units', event.target.value); },
  fit() {
    plan.fit();
    elevation.fit();
  },
  raiseHeights() { elevation.zoom(ZOOM_FACTOR); },
  lowerHeights() { elevation.zoom(1 / ZOOM_FACTOR); },
  zoomIn() { plan.zoom(ZOOM_FACTOR); },
  zoomOut() { plan.zoom(1 / ZOOM_FACTOR); },
  look(event) { solid?.look(event.currentTarget.dataset.view); },
  toggleWire() {
    this.wire = !this.wire;
    solid?.setWire(this.wire);
  },
  /** Puts the caret into the words of what was added, as soon as their field is there. */
  focusWords(frames = 30) {
    if (!this.isLettering) return;
    const { words } = this.$refs;
    words?.focus();
    words?.select();
    // A field that is only just being made cannot have the focus yet.
    const has = words && document.activeElement === words;
    if (!has && frames > 0) requestAnimationFrame(() => this.focusWords(frames - 1));
  },
  chooseEmblem(event) {
    desk.set(this.selected, 'shape', event.currentTarget.dataset.emblem);
    this.faceOpen = false;
    this.$refs.faceButton.focus();
  },
  setMirrored(event) { desk.set(this.selected, 'mirrored', event.target.checked); },
  toggleFaces() {
    this.faceOpen = !this.faceOpen;
    if (this.faceOpen && this.isLettering) this.setInFaces();
  },
  /** The words in every face, with what speaks against it. */
  async setInFaces() {
    this.samples = [];
    const id = this.selected;
    const { units } = this;
    try {
      const faces = await (await send('GET', `${desk.address}/faces/${id}`)).json();
      if (id !== this.selected) return;
      this.samples = faces.map((one) => {
        const lacks = one.missing.length > 0 ? [`lacks ${one.missing.slice(0, 4).join(' ')}`] : [];
        const thin = one.thin ? [`strokes under ${length(0.4, units)} at this size`] : [];
        return { ...one, box: one.view_box.join(' '), chosen: one.id === this.face, note: [...lacks, ...thin].join(', ') };
      });
    } catch (error) {
      this.refusal = error.message;
    }
  },
  get hasSamples() { return this.samples.length > 0; },
  chooseFace(event) {
    desk.set(this.selected, 'face', event.currentTarget.dataset.face);
    this.faceOpen = false;
    this.$refs.faceButton.focus();
  },
  closeFaces() { this.faceOpen = false; },
  /** The same size, given another way. */
  setLetterSize(event) {
    const { frame, letter_height: tall } = desk.placed(this.selected);
    const made = { height: { height: Math.max(0.5, tenths(tall)) }, box: { box: { width: Math.max(1, tenths(frame.x1 - frame.x0)), height: Math.max(0.5, tenths(frame.y1 - frame.y0)) } } };
    desk.set(this.selected, 'size', made[event.target.value] ?? event.target.value);
  },
  setAlign(event) { desk.set(this.selected, 'align', event.target.value); },
  setCapitals(event) { desk.set(this.selected, 'style.capitals', event.target.checked); },
  setSitsBy(event) { desk.set(this.selected, 'sits_by', event.target.value); },
  setLineFace(event) { desk.set(this.selected, `lines.${event.target.dataset.line}.face`, event.target.value || null); },
  /** Onto a circle that has room for it, over or under; a circle that is there is kept. */
  setCourse(event) {
    const reading = event.target.value;
    const before = this.element.course.circle;
    if (reading === 'straight') {
      desk.set(this.selected, 'course', 'straight');
      return;
    }
    const { guide } = desk.view.plate;
    const tall = desk.placed(this.selected).letter_height;
    const room = Math.min(guide.x1 - guide.x0, guide.y1 - guide.y0) / 2;
    const radius = Math.max(0.5, tenths(room - 1.6 * tall - desk.component.margin));
    const middle = reading === 'clockwise' ? 90 : -90;
    const circle = { radius, side: 'outside', spread: null, ...before, reading, middle };
    const centre = { from: 'centre', distance: 0 };
    const edits = [{ set: { target: this.selected, field: 'course', value: { circle } } }];
    if (!before) edits.push({ set: { target: this.selected, field: 'place', value: { across: centre, up: centre } } });
    if (!before && this.element.size.height === undefined) edits.unshift({ set: { target: this.selected, field: 'size', value: { height: Math.max(0.5, tenths(tall)) } } });
    desk.edit(edits);
  },
  setCircleSide(event) { desk.set(this.selected, 'course.circle.side', event.target.value); },
  setSpread(event) {
    const now = Math.min(360, Math.max(5, Math.round(desk.placed(this.selected).span)));
    desk.set(this.selected, 'course.circle.spread', event.target.value === 'spread' ? now : null);
  },
  /** A relief of another kind keeps its height as far as it can. */
  setRelief(event) {
    const placed = desk.placed(this.selected);
    const now = Math.max(0.1, tenths(placed.top - placed.bottom) || 1);
    const deepest = Math.max(0.1, tenths(placed.ground / 2) || tenths(desk.plate.thickness / 2));
    const next = { raised: { raised: { by: this.relief === 'raised' ? now : 1 } }, recessed: { recessed: { by: Math.min(now, deepest) } }, flush: { flush: Math.min(0.6, deepest) }, through: 'through' };
    desk.set(this.selected, 'relief', next[event.target.value]);
  },
  /** The same height, given another way. */
  setHeight(event) {
    const placed = desk.placed(this.selected);
    const standsOnBed = this.element.relief.raised['from-foot'] !== undefined;
    const height = (standsOnBed ? placed.top - desk.plate.thickness : placed.top - placed.bottom) || 1;
    const made = { by: { by: tenths(height) }, 'from-foot': { 'from-foot': tenths(placed.top) }, fraction: { fraction: Math.round((height / desk.plate.thickness) * 100) / 100 } };
    desk.set(this.selected, 'relief', { raised: made[event.target.value] ?? event.target.value });
  },
  setSide(event) {
    const side = event.target.value;
    desk.edit([{ set: { target: this.selected, field: 'side', value: side } }], { done: () => desk.lookFor(this.selected) });
  },
  toggleLock() { desk.set(this.selected, 'locked', !this.locked); },
  turnOver(event) { desk.look(event.target.value); },
  get side() { return this.view && desk.side; },
  /** Another treatment of an edge keeps its size. */
  setEdge(event) {
    const path = event.target.dataset.edge;
    const size = figureOf(valueAt(path)) ?? (path.startsWith('blank') ? 0.6 : 0.3);
    const [target, field] = split(path);
    desk.set(target, field, event.target.value === 'square' ? 'square' : { [event.target.value]: size });
  },
  /** Another outline takes over what it can: the size of a corner becomes its rounding. */
  setOutline(event) {
    const [target, field] = split(event.target.dataset.outline);
    const { width, height } = target === 'blank' ? desk.plate : this.element.shape.own;
    const before = desk.value(target, field);
    const corner = before.rectangle?.top_left ?? Object.values(before)[0]?.rounding ?? 3;
    const half = Math.min(width, height) / 2;
    const size = Math.min(typeof corner === 'number' ? corner : (figureOf(corner) ?? 0), half);
    const round = { round: size || Math.min(3, half) };
    const made = {
      rectangle: { rectangle: { top_left: round, top_right: round, bottom_right: round, bottom_left: round } },
      polygon: { polygon: { sides: 6, turn: 0, rounding: size } },
      star: { star: { points: 5, inner: 0.5, turn: 0, rounding: Math.min(size, 1) } },
      tag: { tag: { point: tenths(half * 0.8), rounding: size } },
      scallop: { scallop: { waves: 12, depth: Math.min(1.5, tenths(half / 4)) } },
      ring: { ring: { inside: tenths(half) } },
      contour: { contour: { offset: 2, crevices: 1.5, gaps: 5 } },
    };
    desk.set(target, field, made[event.target.value] ?? event.target.value);
  },
  setCorners(event) {
    const [target, field] = split(event.target.dataset.outline);
    const sizes = Object.values(desk.value(target, field).rectangle).map((corner) => figureOf(corner) ?? 0);
    const size = Math.max(...sizes) || 3;
    const corner = event.target.value === 'square' ? 'square' : { [event.target.value]: size };
    const all = Object.fromEntries(CORNERS.map((name) => [name, corner]));
    desk.set(target, `${field}.rectangle`, all);
  },
  setCorner(event) {
    const [target, field] = split(event.target.dataset.outline);
    const corner = `${field}.rectangle.${event.target.dataset.corner}`;
    const size = figureOf(desk.value(target, corner)) ?? 3;
    desk.set(target, corner, event.target.value === 'square' ? 'square' : { [event.target.value]: size });
  },
  setFieldShape(event) {
    const { frame } = desk.placed(this.selected);
    const tidy = (mm) => Math.max(1, tenths(mm));
    const [width, height] = [tidy((frame.x1 - frame.x0) * 0.7), tidy((frame.y1 - frame.y0) * 0.7)];
    const round = { round: Math.min(2, tenths(Math.min(width, height) / 4)) };
    const outline = { rectangle: Object.fromEntries(CORNERS.map((name) => [name, round])) };
    desk.set(this.selected, 'shape', event.target.value === 'own' ? { own: { width, height, outline, turn: 0 } } : { inset: 2 });
  },
  setRibbon(event) {
    desk.set(this.selected, 'ribbon', event.target.value === 'ribbon' ? tenths(this.element.inside * 2.5) : null);
  },
  setLoopPlace(event) {
    const { frame } = desk.placed(this.selected);
    const [x, y] = [(frame.x0 + frame.x1) / 2, (frame.y0 + frame.y1) / 2];
    const [across, up] = [desk.side === 'back' ? -x : x, y].map((mm) => ({ from: 'centre', distance: tenths(mm) }));
    const angle = tenths((Math.atan2(up.distance, across.distance) * 180) / Math.PI);
    desk.set(this.selected, 'at', event.target.value === 'point' ? { point: { across, up } } : { angle });
  },
  setOwnThickness(event) {
    const own = { thickness: desk.plate.thickness, edges: desk.plate.edges };
    desk.set(this.selected, 'own', event.target.value === 'own' ? own : null);
  },
  setHoleShape(event) {
    const { value } = event.target;
    desk.set(this.selected, 'shape', value === 'slot' ? { slot: tenths(this.element.diameter * 2) } : value);
  },
  setHoleDepth(event) {
    desk.set(this.selected, 'depth', event.target.value === 'blind' ? Math.max(0.1, tenths(desk.plate.thickness / 2)) : null);
  },
  setRepeat(event) {
    const { frame } = desk.placed(this.selected);
    const step = Math.ceil((frame.x1 - frame.x0) * 1.2 + 1);
    const made = { row: { row: { count: 3, across: step, up: 0 } }, around: { around: 6 } };
    desk.set(this.selected, 'repeat', made[event.target.value] ?? event.target.value);
  },
  /** The same depth, given another way. */
  setDepth(event) {
    const [target, field] = split(event.target.dataset.depth);
    const placed = desk.placed(target);
    const depth = placed.top - placed.bottom;
    const made = { by: tenths(depth), floor: tenths(placed.ground - depth), fraction: Math.round((depth / placed.ground) * 100) / 100 };
    desk.set(target, field, { [event.target.value]: Math.max(0.05, made[event.target.value]) });
  },
  /** Another datum; from an edge the same place. */
  setDatum(event) {
    const { axis } = event.target.dataset;
    const from = event.target.value;
    const placed = desk.placed(this.selected);
    const centred = from === 'centre' || from === 'clear';
    const isCentre = placed.kind === 'hole' || placed.kind === 'loop';
    // What is chosen to hang from a centre is put there; a loop stays at its point.
    const distance = centred && placed.kind !== 'loop' ? 0 : distanceFrom(desk.view, isCentre ? 'hole' : placed.kind, placed.frame, axis, from);
    desk.set(this.selected, `${this.placeField}.${axis}`, { from, distance: Math.round(distance * 1000) / 1000 });
  },
  get placeField() { return this.isLoop ? 'at.point' : 'place'; },
  datum(axis) { return this.view && this.selected ? (desk.value(this.selected, `${this.placeField}.${axis}.from`) ?? '') : ''; },
  mend(event) {
    const finding = this.view.findings[event.currentTarget.dataset.index];
    desk.edit(finding.remedy.edits, { gesture: newGesture() });
  },
  goTo(event) {
    const finding = this.view.findings[event.currentTarget.dataset.index];
    desk.select(desk.placed(finding.target) ? finding.target : null);
    if (desk.selected !== null) desk.lookFor(desk.selected);
    this.$nextTick(() => {
      const whole = desk.selected === null ? 'blank' : 'el';
      const names = [finding.field, `${whole}.${finding.field}`].map((name) => `.settings [data-goes="${name}"]`);
      root.querySelector(names.join())?.focus();
    });
  },
  toggleFindings() { this.findingsOpen = !this.findingsOpen; },
  /** The fields a starter made of this piece could ask for. */
  async showStarter() {
    try {
      const { candidates, chosen } = await (await send('GET', `${desk.address}/fields`)).json();
      const isChosen = (one) => chosen.find((other) => other.target === one.target && other.field === one.field);
      this.candidates = candidates.map((one, index) => ({ ...one, index, label: isChosen(one)?.label ?? one.label, asked: Boolean(isChosen(one)) }));
      this.starterTrouble = '';
      this.$refs.starter.showModal();
    } catch (error) {
      this.refusal = error.message;
    }
  },
  starterFromExport() {
    this.$refs.export.close();
    return this.showStarter();
  },
  ask(event) { this.candidates[event.target.dataset.index].asked = event.target.checked; },
  relabel(event) { this.candidates[event.target.dataset.index].label = event.target.value; },
  async keepStarter() {
    const fronted = this.candidates.filter((one) => one.asked).map(({ target, field, label }) => ({ target, field, label }));
    try {
      await send('POST', `${desk.address}/starter`, { fronted });
      this.$refs.starter.close();
      await desk.load();
      this.kept = true;
    } catch (error) {
      this.starterTrouble = error.message;
    }
  },
  get inputs() { return (this.view?.piece.inputs ?? []).map((input, index) => ({ ...input, index })); },
  get inputCount() { return this.view?.piece.inputs.length ?? 0; },
  addInput() {
    const names = desk.view.piece.inputs.map((input) => input.name);
    const name = ['name', 'berth', 'section', 'initials'].find((one) => !names.includes(one)) ?? `text-${names.length + 1}`;
    desk.set('piece', 'inputs', [...desk.view.piece.inputs, { name, value: '' }]);
  },
  removeInput(event) { desk.set('piece', 'inputs', desk.view.piece.inputs.filter((_, index) => index !== Number(event.currentTarget.dataset.index))); },
  showKeys() { this.$refs.keys.showModal(); },
  showExport() {
    this.$refs.export.showModal();
    this.list();
  },
  showSwaps() {
    this.$refs.swaps.showModal();
    this.tellSwaps();
  },
  closeDialog(event) { event.target.closest('dialog').close(); },
}, exporting(desk, root.dataset.piece)));

fieldDirectives(Alpine, desk);
Alpine.start();
