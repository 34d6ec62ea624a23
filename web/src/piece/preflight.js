// What preflight found, and the way to it.
import { newGesture } from './desk.js';
import { findingsOf } from './facts.js';

const WEIGHTS = { stop: 'cannot be built', wrong: 'to mend', look: 'to look at' };

/** The component a finding is seen on: that it names, or the one a joint is cut into. */
function componentOf(desk, { target, field }) {
  const [, joint] = field.match(/^joints\.(\d+)/) ?? [];
  return joint === undefined ? target.split('/')[0] : desk.view.piece.joints[joint]?.into;
}

export const preflight = (desk, root) => ({
  findingsOpen: false,

  get findings() {
    const found = findingsOf(this.view);
    if (desk.components.length < 2) return found;
    const called = (id) => desk.components.find((one) => one.component === id)?.called;
    return found.map((finding) => {
      const whose = called(componentOf(desk, finding));
      return whose ? { ...finding, message: `${whose}: ${finding.message}` } : finding;
    });
  },
  get findingCount() {
    return this.findings.length;
  },
  get hasFindings() {
    return this.findings.length > 0;
  },
  get verdict() {
    const counts = Object.keys(WEIGHTS).map((weight) => [
      this.findings.filter((f) => f.weight === weight).length,
      WEIGHTS[weight],
    ]);
    return counts
      .filter(([count]) => count > 0)
      .map(([count, words]) => `${count} ${words}`)
      .join(', ');
  },
  mend(event) {
    const { index, way } = event.currentTarget.dataset;
    desk.edit(this.view.findings[index].remedies[way].edits, { gesture: newGesture() });
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
  },
});
