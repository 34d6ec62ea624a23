// Dimension lines of the plan: figures that can be clicked and typed into.
import { length } from '../figures.js';
import { keyed, node, set } from '../svg.js';
import { sidesOf } from './handles.js';
import { followsOutline, middle } from './placing.js';

const TICK = 5;

/**
 * The dimensions worth showing. Each has its ends in pixels, its figure, and `edit`, which makes
 * the edits for a typed text: a distance measured from another datum makes that the relation.
 */
function dimensions(plan) {
  const { desk } = plan;
  const { view, units } = desk;
  const { frame, bounds } = view.plate;
  const [left, frameTop] = plan.px(frame.x0, frame.y1);
  const [right, frameBottom] = plan.px(frame.x1, frame.y0);
  // Dimension lines stand clear of loops too.
  const [farLeft, top] = plan.px(Math.min(frame.x0, bounds.x0), Math.max(frame.y1, bounds.y1));
  const [farRight, bottom] = plan.px(Math.max(frame.x1, bounds.x1), Math.min(frame.y0, bounds.y0));
  const type = (target, field) => (text) => [{ type: { target, field, text } }];
  // A contour blank is as large as what is on it, a mesh has the size it was drawn with, and a side that leans
  // follows from others.
  const whole = desk.isPlate ? 'plate' : 'face';
  const sides = sidesOf(desk);
  const given = (index, mm) => {
    const field = sides[index];
    // Nor has a plate that grew the size that was given.
    const isIt = field && Math.abs(desk.value('blank', field) - mm) < 1e-6;
    return isIt ? type('blank', field) : null;
  };
  const shown = [
    {
      key: 'width',
      name: `Width of the ${whole}`,
      level: true,
      from: left,
      to: right,
      at: bottom + 62,
      mm: frame.x1 - frame.x0,
      edit: given(0, frame.x1 - frame.x0),
    },
    {
      key: 'height',
      name: `Height of the ${whole}`,
      level: false,
      from: frameTop,
      to: frameBottom,
      at: farRight + 52,
      mm: frame.y1 - frame.y0,
      edit: given(1, frame.y1 - frame.y0),
    },
  ];
  const placed = desk.placed(desk.selected);
  if (!placed || desk.others.size > 0 || (placed.kind === 'lettering' && placed.frame.x1 === placed.frame.x0))
    return shown;
  const element = desk.element(placed.id);
  if (placed.kind === 'loop' || placed.face !== desk.face) return shown;
  if (followsOutline(element)) return [...shown, ...alongOutline(plan, element, type)];
  const box = plan.shownFrame(placed);
  // On a contour blank the edges follow the figures, which have no distance from them.
  const isLoose =
    Boolean(element.course?.circle) ||
    Boolean(placed.by) ||
    (desk.plate.outline.contour !== undefined && (placed.kind === 'lettering' || placed.kind === 'emblem'));
  const relation = (axis, from) => (text) => [
    { set: { target: placed.id, field: `place.${axis}.from`, value: from } },
    { type: { target: placed.id, field: `place.${axis}.distance`, text } },
  ];
  const distance = (axis, from, start, end, at, mm) => ({
    key: `${axis}-${from}`,
    name: `Distance from the ${from} edge`,
    level: axis === 'across',
    chosen: true,
    from: start,
    to: end,
    at,
    mm,
    edit: relation(axis, from),
  });
  const [cx, cy] = plan.px(middle(box, 'across'), middle(box, 'up'));
  if (placed.kind === 'hole') {
    const [x, y] = [middle(box, 'across'), middle(box, 'up')];
    const fromRight = element.place.across.from === 'right';
    shown.push(
      fromRight
        ? distance('across', 'right', cx, right, bottom + 30, frame.x1 - x)
        : distance('across', 'left', left, cx, bottom + 30, x - frame.x0),
    );
    const fromTop = element.place.up.from === 'top';
    const side = fromRight ? farRight + 24 : farLeft - 36;
    shown.push(
      fromTop
        ? distance('up', 'top', frameTop, cy, side, frame.y1 - y)
        : distance('up', 'bottom', cy, frameBottom, side, y - frame.y0),
    );
    const [x0] = plan.px(box.x0, 0);
    const [x1] = plan.px(box.x1, 0);
    shown.push({
      key: 'diameter',
      name: 'Diameter of the hole',
      level: true,
      chosen: true,
      from: x0,
      to: x1,
      at: top - 26,
      mm: element.diameter,
      sign: '⌀ ',
      edit: type(placed.id, 'diameter'),
    });
    return shown;
  }
  const [boxLeft, boxTop] = plan.px(box.x0, box.y1);
  const [boxRight, boxBottom] = plan.px(box.x1, box.y0);
  if (!isLoose) {
    shown.push(
      distance('across', 'left', left, boxLeft, bottom + 30, box.x0 - frame.x0),
      distance('across', 'right', boxRight, right, bottom + 30, frame.x1 - box.x1),
      element.place.up.from === 'top'
        ? distance('up', 'top', frameTop, boxTop, farLeft - 36, frame.y1 - box.y1)
        : distance('up', 'bottom', boxBottom, frameBottom, farLeft - 36, box.y0 - frame.y0),
    );
  }
  shown.push(
    ...ownSizes(element, box).map((size) =>
      size.level
        ? {
            ...size,
            chosen: true,
            from: boxLeft,
            to: boxRight,
            at: top - 26,
            edit: size.field && type(placed.id, size.field),
          }
        : {
            ...size,
            chosen: true,
            from: boxTop,
            to: boxBottom,
            at: farLeft - 36,
            edit: size.field && type(placed.id, size.field),
          },
    ),
  );
  return shown;
}

