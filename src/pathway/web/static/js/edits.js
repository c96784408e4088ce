// Edits go to the server one after the other; one that does not arrive is kept and sent again.
import { base, chosen, state } from "./selection.js";

const AGAIN = 3000; // ms until a lost edit is tried again
let queue = Promise.resolve();
let lost = false;

document.addEventListener("htmx:error", () => { lost = true; });

const version = () => document.querySelector("[data-version]").dataset.version;

export function say(text) {
  const said = document.createElement("p");
  said.className = "rounded-lg border border-bad text-bad bg-sheet px-4 py-3";
  said.textContent = text;
  document.getElementById("message").replaceChildren(said);
}

async function send(path, values) {
  for (;;) {
    lost = false;
    await htmx.ajax("POST", `${base}/${path}`, { source: "#status", target: "#status", swap: "none", values: { note: state.selected, version: version(), ...values } });
    if (!lost) return;
    say("The server does not answer. Your last change is kept here and sent again in a moment; nothing is lost.");
    await new Promise((done) => setTimeout(done, AGAIN));
  }
}

export function post(path, values = {}) {
  queue = queue.then(() => send(path, values));
  return queue;
}

export function edit(what, { value = "", step = "" } = {}) {
  const values = { notes: chosen().join(" "), what };
  if (value !== "") values.value = value;
  if (step !== "") values.step = step;
  return post("edit", values);
}
