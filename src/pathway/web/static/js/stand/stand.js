// The stand: pages of whole lines, turned by edge, swipe, keys and pedals; half a page; along with playing; wide awake.
import { hear } from "../sound/clip.js";
import { playOn, stop, toggle } from "../sound/along.js";
import { listen } from "../shared/live.js";
import { say } from "../shared/say.js";

const KEY = "stand";
const LONG = 500; // ms that a press takes to open a note
const ECHO = 2500; // ms in which what this page told may come back to it
const FAR = 50; // px that a swipe goes at least
const stand = document.getElementById("stand");
const sheet = document.getElementById("sheet");
const told = document.getElementById("page-told");
const base = `/pieces/${stand.dataset.piece}`;
const wish = { size: 1, signs: false, half: false, repeats: false, together: true, ...JSON.parse(localStorage.getItem(KEY) ?? "{}") };
let at = stand.dataset.at; // the note at which the page stays when it is laid out anew
let pages = []; // each from one place to another in the order of the lines
let here = 0;
let drawn = "";
const mine = new Map(); // notes that this page has told itself, and when: their echo may come once it is further on

const lines = () => [...sheet.querySelectorAll(".stand-line")];
const hitOf = (note) => document.getElementById(`hit-${note}`);
const homeOf = (note) => Number(hitOf(note)?.closest(".stand-line")?.dataset.line ?? 0);
const wide = () => sheet.clientWidth - 32;

async function draw(force) {
  const asked = new URLSearchParams({ wide: wide(), size: wish.size, signs: wish.signs }).toString();
  if (asked === drawn && !force) { layOut(); return; }
  drawn = asked;
  await htmx.ajax("GET", `${base}/stand/lines?${asked}`, { target: "#sheet", swap: "innerHTML" });
  for (const line of sheet.querySelectorAll("[data-signs]")) line.style.marginTop = `${line.dataset.signs}%`;
  layOut();
  stand.dataset.drawn = asked;
}

function order() {
  const all = lines().map((line) => Number(line.dataset.line));
  return wish.repeats ? document.getElementById("lines-told").dataset.order.split(" ").map(Number) : all;
}

function layOut() { // as many lines to a page as fit; one that is too tall has a page of its own
  const way = order();
  const heights = new Map(lines().map((line) => [Number(line.dataset.line), line.getBoundingClientRect().height]));
  const room = sheet.clientHeight - 12;
  pages = [];
  for (let first = 0; first < way.length;) {
    let [last, used] = [first, heights.get(way[first])];
    while (last + 1 < way.length && !way.slice(first, last + 1).includes(way[last + 1]) && used + heights.get(way[last + 1]) <= room) {
      last += 1;
      used += heights.get(way[last]);
    }
    pages.push(way.slice(first, last + 1));
    first = wish.half && last > first && last + 1 < way.length ? first + Math.ceil((last - first + 1) / 2) : last + 1;
  }
  show(Math.max(0, pages.findIndex((page) => page.includes(homeOf(at)))));
}

function show(number) {
  here = Math.min(Math.max(number, 0), pages.length - 1);
  const page = pages[here] ?? [];
  for (const line of lines()) {
    const place = page.indexOf(Number(line.dataset.line));
    line.classList.toggle("on-page", place >= 0);
    line.style.order = place >= 0 ? place : "";
  }
  const [first, last] = [page[0], page.at(-1)].map((line) => sheet.querySelector(`[data-line="${line}"]`));
  if (first) told.textContent = `${stand.dataset.title} · bars ${first.dataset.first}–${last.dataset.last} · page ${here + 1} of ${pages.length}`;
}

function turn(by) {
  show(here + by);
  const note = sheet.querySelector(`[data-line="${pages[here][0]}"] .hit`)?.dataset.note;
  if (!note) return;
  at = note;
  mine.set(note, performance.now());
  document.dispatchEvent(new CustomEvent("stands", { detail: note }));
}

function goTo(note) { // the page with a note; the one that is open if it has it
  at = note;
  const has = (page) => page.includes(homeOf(note));
  const ahead = pages.findIndex((page, number) => number >= here && has(page));
  show(ahead >= 0 ? ahead : pages.findIndex(has));
}

playOn({ base, piece: stand.dataset.piece, hitOf, range: () => [], from: () => at, has: (note) => Boolean(hitOf(note)), follow: goTo });

