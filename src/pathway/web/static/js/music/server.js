// What the page of music asks of the server; what comes back finds its place by its id.
import { asked, inTurn } from "../shared/server.js";

export const music = document.getElementById("music");
const base = `/pieces/${music.dataset.piece}/music`;
const SAFE = "What you did is sent again in a moment.";

export const lines = () => [...music.querySelectorAll("[data-line]")];
const there = () => lines().filter((line) => !line.querySelector(".to-come")).map((line) => line.dataset.line).join(" ");

async function ask(method, path, values, where) {
  const opened = [...document.querySelectorAll("[data-step-row][open]")].map((row) => row.dataset.stepRow);
  const send = (address) => asked(method, address, values(), { headers: { Room: music.dataset.room, Lines: there() }, ...where });
  if (!await inTurn(`${base}/${path}`, send, SAFE)) return false;
  document.getElementById("message").replaceChildren();
  for (const id of opened) document.querySelector(`[data-step-row="${id}"]`)?.setAttribute("open", "");
  music.dataset.version = document.getElementById("beside").dataset.version;
  return true;
}

export const panelOf = (values) => ask("GET", "panel", () => values, { target: "#panel", swap: "outerHTML" });
export const come = (numbers) => ask("GET", "lines", () => ({ numbers }));
export const post = (path, values) => ask("POST", path, () => ({ version: music.dataset.version, ...values }));
