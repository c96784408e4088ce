// A take is heard: slower without another pitch, from any note, with the line moving over the music; another one too.
import { clear, move, spot } from "../shared/line.js";

const sound = document.getElementById("sound");
const { take, takes } = document.getElementById("take").dataset;
const MOST_MARKED = 24;
const BEFORE = 0.15; // s that a note is heard from
const mine = { address: take, notes: [] };
const other = { address: null, notes: [] };
let heard = mine; // what sounds

document.addEventListener("htmx:after:swap", ready);

async function ready() {
  for (const line of document.querySelectorAll("[data-signs]")) line.style.marginTop = `${line.dataset.signs}%`;
  if (!document.getElementById("sheet")) return;
  const beside = document.querySelector("[data-other]")?.dataset.other;
  const address = beside ? `${takes}/${beside}` : null;
  if (address !== other.address) {
    Object.assign(other, { address, notes: [] });
    if (!address && heard === other) turn();
  }
  for (const one of [mine, other]) {
    if (!one.address || one.notes.length) continue;
    const answer = await fetch(`${one.address}/times.json`).catch(() => null);
    if (answer?.ok) one.notes = (await answer.json()).notes;
  }
}

const here = () => heard.notes.findLastIndex(([, begin]) => begin <= sound.currentTime);

function from(note) {
  const found = heard.notes.find(([id]) => id === note);
  if (!found) return;
  const start = () => {
    sound.currentTime = Math.max(0, found[1] - BEFORE);
    sound.play();
  };
  if (sound.readyState > 0) start();
  else sound.addEventListener("loadedmetadata", start, { once: true });
}

function turn() { // to the other take, at the note that sounds
  const note = heard.notes[here()]?.[0];
  const [playing, speed] = [!sound.paused, sound.playbackRate];
  heard = heard === mine && other.address ? other : mine;
  sound.src = `${heard.address}/sound.flac`;
  sound.addEventListener("loadedmetadata", () => { sound.playbackRate = speed; }, { once: true });
  const told = document.querySelector("[data-turn]");
  if (told) told.setAttribute("aria-pressed", String(heard === other));
  clear();
  if (playing && note) from(note);
}

function choose(note) { // its card, and the notes of what is said
  mark([note]);
  htmx.ajax("GET", `${take}/notes/${note}`, { target: "#of-note", swap: "innerHTML" });
}

function mark(notes) { // what is said of nearly all of them marks none
  if (notes.length > MOST_MARKED) notes = [];
  for (const hit of document.querySelectorAll(".hit")) hit.classList.toggle("meant", notes.includes(hit.dataset.note));
}

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-speed]")) {
    sound.playbackRate = Number(on("[data-speed]").dataset.speed);
    for (const one of document.querySelectorAll("[data-speed]")) one.setAttribute("aria-pressed", String(one === on("[data-speed]")));
  } else if (on("[data-turn]")) turn();
  else if (on("[data-tune]")) {
    const pressed = on("[data-tune]").getAttribute("aria-pressed") !== "true";
    on("[data-tune]").setAttribute("aria-pressed", String(pressed));
    document.getElementById("sheet").classList.toggle("in-tune", pressed);
  } else if (on("[data-hear-notes]")) {
    const notes = on("[data-hear-notes]").dataset.hearNotes.split(" ");
    mark(notes);
    from(notes[0]);
    document.querySelector(`.hit[data-note="${CSS.escape(notes[0])}"]`)?.scrollIntoView({ block: "center" });
  } else if (on(".hit")) {
    from(on(".hit").dataset.note);
    choose(on(".hit").dataset.note);
  }
});

document.addEventListener("keydown", (event) => {
  const typing = event.target.closest("input, select, textarea, audio");
  if (event.ctrlKey || event.metaKey || event.altKey || typing) return;
  if (event.key === " " && !event.target.closest("button, a")) {
    event.preventDefault();
    if (sound.paused) sound.play(); else sound.pause();
  } else if (event.key === "b" && other.address) turn();
  else if (event.key === "ArrowRight" || event.key === "ArrowLeft") {
    const next = heard.notes[here() + (event.key === "ArrowRight" ? 1 : -1)];
    if (!next) return;
    event.preventDefault();
    sound.currentTime = next[1] + 0.01;
    choose(next[0]);
  }
});

sound.addEventListener("timeupdate", () => {
  const hits = [here(), here() + 1].map((i) => heard.notes[i] && document.querySelector(`.hit[data-note="${CSS.escape(heard.notes[i][0])}"]`));
  const [at, then] = hits.map((hit) => spot(hit));
  if (!at) return;
  const [, begin, end] = heard.notes[here()];
  const before = document.querySelector("#sheet .play-line")?.ownerSVGElement;
  move(at, then, Math.min(1, Math.max(0, (sound.currentTime - begin) / Math.max(end - begin, 0.01))));
  if (before !== at.tracks) at.tracks.closest(".system").scrollIntoView({ block: "nearest" });
});
ready();
