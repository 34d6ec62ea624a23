// The piece page: plan, elevation and solid of one piece, and its settings.
import Alpine from '@alpinejs/csp';
import { length } from '../figures.js';
import { send } from '../requests.js';
import { Desk, newGesture } from './desk.js';
import { Elevation } from './elevation.js';
import { exporting } from './exporting.js';
import { STATE_WORDS, findingsOf, massOf, sizeOf, sized } from './facts.js';
import { fieldDirectives } from './fields.js';
import { listenForKeys } from './keys.js';
import { aligned, distributed } from './placing.js';
import { Plan } from './plan.js';

const root = document.querySelector('[data-piece]');
const typefaces = JSON.parse(root.dataset.typefaces);
const emblems = JSON.parse(root.dataset.emblems);
const desk = new Desk(root.dataset.piece);
let plan;
let elevation;
let solid;

const ZOOM_FACTOR = 1.25;
/** The key of a value that is a word or an object of one key. */
const kindOf = (value) => (typeof value === 'string' ? value : (Object.keys(value ?? {})[0] ?? ''));
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
  choosing: false,
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
      if (this.selected !== desk.selected) this.choosing = false;
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
  get elementFace() { return this.element?.face ?? 'front'; },
  get locked() { return this.element?.locked ?? false; },
  kindAt(path) { return this.view ? kindOf(valueAt(path)) : ''; },
  get hasRim() { return this.view?.elements.some((placed) => placed.kind === 'rim') ?? false; },
  get typeface() { return this.element?.typeface ?? ''; },
  get typefaceName() { return typefaces[this.typeface] ?? this.typeface; },
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
  lineTypeface(index) { return this.element?.lines?.[index]?.typeface ?? ''; },
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
    this.choosing = false;
    this.$refs.chooserButton.focus();
  },
  setMirrored(event) { desk.set(this.selected, 'mirrored', event.target.checked); },
  toggleChooser() {
    this.choosing = !this.choosing;
    if (this.choosing && this.isLettering) this.setInTypefaces();
  },
  /** The words in every typeface, with what speaks against it. */
  async setInTypefaces() {
    this.samples = [];
    const id = this.selected;
    const { units } = this;
    try {
      const samples = await (await send('GET', `${desk.address}/samples?target=${encodeURIComponent(id)}`)).json();
      if (id !== this.selected) return;
      this.samples = samples.map((one) => {
        const lacks = one.missing.length > 0 ? [`lacks ${one.missing.slice(0, 4).join(' ')}`] : [];
        const thin = one.thin ? [`strokes under ${length(0.4, units)} at this size`] : [];
        return { ...one, box: one.view_box.join(' '), chosen: one.id === this.typeface, note: [...lacks, ...thin].join(', ') };
      });
    } catch (error) {
      this.refusal = error.message;
    }
  },
  get hasSamples() { return this.samples.length > 0; },
  chooseTypeface(event) {
    desk.set(this.selected, 'typeface', event.currentTarget.dataset.typeface);
    this.choosing = false;
    this.$refs.chooserButton.focus();
  },
  closeChooser() { this.choosing = false; },
  setAlign(event) { desk.set(this.selected, 'align', event.target.value); },
  setCapitals(event) { desk.set(this.selected, 'style.capitals', event.target.checked); },
  setSitsBy(event) { desk.set(this.selected, 'sits_by', event.target.value); },
  setLineTypeface(event) { desk.set(this.selected, `lines.${event.target.dataset.line}.typeface`, event.target.value || null); },
  setCircleSide(event) { desk.set(this.selected, 'course.circle.side', event.target.value); },
  /** Gives what a list or a row of buttons stands for the kind that was chosen. */
  turn(event) { desk.turn(...split(event.target.dataset.turn), event.target.value); },
  setFace(event) {
    const face = event.target.value;
    desk.edit([{ set: { target: this.selected, field: 'face', value: face } }], { done: () => desk.lookFor(this.selected) });
  },
  toggleLock() { desk.set(this.selected, 'locked', !this.locked); },
  turnOver(event) { desk.look(event.target.value); },
  get faceSeen() { return this.view && desk.face; },
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
