// The piece page: plan, elevation and solid of one piece, and its settings.
import Alpine from '@alpinejs/csp';
import { bridges } from './bridges.js';
import { chooser } from './chooser.js';
import { colours } from './colours.js';
import { components } from './components.js';
import { Desk } from './desk.js';
import { Elevation } from './elevation.js';
import { Side } from './side.js';
import { leaveFace, takeShapes } from '../draw/face.js';
import { exporting } from './exporting.js';
import { STATE_WORDS, massOf, ownFacts, sizeOf, troubleOf, volumeOf } from './facts.js';
import { fieldDirectives } from './fields.js';
import { listenForKeys } from './keys.js';
import { meshBlank } from './mesh_blank.js';
import { movable } from './placing.js';
import { Plan } from './plan.js';
import { preflight } from './preflight.js';
import { remember, remembered } from './remembered.js';
import { settings } from './settings.js';
import { starter } from './starter.js';

const root = document.querySelector('[data-piece]');
const typefaces = JSON.parse(root.dataset.typefaces);
const emblems = JSON.parse(root.dataset.emblems);
const desk = new Desk(root.dataset.piece, JSON.parse(root.dataset.limits));
let plan;
let elevation;
let solid;

const ZOOM_FACTOR = 1.25;

/** One object of several, what is worked out on asking included. */
const joined = (...parts) =>
  Object.defineProperties({}, Object.assign({}, ...parts.map(Object.getOwnPropertyDescriptors)));

