// Recording: a second of the room, a bar counted in, and pieces sent while it goes on, so that a crash costs seconds.
import { say } from "../shared/say.js";
import { click, voice } from "../sound/voice.js";

const ASKED = { audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false, channelCount: 1 } };
const SENT_EVERY = 3; // s
const ROOM = 1; // s of it before the count-in
const page = document.getElementById("takes").dataset;
const button = document.getElementById("record");
const told = document.getElementById("told");
const base = `/pieces/${page.piece}/takes`;
let running = null;

async function start() {
  const { context, out } = voice();
  let stream;
  try {
    stream = await navigator.mediaDevices.getUserMedia(ASKED);
  } catch { say("There is no microphone, or it may not be used. Allow it for this page, or drop a file."); return; }
  const [track] = stream.getAudioTracks();
  const { echoCancellation, noiseSuppression, autoGainControl } = track.getSettings();
  if (echoCancellation || noiseSuppression || autoGainControl) say("This device changes what it hears (echo, noise or gain): levels may mislead. Turn that off if you can.");
  await context.audioWorklet.addModule("/static/js/takes/worklet.js");
  const node = new AudioWorkletNode(context, "passing", { numberOfOutputs: 0 });
  context.createMediaStreamSource(stream).connect(node);
  const mine = { stream, node, token: crypto.randomUUID().replaceAll("-", ""), rate: context.sampleRate, waiting: [], sent: 0, sending: Promise.resolve() };
  running = mine;
  node.port.onmessage = ({ data }) => take(mine, data);
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
  if (mine.waiting.length * samples.length >= SENT_EVERY * mine.rate) send(mine);
}

function send(mine) { // in turn; a piece that was lost is sent again
  const samples = mine.waiting.splice(0).flatMap((piece) => [...piece]);
  if (!samples.length) return mine.sending;
  const data = new Int16Array(samples.map((sample) => Math.max(-1, Math.min(1, sample)) * 32767));
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
  for (const track of mine.stream.getTracks()) track.stop();
  mine.node.disconnect();
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
