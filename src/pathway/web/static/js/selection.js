// What is selected on the sheet: one note, or a range from an anchor to it.
export const sheet = document.getElementById("sheet");
export const base = `/pieces/${sheet.dataset.piece}`;
export const state = { selected: sheet.dataset.selected, anchor: sheet.dataset.selected };
let cardWish = 0;

export const hits = () => [...sheet.querySelectorAll(".hit")];
export const hitOf = (note) => sheet.querySelector(`.hit[data-note="${CSS.escape(note)}"]`);
export const ribbonOf = (note) => sheet.querySelector(`.ribbon[data-notes~="${CSS.escape(note)}"]`);

export function chosen() { // notes from the anchor to the selected one, in order
  const order = hits().map((hit) => hit.dataset.note);
  const [a, b] = [order.indexOf(state.anchor), order.indexOf(state.selected)];
  return a < 0 || b < 0 ? [state.selected] : order.slice(Math.min(a, b), Math.max(a, b) + 1);
}

export function mark() {
  for (const hit of sheet.querySelectorAll('.hit[aria-current="true"], .hit[tabindex="0"], .hit.also')) {
    hit.removeAttribute("aria-current");
    hit.classList.remove("also");
    hit.setAttribute("tabindex", "-1");
  }
  for (const ribbon of sheet.querySelectorAll(".ribbon.chosen")) ribbon.classList.remove("chosen");
  const hit = hitOf(state.selected);
  hit?.setAttribute("aria-current", "true");
  hit?.setAttribute("tabindex", "0");
  ribbonOf(state.selected)?.classList.add("chosen");
  if (state.anchor !== state.selected) for (const note of chosen()) hitOf(note)?.classList.add("also");
  sheet.dispatchEvent(new CustomEvent("marked"));
}

export function select(note, { extend = false } = {}) {
  if (!note || (note === state.selected && (extend || state.anchor === note))) return;
  state.selected = note;
  if (!extend) state.anchor = note;
  mark();
  const hit = hitOf(note);
  hit?.focus({ preventScroll: true });
  hit?.closest(".system").scrollIntoView({ block: "nearest" });
  const wish = ++cardWish;
  setTimeout(() => wish === cardWish && htmx.ajax("GET", `${base}/notes/${note}`, { source: "#card", target: "#card", swap: "innerHTML" }), 40);
}

export function step(by, extend) {
  const all = hits();
  const at = all.findIndex((hit) => hit.dataset.note === state.selected);
  select(all[Math.min(Math.max(at + by, 0), all.length - 1)]?.dataset.note, { extend });
}

export function line(by) {
  const hit = hitOf(state.selected);
  let system = hit?.closest(".system");
  do system = by > 0 ? system?.nextElementSibling : system?.previousElementSibling;
  while (system && !system.querySelector(".hit"));
  if (!system) return;
  const x = Number(hit.getAttribute("x"));
  const near = [...system.querySelectorAll(".hit")].reduce((best, other) =>
    Math.abs(other.getAttribute("x") - x) < Math.abs(best.getAttribute("x") - x) ? other : best);
  select(near.dataset.note);
}

export function finding(by) {
  const order = hits().map((hit) => hit.dataset.note);
  const notes = [...document.querySelectorAll("[data-goto]")].map((b) => order.indexOf(b.dataset.goto)).sort((a, b) => a - b);
  const at = order.indexOf(state.selected);
  const next = by > 0 ? notes.find((n) => n > at) ?? notes[0] : notes.findLast((n) => n < at) ?? notes.at(-1);
  if (next !== undefined) select(order[next]);
}
