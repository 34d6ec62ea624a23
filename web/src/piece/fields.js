// Fields of the settings column: each is bound to one field of the piece by an Alpine directive.
import { figure, length, step } from '../figures.js';
import { newGesture } from './desk.js';
import { limitInWords } from './limits.js';
import { CORNERS, split } from './paths.js';
import { linesFor } from './words.js';

/** Work by hand ends typing: a field that keeps the focus would not show what the hand does. */
export function leaveField() {
  if (document.activeElement?.matches('input, select, textarea')) document.activeElement.blur();
}

/** Leaves a field by the keyboard: the focus goes to what it belongs to. */
function leave(input) {
  input.blur();
  input.dispatchEvent(new CustomEvent('left', { bubbles: true }));
}

let fields = 0;

/** Shows a reason under the field and ties it to it for screen readers. */
function reasonFor(input) {
  const reason = document.createElement('p');
  fields += 1;
  reason.id = `reason-${fields}`;
  reason.className = 'field-error';
  reason.setAttribute('role', 'alert');
  const row = input.closest('.row') ?? input.parentElement;
  const note = document.createElement('p');
  note.className = 'field-note';
  row.append(reason, note);
  return {
    say(message) {
      reason.textContent = message;
      if (message) {
        input.setAttribute('aria-invalid', 'true');
        input.setAttribute('aria-describedby', reason.id);
      } else {
        input.removeAttribute('aria-invalid');
        input.removeAttribute('aria-describedby');
      }
    },
    /** What is made instead of what the field says, with a way to have it as it says. */
    note(message, way = null) {
      if (note.dataset.said === message && Boolean(way) === note.childElementCount > 0) return;
      note.dataset.said = message;
      note.textContent = message;
      if (!way) return;
      const button = document.createElement('button');
      button.type = 'button';
      button.className = 'quiet';
      button.textContent = way.label;
      button.addEventListener('click', way.go);
      note.append(' ', button);
    },
    get said() {
      return reason.textContent !== '';
    },
    remove() {
      reason.remove();
      note.remove();
    },
  };
}

/** What preflight says is made instead of a figure. */
function insteadOf(desk, target, field) {
  const address = desk.addressOf(target);
  const isOf = (finding) =>
    finding.instead &&
    finding.target === address &&
    (finding.field.startsWith(field) || field.startsWith(`${finding.field}.`));
  return desk.view.findings.find(isOf)?.message ?? '';
}

/** What a figure came out as, where that is not what was typed. */
function cameOut(desk, target, field) {
  const out = desk.placed(target)?.came_out;
  if (out?.field !== field) return null;
  const exactly = out.exactly && {
    label: 'Keep it exactly',
    go: () => desk.edit([out.exactly], { gesture: newGesture() }),
  };
  return { message: `Comes out ${length(out.mm, desk.units, 2)}.`, exactly };
}

/**
 * Binds an input to a field. `read` writes the value into the input, `edits` makes edits of what
 * was typed. What does not fit stays in the field with the reason, and the piece stays as it was.
 */
