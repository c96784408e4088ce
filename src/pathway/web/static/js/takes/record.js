// Recording: a second of the room, a bar counted in, the beats of the bars, and pieces sent while it goes on, so that a
// crash costs seconds. With rounds every time through the bars becomes a take of its own.
import { say } from "../shared/say.js";
import { open, sixteenBits } from "../sound/microphone.js";
import { click, voice } from "../sound/voice.js";

const SENT_EVERY = 3; // s
const ROOM = 1; // s of it before the count-in
const AHEAD = 0.15; // s that clicks are scheduled ahead
const TICK = 25; // ms
const LEAST = 3; // s of a round that is broken off and kept all the same
const page = document.getElementById("takes").dataset;
const button = document.getElementById("record");
const told = document.getElementById("told");
const base = `/pieces/${page.piece}/takes`;
const field = (id) => document.getElementById(id);
const bars = () => ({ first_bar: field("first-bar").value, last_bar: field("last-bar").value });
let running = null;

async function start() {
  voice();
  const chosen = bars();
  const answer = await fetch(`${base}/beats.json?${new URLSearchParams(chosen)}`).catch(() => null);
  if (!answer?.ok) { say("The server does not answer. Press again when it is back."); return; }
  const mine = { ...await answer.json(), bars: chosen, rounds: field("rounds").checked, kept: 0 };
  try {
    mine.microphone = await open((samples) => running && take(running, samples));
  } catch { say("There is no microphone, or it may not be used. Allow it for this page, or drop a file."); return; }
  if (mine.microphone.changes) say("This device changes what it hears (echo, noise or gain): levels may mislead. Turn that off if you can.");
  running = fresh(mine, voice().context.currentTime + ROOM);
  button.setAttribute("aria-pressed", "true");
  button.textContent = "Stop";
  told.textContent = "Recording. Space or the button ends it.";
  tick();
}

function fresh(mine, zero) { // a recording that begins now, its count-in at a time of the audio clock
  const token = crypto.randomUUID().replaceAll("-", "");
  return { ...mine, token, zero, waiting: [], sent: 0, sending: Promise.resolve(), next: 0, begun: voice().context.currentTime };
}

function tick() {
  if (!running) return;
  const { context, out } = voice();
  const { beats, zero, rounds, length } = running;
  const silent = field("silent-click").checked;
  for (; beats[running.next]; running.next += 1) {
    const [time, first] = beats[running.next];
    const at = zero + time;
    if (at > context.currentTime + AHEAD) break;
    if (!silent) click(Math.max(at, context.currentTime), first, out);
    setTimeout(flash, 1000 * Math.max(0, at - context.currentTime), first);
  }
  if (rounds && context.currentTime > zero + length) round();
  setTimeout(tick, TICK);
}

function round() { // this one is kept while the next one is counted in
  const over = running;
  running = fresh({ ...over, kept: over.kept + 1 }, over.zero + over.length);
  told.textContent = `${running.kept} kept. Recording the next one; space or the button ends it.`;
  send(over).then(() => keep(over)).then((answer) => answer?.ok || say("A round could not be kept yet: it waits here."));
}

function flash(first) {
  const light = field("flash");
  light.classList.add(first ? "first" : "on", "on");
  setTimeout(() => light.classList.remove("on", "first"), 120);
}

function take(mine, samples) {
  const loud = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  field("level").value = loud;
  if (loud >= 0.99) told.textContent = "Too loud: it is cut off. Move the microphone away.";
  mine.waiting.push(samples);
  if (mine.waiting.length * samples.length >= SENT_EVERY * mine.microphone.rate) send(mine);
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

const wanted = (mine) => ({ token: mine.token, rate: mine.microphone.rate, ...mine.bars });

function keep(mine) {
  return fetch(`${base}/finish`, { method: "POST", body: new URLSearchParams(wanted(mine)), headers: { "HX-Request": "true" } }).catch(() => null);
}

async function stop() {
  const mine = running;
  running = null;
  button.setAttribute("aria-pressed", "false");
  button.textContent = "Record";
  told.textContent = "Keeping it …";
  mine.microphone.close();
  const played = voice().context.currentTime - mine.zero - mine.count_in;
  if (mine.kept && played < LEAST) { // hardly begun
    await mine.sending;
    await fetch(`${base}/unfinished/${mine.token}/put-away`, { method: "POST", headers: { "HX-Request": "true" } }).catch(() => null);
    location.assign(base);
    return;
  }
  await send(mine);
  if (mine.kept) { await keep(mine); location.assign(base); return; }
  htmx.ajax("POST", `${base}/finish`, { target: "#message", swap: "innerHTML", values: wanted(mine) });
}

const toggle = () => (running ? stop() : start());
button.addEventListener("click", toggle);
document.addEventListener("keydown", (event) => {
  if (event.key !== " " || event.target.closest("input, select, button, a")) return;
  event.preventDefault();
  toggle();
});
