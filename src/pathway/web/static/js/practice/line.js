// A try: a bar counted in, the click, and the line that moves over the music, all on the audio clock.
import { clear, move, spot } from "../shared/line.js";
import { click, play, sound, voice } from "../sound/voice.js";

const AHEAD = 0.15; // s that clicks are scheduled ahead
const LATE = 0.1; // s: what is later, since the page was out of sight, is left out
export const CLICKS = ["on every bar", "on every second bar", "off"];
let running = null;

const hits = () => new Map([...document.querySelectorAll("#sheet .hit")].map((hit) => [hit.dataset.note, hit]));

export const isRunning = () => running !== null;

export async function start({ query, clicks, second, over }) {
  const { context, out } = voice();
  const mine = { over, sounds: [] };
  running = mine;
  const answer = await fetch(`/practise/drill/times.json?${query}`).catch(() => null);
  const part = second ? await sound(`/practise/drill/second.wav?${query}`).catch(() => null) : null;
  if (mine !== running) return;
  if (!answer?.ok) { running = null; throw new Error("The server does not answer. Press again when it is back."); }
  const { beats, notes, hair } = await answer.json();
  const gap = beats.length > 1 ? beats[1][0] - beats[0][0] : 1;
  const bar = Math.max(2, beats.slice(1).findIndex(([, first]) => first) + 1);
  const begin = beats[0]?.[0] ?? 0;
  const zero = context.currentTime + 0.12 + bar * gap;
  for (let i = 0; i < bar; i += 1) click(zero - (bar - i) * gap, i === 0, out);
  if (part) mine.sounds.push(play(part.buffer, zero + (notes[0]?.[1] ?? 0) - begin, out));
  let bars = -1;
  const sounding = beats.map(([time, first]) => { bars += first ? 1 : 0; return [time, first, clicks === 0 || (clicks === 1 && bars % 2 === 0)]; });
  Object.assign(mine, {
    zero, begin, hair, beats: sounding, next: 0, hits: hits(), started: context.currentTime,
    notes: notes.map(([id, from, to, a, b]) => ({ id, from, to, a, b })), end: Math.max(...notes.map(([, , to]) => to), begin),
  });
  mine.frame = requestAnimationFrame(tick);
}

export function stop() {
  if (!running) return 0;
  const played = running.started === undefined ? 0 : voice().context.currentTime - running.started;
  cancelAnimationFrame(running.frame);
  for (const one of running.sounds) one.hush();
  running = null;
  clear();
  return played;
}

function tick() {
  if (!running) return;
  const { context, out } = voice();
  const { beats, zero, begin, end } = running;
  for (; beats[running.next]; running.next += 1) {
    const [time, first, sounds] = beats[running.next];
    const at = zero + time - begin;
    if (at > context.currentTime + AHEAD) break;
    if (sounds && at > context.currentTime - LATE) click(Math.max(at, context.currentTime), first, out);
  }
  const now = context.currentTime - zero + begin;
  if (now > end + 0.3) { const { over } = running; over(stop()); return; }
  show(Math.max(now, begin));
  running.frame = requestAnimationFrame(tick);
}

function spotOf(note) {
  if (!running.hits.get(note?.id)?.isConnected) running.hits = hits(); // the line was drawn anew
  return spot(note && running.hits.get(note.id));
}

function show(time) {
  const { notes, hair } = running;
  const i = Math.max(0, notes.findLastIndex(({ from }) => from <= time + 1e-6));
  const [here, next] = [notes[i], notes[i + 1]];
  const [at, then] = [spotOf(here), spotOf(next)];
  if (!at) return;
  const share = Math.min(1, Math.max(0, (time - here.from) / Math.max((next?.from ?? here.to) - here.from, 1e-3)));
  const bowed = Math.min(1, Math.max(0, (time - here.from) / Math.max(here.to - here.from, 1e-3)));
  move(at, then, share, (here.a + bowed * (here.b - here.a)) / hair);
  if (running.tracks !== at.tracks) at.tracks.closest(".system").scrollIntoView({ block: "center" });
  running.tracks = at.tracks;
}
