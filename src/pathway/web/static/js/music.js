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

const under = (event) => document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-bar]");

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
