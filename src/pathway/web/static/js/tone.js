// The tone map under the hand: the point is a place and a weight; both are set when it is let go.
import { hear } from "./sound/clip.js";
import { set as keep, wish } from "./sound/voice.js";

const page = document.getElementById("tone");
const address = `/pieces/${page.dataset.piece}`;

async function set(edit) {
  const { note, version } = page.dataset;
  const body = new URLSearchParams({ notes: note, note, version, ...edit });
  const answer = await fetch(`${address}/edit`, { method: "POST", body, headers: { "HX-Request": "true" } });
  if (answer.ok) location.replace(`${address}/tone?note=${note}`);
  else document.getElementById("message").innerHTML = await answer.text();
}

const listening = document.getElementById("listening");
listening.checked = wish.listening === true;
listening.addEventListener("change", () => keep("listening", listening.checked));
const PAUSE = 250; // ms between two sounds of a point on its way
let heardAt = 0;

function pointed() { // where the point is: lane, counted through, and weight on the leading string
  const { left, right, top, bottom, least, most } = held.ownerSVGElement.dataset;
  const [x, y] = [Number(held.getAttribute("cx")), Number(held.getAttribute("cy"))];
  return { lane: (x - left) / (right - left) * 6, force: least * (most / least) ** ((bottom - y) / (bottom - top)) };
}

function hearPoint() {
  if (!listening.checked || performance.now() - heardAt < PAUSE) return;
  heardAt = performance.now();
  const { note, version } = page.dataset;
  const { lane, force } = pointed();
  hear([`${address}/sound.wav?${new URLSearchParams({ scope: "note", note, version, lane: lane.toFixed(2), force: force.toFixed(3) })}`]);
}

let held = null;
document.addEventListener("pointerdown", (event) => {
  if (!event.target.matches("[data-point]")) return;
  event.preventDefault();
  held = event.target;
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  const map = held.ownerSVGElement;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(map.getScreenCTM().inverse());
  const { left, right, top, bottom } = map.dataset;
  held.setAttribute("cx", Math.min(Math.max(at.x, left), right));
  held.setAttribute("cy", Math.min(Math.max(at.y, top), bottom));
  hearPoint();
});
document.addEventListener("pointerup", () => {
  if (!held) return;
  const { lane, force } = pointed();
  const whole = force + Number(held.ownerSVGElement.dataset.others);
  held = null;
  set({ what: "point", value: `${Math.min(Math.floor(lane) + 1, 6)} ${whole.toFixed(3)}` });
});
document.addEventListener("click", (event) => {
  const move = event.target.closest("[data-move]");
  if (move) set(move.dataset.step ? { what: move.dataset.move, step: move.dataset.step } : { what: move.dataset.move });
  const colour = event.target.closest("[data-colour]");
  if (!colour) return;
  document.cookie = `colour=${colour.dataset.colour}; path=/; samesite=strict; max-age=31536000`;
  location.href = address;
});
