// Recording: a second of the room, a bar counted in, and pieces sent while it goes on, so that a crash costs seconds.
import { say } from "../shared/say.js";
import { open, sixteenBits } from "../sound/microphone.js";
import { click, voice } from "../sound/voice.js";

const SENT_EVERY = 3; // s
const ROOM = 1; // s of it before the count-in
const page = document.getElementById("takes").dataset;
const button = document.getElementById("record");
const told = document.getElementById("told");
const base = `/pieces/${page.piece}/takes`;
let running = null;

async function start() {
  const { context, out } = voice();
  const mine = { token: crypto.randomUUID().replaceAll("-", ""), waiting: [], sent: 0, sending: Promise.resolve() };
  try {
    mine.microphone = await open((samples) => take(mine, samples));
  } catch { say("There is no microphone, or it may not be used. Allow it for this page, or drop a file."); return; }
  mine.rate = mine.microphone.rate;
  if (mine.microphone.changes) say("This device changes what it hears (echo, noise or gain): levels may mislead. Turn that off if you can.");
  running = mine;
  const beat = Number(page.beat);
  const silent = document.getElementById("silent-click").checked;
  for (let i = 0; i < Number(page.beats); i += 1) {
    const at = ROOM + i * beat;
    if (!silent) click(context.currentTime + at, i === 0, out);
    setTimeout(flash, 1000 * at);
  }
  button.setAttribute("aria-pressed", "true");
  button.textContent = "Stop";
  told.textContent = "Recording. Space or the button ends it.";
}

function flash() {
  const light = document.getElementById("flash");
  light.classList.add("on");
  setTimeout(() => light.classList.remove("on"), 120);
}

function take(mine, samples) {
  const loud = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  document.getElementById("level").value = loud;
  if (loud >= 0.99) told.textContent = "Too loud: it is cut off. Move the microphone away.";
  mine.waiting.push(samples);
  if (mine.rate && mine.waiting.length * samples.length >= SENT_EVERY * mine.rate) send(mine);
}

function send(mine) { // in turn; a piece that was lost is sent again
  const data = sixteenBits(mine.waiting.splice(0));
  if (!data.length) return mine.sending;
  const offset = mine.sent;
  mine.sent += data.byteLength;
  const again = async () => {
    const answer = await fetch(`${base}/pieces?token=${mine.token}&offset=${offset}`, { method: "POST", body: data, headers: { "HX-Request": "true" } }).catch(() => null);
    if (answer?.ok) return;
    if (answer && answer.status < 500) { say(await answer.text()); return; }
    await new Promise((wait) => setTimeout(wait, 1000));
    await again();
  };
  mine.sending = mine.sending.then(again);
  return mine.sending;
}

async function stop() {
  const mine = running;
  running = null;
  button.setAttribute("aria-pressed", "false");
  button.textContent = "Record";
  told.textContent = "Keeping it …";
  mine.microphone.close();
  await send(mine);
  htmx.ajax("POST", `${base}/finish`, {
    target: "#message", swap: "innerHTML",
    values: { token: mine.token, rate: mine.rate, first_bar: document.getElementById("first-bar").value, last_bar: document.getElementById("last-bar").value },
  });
}

const toggle = () => (running ? stop() : start());
button.addEventListener("click", toggle);
document.addEventListener("keydown", (event) => {
  if (event.key !== " " || event.target.closest("input, select, button, a")) return;
  event.preventDefault();
  toggle();
});
