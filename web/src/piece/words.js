// Typing straight into the plan: the words of a lettering stand in an input where the letters are.
import { newGesture } from './desk.js';

/** The lines of a lettering for a text, one line of text each; what a line has of its own stays. */
export function linesFor(before, text) {
  return text.split('\n').map((words, i) => ({ typeface: null, scale: 1, ...before[i], words }));
}

/**
 * Opens the words of a lettering for typing in the plan. Enter, Escape or a click elsewhere ends it, Shift
 * Enter begins another line.
 */
export function openWords(plan, id) {
  const { desk, host } = plan;
  const element = desk.element(id);
  const placed = desk.placed(id);
  if (element?.kind !== 'lettering' || !desk.isAtHand(id)) return;
  host.querySelector('.words-editor')?.remove();
  const input = document.createElement('textarea');
  input.className = 'words-editor';
  input.setAttribute('aria-label', 'Words, typed in the plan');
  input.spellcheck = false;
  input.value = element.lines.map((line) => line.words).join('\n');
  const gesture = newGesture();
  const place = () => {
    const { frame, letter_height: tall } = desk.placed(id) ?? placed;
    const rows = input.value.split('\n').length;
    const [x, y] = plan.px((frame.x0 + frame.x1) / 2, frame.y1);
    const size = Math.min(64, Math.max(14, tall * plan.scale * 1.3));
    const widest = Math.max(6, ...input.value.split('\n').map((line) => line.length));
    const width = Math.min(
      host.clientWidth - 40,
      Math.max((frame.x1 - frame.x0) * plan.scale + 24, widest * size * 0.68),
    );
    input.rows = rows;
    Object.assign(input.style, {
      fontSize: `${size}px`,
      width: `${width}px`,
      left: `${Math.max(30, x - width / 2)}px`,
      top: `${Math.max(28, y - size * 0.45)}px`,
    });
  };
  input.addEventListener('input', () => {
    desk.set(id, 'lines', linesFor(desk.element(id).lines, input.value), {
      gesture,
      refused: (error) => desk.tell('refused', error),
    });
    place();
  });
  const close = () => {
    desk.removeEventListener('view', place);
    input.remove();
  };
  input.addEventListener('blur', close);
  input.addEventListener('keydown', (event) => {
    event.stopPropagation();
    const isDone = event.key === 'Escape' || (event.key === 'Enter' && !event.shiftKey);
    if (isDone) {
      event.preventDefault();
      input.blur();
    }
  });
  desk.addEventListener('view', place);
  host.append(input);
  place();
  input.focus();
  input.select();
}
