// Keeping a piece as a starter that asks for some of its fields.
import { send } from '../requests.js';

export const starter = (desk) => ({
  candidates: [],
  starterTrouble: '',
  kept: false,

  /** The fields a starter made of this piece could ask for. */
  async showStarter() {
    try {
      const { candidates, chosen } = await (await send('GET', `${desk.address}/fields`)).json();
      const isChosen = (one) =>
        chosen.find((other) => other.target === one.target && other.field === one.field);
      this.candidates = candidates.map((one, index) => ({
        ...one,
        index,
        label: isChosen(one)?.label ?? one.label,
        asked: Boolean(isChosen(one)),
      }));
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
  ask(event) {
    this.candidates[event.target.dataset.index].asked = event.target.checked;
  },
  relabel(event) {
    this.candidates[event.target.dataset.index].label = event.target.value;
  },
  async keepStarter() {
    const fronted = this.candidates
      .filter((one) => one.asked)
      .map(({ target, field, label }) => ({ target, field, label }));
    try {
      await send('POST', `${desk.address}/starter`, { fronted });
      this.$refs.starter.close();
      await desk.load();
      this.kept = true;
    } catch (error) {
      this.starterTrouble = error.message;
    }
  },
});
