// The sheet under the hands: keys, clicks and touch.
import { base, lineOf, noteOfBar, sheet } from "./lines.js";
import { chosen, finding, hitOf, line, mark, ribbonOf, select, state, step } from "./selection.js";
import { edit, post } from "./edits.js";
import { asked, inTurn } from "../shared/server.js";
import { listen } from "../shared/live.js";
import { say } from "../shared/say.js";
import { keysOver, work } from "./drawer.js";
import { compare, putAway } from "./variants.js";
import "./findings.js";
import { tryHands } from "./hand.js";
import "./heard.js";
import "./tempo.js";
import { changed, playOn, stop, toggle as play } from "../sound/along.js";
import { hush } from "../sound/clip.js";
import "../sound/hear.js";
import "../sound/menu.js";
import "./drag.js";

let followed = null;
playOn({
  base, piece: sheet.dataset.piece, hitOf, range: chosen, from: () => state.selected, has: (note) => Boolean(lineOf(note)),
  follow(note) {
    if (followed !== lineOf(note)) lineOf(note).scrollIntoView({ block: "nearest" });
    followed = lineOf(note);
  },
});
document.addEventListener("htmx:after:swap", () => changed(Number(document.getElementById("tempo").dataset.version)));

listen(base, ({ version }) => { // by another device; what is under way here comes first
  const mine = () => Number(document.getElementById("tempo").dataset.version);
  const catchUp = (address) => (mine() < version ? asked("GET", address, { note: state.selected }) : Promise.resolve());
  if (mine() < version) inTurn(`${base}/now`, catchUp, "What another device did is asked for again in a moment.");
});

const ENDS = 1; // cm that [ and ] move the end of a stroke; five times that with Shift
const stepOf = (what) => Number(document.querySelector(`[data-edit="${what}"][data-step]:not([data-step^="-"])`)?.dataset.step ?? 1);
const toggle = (what, value) => edit(what, { value: document.querySelector(`[data-edit=${what}][data-value=${value}]`)?.getAttribute("aria-pressed") === "true" ? "" : value });
const open = (what) => document.querySelector(`[data-set="${what}"]`)?.focus();

const keys = {
  ArrowRight: (shift) => step(1, shift), ArrowLeft: (shift) => step(-1, shift), ArrowDown: () => line(1), ArrowUp: () => line(-1),
  Home: (shift) => step(-1e6, shift), End: (shift) => step(1e6, shift),
  d: () => edit("direction", { value: "down" }), u: () => edit("direction", { value: "up" }), l: () => edit(document.querySelector("#card [data-edit=hold]") ? "hold" : "all"),
  h: () => toggle("link", "hook"), r: () => toggle("link", "retake"),
  s: () => edit("slur", { value: "split" }), j: () => edit("slur", { value: "join" }),
  "[": () => edit("end", { step: -ENDS }), "]": () => edit("end", { step: ENDS }),
  "{": () => edit("end", { step: -5 * ENDS }), "}": () => edit("end", { step: 5 * ENDS }),
  "-": () => edit("weight", { step: -stepOf("weight") }), "=": () => edit("weight", { step: stepOf("weight") }),
  t: () => edit("tilt", { step: 5 }), T: () => edit("tilt", { step: -5 }),
  k: () => open("type"), g: () => open("finger"), o: () => tryHands(), v: () => open("lead"),
  z: () => post("history/undo"), Z: () => post("history/redo"),
  a: () => compare("anew"),
  f: () => document.querySelector("[data-fix]:not([data-code^=hand])")?.click(), w: () => work(),
  ".": () => finding(1), ",": () => finding(-1), "?": () => keysOver(),
  "/": () => document.getElementById("bar-jump")?.focus(),
  " ": () => play(), p: () => document.querySelector("#card [data-sound=bars]")?.click(), Escape: () => { stop(); hush(); putAway(); select(state.selected); },
};
for (let lane = 1; lane <= 6; lane += 1) keys[lane] = () => edit("lane", { value: lane });

