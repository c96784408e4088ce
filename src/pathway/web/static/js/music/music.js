// The music: notes are drawn over, passages pulled at their edges and steps, a panel says what they are like.
import { come, lines, music, panelOf, post } from "./server.js";
import { at, drawn, noteAt, order, place } from "./spots.js";

const panel = () => document.getElementById("panel");
const status = document.getElementById("status");
let caret = null; // the note where the keys stand, and from where they draw
let anchor = null;
let back = null; // what had the focus before the panel

// The panel.
async function open(values, focus = true) {
  back = document.activeElement;
  if (!await panelOf(values) || panel().hidden) return;
  shown(focus);
}
function shown(focus) {
  const { start, end } = panel().dataset;
  drawn(start, end);
  const more = panel().querySelector("details");
  more.open = sessionStorage.getItem("more") === "open";
  more.addEventListener("toggle", () => sessionStorage.setItem("more", more.open ? "open" : ""));
  place(panel());
  if (focus) panel().querySelector("h3").focus({ preventScroll: true });
}
function close() {
  if (panel().hidden) return;
  panel().replaceChildren();
  panel().hidden = true;
  drawn();
  back?.isConnected ? back.focus() : music.focus();
}
async function change(values, path = "passages") {
  const { id, start, end } = panel().dataset;
  const name = document.activeElement?.name || document.activeElement?.dataset?.word;
  const about = path === "passages" ? { id, start, end } : {};
  if (!await post(path, { ...about, ...values })) return;
  if (panel().hidden) return drawn();
  shown(false);
  (panel().querySelector(`[name="${name}"], [data-word="${name}"]`) ?? panel().querySelector("h3")).focus({ preventScroll: true });
}
document.addEventListener("change", (event) => {
  const field = event.target;
  if (field.dataset.pieceSet) post("piece", { [field.dataset.pieceSet]: field.value });
  if (!field.closest("#panel") || !field.name) return;
  if (field.name === "bpm") return change({ at: panel().dataset.start, bpm: field.value }, "tempi").then(close);
  const both = ["like", "by_db"].includes(field.name);
  const values = both ? Object.fromEntries(["like", "by_db"].map((name) => [name, panel().querySelector(`[name=${name}]`).value])) : {};
  change({ ...values, [field.name]: field.value });
});
document.addEventListener("submit", (event) => {
  if (event.target.id !== "by-place") return;
  event.preventDefault();
  open(Object.fromEntries(new FormData(event.target)));
});
document.addEventListener("click", async (event) => {
  const { close: shuts, word, louder, remove, widen, what, by, untempo, history } = event.target.closest("button")?.dataset ?? {};
  if (shuts !== undefined) close();
  else if (word) change({ word });
  else if (louder && panel().dataset.id === "0") change({ offset_db: louder });
  else if (louder) pull(panel().dataset.id, Number(louder), true);
  else if (remove !== undefined) { await post(`passages/${panel().dataset.id}/remove`, {}); close(); drawn(); }
  else if (widen) post(`steps/${widen}`, { what, by });
  else if (untempo) post(`tempi/${untempo}/remove`, {});
  else if (history) { await post(`history/${history}`, {}); drawn(); }
});
async function pull(id, by, keep = false) { // a passage louder by so many decibels
  await post(`steps/${id}`, { louder_db: by });
  if (keep) await open({ passage: id }, false);
}

