// The keys of the piece page.
import { newGesture } from './desk.js';
import { nudge } from './dragging.js';

const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

const isTyping = (target) => target.closest?.('input, textarea, select, dialog[open]');

/** Whether a field of the piece has nothing half typed in it, which the browser would take back. */
const isCommitted = (field) => field.dataset.typed === 'no';

export function listenForKeys(desk, plan, page) {
  let nudging = null;
  document.addEventListener('keyup', (event) => {
    if (ARROWS[event.key]) nudging = null;
  });
  document.addEventListener('keydown', (event) => {
    const command = event.ctrlKey || event.metaKey;
    const key = event.key.toLowerCase();
    const does = (action) => {
      event.preventDefault();
      action();
    };
    if (isTyping(event.target) && !isCommitted(event.target)) return undefined;
    if (command && key === 'z') return does(() => (event.shiftKey ? desk.redo() : desk.undo()));
    if (command && key === 'y') return does(() => desk.redo());
    if (isTyping(event.target)) return undefined;
    const { selected, selection } = desk;
    const isSingle = !command && !event.altKey && !desk.isAdding && page.singleKeys;
    if (isSingle && event.key === '?') return does(() => page.showKeys());
    if (isSingle && key === '0') return does(() => page.fit());
    if (isSingle && key === 'v') return does(() => page.exchange());
    if (isSingle && key === 'b') return does(() => desk.lookOn());
    if (command && key === 'v') return does(() => page.paste());
    if (event.key === 'Escape') {
      return does(() => {
        // Only what lies uppermost goes.
        if (desk.laying !== null) {
          desk.layBridges(null);
          return;
        }
        if (page.findingsOpen) {
          page.toggleFindings();
          return;
        }
        desk.select(null);
        document.activeElement?.blur();
      });
    }
    if (command && key === 'a') return does(() => desk.selectAll());
    if (!selected) return undefined;
    if (key === ' ' && event.target.matches('.element')) return does(() => desk.keep());
    if (command && key === 'c') return does(() => page.copySelected());
    if (command && key === 'x') {
      return does(() => {
        page.copySelected();
        desk.remove(selection);
      });
    }
    if (command && key === 'd') return does(() => desk.duplicate(selection));
    if (event.key === 'Delete' || event.key === 'Backspace') return does(() => desk.remove(selection));
    if (ARROWS[event.key] && !command) {
      return does(() => {
        // A key held down is one gesture.
        nudging ??= newGesture();
        const by = (desk.units === 'in' ? 25.4 / 32 : 1) * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
        const [x, y] = ARROWS[event.key];
        nudge(plan, x * by, y * by, nudging);
      });
    }
    return undefined;
  });
}