document.addEventListener("keydown", (event) => {
  if (document.querySelector("dialog[open]")) return; // its own keys: nothing is edited behind it
  if (event.target.closest("input, select, textarea")) {
    if (event.key === "Escape") hitOf(state.selected)?.focus();
    return;
  }
  if (event.altKey || event.metaKey) return;
  const control = { z: keys.z, Z: keys.Z, y: keys.Z }[event.key];
  const action = event.ctrlKey ? control : keys[event.key];
  if (!action || (event.target.closest("aside") && event.key.startsWith("Arrow"))) return;
  event.preventDefault();
  action(event.shiftKey);
});

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on(".sign")) {
    const stroke = on(".sign").dataset.sign;
    select(stroke);
    edit("direction", { value: ribbonOf(stroke).dataset.direction === "down" ? "up" : "down" });
  } else if (on(".hit")) select(on(".hit").dataset.note, { extend: event.shiftKey });
  else if (on("[data-goto]")) {
    select(on("[data-goto]").dataset.goto);
    document.getElementById("card").scrollIntoView({ block: "nearest" });
  }
  else if (on("[data-turn]")) edit("direction", { value: on("[data-turn]").dataset.turn.replace("free", "") });
  else if (on("[data-free]")) edit(on("[data-free]").dataset.free);
  else if (on("[data-keep]")) {
    const { keep, value } = on("[data-keep]").dataset;
    edit(keep, value === undefined ? { step: "0" } : { value });
  }
  else if (on("[data-fold]")) {
    const isFolded = (track) => (track.getAttribute("aria-pressed") === "false") !== (track === on("[data-fold]"));
    const folded = [...document.querySelectorAll("[data-fold]")].filter(isFolded).map((track) => track.dataset.fold);
    document.cookie = `folded=${folded.join("-")}; path=/; samesite=strict; max-age=31536000`;
    location.reload();
  }
  else if (on("[data-edit]")) {
    const { edit: what, value, step: by } = on("[data-edit]").dataset;
    if (what === "link") toggle(what, value);
    else edit(what, { value: value ?? "", step: by ?? "" });
  }
  else if (on("[data-relief]")) post("relief", { fix: on("[data-relief]").dataset.relief, heard: on("[data-relief]").dataset.heard, cause: on("[data-relief]").dataset.of });
  else if (on("[data-fix]")) post("fix", { code: on("[data-fix]").dataset.code, fix: on("[data-fix]").dataset.fix });
  else if (on("[data-history]")) post(`history/${on("[data-history]").dataset.history}`);
  else if (on("[data-tempo-at]")) post("tempo", { tempo: on("[data-tempo-at]").dataset.tempoAt });
  else if (on("[data-tempo]")) post("tempo", { tempo: Number(document.querySelector("[name=tempo]").value) + Number(on("[data-tempo]").dataset.tempo) });
});

document.addEventListener("pointerover", (event) => { // what a note says, where a mouse rests on it
  if (!event.target.matches(".hit") || event.target.firstChild) return;
  event.target.appendChild(document.createElementNS("http://www.w3.org/2000/svg", "title")).textContent = event.target.getAttribute("aria-label");
});

document.addEventListener("change", (event) => {
  if (event.target.name === "tempo") post("tempo", { tempo: event.target.value });
  else if (event.target.dataset.set) edit(event.target.dataset.set, { value: event.target.value });
});
document.addEventListener("submit", (event) => {
  if (event.target.id === "tempo") event.preventDefault();
  if (event.target.id !== "jump") return;
  event.preventDefault();
  const bar = document.getElementById("bar-jump").value.trim();
  const there = noteOfBar(bar);
  if (there) select(there);
  else say(`There is no bar ${bar} here.`);
});

function tellLists() { // as the plan has it: a list the hand has moved does not follow its options
  for (const list of document.querySelectorAll("#card [data-set]")) (list.querySelector("[selected]") ?? list.options[0]).selected = true;
  const hear = document.querySelector("[data-hear]");
  if (hear && !document.getElementById("causes").hasChildNodes()) hear.selectedIndex = 0;
}

const FLASH = 450; // ms that what moved is paler
let marking = false;
document.addEventListener("htmx:after:swap", () => {
  if (marking) return; // an edit swaps several places; mark once, before the next paint
  marking = true;
  queueMicrotask(() => {
    marking = false;
    setTimeout(() => { for (const ribbon of sheet.querySelectorAll(".ribbon.moved")) ribbon.classList.remove("moved"); }, FLASH);
    const hadFocus = document.activeElement === document.body;
    mark();
    tellLists();
    if (hadFocus) requestAnimationFrame(() => setTimeout(() => hitOf(state.selected)?.focus({ preventScroll: true })));
  });
});

mark();
lineOf(state.selected)?.scrollIntoView({ block: "nearest" });
