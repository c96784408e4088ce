// A take is heard: slower without another pitch, from any note, with the line moving over the music.
const NS = "http://www.w3.org/2000/svg";
const sound = document.getElementById("sound");
const address = document.getElementById("take").dataset.take;
const BEFORE = 0.15; // s that a note is heard from
let notes = [];

document.addEventListener("htmx:after:swap", ready);

async function ready() {
  for (const line of document.querySelectorAll("[data-signs]")) line.style.marginTop = `${line.dataset.signs}%`;
  if (notes.length || !document.getElementById("sheet")) return;
  const answer = await fetch(`${address}/times.json`).catch(() => null);
  if (answer?.ok) notes = (await answer.json()).notes;
}

function from(note) {
  const found = notes.find(([id]) => id === note);
  if (!found) return;
  sound.currentTime = Math.max(0, found[1] - BEFORE);
  sound.play();
}

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-speed]")) {
    sound.playbackRate = Number(on("[data-speed]").dataset.speed);
    for (const one of document.querySelectorAll("[data-speed]")) one.setAttribute("aria-pressed", String(one === on("[data-speed]")));
  } else if (on("[data-hear-note]")) from(on("[data-hear-note]").dataset.hearNote);
  else if (on(".hit")) from(on(".hit").dataset.note);
});

document.addEventListener("keydown", (event) => {
  if (event.key !== " " || event.target.closest("input, button, a, audio")) return;
  event.preventDefault();
  if (sound.paused) sound.play(); else sound.pause();
});

sound.addEventListener("timeupdate", () => {
  const here = notes.findLast(([, begin]) => begin <= sound.currentTime);
  const hit = here && document.querySelector(`.hit[data-note="${CSS.escape(here[0])}"]`);
  if (!hit) return;
  const tracks = hit.ownerSVGElement;
  let line = document.querySelector("#sheet .play-line");
  if (line?.ownerSVGElement !== tracks) {
    line?.remove();
    line = document.createElementNS(NS, "path");
    line.setAttribute("class", "play-line");
    tracks.append(line);
    tracks.closest(".system").scrollIntoView({ block: "nearest" });
  }
  const x = Number(hit.getAttribute("x")) + Math.min(Number(hit.getAttribute("width")) / 2, 16);
  line.setAttribute("d", `M${x.toFixed(1)} 0V${tracks.viewBox.baseVal.height}`);
});
ready();
