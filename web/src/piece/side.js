// The component cut through its middle, above the elevation: where its faces are, and which is looked at.
import { node, set } from '../svg.js';
import { sized } from './facts.js';

const MARGIN_PX = 12;
const REACH_PX = 5;

export class Side {
  constructor(host, desk) {
    this.host = host;
    this.desk = desk;
    this.svg = node('svg', { class: 'side-svg', role: 'group', 'aria-label': 'Cut through the middle' });
    this.layers = {
      bodies: node('g', {}),
      faces: node('g', {}),
      bed: node('line', { class: 'side-bed' }),
      word: node('text'),
    };
    this.svg.append(...Object.values(this.layers));
    host.append(this.svg);
    for (const event of ['view', 'turned']) desk.addEventListener(event, () => this.draw());
    new ResizeObserver(() => this.draw()).observe(host);
  }

  draw() {
    const { desk, host } = this;
    const side = desk.view?.side;
    if (!side || host.clientHeight === 0) return;
    const [width, height] = [host.clientWidth, host.clientHeight];
    const { x0, x1, y0, y1 } = side.bounds;
    const room = [width - 2 * MARGIN_PX, height - 2 * MARGIN_PX - 14];
    const scale = Math.min(room[0] / (x1 - x0 || 1), room[1] / (y1 - y0 || 1));
    const at = ([x, z]) => [
      width / 2 + (x - (x0 + x1) / 2) * scale,
      MARGIN_PX + room[1] / 2 - (z - (y0 + y1) / 2) * scale,
    ];
    const [left, foot] = at([0, 0]);
    set(this.svg, { width, height });
    this.layers.bodies.replaceChildren(
      ...side.bodies.map(({ filament, path }) =>
        node('path', {
          d: path,
          'fill-rule': 'evenodd',
          fill: desk.view.tones[filament].flat,
          transform: `translate(${left} ${foot}) scale(${scale})`,
        }),
      ),
    );
    const bed = bedOf(side, desk.component.lies)?.map(at);
    set(
      this.layers.bed,
      bed ? { x1: bed[0][0], y1: bed[0][1], x2: bed[1][0], y2: bed[1][1] } : { x1: 0, x2: 0, y1: 0, y2: 0 },
    );
    const faces = (desk.whole && desk.charts) ?? [];
    this.layers.faces.replaceChildren(...faces.flatMap((chart) => this.face(chart, side, at)));
    set(this.layers.word, { x: width / 2, y: height - 6, 'text-anchor': 'middle' });
    const from = side.right === 1 ? 'right' : 'front';
    this.layers.word.textContent = `from the ${from}: ${sized([x1 - x0, y1 - y0], desk.units)}`;
  }

  /** A face as the lines it is cut to: clicked, it is looked at. */
  face(chart, side, at) {
    const { desk } = this;
    const isShown = chart.name === desk.face;
    const title = desk.view.faces.find((one) => one.name === chart.name)?.title ?? chart.name;
    return linesOf(chart, side.right).map((ends) => {
      const [[ax, ay], [bx, by]] = ends.map(at);
      const mark = node('line', {
        ...{ x1: ax, y1: ay, x2: bx, y2: by },
        class: isShown ? 'side-face shown' : 'side-face',
      });
      const reach = node('polygon', { class: 'side-reach', points: strip([ax, ay], [bx, by]).join(' ') });
      const group = node(
        'g',
        { role: 'button', tabindex: 0, 'aria-label': title, 'aria-pressed': isShown },
        node('title', {}, title),
        mark,
        reach,
      );
      const look = () => desk.look(chart.name);
      group.addEventListener('click', look);
      group.addEventListener('keydown', (event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        look();
      });
      return group;
    });
  }
}

/** What is clicked for a line: a strip along it. */
function strip([ax, ay], [bx, by]) {
  const length = Math.hypot(bx - ax, by - ay) || 1;
  const [across, up] = [((ay - by) / length) * REACH_PX, ((bx - ax) / length) * REACH_PX];
  return [
    [ax + across, ay + up],
    [bx + across, by + up],
    [bx - across, by - up],
    [ax - across, ay - up],
  ].map((point) => point.map((px) => px.toFixed(1)).join(','));
}

/** Where the bed is by the side a component lies on, beside what is cut; nowhere where that is seen from above. */
export function bedOf({ bounds: { x0, x1, y0, y1 }, right }, lies) {
  const BEYOND = 0.06 * (x1 - x0);
  const [low, high] = right === 1 ? ['on-front', 'on-back'] : ['on-left', 'on-right'];
  const level = (z) => [
    [x0 - BEYOND, z],
    [x1 + BEYOND, z],
  ];
  const upright = (x) => [
    [x, y0 - BEYOND],
    [x, y1 + BEYOND],
  ];
  return {
    'as-made': level(y0),
    'on-top': level(y1),
    [low]: upright(x0),
    [high]: upright(x1),
  }[lies];
}

/**
 * The lines a face is cut to, by their ends: how far to the right, and how high. A face that is seen from
 * where one looks is cut to none.
 */
export function linesOf({ lies, round, plate }, right) {
  const { x0, x1, y0, y1 } = plate.frame;
  if (round) {
    const span = [round.middle + y0, round.middle + y1];
    return [-round.radius, round.radius].map((x) => span.map((z) => [x, z]));
  }
  const EDGE_ON = 0.2;
  const looksAlong = right === 1 ? 0 : 1;
  if (Math.abs(lies.out[looksAlong]) > EDGE_ON) return [];
  const point = (u, v) =>
    [right, 2].map(
      (axis) =>
        lies.origin[axis] + u * lies.across[axis] + v * lies.up[axis] + plate.thickness * lies.out[axis],
    );
  // Along what of the chart lies in the cut.
  const isUpright = Math.abs(lies.across[looksAlong]) > EDGE_ON;
  const middle = [(x0 + x1) / 2, (y0 + y1) / 2];
  return [
    isUpright ? [point(middle[0], y0), point(middle[0], y1)] : [point(x0, middle[1]), point(x1, middle[1])],
  ];
}
