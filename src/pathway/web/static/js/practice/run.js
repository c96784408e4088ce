// A drill under one free hand: space, page keys or a tap for the next try; 1, 2, 3 for what it was like.
import { hear, hush } from "../sound/clip.js";
import { flush, forgetSet, keepSet, send, setOf } from "./kept.js";
import { CLICKS, isRunning, start, stop } from "./line.js";
import { open, sixteenBits } from "../sound/microphone.js";
import { say } from "../shared/say.js";

const run = document.getElementById("run").dataset;
const stand = document.getElementById("stand");
const hand = document.getElementById("hand");
const status = document.getElementById("status");
const VERDICTS = { 1: "clean", 2: "nearly", 3: "not yet" };
const HANDS = { 1: "easy", 2: "firm", 3: "strained" };
let clicks = Number(localStorage.getItem("practice-click") ?? 0);
let resting = 0;
let leaving = false; // once the hand was asked for
let said = null; // the last verdict on its way: the next try is of the rung that it leads to

const now = () => document.getElementById("stand-now").dataset;
const which = () => Object.fromEntries(["drill", "piece", "why", "what", "bars", "rig"].filter((key) => run[key]).map((key) => [key, run[key]]));

function fit() { // a line and its ribbons whole between head and foot, as large as may be
  const lines = document.querySelector(".stand-lines");
  const room = document.querySelector(".stand-foot").getBoundingClientRect().height;
  const free = innerHeight - lines.getBoundingClientRect().top - scrollY - room - 24;
  for (const system of lines.querySelectorAll(":scope > .system")) {
    const [width, height] = system.querySelector(".tracks").getAttribute("viewBox").split(" ").slice(2).map(Number);
    system.style.maxWidth = `${Math.max(Math.min((free / height) * width, 1240), 480)}px`;
  }
}

function told() {
  for (const line of document.querySelectorAll("[data-signs]")) line.style.marginTop = `${line.dataset.signs}%`; // the room for signs
  fit();
  for (const place of document.querySelectorAll("[data-do=listen]")) place.setAttribute("aria-pressed", String(Boolean(ear)));
  for (const place of document.querySelectorAll("[data-click-told]")) place.textContent = CLICKS[clicks];
  status.textContent = document.querySelector("[data-told]")?.textContent ?? "";
  if (Number(now().waits) > 0 && !resting) rest(Number(now().waits));
}

async function again() {
  if (resting) return;
  if (isRunning()) { ended(stop()); return; }
  if (now().closed) { say(document.querySelector(".stand-note")?.textContent ?? ""); return; }
  hush();
  await said;
  if (isRunning() || resting) return;
  heard = [];
  label("stop");
  try {
    await start({ query: now().query, clicks, second: now().second, over: ended });
  } catch (refused) { label("next try"); say(refused.message); }
}

document.addEventListener("htmx:after:swap", ({ detail: { ctx } }) => ctx.target === stand && told());

const label = (text) => { const place = document.querySelector("[data-again]"); if (place) place.textContent = text; };

let ear = null; // the microphone, where the player wants to be listened to
let heard = [];

async function listen() {
  if (ear) { ear.close(); ear = null; } else {
    try {
      ear = await open((samples) => isRunning() && heard.push(samples));
    } catch { say("There is no microphone, or it may not be used. Allow it for this page."); }
  }
  for (const place of document.querySelectorAll("[data-do=listen]")) place.setAttribute("aria-pressed", String(Boolean(ear)));
}

async function judge() { // what the microphone says is proposed, and confirmed or overruled by a key
  const data = sixteenBits(heard);
  heard = [];
  if (!ear || !data.length) return;
  const answer = await fetch(`/practise/drill/listen?${now().query}&rate=${ear.rate}`, { method: "POST", body: data, headers: { "HX-Request": "true" } }).catch(() => null);
  const { verdict: word, text } = answer?.ok ? await answer.json() : { verdict: "", text: "The drill was not heard in it." };
  for (const place of document.querySelectorAll("[data-heard]")) place.textContent = `${text} ·`;
  for (const key of document.querySelectorAll("[data-verdict]")) key.setAttribute("aria-pressed", String(key.dataset.verdict === word));
  status.textContent = text;
}