// Edges and steps: dragged, or moved by key.
const sliders = ".band-edge, .step-handle";
let held = null;
function moved(edge, note) {
  const { edge: side, passage, note: was } = edge.dataset;
  if (!note || note === was) return;
  const other = document.querySelector(`[data-passage="${passage}"][data-edge="${side === "start" ? "end" : "start"}"]`).dataset.note;
  const [start, end] = side === "start" ? [note, other] : [other, note];
  if (at(start) <= at(end)) post("passages", { id: passage, start, end });
}
music.addEventListener("pointerdown", (event) => {
  const handle = event.target.closest(sliders);
  if (event.button) return;
  if (handle) {
    held = { handle, y: event.clientY };
    music.setPointerCapture(event.pointerId);
    event.preventDefault();
    return;
  }
  const note = noteAt(event);
  if (!note) return;
  held = { from: note, to: note, band: event.target.closest("[data-band]")?.dataset.band, tempo: event.target.closest("[data-tempo]") };
  if (event.pointerType === "mouse") event.preventDefault();
  music.focus({ preventScroll: true });
});
music.addEventListener("pointermove", (event) => {
  if (!held) return;
  if (held.handle?.dataset.edge) {
    held.note = noteAt(event) ?? held.note;
    if (held.note) drawn(held.note, held.note);
  } else if (held.handle) {
    held.by = Math.round((held.y - event.clientY) / 4);
    held.handle.setAttribute("transform", `translate(0 ${-4 * held.by})`);
    status.textContent = held.by ? `${Math.abs(held.by)} dB ${held.by > 0 ? "louder" : "softer"}` : "";
  } else {
    held.to = noteAt(event) ?? held.to;
    if (held.to !== held.from) { held.band = null; drawn(held.from, held.to); }
  }
});
music.addEventListener("pointercancel", () => { held = null; drawn(); });
music.addEventListener("pointerup", () => {
  const { handle, note, by, from, to, band, tempo } = held ?? {};
  held = null;
  if (handle?.dataset.edge) { drawn(); moved(handle, note); }
  else if (handle && by) pull(handle.dataset.step, Math.max(-12, Math.min(12, by)));
  else if (handle) handle.focus();
  else if (tempo) open({ start: tempo.dataset.tempo, end: tempo.dataset.tempo });
  else if (band) open({ passage: band });
  else if (from) open(at(from) <= at(to) ? { start: from, end: to } : { start: to, end: from });
});
music.addEventListener("keydown", (event) => {
  const handle = event.target.closest(sliders);
  const band = event.target.closest("[data-band], [data-tempo]");
  const along = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
  if (handle?.dataset.edge && along) moved(handle, order[at(handle.dataset.note) + along]);
  else if (handle && up) pull(handle.dataset.step, up).then(() => document.querySelector(`[data-step="${handle.dataset.step}"]`)?.focus());
  else if (band && ["Enter", " "].includes(event.key)) {
    open(band.dataset.band ? { passage: band.dataset.band } : { start: band.dataset.tempo, end: band.dataset.tempo });
  } else if (!handle && !band && along) go(along, event.shiftKey);
  else if (!handle && !band && caret && event.key === "Enter") {
    const [start, end] = [anchor ?? caret, caret].sort((one, other) => at(one) - at(other));
    open({ start, end });
  } else return;
  event.preventDefault();
});
function go(by, further) {
  const next = order[caret === null ? 0 : Math.min(Math.max(at(caret) + by, 0), order.length - 1)];
  anchor = further ? anchor ?? caret ?? next : null;
  caret = next;
  drawn(anchor ?? caret, caret);
  document.querySelector(".drawn-over")?.scrollIntoView({ block: "nearest" });
  status.textContent = anchor && anchor !== caret ? `${Math.abs(at(caret) - at(anchor)) + 1} notes` : `Note ${at(caret) + 1} of ${order.length}`;
}
document.addEventListener("keydown", (event) => {
  if (event.key === "Escape") close();
  if (event.target.closest("input, select, textarea")) return;
  if (event.key.toLowerCase() !== "z" || event.altKey) return;
  event.preventDefault();
  document.querySelector(`[data-history=${event.shiftKey ? "redo" : "undo"}]:enabled`)?.click();
});
addEventListener("resize", () => { if (!panel().hidden) place(panel()); });

// Lines come as they near the view.
const near = new IntersectionObserver((seen) => {
  const coming = seen.filter(({ isIntersecting, target }) => isIntersecting && target.querySelector(".to-come")).map(({ target }) => target);
  for (const line of coming) near.unobserve(line);
  if (coming.length) come(coming.map((line) => line.dataset.line).join(" "));
}, { rootMargin: "900px 0px" });
for (const line of lines()) if (line.querySelector(".to-come")) near.observe(line);
