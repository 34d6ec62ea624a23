// The piece page: plan, elevation and solid of one piece, and its settings.
import Alpine from '@alpinejs/csp';
import { length } from '../figures.js';
import { Desk, newGesture } from './desk.js';
import { Elevation } from './elevation.js';
import { fieldDirectives } from './fields.js';
import { listenForKeys } from './keys.js';
import { distanceFrom } from './placing.js';
import { Plan } from './plan.js';

const root = document.querySelector('[data-piece]');
const faces = JSON.parse(root.dataset.faces);
const desk = new Desk(root.dataset.piece);
let plan;
let solid;

const REFIT_FACTOR = 1.25;
const WEIGHTS = { stop: 'cannot be built', wrong: 'to mend', look: 'to look at' };

Alpine.data('piecePage', () => ({
  view: null,
  selected: null,
  state: 'saved',
  refusal: '',
  scale: '',
  times: '',
  wire: false,
  faceOpen: false,
  findingsOpen: false,
  tolerance: 'normal',
  ascii: false,

  init() {
    plan = new Plan(this.$refs.plan, desk);
    new Elevation(this.$refs.elevation, desk);
    this.$refs.plan.addEventListener('scaled', (event) => {
      const ratio = event.detail;
      this.scale = ratio >= 1 ? `${ratio.toFixed(1)} : 1` : `1 : ${(1 / ratio).toFixed(1)}`;
    });
    this.$refs.plan.addEventListener('open-words', () => this.focusWords());
    this.$refs.elevation.addEventListener('exaggerated', (event) => {
      const times = event.detail;
      this.times = `heights ${times >= 10 ? times.toFixed(0) : times.toFixed(1)} : 1`;
    });
    desk.addEventListener('view', () => {
      this.view = desk.view;
      document.title = `${desk.view.piece.name} – Kalotype`;
    });
    desk.addEventListener('select', () => {
      if (this.selected !== desk.selected) this.faceOpen = false;
      this.selected = desk.selected;
    });
    desk.addEventListener('state', () => (this.state = desk.state));
    desk.addEventListener('refused', (event) => (this.refusal = event.detail.message));
    desk.addEventListener('added', () => this.$nextTick(() => this.focusWords()));
    desk.addEventListener('view', () => (this.refusal = ''));
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
  get kind() { return this.view && this.selected ? (desk.element(this.selected)?.kind ?? 'plate') : 'plate'; },
  get isPlate() { return this.kind === 'plate'; },
  get isHole() { return this.kind === 'hole'; },
  get isLettering() { return this.kind === 'lettering'; },
  get element() { return this.view && this.selected ? desk.element(this.selected) : null; },
  get relief() { const relief = this.element?.relief; return typeof relief === 'string' ? relief : Object.keys(relief ?? {})[0]; },
  get isRaised() { return this.relief === 'raised'; },
  get isRecessed() { return this.relief === 'recessed'; },
  get face() { return this.element?.face ?? ''; },
  get faceName() { return faces[this.face] ?? ''; },
  get units() { return this.view?.piece.units ?? 'mm'; },
  get empty() { return this.view !== null && this.view.elements.length === 0; },
  get canUndo() { return this.view?.can_undo ?? false; },
  get canRedo() { return this.view?.can_redo ?? false; },
  get stateWord() { return { saved: 'saved', saving: 'saving…', waiting: 'not saved yet, trying again' }[this.state]; },
  get stateClass() { return this.state === 'waiting' ? 'text-accent' : 'text-good'; },
  get size() {
    if (!this.view) return '';
    const figures = this.view.facts.size_mm.map((mm) => length(mm, this.units, this.units === 'in' ? 4 : 2));
    return figures.map((text, i) => (i < 2 ? text.replace(` ${this.units}`, '') : text)).join(' × ');
  },
  get volume() { return this.view ? `${(this.view.facts.volume_mm3 / 1000).toFixed(2)} cm³` : ''; },
  get mass() { return this.view ? `${this.view.facts.mass_g.toFixed(1)} g` : ''; },
  get triangles() { return this.view ? this.view.facts.triangles.toLocaleString('en').replace(/,/g, ' ') : ''; },
  get findings() {
    return (this.view?.findings ?? []).map((finding, index) => ({ ...finding, index, label: finding.remedy?.label ?? '' }));
  },
  get findingCount() { return this.findings.length; },
  get hasFindings() { return this.findings.length > 0; },
  get verdict() {
    const counts = Object.keys(WEIGHTS).map((weight) => [this.findings.filter((f) => f.weight === weight).length, WEIGHTS[weight]]);
    return counts.filter(([count]) => count > 0).map(([count, words]) => `${count} ${words}`).join(', ');
  },
  get stlBytes() {
    const triangles = this.view?.facts.triangles ?? 0;
    return `about ${Math.max(1, Math.round((84 + 50 * triangles) / 1000))} kB`;
  },
  get stlAddress() { return `/pieces/${root.dataset.piece}/file.stl?tolerance=${this.tolerance}&ascii=${this.ascii}`; },

  // What can be done.
  undo() { desk.undo(); },
  redo() { desk.redo(); },
  addHole() { desk.add('hole'); },
  addLettering() { desk.add('lettering'); },
  removeSelected() { if (this.selected) desk.remove(this.selected); },
  duplicateSelected() { if (this.selected) desk.duplicate(this.selected); },
  setUnits(event) { desk.set('piece', 'units', event.target.value); },
  fit() { plan.fit(); },
  zoomIn() { plan.zoom(REFIT_FACTOR); },
  zoomOut() { plan.zoom(1 / REFIT_FACTOR); },
  look(event) { solid?.look(event.currentTarget.dataset.view); },
  toggleWire() {
    this.wire = !this.wire;
    solid?.setWire(this.wire);
  },
  focusWords() {
    const words = this.$refs.words;
    if (this.isLettering && words) {
      words.focus();
      words.select();
    }
  },
  toggleFaces() { this.faceOpen = !this.faceOpen; },
  chooseFace(event) {
    desk.set(this.selected, 'face', event.currentTarget.dataset.face);
    this.faceOpen = false;
    this.$refs.faceButton.focus();
  },
  closeFaces() { this.faceOpen = false; },
  sample(id) {
    const words = (this.element?.words ?? '').trim().slice(0, 24) || 'Name';
    return `/typefaces/${id}/sample.svg?words=${encodeURIComponent(words)}`;
  },
  /** A relief of another kind keeps its height as far as it can. */
  setRelief(event) {
    const relief = this.element.relief;
    const now = typeof relief === 'string' ? 1 : Object.values(relief)[0];
    const deepest = Math.max(0.1, Math.round((desk.plate.thickness / 2) * 10) / 10);
    const next = { raised: { raised: now }, recessed: { recessed: Math.min(now, deepest) }, through: 'through' }[event.target.value];
    desk.set(this.selected, 'relief', next);
  },
  /** Another datum, the same place. */
  setDatum(event) {
    const { axis } = event.target.dataset;
    const from = event.target.value;
    const placed = desk.placed(this.selected);
    const centred = from === 'centre' || from === 'clear';
    const distance = centred ? 0 : distanceFrom(desk.view, placed.kind, placed.frame, axis, from);
    desk.set(this.selected, `place.${axis}`, { from, distance: Math.round(distance * 1000) / 1000 });
  },
  datum(axis) { return this.element?.place?.[axis]?.from ?? ''; },
  mend(event) {
    const finding = this.view.findings[event.currentTarget.dataset.index];
    desk.edit(finding.remedy.edits, { gesture: newGesture() });
  },
  goTo(event) {
    const finding = this.view.findings[event.currentTarget.dataset.index];
    desk.select(desk.placed(finding.target) ? finding.target : null);
    this.$nextTick(() => {
      const field = root.querySelector(`.settings [data-goes="${finding.field}"]`);
      field?.focus();
    });
  },
  toggleFindings() { this.findingsOpen = !this.findingsOpen; },
  showKeys() { this.$refs.keys.showModal(); },
  showExport() { this.$refs.export.showModal(); },
  closeDialog(event) { event.target.closest('dialog').close(); },
}));

fieldDirectives(Alpine, desk);
Alpine.start();
