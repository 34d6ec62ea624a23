// What preflight found, the way to it, and what can be done about it.
import { newGesture } from './desk.js';
import { findingsOf } from './facts.js';

const WEIGHTS = { stop: 'cannot be built', must: 'to mend', should: 'to look at', note: 'to know' };

/** The component a finding is seen on: that it names, or the one a joint is cut into. */
function componentOf(desk, { target, field }) {
  const [, joint] = field.match(/^joints\.(\d+)/) ?? [];
  return joint === undefined ? target.split('/')[0] : desk.view.piece.joints[joint]?.into;
}

export const preflight = (desk, root) => ({
  findingsOpen: false,
  // The finding whose reason for being left is asked for.
  asked: null,
  // How all of it would be mended, once somebody asked.
  mending: null,
  asPrinted: false,

  get findings() {
    const found = findingsOf(this.view).map((finding) => ({
      ...finding,
      isAsked: finding.index === this.asked,
    }));
    if (desk.components.length < 2) return found;
    const called = (id) => desk.components.find((one) => one.component === id)?.called;
    return found.map((finding) => {
      const whose = called(componentOf(desk, finding));
      return whose ? { ...finding, message: `${whose}: ${finding.message}` } : finding;
    });
  },
  get open() {
    return this.findings.filter((finding) => !finding.isAside);
  },
  get hasFindings() {
    return this.findings.length > 0;
  },
  get hasOpen() {
    return this.open.length > 0;
  },
  /** Whether what is said is of the piece before it was last changed. */
  get isOld() {
    return this.view?.old ?? false;
  },
  get verdict() {
    const counts = Object.keys(WEIGHTS).map((weight) => [
      this.open.filter((f) => f.weight === weight).length,
      WEIGHTS[weight],
    ]);
    const aside = this.findings.length - this.open.length;
    return [...counts, [aside, 'left']]
      .filter(([count]) => count > 0)
      .map(([count, words]) => `${count} ${words}`)
      .join(', ');
  },
  get verdictTone() {
    const tones = this.hasOpen ? 'text-accent' : 'text-soft';
    return this.isOld ? `${tones} is-old` : tones;
  },
  get quietTone() {
    return this.isOld ? 'text-soft' : 'text-good';
  },
  /** What is said where nothing was found. */
  get quietWord() {
    return this.isOld ? 'Preflight is looking…' : 'Preflight has nothing to say';
  },
  mend(event) {
    const { index, way } = event.currentTarget.dataset;
    desk.edit(this.view.findings[index].remedies[way].edits, { gesture: newGesture() });
  },
  get canMendAll() {
    const wanted = this.open.filter((finding) => finding.weight !== 'note' && finding.ways.length > 0);
    return this.mending === null && wanted.length > 1;
  },
  /** Asks how all of it would be mended, which is shown before it is done. */
  async askMending() {
    try {
      this.mending = await desk.mending();
    } catch (error) {
      this.refusal = error.message;
    }
  },
  get isMending() {
    return this.mending !== null;
  },
  get mendingSteps() {
    return (this.mending?.steps ?? []).map((words, index) => ({ words, index }));
  },
  get mendingLeft() {
    const left = this.mending?.left ?? 0;
    if (left === 0) return 'Nothing would be left.';
    return left === 1 ? 'One would be left.' : `${left} would be left.`;
  },
  mendAll() {
    desk.edit(this.mending.edits, { gesture: newGesture() });
    this.mending = null;
  },
  forgetMending() {
    this.mending = null;
  },
  /** A finding is left as it is, for a reason that is kept with the piece. */
  askWhy(event) {
    const index = Number(event.currentTarget.dataset.index);
    this.asked = this.asked === index ? null : index;
    this.$nextTick(() => root.querySelector('.findings [data-why]')?.focus());
  },
  leave(event) {
    event.preventDefault();
    const finding = this.view.findings[event.currentTarget.dataset.index];
    const reason = event.currentTarget.querySelector('input').value.trim();
    if (reason === '') return;
    const { code, target } = finding;
    const kept = this.view.piece.set_aside.filter((one) => one.code !== code || one.target !== target);
    this.asked = null;
    desk.set('piece', 'set_aside', [...kept, { code, target, reason }], { gesture: newGesture() });
  },
  takeUp(event) {
    const { code, target } = this.view.findings[event.currentTarget.dataset.index];
    const kept = this.view.piece.set_aside.filter((one) => one.code !== code || one.target !== target);
    desk.set('piece', 'set_aside', kept, { gesture: newGesture() });
  },
  pointAt(event) {
    desk.pointAt(Number(event.currentTarget.dataset.index));
  },
  pointAway() {
    desk.pointAt(null);
  },
  goTo(event) {
    const finding = this.view.findings[event.currentTarget.dataset.index];
    desk.lookAt(componentOf(desk, finding));
    desk.select(desk.placed(finding.target) ? finding.target : null);
    if (desk.selected !== null) desk.lookFor(desk.selected);
    this.$nextTick(() => {
      const whole = desk.selected === null ? 'blank' : 'el';
      const names = [finding.field, `${whole}.${finding.field}`].map(
        (name) => `.settings [data-goes="${name}"]`,
      );
      root.querySelector(names.join())?.focus();
    });
  },
  toggleFindings() {
    this.findingsOpen = !this.findingsOpen;
    this.mending = null;
    this.asked = null;
  },
  /** What a line of plastic leaves of it is drawn over it. */
  async toggleAsPrinted() {
    this.asPrinted = !this.asPrinted;
    try {
      await desk.loadPrinted(this.asPrinted);
    } catch (error) {
      this.refusal = error.message;
    }
  },
});
