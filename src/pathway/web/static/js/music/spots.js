// Where the notes lie on the page, and which of them are drawn over.
import { lines, music } from "./server.js";

const read = (line) => line.dataset.spots.split(" ").filter(Boolean).map((spot) => spot.split(/:(?=[^:]*$)/));
export const order = lines().flatMap((line) => read(line).map(([note]) => note));
const home = new Map(lines().flatMap((line) => read(line).map(([note, x]) => [note, { line, x: Number(x) }])));
export const at = (note) => order.indexOf(note);
const scale = (line) => line.getBoundingClientRect().width / Number(line.dataset.width);

export function noteAt(event) {
  const line = document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-line]");
  if (!line) return null;
  const x = (event.clientX - line.getBoundingClientRect().left) / scale(line);
  let best = null;
  for (const [note, spot] of read(line)) {
    if (!best || Math.abs(spot - x) < Math.abs(best[1] - x)) best = [note, spot];
  }
  return best?.[0] ?? null;
}

export function drawn(from, to) { // the notes from one to another are marked; none without any
  for (const mark of music.querySelectorAll(".drawn-over")) mark.remove();
  if (!from) return;
  const [a, b] = [at(from), at(to)].sort((one, other) => one - other);
  const inner = new Set(order.slice(a, b + 1));
  for (const line of lines()) {
    const spots = read(line).filter(([note]) => inner.has(note)).map(([, x]) => Number(x));
    if (!spots.length) continue;
    const mark = document.createElement("div");
    mark.className = "drawn-over";
    mark.style.left = `${100 * (spots[0] - 9) / Number(line.dataset.width)}%`;
    mark.style.width = `${100 * (spots.at(-1) - spots[0] + 20) / Number(line.dataset.width)}%`;
    line.append(mark);
  }
}

export function place(panel) { // under the first note of its stretch, in the page
  const spot = home.get(panel.dataset.start);
  if (!spot) return;
  const main = document.getElementById("panel-place").getBoundingClientRect();
  const line = spot.line.getBoundingClientRect();
  const left = Math.min(line.left - main.left + spot.x * scale(spot.line), main.width - panel.offsetWidth - 8);
  panel.style.left = `${Math.max(left, 8)}px`;
  panel.style.top = `${line.bottom - main.top - 4}px`;
  panel.scrollIntoView({ block: "nearest" });
}