function ended(played) { // a try is over; a heavy set ends when the hand had enough
  label("next try");
  const set = setOf(run);
  set.seconds += played;
  keepSet(run, set);
  judge();
}

function verdict(word) {
  if (isRunning()) ended(stop());
  const set = setOf(run);
  set.tries += 1;
  keepSet(run, set);
  status.textContent = word;
  const { token, tries: number, seconds, begun } = set;
  said = send("/practise/drill/try", { ...which(), token, number, verdict: word, seconds: seconds.toFixed(1), begun });
  if (now().heavy && seconds >= Number(now().longest)) ask();
}

function ask(thenLeave = false) {
  leaving = thenLeave;
  if (!hand.open) hand.showModal();
}

function answer(word) {
  const set = setOf(run);
  hand.close();
  const note = document.getElementById("set-note").value;
  document.getElementById("set-note").value = "";
  forgetSet(run);
  const away = leaving;
  if (set.tries) send("/practise/drill/end", { ...which(), token: set.token, seconds: set.seconds.toFixed(1), hand: word, note }).then((kept) => kept && away && leave());
  else if (away) leave();
}

function rest(seconds) { // the bow goes back over the hair while the hand rests
  const room = document.getElementById("rest");
  const until = performance.now() + 1000 * seconds;
  room.hidden = false;
  const step = () => {
    const left = Math.max(0, (until - performance.now()) / 1000);
    document.getElementById("rest-way").setAttribute("d", `M10 20H${(10 + 980 * (1 - left / seconds)).toFixed(0)}`);
    document.getElementById("rest-left").textContent = `${Math.ceil(left)} s to go, as long as it played`;
    if (left <= 0) { restOver(); return; }
    resting = setTimeout(step, 200);
  };
  resting = 1;
  step();
}

function restOver() {
  clearTimeout(resting);
  resting = 0;
  document.getElementById("rest").hidden = true;
  now().waits = 0;
  status.textContent = "The rest is over.";
  document.querySelector("[data-do=again]")?.focus();
}

function leave() {
  location.href = run.piece ? `/pieces/${run.piece}/practise` : "/practise";
}

function end() { // a set that was played asks for the hand before it is left
  if (isRunning()) ended(stop());
  if (setOf(run).tries) ask(true); else leave();
}

const go = (by) => {
  if (isRunning()) ended(stop());
  const rung = Math.min(Math.max(Number(now().rung) + by, 0), Number(now().top));
  said = send("/practise/drill/rung", { ...which(), rung });
};
const next = () => document.querySelector("[data-next]")?.click();
const clip = (fault) => hear([`/practise/drill/sound.wav?${now().query}${fault ? "&fault=true" : ""}`], document.querySelector(`[data-do=${fault ? "fault" : "hear"}]`));
const doing = {
  again, listen, stop: end, up: () => go(1), down: () => go(-1),
  hear: () => clip(false), fault: () => now() && document.querySelector("[data-do=fault]") && clip(true),
  click: () => { clicks = (clicks + 1) % CLICKS.length; localStorage.setItem("practice-click", clicks); told(); },
};
const keys = {
  " ": again, PageDown: again, PageUp: again, Enter: again, Escape: end, h: doing.hear, f: doing.fault, c: doing.click,
  m: listen, n: next, ArrowUp: doing.up, ArrowDown: doing.down,
};

document.addEventListener("keydown", (event) => {
  if (event.altKey || event.metaKey || event.ctrlKey || event.repeat) return;
  if (hand.open) {
    if (HANDS[event.key] && event.target.id !== "set-note") { event.preventDefault(); answer(HANDS[event.key]); }
    return;
  }
  if (resting && event.key !== "Escape") return;
  if (event.target.closest("input, select, textarea")) return;
  if (event.key === "Enter" && event.target.closest("a, button")) return;
  const action = VERDICTS[event.key] ? () => verdict(VERDICTS[event.key]) : keys[event.key];
  if (!action) return;
  event.preventDefault();
  action();
});

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-verdict]")) verdict(on("[data-verdict]").dataset.verdict);
  else if (on("[data-hand]")) answer(on("[data-hand]").dataset.hand);
  else if (on("[data-do]")) doing[on("[data-do]").dataset.do]?.();
  else if (on("#sheet")) again();
});

addEventListener("resize", fit);
told();
flush();
