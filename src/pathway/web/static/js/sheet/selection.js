// What is selected on the sheet: one note, or a range from an anchor to it.
import { base, come, lineOf, order, sheet } from "./lines.js";

export const state = { selected: sheet.dataset.selected, anchor: sheet.dataset.selected };
let cardWish = 0;
for (const id of ["sheet", "card", "findings", "state", "history", "status"]) {
  document.getElementById(id)._x_ignore = true; // no parts of Alpine inside: it need not look through what is swapped in
}

export const hitOf = (note) => document.getElementById(`hit-${note}`);
export const ribbonOf = (note) => hitOf(note)?.ownerSVGElement.querySelector(`.ribbon[data-notes~="${CSS.escape(note)}"]`);
let marked = []; // what shows the selection now

export function chosen() { // notes from the anchor to the selected one, in order
  const [a, b] = [order.indexOf(state.anchor), order.indexOf(state.selected)];
  return a < 0 || b < 0 ? [state.selected] : order.slice(Math.min(a, b), Math.max(a, b) + 1);
}

export function mark() {
  for (const old of marked) {
    old.classList.remove("also", "chosen");
    if (old.hasAttribute("aria-current")) old.setAttribute("tabindex", "-1");
    old.removeAttribute("aria-current");
  }
  const hit = hitOf(state.selected);
  hit?.setAttribute("aria-current", "true");
  hit?.setAttribute("tabindex", "0");
  const ribbon = ribbonOf(state.selected);
  ribbon?.classList.add("chosen");
  const others = state.anchor === state.selected ? [] : chosen().map(hitOf);
  for (const other of others) other?.classList.add("also");
  marked = [hit, ribbon, ...others].filter(Boolean);
  sheet.dispatchEvent(new CustomEvent("marked"));
}

export function select(note, { extend = false } = {}) {
  if (!note || (note === state.selected && (extend || state.anchor === note))) return;
  state.selected = note;
  if (!extend) state.anchor = note;
  mark();
  show(note);
  document.dispatchEvent(new CustomEvent("stands", { detail: note }));
  const wish = ++cardWish;
  setTimeout(() => wish === cardWish && askForCard(), 40);
}

const askForCard = () => htmx.ajax("GET", `${base}/notes/${state.selected}`, { source: "#card", target: "#card", swap: "innerHTML" });

export function letCardGo() { // an edit brings it: one asked for before must not come after, as it was
  cardWish += 1;
  htmx.trigger("#card", "htmx:abort");
}

export function keepCard() { // a refused edit brings none, and one sent from another note brings that note's
  if (document.querySelector("[data-card]")?.dataset.card !== state.selected) askForCard();
}

async function show(note) { // its line in view, and the focus on it
  const line = lineOf(note);
  line.scrollIntoView({ block: "nearest" });
  await come(line);
  if (note === state.selected) hitOf(note)?.focus({ preventScroll: true });
}

export function step(by, extend) {
  const at = order.indexOf(state.selected);
  select(order[Math.min(Math.max(at + by, 0), order.length - 1)], { extend });
}

export async function line(by) {
  const hit = hitOf(state.selected);
  let there = hit?.closest(".system");
  do there = by > 0 ? there?.nextElementSibling : there?.previousElementSibling;
  while (there && !there.dataset.notes);
  if (!there) return;
  await come(there);
  const x = Number(hit.getAttribute("x"));
  const near = [...there.querySelectorAll(".hit")].reduce((best, other) =>
    Math.abs(other.getAttribute("x") - x) < Math.abs(best.getAttribute("x") - x) ? other : best);
  select(near.dataset.note);
}

export function finding(by) {
  const notes = [...document.querySelectorAll("[data-goto]")].map((b) => order.indexOf(b.dataset.goto)).sort((a, b) => a - b);
  const at = order.indexOf(state.selected);
  const next = by > 0 ? notes.find((n) => n > at) ?? notes[0] : notes.findLast((n) => n < at) ?? notes.at(-1);
  if (next !== undefined) select(order[next]);
}
