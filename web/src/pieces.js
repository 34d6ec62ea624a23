// The page of pieces.
import Alpine from '@alpinejs/csp';
import { attempting, send } from './requests.js';

const card = (event) => event.target.closest('[data-piece]');
const REMEMBERED = 'kalotype-deleted';

Alpine.data('pieces', () => ({
  ...attempting,
  deleted: '',
  deletedName: '',

  init() {
    const last = JSON.parse(sessionStorage.getItem(REMEMBERED) ?? 'null');
    if (last) {
      this.deleted = last.id;
      this.deletedName = last.name;
      sessionStorage.removeItem(REMEMBERED);
    }
  },

  make() {
    const units = this.$root.querySelector('[name=units]:checked').value;
    return this.attempt(async () => {
      const made = await send('POST', '/api/pieces', { name: this.$refs.name.value, units });
      location.href = `/pieces/${(await made.json()).id}`;
    });
  },

  /** A new piece from a starter, opened with its few inputs. */
  useStarter(event) {
    const { starter } = event.currentTarget.closest('[data-starter]').dataset;
    return this.attempt(async () => {
      const made = await send('POST', `/api/starters/${starter}/pieces`);
      location.href = `/pieces/${(await made.json()).id}/form`;
    });
  },

  dropStarter(event) {
    const { starter } = event.currentTarget.closest('[data-starter]').dataset;
    return this.attempt(async () => {
      await send('POST', `/api/starters/${starter}/delete`);
      location.reload();
    });
  },

  open(event) {
    const [file] = event.target.files;
    event.target.value = '';
    return this.attempt(async () => {
      const made = await send('POST', '/api/pieces/import', file);
      location.href = `/pieces/${(await made.json()).id}`;
    });
  },

  duplicate(event) {
    return this.attempt(async () => {
      await send('POST', `/api/pieces/${card(event).dataset.piece}/duplicate`);
      location.reload();
    });
  },

  startRename(event) {
    const form = card(event).querySelector('form');
    form.hidden = false;
    const input = form.querySelector('input');
    input.select();
    input.addEventListener('keydown', (key) => {
      if (key.key === 'Escape') form.hidden = true;
    });
  },

  async rename(event) {
    const form = event.target;
    try {
      const name = form.querySelector('input').value;
      await send('POST', `/api/pieces/${card(event).dataset.piece}/rename`, { name });
      location.reload();
    } catch (error) {
      form.querySelector('.field-error').textContent = error.message;
    }
  },

  remove(event) {
    const { piece: id, name } = card(event).dataset;
    return this.attempt(async () => {
      await send('POST', `/api/pieces/${id}/delete`);
      sessionStorage.setItem(REMEMBERED, JSON.stringify({ id, name }));
      location.reload();
    });
  },

  restore() {
    return this.attempt(async () => {
      await send('POST', `/api/pieces/${this.deleted}/restore`);
      location.reload();
    });
  },
}));

Alpine.start();
