// Playing along: the plan on its strings, a click and a drone, and a line over the sheet, all led by the audio clock.
import { say } from "../shared/say.js";
import { clear, dot, move, spot } from "../shared/line.js";
import { hush } from "./clip.js";
import { click, play, sound, voice, wish } from "./voice.js";

const AHEAD = 0.15; // s that clicks are scheduled ahead
const FETCHED = 3; // s that the strings are
const CHANGED = 0.3; // s that a change needs at least until it is heard, from the next bar on
const COUNT_IN = 1; // bars
let running = null;
let page = null; // where it plays: base, piece, has(note), hitOf(note), range(), from(), follow(note)

export const playOn = (where) => { page = where; };

async function score() {
  const answer = await fetch(`${page.base}/beats.json`);
  const { notes, ...rest } = await answer.json();
  return { ...rest, notes: notes.map(([id, from, to, start, end]) => ({ id, from, to, start, end })) };
}

function drone() { // a fifth over a tone, as plain as may be
  const { context } = voice();
  for (const [ratio, gain] of [[1, 0.1], [1.5, 0.05], [2, 0.03]]) {
    const tone = new OscillatorNode(context, { frequency: Number(wish.drone) * ratio, type: "triangle" });
    const level = new GainNode(context, { gain });
    tone.connect(level).connect(running.out);
    tone.start();
    running.drones.push(tone);
  }
}

export async function start() {
  hush();
  const { context, out } = voice();
  const { beats, notes, hair, spans, version } = await score();
  const all = notes.filter(({ id }) => page.has(id));
  const range = page.range();
  const loops = range.length > 1;
  const first = all.findIndex(({ id }) => id === (loops ? range[0] : page.from()));
  const last = loops ? all.findIndex(({ id }) => id === range.at(-1)) : all.length - 1;
  if (first < 0) return;
  const begin = all[first].from;
  const finish = Math.max(all[last].to, all[last + 1]?.from ?? 0);
  const mine = { out: new GainNode(context), all, begin, finish, length: finish - begin, loops, hair, version, sounds: [], drones: [], frame: 0 };
  running = mine;
  running.out.connect(out);
  running.beats = beats.filter(([time]) => time >= begin - 1e-6 && time < finish - 1e-6);
  running.ends = beats.at(-1)?.[0];
  running.whole = cut(spans, begin);
  running.queue = { round: 0, span: 0, spans: running.whole };
  running.clicks = { round: 0, beat: 0 };
  const ready = await fetchSpan(running.whole[0]);
  if (mine !== running) return;
  const gap = beats.length > 1 ? beats[1][0] - beats[0][0] : 0.5;
  const bar = Math.max(2, beats.slice(1).findIndex(([, isFirst]) => isFirst) + 1);
  const counted = wish.countIn ? COUNT_IN * bar : 0;
  running.zero = context.currentTime + 0.1 + counted * gap;
  for (let i = 0; i < counted; i += 1) click(running.zero - (counted - i) * gap, i === 0, running.out);
  strings(ready);
  if (wish.drone) drone();
  for (const button of document.querySelectorAll("[data-play]")) button.setAttribute("aria-pressed", "true");
  running.frame = requestAnimationFrame(tick);
}

const elapsed = () => voice().context.currentTime - running.zero;
const when = (time, round) => running.zero + round * running.length + time - running.begin; // on the audio clock

function cut(spans, from) { // what of the stretches lies between here and the end
  const last = running.finish - 1e-4;
  return spans.filter(([begin, end]) => end > from + 1e-4 && begin < last).map(([begin, end]) => [Math.max(begin, from), Math.min(end, last)]);
}

function fetchSpan([begin, end]) { // the strings, and the second part along with them
  const span = { begin: (begin - 1e-4).toFixed(4), end: (end - 1e-4).toFixed(4), version: running.version };
  const part = wish[`second-${page.piece}`];
  const wanted = [];
  if (wish.strings) wanted.push(`sound.wav?${new URLSearchParams({ ...span, alone: wish.alone })}`);
  if (part) wanted.push(`second.wav?${new URLSearchParams({ ...span, part, plain: wish.plain })}`);
  const fetched = wanted.map((address) => sound(`${page.base}/${address}`).catch((refused) => {
    if (!refused.message.includes("nothing to play")) { stop(); say(refused.message); }
    return null;
  }));
  return Promise.all(fetched).then((found) => found.filter(Boolean));
}