/** The panes, the header and the footer. */
const page = {
  view: null,
  selected: null,
  count: 0,
  state: 'saved',
  refusal: '',
  scale: '',
  times: '',
  wire: false,
  said: '',
  copied: 0,
  solidLarge: remembered('solid-large'),
  hintsOpen: !remembered('hints-seen'),

  init() {
    plan = new Plan(this.$refs.plan, desk);
    elevation = new Elevation(this.$refs.elevation, desk);
    new Side(this.$refs.side, desk);
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
    desk.addEventListener('refused', (event) => {
      this.refusal = event.detail.message;
      // What was chosen and refused does not stay shown: everything is shown anew as it is.
      this.view = desk.view && { ...desk.view };
    });
    desk.addEventListener('added', () => this.$nextTick(() => this.focusWords()));
    desk.addEventListener('view', () => (this.refusal = ''));
    desk.addEventListener('findings', () => (this.view = desk.view));
    desk.addEventListener('select', () => (this.said = ''));
    desk.addEventListener('laying', () => (this.isLayingBridge = desk.laying !== null));
    this.copied = desk.copied.length;
    desk.addEventListener('copied', () => (this.copied = desk.copied.length));
    window.addEventListener('storage', () => (this.copied = desk.copied.length));
    desk.addEventListener('removed', () => plan.focusOn(desk.selected));
    root.addEventListener('left', () => plan.focusOn(desk.selected));
    const choices = () => {
      this.palette = desk.filaments;
      this.printers = desk.printers;
    };
    desk.addEventListener('palette', choices);
    desk.addEventListener('view', choices);
    // Filaments and printers may be changed on another page meanwhile.
    window.addEventListener('focus', () => {
      desk.loadPalette();
      desk.loadPrinters();
    });
    listenForKeys(desk, plan, this);
    desk.load().then(() => {
      this.putDrawn();
      desk.loadPrinters();
      this.openSolid();
      if (location.hash === '#swaps' && this.isColoured) this.showSwaps();
    });
  },

  async openSolid() {
    try {
      const { Solid } = await import('./solid.js');
      solid = new Solid(this.$refs.solid, desk);
      this.$refs.solid.dataset.ready = 'yes';
    } catch (error) {
      this.$refs.solid.textContent =
        'This browser cannot draw solids (WebGL is switched off). Plan, elevation and export work without it.';
      console.warn(error);
    }
  },

  // What the page says.
  get ready() {
    return this.view !== null;
  },
  get isSeveral() {
    return this.count > 1;
  },
  get kind() {
    return this.isSeveral
      ? 'several'
      : this.view && this.selected
        ? (desk.element(this.selected)?.kind ?? 'plate')
        : 'plate';
  },
  /** What is set where nothing is chosen: the kind of the blank. */
  get blankShown() {
    return this.view && this.kind === 'plate' ? desk.blankKind : '';
  },
  get units() {
    return this.view?.piece.units ?? 'mm';
  },
  get empty() {
    return this.view !== null && this.view.elements.length === 0 && this.view.slots.length === 0;
  },
  get canUndo() {
    return this.view?.can_undo ?? false;
  },
  get canRedo() {
    return this.view?.can_redo ?? false;
  },
  get stateWord() {
    return STATE_WORDS[this.state];
  },
  get stateClass() {
    return this.state === 'waiting' ? 'text-accent' : 'text-good';
  },
  get size() {
    return sizeOf(ownFacts(this.view));
  },
  get volume() {
    return volumeOf(ownFacts(this.view));
  },
  get mass() {
    return massOf(ownFacts(this.view));
  },
  get triangles() {
    return this.view ? ownFacts(this.view).facts.triangles.toLocaleString('en').replace(/,/g, ' ') : '';
  },
  get faceSeen() {
    return this.view && desk.face;
  },

  get deskClass() {
    return this.solidLarge ? 'solid-large' : '';
  },
  get stateTrouble() {
    return troubleOf(this.state);
  },
  /** What is said last; where nothing is, that what is shown is not the newest state. */
  get notice() {
    return this.said || (this.view?.unread ? UNREAD : '');
  },
  get hasNothingChosen() {
    return this.selected === null;
  },
  get hasNothingCopied() {
    return this.copied === 0;
  },

  // What can be done.
  undo() {
    desk.undo();
  },
  redo() {
    desk.redo();
  },
  /** Adds what stands in the list of further things. */
  addOther(event) {
    const { value } = event.target;
    event.target.value = '';
    if (value) desk.add(value);
  },
  add(event) {
    desk.add(event.currentTarget.dataset.kind);
  },
  /** Draws a shape on the face that is looked at. */
  drawHere() {
    leaveFace(root.dataset.piece, desk.face, desk.view);
    location.assign(`/shapes/draw?on=${root.dataset.piece}`);
  },
  /** Puts what was drawn there on its face. */
  putDrawn() {
    const put = takeShapes(root.dataset.piece);
    if (!put || !desk.view) return;
    const { component, face, at } = put;
    desk.lookAt(component);
    desk.look(face);
    desk.edit(put.shapes.map((shape) => ({ 'add-shape': { component, face, shape, at } })));
  },
  removeSelected() {
    desk.remove(desk.selection);
  },
  copySelected() {
    if (this.hasNothingChosen) {
      desk.copyComponent();
      this.said = `Copied: ${desk.view.called} with all that is on it. Paste it here or into another piece.`;
      return;
    }
    const names = desk.selection.map((id) => desk.placed(id).name);
    desk.copy(desk.selection);
    const what = names.length > 3 ? `${names.length} elements` : names.join(', ');
    this.said = `Copied: ${what}. Paste it here or into another piece.`;
  },
  async paste() {
    const count = desk.copied.length;
    await desk.paste();
    if (!this.refusal) this.said = count === 1 ? 'Pasted.' : `Pasted ${count} elements.`;
  },
  duplicateSelected() {
    desk.duplicate(desk.selection);
  },
  moveSelected(event) {
    desk.move(this.selected, Number(event.currentTarget.dataset.by));
  },
  align(event) {
    const { axis, side } = event.currentTarget.dataset;
    desk.edit([{ align: { targets: movable(desk, desk.selection), axis, side } }]);
  },
  distribute(event) {
    const { axis } = event.currentTarget.dataset;
    desk.edit([{ distribute: { targets: movable(desk, desk.selection), axis } }]);
  },
  get canDistribute() {
    return this.count > 2;
  },
  setUnits(event) {
    desk.set('piece', 'units', event.target.value);
  },
  fit() {
    plan.fit();
    elevation.fit();
  },
  raiseHeights() {
    elevation.zoom(ZOOM_FACTOR);
  },
  lowerHeights() {
    elevation.zoom(1 / ZOOM_FACTOR);
  },
  zoomIn() {
    plan.zoom(ZOOM_FACTOR);
  },
  zoomOut() {
    plan.zoom(1 / ZOOM_FACTOR);
  },
  look(event) {
    solid?.look(event.currentTarget.dataset.view);
  },
  /** The solid changes places with the plan. */
  exchange() {
    this.solidLarge = !this.solidLarge;
    remember('solid-large', this.solidLarge);
  },
  toggleWire() {
    this.wire = !this.wire;
    solid?.setWire(this.wire);
  },
  setCompany(event) {
    solid?.setCompany(event.target.value);
  },
  setShowing(event) {
    solid?.setShowing(/^\d+$/.test(event.target.value) ? Number(event.target.value) : event.target.value);
  },
  turnOver(event) {
    desk.look(event.target.value);
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

  // Dialogs.
  showKeys() {
    this.$refs.keys.showModal();
  },
  /** Four sentences at the places they speak of: beside the first piece, and whenever they are asked for. */
  closeHints() {
    this.hintsOpen = false;
    remember('hints-seen', true);
  },
  showHints() {
    this.$refs.keys.close();
    this.hintsOpen = true;
  },
  get singleKeys() {
    return !remembered('no-single-keys');
  },
  setSingleKeys(event) {
    remember('no-single-keys', !event.target.checked);
  },
  showExport() {
    this.closeHints();
    this.$refs.export.showModal();
    this.list();
  },
  showSwaps() {
    this.copied = null;
    this.$refs.swaps.showModal();
  },
  closeDialog(event) {
    event.target.closest('dialog').close();
  },
};

// What is kept of a document that can no longer be read is an earlier state.
const UNREAD = 'The newest state cannot be read: this is older.';

Alpine.data('piecePage', () =>
  joined(
    page,
    settings(desk),
    bridges(desk),
    meshBlank(desk),
    chooser(desk, typefaces, emblems),
    colours(desk),
    components(desk),
    preflight(desk, root),
    starter(desk),
    exporting(desk, root.dataset.piece),
  ),
);

fieldDirectives(Alpine, desk);
Alpine.start();
