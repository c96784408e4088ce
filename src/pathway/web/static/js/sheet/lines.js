// The lines of the sheet: those far from view are sent as they come near it.
import { asked as askFor, inTurn } from "../shared/server.js";

export const sheet = document.getElementById("sheet");
export const base = `/pieces/${sheet.dataset.piece}`;
const NEAR = "1200px 0px"; // one more view and a half above and below
const SAFE = "The lines to come are asked for again in a moment.";

export const lines = [...sheet.querySelectorAll("[data-line]")];
const words = (text) => text.split(" ").filter(Boolean);
const home = new Map(lines.flatMap((line) => words(line.dataset.notes).map((note) => [note, line])));
const firsts = lines.flatMap((line) => words(line.dataset.bars).map((first) => first.split(/:(.*)/)));
const bars = new Map(firsts.reverse().map(([note, bar]) => [bar, note])); // a bar over two lines begins in the first
export const order = [...home.keys()]; // notes stay, whatever is done to the bows
export const lineOf = (note) => home.get(note);
export const noteOfBar = (bar) => bars.get(bar);

const absent = new Set(lines.filter((line) => line.querySelector(".to-come")));
const wished = new Set();
let asked = null;

export function come(line) { // settled when the line is there
  if (!absent.has(line)) return Promise.resolve();
  wished.add(line);
  asked ??= inTurn(`${base}/lines`, ask, SAFE).then(() => sheet.dispatchEvent(new CustomEvent("came")));
  return asked;
}

function ask(address) {
  asked = null; // what is wished from now on is asked for after this
  if (!wished.size) return Promise.resolve();
  const numbers = [...wished].map((line) => line.dataset.line).join(" ");
  return askFor("GET", `${address}?${new URLSearchParams({ numbers })}`)
    .then(() => [...wished].filter((line) => !line.querySelector(".to-come")).forEach(arrived));
}

function arrived(line) {
  absent.delete(line);
  wished.delete(line);
  near.unobserve(line);
}

const room = document.cookie.match(/room=(\w+)/)?.[1]; // as theme.js has just found it
if (room && room !== sheet.dataset.room) location.reload();

const near = new IntersectionObserver((seen) => {
  for (const { isIntersecting, target } of seen) if (isIntersecting) come(target);
}, { rootMargin: NEAR });
for (const line of absent) near.observe(line);

// What is drawn anew comes for the lines that are there, as wide and in their look; the others will come as they are then.
document.addEventListener("htmx:config:request", (event) => {
  const { headers } = event.detail.ctx.request;
  headers.Room = sheet.dataset.room;
  headers.Look = sheet.dataset.look;
  headers.Lines = lines.filter((line) => !absent.has(line)).map((line) => line.dataset.line).join(" ");
});
