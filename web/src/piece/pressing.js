// What a press on the plan takes hold of where several things lie on each other: what is chosen already,
// and otherwise what lies on top. Pressing and letting go again reaches what lies under it.
import { startMove } from './dragging.js';

/** The ids of the elements under the pointer, the uppermost first. */
function pileUnder(plan, event) {
  const groups = [...plan.layers.elements.children];
  const hit = document.elementsFromPoint(event.clientX, event.clientY);
  const found = hit.map((child) => groups.find((group) => group === child.parentNode)).filter(Boolean);
  return [...new Set(found)].map((group) => group.dataset.key);
}

/** Which of a pile comes after one of it, from the top to the bottom and round again. */
export const nextOf = (pile, id) => pile[(pile.indexOf(id) + 1) % pile.length];

/** Takes hold of an element, or of what is chosen already beneath it. */
export function press(plan, event, uppermost) {
  const { desk } = plan;
  const pile = pileUnder(plan, event);
  const id = pile.find((one) => desk.selection.includes(one)) ?? uppermost;
  const wasAlone = desk.selection.length === 1 && desk.selected === id;
  plan.pressed = id;
  plan.goesOn = null;
  // Taking hold of one of several keeps them together.
  if (!desk.selection.includes(id)) desk.select(id);
  plan.focusOn(id);
  startMove(plan, event, id, () => {
    if (wasAlone && pile.length > 1) plan.goesOn = nextOf(pile, id);
  });
}

/** After a click on what was chosen already comes what lies under it; a double click stays with the first. */
export function listenForClicks(plan, opened) {
  let clicked = null;
  plan.svg.addEventListener('click', (event) => {
    if (event.detail !== 1) return;
    clicked = plan.pressed;
    if (plan.goesOn === null) return;
    plan.desk.select(plan.goesOn);
    plan.focusOn(plan.goesOn);
    plan.goesOn = null;
  });
  plan.svg.addEventListener('dblclick', () => {
    if (clicked === null || !plan.desk.placed(clicked)) return;
    plan.desk.select(clicked);
    opened(clicked);
  });
}