/** What is given of an element's own size, and can be typed, across and up. */
function ownSizes(element, box) {
  const wide = box.x1 - box.x0;
  if (element.kind === 'lettering' && element.course !== 'straight') return [];
  if (element.kind === 'lettering' && element.size.box) {
    return [
      {
        key: 'letters',
        name: 'Height of the box',
        level: false,
        mm: element.size.box.height,
        field: 'size.box.height',
      },
      {
        key: 'length',
        name: 'Width of the box',
        level: true,
        mm: element.size.box.width,
        field: 'size.box.width',
      },
    ];
  }
  if (element.kind === 'lettering') {
    // What gave way, or is turned, is not as high as was asked for.
    const { height } = element.size;
    const isGiven = element.lines.length === 1 && Math.abs(box.y1 - box.y0 - height) < 5e-3;
    return [
      {
        key: 'letters',
        name: isGiven ? 'Height of the letters' : 'Height over all',
        level: false,
        mm: isGiven ? height : box.y1 - box.y0,
        field: isGiven ? 'size.height' : null,
      },
      { key: 'length', name: 'Length over all', level: true, mm: wide },
    ];
  }
  if (element.kind === 'recess') {
    const { own } = element.shape;
    if (own.turn !== 0 || own.outline.polygon?.regular)
      return [{ key: 'length', name: 'Length over all', level: true, mm: wide }];
    return [
      {
        key: 'letters',
        name: 'Height of the field',
        level: false,
        mm: own.height,
        field: 'shape.own.height',
      },
      { key: 'length', name: 'Width of the field', level: true, mm: own.width, field: 'shape.own.width' },
    ];
  }
  if (element.kind === 'code')
    return [{ key: 'length', name: 'Width with its margin', level: true, mm: wide }];
  return [
    element.turn === 0
      ? { key: 'length', name: 'Width of the emblem', level: true, mm: element.width, field: 'width' }
      : { key: 'length', name: 'Length over all', level: true, mm: wide },
  ];
}

/** Distances of a rim or a field from the edge, at the left end of the plate. */
function alongOutline(plan, element, type) {
  // A halo goes with what it goes round, a pattern with what it fills.
  if (element.kind !== 'rim' && element.shape?.inset === undefined) return [];
  const { frame, bounds } = plan.desk.view.plate;
  const [left] = plan.px(frame.x0, 0);
  const [, bottom] = plan.px(0, Math.min(frame.y0, bounds.y0));
  const at = bottom + 30;
  const field = element.kind === 'rim' ? 'inset' : 'shape.inset';
  const mm = plan.desk.value(element.id, field);
  const [from] = plan.px(frame.x0 + mm, 0);
  const inset = {
    key: 'inset',
    name: 'Distance from the edge',
    level: true,
    chosen: true,
    from: left,
    to: from,
    at,
    mm,
    edit: type(element.id, field),
  };
  if (element.kind === 'recess') return [inset];
  const [to] = plan.px(frame.x0 + mm + element.width, 0);
  const width = {
    key: 'rim-width',
    name: 'Width of the rim',
    level: true,
    chosen: true,
    from,
    to,
    at: plan.px(0, Math.max(frame.y1, bounds.y1))[1] - 26,
    mm: element.width,
    edit: type(element.id, 'width'),
  };
  return mm > 0 ? [inset, width] : [width];
}

