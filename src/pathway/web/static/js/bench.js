// The bench under the hands: one question at a time goes to the server, always the newest.
import { hear } from "./sound/clip.js";

const form = document.getElementById("bench");
const field = (name) => form.elements[name];
const chosen = { place: false, share: false };
let asking = false;
let again = false;

function shown() {
  for (const name of ["place", "share"]) form.querySelector(`[data-shows=${name}]`).textContent = field(name).value;
}

function asked() {
  const values = new URLSearchParams(new FormData(form));
  for (const name of ["place", "share"]) if (!chosen[name]) values.delete(name);
  if (!values.get("tilt")) values.delete("tilt");
  return values;
}

const listens = form.querySelector("[data-clip]");
const tune = () => { listens.dataset.clip = `/bench/sound.wav?${asked()}`; };

async function ask() {
  if (asking) { again = true; return; }
  asking = true;
  const values = asked();
  await htmx.ajax("GET", `/bench/figures?${values}`, { target: "#figures", swap: "innerHTML" });
  settle();
  asking = false;
  tune();
  if (again) { again = false; ask(); }
}

function settle() { // sliders follow what was found, unless a hand is on them
  const found = document.querySelector("[data-best]");
  if (!found) return;
  field("place").min = found.dataset.near;
  field("place").max = found.dataset.far;
  for (const name of ["place", "share"]) if (!chosen[name]) field(name).value = found.dataset[name];
  shown();
}

document.addEventListener("input", (event) => {
  const name = event.target.name;
  if (event.target.form !== form) return;
  if (name in chosen) chosen[name] = true;
  else if (["rig", "lower"].includes(name)) field("tilt").value = "";
  if (!(name in chosen) && !["notes", "begins", "bow"].includes(name)) chosen.place = chosen.share = false;
  if (name === "rig") { location.href = `/bench?rig=${field("rig").value}`; return; }
  shown();
  ask();
});
document.addEventListener("change", (event) => { // let go while it sounds: heard anew
  if (event.target.form === form && listens.getAttribute("aria-pressed") === "true") {
    tune();
    listens.setAttribute("aria-pressed", "false");
    hear([listens.dataset.clip], listens);
  }
});
form.querySelector("[data-back]").addEventListener("click", () => { chosen.place = chosen.share = false; field("tilt").value = ""; ask(); });

function turn(picture, degrees) {
  const limit = Number(picture.getAttribute("aria-valuemax"));
  const level = Math.max(-limit, Math.min(limit, degrees));
  picture.querySelector("[data-turned]").setAttribute("transform", `rotate(${level} ${picture.dataset.cx} ${picture.dataset.cy})`);
  field("tilt").value = level.toFixed(2);
}

let drag = null;
document.addEventListener("pointerdown", (event) => {
  const picture = event.target.closest("[data-picture=level]");
  if (!picture || !event.target.closest("[data-turned]")) return;
  event.preventDefault();
  drag = { picture, from: angleAt(picture, event), level: Number(picture.dataset.level) };
});
document.addEventListener("pointermove", (event) => {
  if (!drag) return;
  turn(document.querySelector("[data-picture=level]"), drag.level + angleAt(drag.picture, event) - drag.from);
  ask();
});
for (const end of ["pointerup", "pointercancel"]) document.addEventListener(end, () => { drag = null; });

function angleAt(picture, event) { // how far the pointer lies to the side, as seen from the bow's middle
  const box = document.querySelector("[data-picture=level]").getBoundingClientRect();
  const x = (event.clientX - box.left) / box.width - 0.5;
  const y = (event.clientY - box.top) / box.height - 0.25;
  return (Math.sign(x) || 1) * (y * 90);
}

document.addEventListener("keydown", (event) => {
  const picture = event.target.closest?.("[data-picture=level]");
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
  if (!picture || !by) return;
  event.preventDefault();
  turn(picture, Number(field("tilt").value || picture.dataset.level) + by);
  ask().then?.(() => document.querySelector("[data-picture=level]")?.focus());
});
document.addEventListener("htmx:after:swap", () => {
  if (document.activeElement === document.body && field("tilt").value) document.querySelector("[data-picture=level]")?.focus({ preventScroll: true });
});

shown();
tune();