function strings(found) { // the stretch that is next; then comes the one after it
  const { round, span, spans } = running.queue;
  for (const { buffer, begins } of found) running.sounds.push({ ...play(buffer, when(begins, round), running.out), round, ends: spans[span][1] });
  running.sounds = running.sounds.slice(-12);
  advance();
}

function advance() {
  const { round, span, spans } = running.queue;
  const over = running.loops && span + 1 === spans.length;
  running.queue = over ? { round: round + 1, span: 0, spans: running.whole } : { round, span: span + 1, spans };
}

function askAhead() { // before it is due; what is over, since the page was out of sight, is left out
  const { length, begin } = running;
  const isOver = ({ round, span, spans }) => spans[span] && round * length + spans[span][1] - begin < elapsed();
  while (isOver(running.queue)) advance();
  const { queue } = running;
  const { round, span, spans } = queue;
  if (running.asking === queue || !spans[span]) return;
  if (round * length + spans[span][0] - begin - elapsed() > FETCHED) return;
  const mine = running;
  running.asking = queue;
  fetchSpan(spans[span]).then((found) => mine === running && running.queue === queue && strings(found));
}

export async function changed(version) { // an edit: heard from the next bar on, if its times are as they were
  if (running?.zero === undefined || running.version === version) return;
  const mine = running;
  running.version = version;
  const { beats, notes, spans } = await score();
  if (mine !== running) return;
  if (Math.abs((beats.at(-1)?.[0] ?? 0) - (running.ends ?? 0)) > 1e-3) { stop(); return; }
  running.all = notes.filter(({ id }) => page.has(id));
  running.whole = cut(spans, running.begin);
  const round = Math.max(0, Math.floor(elapsed() / running.length));
  const soon = running.begin + Math.max(0, elapsed() - round * running.length) + CHANGED;
  const from = running.beats.find(([time, isFirst]) => isFirst && time >= soon)?.[0] ?? running.finish;
  for (const one of running.sounds) if (one.round > round || one.ends > from) one.hush(when(from, round));
  running.queue = from < running.finish ? { round, span: 0, spans: cut(spans, from) } : { round: round + 1, span: 0, spans: running.loops ? running.whole : [] };
}

export function stop() {
  if (!running) return;
  cancelAnimationFrame(running.frame);
  const { out, sounds, drones } = running;
  for (const one of sounds) one.hush();
  for (const tone of drones) tone.stop(voice().context.currentTime + 0.1);
  out.gain.setTargetAtTime(0, voice().context.currentTime, 0.01);
  setTimeout(() => out.disconnect(), 100);
  running = null;
  clear();
  for (const button of document.querySelectorAll("[data-play]")) button.setAttribute("aria-pressed", "false");
}

export const toggle = () => (running ? stop() : start());

function tick() {
  if (!running) return;
  const { beats, begin, length, loops, clicks } = running;
  const { context } = voice();
  while (beats[clicks.beat]) {
    const [time, isFirst] = beats[clicks.beat];
    const at = when(time, clicks.round);
    if (at > context.currentTime + AHEAD) break;
    if (wish.click) click(Math.max(at, context.currentTime), isFirst, running.out);
    clicks.beat += 1;
    if (loops && !beats[clicks.beat]) [clicks.round, clicks.beat] = [clicks.round + 1, 0];
  }
  askAhead();
  const now = Math.max(0, elapsed());
  if (!loops && now > length) { stop(); return; }
  show(begin + (loops ? now % length : now));
  running.frame = requestAnimationFrame(tick);
}

function show(time) {
  const { all, hair } = running;
  const i = Math.max(0, all.findLastIndex(({ from }) => from <= time + 1e-6));
  const [here, next] = [all[i], all[i + 1]];
  page.follow(here.id);
  const [at, then] = [spot(page.hitOf(here.id)), spot(next && page.hitOf(next.id))];
  if (!at) return;
  const share = Math.min(1, (time - here.from) / Math.max((next?.from ?? here.to) - here.from, 1e-3));
  const bowed = Math.min(1, (time - here.from) / Math.max(here.to - here.from, 1e-3));
  const place = (here.start + bowed * (here.end - here.start)) / hair;
  move(at, then, share, place);
  const bow = document.querySelector('[data-picture="bow"]');
  if (bow) dot(bow, 26 + place * 270, 40);
}

document.addEventListener("click", (event) => event.target.closest("[data-play]") && toggle());
