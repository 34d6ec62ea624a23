// The rulers of the plan, from the left and the lower edge of what is worked on.
import { figure } from '../figures.js';
import { node } from '../svg.js';

/** How wide they are, in pixels. */
export const RULER = 26;

export function drawRulers(plan) {
  const { units, view } = plan.desk;
  const [width, height] = [plan.host.clientWidth, plan.host.clientHeight];
  const unit = units === 'in' ? 25.4 : 1;
  const steps =
    units === 'in' ? [1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 5, 10] : [0.1, 0.5, 1, 2, 5, 10, 20, 50, 100];
  const fine = steps.find((one) => one * unit * plan.scale >= 5) ?? steps.at(-1);
  const coarse =
    steps.find(
      (one) => one * unit * plan.scale >= 48 && Math.abs(Math.round(one / fine) - one / fine) < 1e-9,
    ) ?? steps.at(-1);
  const parts = [
    node('rect', { class: 'ruler-ground', x: 0, y: 0, width, height: RULER }),
    node('rect', { class: 'ruler-ground', x: 0, y: 0, width: RULER, height }),
  ];
  const every = Math.round(coarse / fine);
  const rule = (axis, from, to) => {
    const start = axis === 'across' ? view.plate.frame.x0 : view.plate.frame.y0;
    const first = Math.ceil((from - start) / unit / fine);
    const last = Math.floor((to - start) / unit / fine);
    for (let tick = first; tick <= last; tick += 1) {
      const at = start + tick * fine * unit;
      const isCoarse = tick % every === 0;
      const size = isCoarse ? 10 : 5;
      const [x, y] = plan.px(at, at);
      if (axis === 'across' && x > RULER) {
        parts.push(node('line', { class: 'ruler-tick', x1: x, x2: x, y1: RULER - size, y2: RULER }));
        if (isCoarse)
          parts.push(
            node(
              'text',
              { class: 'ruler-figure', x, y: 12, 'text-anchor': 'middle' },
              figure(tick * fine * unit, units, 3),
            ),
          );
      } else if (axis === 'up' && y > RULER) {
        parts.push(node('line', { class: 'ruler-tick', x1: RULER - size, x2: RULER, y1: y, y2: y }));
        if (isCoarse)
          parts.push(
            node(
              'text',
              {
                class: 'ruler-figure',
                transform: `translate(12 ${y}) rotate(-90)`,
                'text-anchor': 'middle',
              },
              figure(tick * fine * unit, units, 3),
            ),
          );
      }
    }
  };
  rule('across', -plan.origin[0] / plan.scale, (width - plan.origin[0]) / plan.scale);
  rule('up', (plan.origin[1] - height) / plan.scale, plan.origin[1] / plan.scale);
  parts.push(node('rect', { class: 'ruler-ground', x: 0, y: 0, width: RULER, height: RULER }));
  parts.push(node('text', { class: 'ruler-figure', x: RULER / 2, y: 16, 'text-anchor': 'middle' }, units));
  plan.layers.rulers.replaceChildren(...parts);
}
