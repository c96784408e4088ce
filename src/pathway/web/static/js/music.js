// Draw over the bars to say from where to where a new passage goes.
const form = document.getElementById("new-passage");
const bars = [...document.querySelectorAll("[data-bar]")];
let from = null;
let drawing = false;

function mark(to) {
  const [a, b] = [bars.indexOf(from), bars.indexOf(to)].sort((x, y) => x - y);
  bars.forEach((bar, i) => bar.classList.toggle("drawn-over", i >= a && i <= b));
  form.elements.start.value = `bar ${bars[a].dataset.bar}`;
  form.elements.end.value = `bar ${bars[b].dataset.bar}`;
}

// The edges of passages are dragged from bar to bar, or moved by key; the passage's own form says so to the server.
let edge = null;

function place(handle, bar) {
  const passage = document.querySelector(`form[data-passage="${handle.dataset.number}"]`);
  passage.elements[handle.dataset.edge].value = `bar ${bar.dataset.bar}`;
  bar.after(handle);
  return passage;
}

document.addEventListener("pointerdown", (event) => {
  const handle = event.target.closest("[data-edge]");
  if (!handle) return;
  event.preventDefault();
  edge = { handle, from: handle.parentElement, bar: null };
  handle.setPointerCapture(event.pointerId);
});
document.addEventListener("pointermove", (event) => {
  const bar = edge && under(event);
  if (!bar || bar.parentElement === edge.handle.parentElement) return;
  edge.bar = bar;
  place(edge.handle, bar);
});
document.addEventListener("pointerup", () => {
  if (edge?.bar && edge.bar.parentElement !== edge.from) htmx.trigger(place(edge.handle, edge.bar), "submit");
  edge = null;
});
document.addEventListener("keydown", (event) => {
  const handle = event.target.closest("[data-edge]");
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (!handle || !by) return;
  event.preventDefault();
  const bar = bars[bars.findIndex((one) => one.dataset.bar === handle.dataset.at) + by];
  if (bar) htmx.trigger(place(handle, bar), "submit");
});

const under = (event) => document.elementFromPoint(event.clientX, event.clientY)?.closest("li.bar-cell")?.querySelector("[data-bar]");

document.addEventListener("pointerdown", (event) => {
  const bar = event.target.closest("[data-bar]");
  if (!bar) return;
  if (!event.shiftKey || !from) from = bar;
  drawing = true;
  mark(bar);
});
document.addEventListener("pointermove", (event) => {
  const bar = drawing && under(event);
  if (bar) mark(bar);
});
document.addEventListener("pointerup", () => { drawing = false; });
document.addEventListener("click", (event) => { // by key
  const bar = event.target.closest("[data-bar]");
  if (!bar || event.detail !== 0) return;
  if (!event.shiftKey || !from) from = bar;
  mark(bar);
});