const isEcho = (note) => performance.now() - (mine.get(note) ?? -Infinity) < ECHO;
listen(base, ({ version, note }) => {
  const shown = document.getElementById("lines-told");
  if (shown && Number(shown.dataset.version) < version) draw(true);
  if (wish.together && note && note !== at && !isEcho(note) && hitOf(note)) goTo(note);
});

const keep = () => localStorage.setItem(KEY, JSON.stringify(wish));
function tell() {
  for (const box of document.querySelectorAll("[data-wish-for]")) box.checked = wish[box.dataset.wishFor];
  for (const button of document.querySelectorAll("[data-size]")) button.setAttribute("aria-pressed", String(Number(button.dataset.size) === wish.size));
}

const tools = document.getElementById("stand-tools");
const menu = document.getElementById("stand-menu");
function openTools(open = tools.hidden) {
  tools.hidden = !open;
  menu.setAttribute("aria-expanded", String(open));
  layOut();
}

const dialog = document.getElementById("stand-card");
async function openNote(note) {
  await htmx.ajax("GET", `${base}/stand/notes/${note}`, { target: "#stand-card", swap: "innerHTML" });
  if (!dialog.open && dialog.hasChildNodes()) dialog.showModal();
}

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-turn-page]")) turn(Number(on("[data-turn-page]").dataset.turnPage));
  else if (on("#stand-menu")) openTools();
  else if (on("[data-size]")) { wish.size = Number(on("[data-size]").dataset.size); keep(); tell(); draw(); }
  else if (on("[data-close-note]") || event.target === dialog) { hear([]).catch(() => {}); dialog.close(); }
});
document.addEventListener("change", (event) => {
  const name = event.target.dataset.wishFor;
  if (!name) return;
  wish[name] = event.target.checked;
  keep();
  draw();
});

const keys = {
  ArrowRight: () => turn(1), ArrowDown: () => turn(1), PageDown: () => turn(1), " ": () => turn(1), Enter: () => turn(1),
  ArrowLeft: () => turn(-1), ArrowUp: () => turn(-1), PageUp: () => turn(-1), Backspace: () => turn(-1),
  Home: () => turn(-1e6), End: () => turn(1e6), m: () => openTools(), p: () => toggle(),
  "+": () => resize(1), "-": () => resize(-1), i: () => openNote(at),
  Escape: () => (tools.hidden ? document.querySelector("[data-leave]").click() : openTools(false)),
};
function resize(by) {
  wish.size = Math.min(Math.max(wish.size + by, 0), document.querySelectorAll("[data-size]").length - 1);
  keep();
  tell();
  draw();
}
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || dialog.open) return;
  if (event.target.closest("input, select, button, a") && [" ", "Enter"].includes(event.key)) return;
  const act = keys[event.key];
  if (!act) return;
  event.preventDefault();
  act();
});

let press = null; // a finger on the music
sheet.addEventListener("pointerdown", (event) => {
  const note = event.target.closest(".hit")?.dataset.note;
  press = { x: event.clientX, y: event.clientY, note, timer: note && setTimeout(() => { press = null; openNote(note); }, LONG) };
});
sheet.addEventListener("pointerup", (event) => {
  if (!press) return;
  clearTimeout(press.timer);
  const [dx, dy] = [event.clientX - press.x, event.clientY - press.y];
  press = null;
  if (Math.abs(dx) > FAR && Math.abs(dx) > Math.abs(dy)) { turn(dx < 0 ? 1 : -1); return; }
  if (Math.hypot(dx, dy) > FAR / 4) return;
  const share = event.clientX / innerWidth;
  if (share > 0.8) turn(1);
  else if (share < 0.2) turn(-1);
});
sheet.addEventListener("pointercancel", () => { clearTimeout(press?.timer); press = null; });
sheet.addEventListener("contextmenu", (event) => event.preventDefault());

async function stayAwake() { // where the browser can
  try { await navigator.wakeLock?.request("screen"); } catch { /* it will not, and says so itself */ }
}
document.addEventListener("visibilitychange", () => document.visibilityState === "visible" && stayAwake());
let settling = 0;
addEventListener("resize", () => { clearTimeout(settling); settling = setTimeout(draw, 200); });
addEventListener("pagehide", () => stop());
tell();
stayAwake();
draw().catch(() => say("The server does not answer. Load the page again when it is back."));
