// Playing along: a line over the sheet and a click, both led by the audio clock.
import { base, lineOf } from "./lines.js";
import { chosen, hitOf, state } from "./selection.js";

const AHEAD = 0.15; // s that clicks are scheduled ahead
const COUNT_IN = 1; // bars
const NS = "http://www.w3.org/2000/svg";
let running = null;

async function score() {
  const answer = await fetch(`${base}/beats.json`);
  return answer.json();
}

function click(context, at, first) {
  const tone = context.createOscillator();
  const level = context.createGain();
  tone.frequency.value = first ? 1320 : 880;
  level.gain.setValueAtTime(0.25, at);
  level.gain.exponentialRampToValueAtTime(0.001, at + 0.05);
  tone.connect(level).connect(context.destination);
  tone.start(at);
  tone.stop(at + 0.06);
}

function spot(note) { // where it lies: the overlay of its line and the middle of its head; null before the line has come
  const hit = note && hitOf(note.id);
  if (!hit) return null;
  const [x, width] = [Number(hit.getAttribute("x")), Number(hit.getAttribute("width"))];
  return { tracks: hit.ownerSVGElement, x: x + Math.min(width / 2, 16) };
}

export async function start() {
  const { beats, notes, hair } = await score();
  const all = notes.map(([id, from, to, start, end]) => ({ id, from, to, start, end })).filter(({ id }) => lineOf(id));
  const range = chosen();
  const loops = range.length > 1;
  const first = all.findIndex(({ id }) => id === (loops ? range[0] : state.selected));
  const last = loops ? all.findIndex(({ id }) => id === range.at(-1)) : all.length - 1;
  if (first < 0) return;
  const begin = all[first].from;
  const finish = Math.max(all[last].to, all[last + 1]?.from ?? 0);
  const inside = beats.filter(([time]) => time >= begin - 1e-6 && time < finish - 1e-6);
  const gap = beats.length > 1 ? beats[1][0] - beats[0][0] : 0.5;
  const bar = Math.max(2, beats.slice(1).findIndex(([, isFirst]) => isFirst) + 1);
  const context = new AudioContext();
  const counted = COUNT_IN * bar * gap;
  const zero = context.currentTime + 0.1;
  for (let i = 0; i < COUNT_IN * bar; i += 1) click(context, zero + i * gap, i === 0);
  running = { context, all, beats: inside, begin, finish, zero: zero + counted, next: 0, loops, first, last, hair, round: 0, frame: 0 };
  document.querySelector("[data-play]")?.setAttribute("aria-pressed", "true");
  running.frame = requestAnimationFrame(tick);
}

export function stop() {
  if (!running) return;
  cancelAnimationFrame(running.frame);
  running.context.close();
  running = null;
  for (const line of document.querySelectorAll(".play-line, .play-bow")) line.remove();
  document.querySelector("[data-play]")?.setAttribute("aria-pressed", "false");
}

export const toggle = () => (running ? stop() : start());

function tick() {
  if (!running) return;
  const { context, beats, begin, finish, loops } = running;
  const length = finish - begin;
  const now = context.currentTime - running.zero;
  while (running.next < beats.length) {
    const [time, isFirst] = beats[running.next];
    const at = running.zero + running.round * length + time - begin;
    if (at > context.currentTime + AHEAD) break;
    click(context, Math.max(at, context.currentTime), isFirst);
    running.next += 1;
  }
  if (loops && now > (running.round + 1) * length - AHEAD && running.next >= beats.length) { running.round += 1; running.next = 0; }
  if (!loops && now > length) { stop(); return; }
  show(begin + (now < 0 ? 0 : now % length));
  running.frame = requestAnimationFrame(tick);
}

function show(time) {
  const { all, hair } = running;
  const i = Math.max(0, all.findLastIndex(({ from }) => from <= time + 1e-6));
  const [here, next] = [all[i], all[i + 1]];
  follow(lineOf(here.id));
  const [at, then] = [spot(here), spot(next)];
  if (!at) return;
  const share = Math.min(1, (time - here.from) / Math.max((next?.from ?? here.to) - here.from, 1e-3));
  const to = then && then.tracks === at.tracks ? then.x : at.x + 20;
  const x = at.x + share * (to - at.x);
  const bowed = Math.min(1, (time - here.from) / Math.max(here.to - here.from, 1e-3));
  const place = here.start + bowed * (here.end - here.start);
  const { hairTop, hair: height } = at.tracks.dataset;
  line(at.tracks, x, Number(hairTop), Number(height), place / hair);
  const bow = document.querySelector('.picture[aria-label="The bow from the side"]');
  if (bow) mark(bow, 26 + (place / hair) * 270, 40);
}

function follow(line) {
  if (running.line !== line) line.scrollIntoView({ block: "nearest" });
  running.line = line;
}

function line(tracks, x, top, height, share) {
  let drawn = document.querySelector(".play-line");
  if (drawn?.ownerSVGElement !== tracks) {
    drawn?.remove();
    drawn = document.createElementNS(NS, "path");
    drawn.setAttribute("class", "play-line");
    tracks.append(drawn);
  }
  drawn.setAttribute("d", `M${x.toFixed(1)} 0V${top + height}`);
  mark(tracks, x, top + share * height);
}

function mark(picture, x, y) {
  let dot = picture.querySelector(".play-bow");
  if (!dot) {
    if (picture.classList.contains("tracks")) for (const old of document.querySelectorAll(".tracks .play-bow")) old.remove();
    dot = document.createElementNS(NS, "circle");
    dot.setAttribute("class", "play-bow");
    dot.setAttribute("r", "5");
    picture.append(dot);
  }
  dot.setAttribute("cx", x.toFixed(1));
  dot.setAttribute("cy", y.toFixed(1));
}

document.addEventListener("click", (event) => event.target.closest("[data-play]") && toggle());
document.addEventListener("htmx:before:request", (event) => { if (event.detail.ctx?.request?.method === "POST") stop(); });
