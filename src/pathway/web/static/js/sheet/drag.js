// Handles on the chosen stroke: drag its start or end along the hair, or the lane of the selected note.
import { sheet } from "./lines.js";
import { hitOf, ribbonOf, state } from "./selection.js";
import { edit } from "./edits.js";

const NS = "http://www.w3.org/2000/svg";
const GRIP = 22; // half of a fingertip's 44 px
let held = null;
let drawn = null; // the handles now

function make(name, attributes, parent) {
  const node = document.createElementNS(NS, name);
  for (const [key, value] of Object.entries(attributes)) node.setAttribute(key, value);
  parent.append(node);
  return node;
}

const ends = (path) => path.getAttribute("d").match(/-?[\d.]+/g).map(Number);

function place() {
  drawn?.remove();
  const ribbon = ribbonOf(state.selected);
  const pieces = ribbon?.querySelectorAll("[class^=tone-], [class^=shade-]");
  if (!pieces?.length) return;
  const tracks = ribbon.ownerSVGElement;
  const group = drawn = make("g", { class: "handles", "aria-hidden": "true" }, tracks);
  const notes = ribbon.dataset.notes.split(" ");
  const [x0, y0] = ends(pieces[0]);
  const [, , x1, y1] = ends(pieces[pieces.length - 1]);
  const spots = [];
  if (tracks.querySelector(`[data-note="${CSS.escape(notes[0])}"]`)) spots.push(["start", x0, y0]);
  if (tracks.querySelector(`[data-note="${CSS.escape(notes.at(-1))}"]`)) spots.push(["end", x1, y1]);
  const dot = laneDot(tracks);
  if (dot) spots.push(["lane", Number(dot.getAttribute("cx")), Number(dot.getAttribute("cy"))]);
  for (const [what, x, y] of spots) {
    const size = what === "lane" ? 4 : 5.5;
    make("circle", { class: "handle", cx: x, cy: y, r: size, "data-handle": what }, group);
    const grip = make("rect", { class: "handle-grip", x: x - (what === "lane" ? 8 : 11), y: y - GRIP, width: what === "lane" ? 16 : 22, height: 2 * GRIP, "data-grip": what }, group);
    grip.dataset.x = x;
    grip.dataset.y = y;
  }
}

function laneDot(tracks) {
  const hit = hitOf(state.selected);
  if (!hit || hit.ownerSVGElement !== tracks) return null;
  const from = Number(hit.getAttribute("x"));
  const to = from + Number(hit.getAttribute("width"));
  return [...tracks.querySelectorAll(".lane-dot")].find((dot) => {
    const x = Number(dot.getAttribute("cx"));
    return x >= from && x <= to;
  });
}

function local(tracks, event) {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(tracks.getScreenCTM().inverse());
  return at.y;
}

document.addEventListener("pointerdown", (event) => {
  const grip = event.target.closest("[data-grip]");
  if (!grip) return;
  event.preventDefault();
  event.stopPropagation();
  const tracks = grip.ownerSVGElement;
  const other = tracks.querySelector(`[data-grip=${grip.dataset.grip === "end" ? "start" : "end"}]`);
  held = { what: grip.dataset.grip, tracks, x: Number(grip.dataset.x), other, y: Number(grip.dataset.y), moved: false };
  grip.setPointerCapture(event.pointerId);
});

document.addEventListener("pointermove", (event) => {
  if (!held) return;
  const { tracks, what } = held;
  const [top, size] = what === "lane" ? [Number(tracks.dataset.lanesTop), 6 * tracks.dataset.lane] : [Number(tracks.dataset.hairTop), Number(tracks.dataset.hair)];
  held.y = Math.min(Math.max(local(tracks, event), top), top + size);
  held.moved = true;
  tracks.querySelector(`[data-handle=${what}]`)?.setAttribute("cy", held.y);
  if (what === "lane" || !held.other) return;
  let line = tracks.querySelector(".drawn");
  line ??= make("path", { class: "drawn" }, tracks.querySelector(".handles"));
  line.setAttribute("d", `M${held.other.dataset.x} ${held.other.dataset.y}L${held.x} ${held.y}`);
});

for (const end of ["pointerup", "pointercancel"]) document.addEventListener(end, () => {
  if (!held) return;
  const { tracks, what, y, moved } = held;
  held = null;
  if (!moved || end === "pointercancel") { place(); return; }
  if (what === "lane") edit("lane", { value: Math.min(Math.floor((y - tracks.dataset.lanesTop) / tracks.dataset.lane) + 1, 6) });
  else edit(what, { value: ((y - tracks.dataset.hairTop) / tracks.dataset.hair * tracks.dataset.hairCm).toFixed(1) });
});

sheet.addEventListener("marked", place);
document.addEventListener("htmx:before:swap", () => drawn?.remove()); // what comes is compared with what is there
