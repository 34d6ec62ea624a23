// Choosing a typeface or an emblem by what it looks like.
import { length } from '../figures.js';
import { send } from '../requests.js';

export const chooser = (desk, typefaces, emblems) => ({
  choosing: false,
  samples: [],

  get typeface() {
    return this.element?.typeface ?? '';
  },
  get typefaceName() {
    return typefaces[this.typeface] ?? this.typeface;
  },
  get emblem() {
    return this.element?.shape ?? '';
  },
  get emblemName() {
    return emblems[this.emblem] ?? '';
  },
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
      const samples = await (
        await send('GET', `${desk.address}/samples?target=${encodeURIComponent(id)}`)
      ).json();
      if (id !== this.selected) return;
      this.samples = samples.map((one) => {
        const lacks = one.missing.length > 0 ? [`lacks ${one.missing.slice(0, 4).join(' ')}`] : [];
        const thin = one.thin ? [`strokes under ${length(0.4, units)} at this size`] : [];
        return {
          ...one,
          box: one.view_box.join(' '),
          chosen: one.id === this.typeface,
          note: [...lacks, ...thin].join(', '),
        };
      });
    } catch (error) {
      this.refusal = error.message;
    }
  },
  get hasSamples() {
    return this.samples.length > 0;
  },
  chooseTypeface(event) {
    desk.set(this.selected, 'typeface', event.currentTarget.dataset.typeface);
    this.choosing = false;
    this.$refs.chooserButton.focus();
  },
  closeChooser() {
    this.choosing = false;
    this.$refs.chooserButton.focus();
  },
  /** Arrow keys go through what there is to choose from. */
  walkList(event) {
    const options = [...event.currentTarget.querySelectorAll('[role=option]')];
    const at = options.indexOf(document.activeElement);
    const last = options.length - 1;
    const to = {
      ArrowDown: Math.min(at + 1, last),
      ArrowRight: Math.min(at + 1, last),
      ArrowUp: Math.max(at - 1, 0),
      ArrowLeft: Math.max(at - 1, 0),
      Home: 0,
      End: last,
    }[event.key];
    if (to === undefined || last < 0) return;
    event.preventDefault();
    options[to].focus();
  },
  chooseEmblem(event) {
    desk.set(this.selected, 'shape', event.currentTarget.dataset.emblem);
    this.choosing = false;
    this.$refs.chooserButton.focus();
  },
});
