// The page of pieces.
import Alpine from '@alpinejs/csp';
import { attempting, make, send } from './requests.js';

const card = (event) => event.target.closest('[data-piece]');
const REMEMBERED = 'kalotype-deleted';

/** Says after the next load what was deleted, and how it comes back. */
const remember = (name, address, body) =>
  sessionStorage.setItem(REMEMBERED, JSON.stringify({ name, address, body }));

/** Opens the form of a card to type another name into. */
function openForm(form) {
  form.hidden = false;
  const input = form.querySelector('input');
  input.select();
  input.addEventListener('keydown', (key) => {
    if (key.key === 'Escape') form.hidden = true;
  });
}

Alpine.data('pieces', () => ({
  ...attempting,
  gone: null,
  chosen: [],
  allStarters: false,

  init() {
    this.gone = JSON.parse(sessionStorage.getItem(REMEMBERED) ?? 'null');
    sessionStorage.removeItem(REMEMBERED);
    // A browser keeps what was ticked when one goes back.
    this.choose();
  },
  get goneWord() {
    return this.gone ? `${this.gone.name} deleted.` : '';
  },
  restore() {
    return this.attempt(async () => {
      await send('POST', this.gone.address, this.gone.body);
      location.reload();
    });
  },

  make() {
    const units = this.$root.querySelector('[name=units]:checked').value;
    return this.attempt(async () => {
      const [name, blank] = [this.$refs.name.value, this.$refs.blank.value];
      const made = await make('/api/pieces', { name, units, blank });
      location.href = `/pieces/${(await made.json()).id}`;
    });
  },

  /** A new piece from a starter, opened with its few inputs. */
  useStarter(event) {
    const { starter } = event.currentTarget.closest('[data-starter]').dataset;
    return this.attempt(async () => {
      const made = await make(`/api/starters/${starter}/pieces`);
      location.href = `/pieces/${(await made.json()).id}/form`;
    });
  },

  get startersClass() {
    return this.allStarters ? 'all' : '';
  },
  get startersWord() {
    const count = this.$root.querySelectorAll('[data-starter]').length;
    return this.allStarters ? 'Show one row' : `Show all ${count}`;
  },
  toggleStarters() {
    this.allStarters = !this.allStarters;
  },
  dropStarter(event) {
    const { starter, name } = event.currentTarget.closest('[data-starter]').dataset;
    return this.attempt(async () => {
      await send('POST', `/api/starters/${starter}/delete`);
      remember(`The starter ${name} was`, `/api/starters/${starter}/restore`);
      location.reload();
    });
  },
  startRenameStarter(event) {
    openForm(event.currentTarget.closest('[data-starter]').querySelector('form'));
  },
  renameStarter(event) {
    const { starter } = event.target.closest('[data-starter]').dataset;
    return this.renamed(event.target, `/api/starters/${starter}/rename`);
  },

  open(event) {
    const [file] = event.target.files;
    event.target.value = '';
    return this.attempt(async () => {
      const made = await make('/api/pieces/import', file);
      location.href = `/pieces/${(await made.json()).id}`;
    });
  },

  duplicate(event) {
    return this.attempt(async () => {
      await make(`/api/pieces/${card(event).dataset.piece}/duplicate`);
      location.reload();
    });
  },

  startRename(event) {
    openForm(card(event).querySelector('form'));
  },
  rename(event) {
    return this.renamed(event.target, `/api/pieces/${card(event).dataset.piece}/rename`);
  },
  /** Sends what a form says something is to be called. */
  async renamed(form, address) {
    try {
      await send('POST', address, { name: form.querySelector('input').value });
      location.reload();
    } catch (error) {
      form.querySelector('.field-error').textContent = error.message;
    }
  },
  remove(event) {
    const { piece: id, name } = card(event).dataset;
    return this.put('delete', [id], `${name} was`);
  },
  restoreOne(event) {
    return this.put('restore', [card(event).dataset.piece]);
  },

  // Several at once.
  choose() {
    const ticked = [...this.$root.querySelectorAll('.choose input:checked')];
    this.chosen = ticked.map((box) => box.closest('[data-piece]').dataset.piece);
  },
  chooseEach(isChosen) {
    for (const box of this.$root.querySelectorAll('.choose input')) box.checked = isChosen;
    this.choose();
  },
  chooseAll() {
    this.chooseEach(true);
  },
  chooseNone() {
    this.chooseEach(false);
  },
  get hasChosen() {
    return this.chosen.length > 0;
  },
  get chosenWord() {
    return `${this.chosen.length} chosen`;
  },
  addressOf(format) {
    return `/pieces/export?format=${format}&colours=split&pieces=${this.chosen.join(',')}`;
  },
  get exportAddress() {
    return this.addressOf('3mf');
  },
  get exportStlAddress() {
    return this.addressOf('stl');
  },
  removeChosen() {
    const count = this.chosen.length;
    return this.put('delete', this.chosen, count === 1 ? 'One piece was' : `${count} pieces were`);
  },
  restoreChosen() {
    return this.put('restore', this.chosen);
  },
  keepChosen() {
    return this.put({ keep: this.$refs.drawer.value }, this.chosen);
  },
  takeOut() {
    return this.put({ keep: null }, this.chosen);
  },
  /** Deletes pieces, brings them back or keeps them apart. `deleted` says what was deleted. */
  put(put, pieces, deleted = '') {
    return this.attempt(async () => {
      const address = '/api/pieces/several';
      await send('POST', address, { pieces, put });
      if (deleted) remember(deleted, address, { pieces, put: 'restore' });
      this.chooseEach(false);
      location.reload();
    });
  },
  sort(event) {
    event.target.form.submit();
  },
}));

Alpine.start();