function bind(desk, input, expression, cleanup, { show, edits, normalise }) {
  const reason = reasonFor(input);
  let gesture = newGesture();
  let of = null;
  let before = null;
  /** Keeps what Escape goes back to, once all that was committed has arrived. */
  const keepBefore = () => {
    const [target, field] = split(desk, expression);
    const isDue = before === null && input.dataset.typed === 'no' && desk.waiting.length === 0;
    if (isDue && target !== null) before = desk.value(target, field);
  };
  const refresh = () => {
    if (!desk.view) return;
    const [target, field] = split(desk, expression);
    if (target === null) return;
    keepBefore();
    const value = desk.value(target, field);
    if (value === undefined || value === null) return;
    const limit = typeof value === 'number' ? desk.limit(target, field) : null;
    if (limit) input.title = limitInWords(limit, desk.units);
    const out = cameOut(desk, target, field);
    if (out) reason.note(out.message, out.exactly);
    else reason.note(insteadOf(desk, target, field));
    if (of !== target) {
      of = target;
      reason.say('');
      input.value = show(value);
    } else if (reason.said || input.value === show(value)) {
      // What does not fit stays to be mended.
    } else if (document.activeElement !== input) {
      input.value = show(value);
    } else if (normalise && input.dataset.typed === 'no') {
      // Committed by Enter: the figure as it is written, ready to be typed over.
      input.value = show(value);
      input.select();
    }
  };
  const change = () => {
    input.dataset.typed = 'yes';
    const [target, field] = split(desk, expression);
    if (target === null) return;
    const text = input.value;
    desk.edit(edits(target, field, text), {
      key: `${target}.${field}`,
      gesture,
      done: () => input.value === text && reason.say(''),
      refused: (error) => input.value === text && reason.say(error.message),
    });
  };
  const settle = () => {
    if (!reason.said && of !== null) {
      const [target, field] = split(desk, expression);
      const value = target && desk.value(target, field);
      if (normalise && value !== undefined && value !== null && desk.waiting.length === 0)
        input.value = show(value);
    }
  };
  /** What comes next is another step, and can be left for what is there now. */
  const committed = () => {
    input.dataset.typed = 'no';
    gesture = newGesture();
    // What is still on its way is what there will be.
    before = null;
    keepBefore();
  };
  input.addEventListener('focus', committed);
  input.addEventListener('input', change);
  input.addEventListener('blur', settle);
  // A key that was held has done one thing.
  input.addEventListener('keyup', (event) => {
    if (event.key === 'ArrowUp' || event.key === 'ArrowDown') committed();
  });
  input.addEventListener('keydown', (event) => {
    if (event.key === 'Enter' && !event.shiftKey) {
      event.preventDefault();
      committed();
      settle();
      input.select();
    } else if (event.key === 'Escape') {
      event.stopPropagation();
      reason.say('');
      const [target, field] = split(desk, expression);
      // A figure goes back to what it was; words that stand are only left.
      const back = normalise && before !== null ? before : desk.value(target, field);
      if (normalise && desk.value(target, field) !== back) desk.set(target, field, back, { gesture });
      const wasTyped = input.value !== show(back);
      input.value = show(back);
      if (wasTyped) input.select();
      // Out of the field, but not out of the page.
      else leave(input);
    }
  });
  const stop = new AbortController();
  for (const name of ['view', 'findings', 'select'])
    desk.addEventListener(name, refresh, { signal: stop.signal });
  cleanup(() => {
    stop.abort();
    reason.remove();
  });
  refresh();
  return { change };
}

const STEP_ICONS = { down: 'M1 4h6', up: 'M1 4h6M4 1v6' };

function stepper(input, apply) {
  const steps = document.createElement('span');
  steps.className = 'steps';
  for (const [name, by] of [
    ['down', -1],
    ['up', 1],
  ]) {
    const button = document.createElement('button');
    button.type = 'button';
    button.tabIndex = -1;
    button.setAttribute('aria-hidden', 'true');
    button.innerHTML = `<svg viewBox="0 0 8 8"><path d="${STEP_ICONS[name]}"/></svg>`;
    button.addEventListener('click', () => apply(by));
    steps.append(button);
  }
  const frame = document.createElement('span');
  frame.className = 'stepper';
  input.replaceWith(frame);
  frame.append(input, steps);
}

