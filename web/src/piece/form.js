// The short form of a piece: its few inputs beside a live picture.
import Alpine from '@alpinejs/csp';
import { Desk, newGesture } from './desk.js';
import { STATE_WORDS, findingsOf, massOf, sizeOf, troubleOf } from './facts.js';
import { fieldDirectives } from './fields.js';

const root = document.querySelector('[data-piece]');
const desk = new Desk(root.dataset.piece);

Alpine.data('formPage', () => ({
  view: null,
  state: 'saved',
  refusal: '',
  stamp: 0,

  init() {
    desk.addEventListener('view', () => {
      this.view = desk.view;
      // One for every state; revisions are counted anew after going back.
      this.stamp = Date.now();
      this.refusal = '';
      document.title = `${desk.view.piece.name} – Kalotype`;
    });
    desk.addEventListener('findings', () => (this.view = desk.view));
    desk.addEventListener('state', () => (this.state = desk.state));
    desk.addEventListener('refused', (event) => {
      this.refusal = event.detail.message;
      // What was chosen and refused does not stay shown: everything is shown anew as it is.
      this.view = desk.view && { ...desk.view };
    });
    desk.load().then(() => this.openSolid());
  },

  async openSolid() {
    try {
      const { Solid } = await import('./solid.js');
      const solid = new Solid(this.$refs.solid, desk);
      if (desk.components.length > 1) solid.setCompany('joined');
      solid.look('corner');
      this.$refs.solid.dataset.ready = 'yes';
    } catch (error) {
      this.$refs.solid.textContent =
        'This browser cannot draw solids (WebGL is switched off). The picture above and the file work without it.';
      console.warn(error);
    }
  },

  get title() {
    return this.view?.piece.name ?? '';
  },
  get ready() {
    return this.view !== null;
  },
  get stateWord() {
    return STATE_WORDS[this.state];
  },
  get stateTrouble() {
    return troubleOf(this.state);
  },
  get canUndo() {
    return this.view?.can_undo ?? false;
  },
  get canRedo() {
    return this.view?.can_redo ?? false;
  },
  get picture() {
    return `/pieces/${root.dataset.piece}/picture.svg?r=${this.stamp}`;
  },
  get size() {
    return sizeOf(this.view);
  },
  get mass() {
    return massOf(this.view);
  },
  get findings() {
    // What somebody left as it is, and what is merely good to know, whoever fills in the form need not hear of.
    return findingsOf(this.view).filter((finding) => finding.isOpen && finding.weight !== 'note');
  },
  get quietWord() {
    return this.view?.old ? 'Preflight is looking…' : 'Preflight has nothing to say';
  },
  get hasFindings() {
    return this.findings.length > 0;
  },
  afterSaving(event) {
    desk.beforeLink(event);
  },
  undo() {
    desk.undo();
  },
  redo() {
    desk.redo();
  },
  mend(event) {
    const { index, way } = event.currentTarget.dataset;
    desk.edit(this.view.findings[index].remedies[way].edits, { gesture: newGesture() });
  },
}));

fieldDirectives(Alpine, desk);
Alpine.start();
