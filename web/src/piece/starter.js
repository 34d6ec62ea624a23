// Keeping a piece as a starter that asks for some of its fields.
import { make, send } from '../requests.js';

export const starter = (desk) => ({
  candidates: [],
  starterTrouble: '',
  starterName: '',
  ownStarters: [],
  insteadOf: '',

  /** The fields a starter made of this piece could ask for. */
  async showStarter() {
    try {
      const { candidates, chosen, own } = await (await send('GET', `${desk.address}/fields`)).json();
      const isChosen = (one) =>
        chosen.find((other) => other.target === one.target && other.field === one.field);
      this.candidates = candidates.map((one, index) => ({
        ...one,
        index,
        label: isChosen(one)?.label ?? one.label,
        asked: Boolean(isChosen(one)),
      }));
      this.ownStarters = own.map((one) => ({ ...one, word: `in the place of ${one.name}` }));
      this.starterName = this.view.piece.name;
      this.insteadOf = '';
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
  get hasOwnStarters() {
    return this.ownStarters.length > 0;
  },
  nameStarter(event) {
    this.starterName = event.target.value;
  },
  /** One that is changed keeps its name unless it is given another. */
  replaceStarter(event) {
    this.insteadOf = event.target.value;
    const replaced = this.ownStarters.find((one) => one.id === this.insteadOf);
    if (replaced) this.starterName = replaced.name;
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
      const [name, instead_of] = [this.starterName, this.insteadOf || null];
      await make(`${desk.address}/starter`, { fronted, name, instead_of });
      this.$refs.starter.close();
      await desk.load();
      this.said = `Kept as the starter “${name}”. It stands on the page of pieces.`;
    } catch (error) {
      this.starterTrouble = error.message;
    }
  },
});