export function fieldDirectives(Alpine, desk) {
  // x-number="el.turn": an angle, a share or a count, with the sign in data-unit behind it.
  Alpine.directive('number', (input, { expression }, { cleanup }) => {
    const unit = input.dataset.unit ?? '';
    bind(desk, input, expression, cleanup, {
      show: (value) => `${Math.round(value * 1e4) / 1e4}${unit}`,
      edits: (target, field, text) => [{ type: { target, field, text } }],
      normalise: true,
    });
    input.autocomplete = 'off';
    input.addEventListener('keydown', (event) => {
      if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
      event.preventDefault();
      const [target, field] = split(desk, expression);
      const now = desk.value(target, field);
      const by = unit === '°' ? (event.shiftKey ? 15 : 1) : Number.isInteger(now) && now >= 3 ? 1 : 0.05;
      const next = Math.round((now + (event.key === 'ArrowUp' ? by : -by)) * 1e4) / 1e4;
      input.value = `${next}${unit}`;
      input.dispatchEvent(new Event('input'));
    });
  });

  // x-corners="blank.outline": one size for all four corners of a rectangle.
  Alpine.directive('corners', (input, { expression }, { cleanup }) => {
    const kind = () => {
      const [target, field] = split(desk, expression);
      return Object.keys(desk.value(target, field)?.rectangle?.top_left ?? {})[0];
    };
    bind(desk, input, expression, cleanup, {
      show: (outline) => {
        const corner = outline.rectangle?.top_left ?? {};
        return length(Object.values(corner)[0] ?? 0, desk.units);
      },
      edits: (target, field, text) =>
        CORNERS.map((name) => ({ type: { target, field: `${field}.rectangle.${name}.${kind()}`, text } })),
      normalise: true,
    });
    input.autocomplete = 'off';
  });

  // x-length="blank.width": a length with units and arithmetic, stepped by arrow keys.
  Alpine.directive('length', (input, { expression }, { cleanup }) => {
    const field = bind(desk, input, expression, cleanup, {
      show: (value) => length(value, desk.units),
      edits: (target, name, text) => [{ type: { target, field: name, text } }],
      normalise: true,
    });
    const apply = (by) => {
      const [target, name] = split(desk, expression);
      const now = desk.value(target, name);
      const grain = step(desk.units);
      // To the next whole step in that direction.
      const next = by > 0 ? Math.floor(now / grain + 1e-6 + by) : Math.ceil(now / grain - 1e-6 + by);
      input.value = `${figure(next * grain, desk.units)} ${desk.units}`;
      field.change();
    };
    input.inputMode = 'text';
    input.autocomplete = 'off';
    input.spellcheck = false;
    stepper(input, apply);
    input.addEventListener('keydown', (event) => {
      if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
        event.preventDefault();
        const by = event.key === 'ArrowUp' ? 1 : -1;
        apply(event.shiftKey ? 10 * by : by);
      }
    });
  });

  // x-choice="lettering-1.face": a list to choose from.
  Alpine.directive('choice', (select, { expression }, { cleanup }) => {
    const refresh = () => {
      if (!desk.view) return;
      const [target, field] = split(desk, expression);
      select.value = desk.value(target, field) ?? '';
    };
    select.addEventListener('change', () => desk.set(...split(desk, expression), select.value));
    desk.addEventListener('view', refresh);
    cleanup(() => desk.removeEventListener('view', refresh));
    refresh();
  });

  // x-lines="el.lines": lines of words, one below the other; what each line has of its own stays.
  Alpine.directive('lines', (input, { expression }, { cleanup }) => {
    const fit = () => {
      input.rows = Math.min(6, input.value.split('\n').length);
    };
    bind(desk, input, expression, cleanup, {
      show: (lines) => lines.map((line) => line.words).join('\n'),
      edits: (target, field, text) => {
        return [{ set: { target, field, value: linesFor(desk.value(target, field), text) } }];
      },
    });
    fit();
    for (const name of ['view', 'select']) desk.addEventListener(name, fit);
    cleanup(() => ['view', 'select'].forEach((name) => desk.removeEventListener(name, fit)));
    input.addEventListener('input', fit);
  });

  // x-words="piece.name": plain text, kept letter by letter.
  Alpine.directive('words', (input, { expression }, { cleanup }) => {
    bind(desk, input, expression, cleanup, {
      show: (value) => value,
      edits: (target, field, value) => [{ set: { target, field, value } }],
    });
  });
}