export function drawDimensions(plan) {
  const units = plan.desk.units;
  keyed(
    plan.layers.dimensions,
    dimensions(plan),
    (one) => one.key,
    (one) => makeDimension(plan, one.key),
    (group, one) => {
      group.item = one;
      set(group, { class: `dimension${one.chosen ? ' chosen' : ''}` });
      const text = `${one.sign ?? ''}${length(one.mm, units, units === 'in' ? 4 : 2)}`;
      const width = text.length * 7.3 + 8;
      const [line, label] = group.children;
      const middleAt = (one.from + one.to) / 2;
      const span = Math.abs(one.to - one.from);
      const fits = span > (one.level ? width + 16 : 34);
      const at = Math.round(one.at) + 0.5;
      const [from, to] = [Math.round(one.from) + 0.5, Math.round(one.to) + 0.5];
      set(line, {
        class: one.chosen ? 'dimension-line chosen' : 'dimension-line',
        d: one.level
          ? `M${from} ${at}H${to}M${from} ${at - TICK}v${2 * TICK}M${to} ${at - TICK}v${2 * TICK}`
          : `M${at} ${from}V${to}M${at - TICK} ${from}h${2 * TICK}M${at - TICK} ${to}h${2 * TICK}`,
      });
      // A figure that has no room on its line stands beside it.
      const x = one.level ? middleAt : one.at;
      const y = one.level ? one.at + (fits ? 0 : 15) : middleAt;
      set(label, {
        transform: `translate(${x} ${y})`,
        class: one.edit ? 'label' : 'label fixed',
        tabindex: one.edit ? 0 : null,
        role: one.edit ? 'button' : null,
        'aria-label': one.edit ? `${one.name}, ${text}. Press Enter to type another.` : null,
      });
      set(label.children[0], { x: -width / 2, y: -9, width, height: 18 });
      label.children[1].textContent = text;
    },
  );
}

function makeDimension(plan, key) {
  const label = node('g', {}, node('rect'), node('text', { 'text-anchor': 'middle', y: 4 }));
  const group = node('g', { 'data-dimension': key }, node('path'), label);
  const open = () => group.item.edit && openEditor(plan, group.item, label);
  label.addEventListener('click', open);
  label.addEventListener('keydown', (event) => {
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      event.stopPropagation();
      open();
    }
  });
  return group;
}

/** An input in the place of the figure; Enter applies, Escape leaves everything as it was. */
function openEditor(plan, item, label) {
  const { desk, host } = plan;
  host.querySelector('.figure-editor')?.remove();
  const input = document.createElement('input');
  input.className = 'field figure';
  input.setAttribute('aria-label', item.name);
  input.value = length(item.mm, desk.units);
  const reason = document.createElement('p');
  reason.className = 'field-error';
  reason.setAttribute('role', 'alert');
  const editor = document.createElement('div');
  editor.className = 'figure-editor';
  editor.append(input, reason);
  const at = label.getBoundingClientRect();
  const box = host.getBoundingClientRect();
  editor.style.left = `${at.left + at.width / 2 - box.left}px`;
  editor.style.top = `${at.top + at.height / 2 - box.top}px`;
  host.append(editor);
  input.select();

  let closed = false;
  const close = () => {
    closed = true;
    editor.remove();
    if (label.isConnected) label.focus({ preventScroll: true });
  };
  const apply = () => {
    const text = input.value;
    if (closed || text === length(item.mm, desk.units)) return close();
    return desk.edit(item.edit(text), {
      done: () => !closed && close(),
      refused: (error) => {
        reason.textContent = error.message;
        input.setAttribute('aria-invalid', 'true');
        input.focus();
      },
    });
  };
  input.addEventListener('keydown', (event) => {
    event.stopPropagation();
    if (event.key === 'Enter') apply();
    if (event.key === 'Escape') close();
  });
  input.addEventListener('blur', () => !closed && reason.textContent === '' && apply());
}
