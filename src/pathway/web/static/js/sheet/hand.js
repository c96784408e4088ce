// Other positions of the left hand: asked for the notes that are selected, laid over the sheet and taken like helps.
import { base } from "./lines.js";
import { chosen } from "./selection.js";

export function tryHands() {
  const notes = chosen();
  const asked = `${base}/notes/${notes[0]}/hand?${new URLSearchParams({ last: notes.at(-1) })}`;
  return htmx.ajax("GET", asked, { source: "#hand-ways", target: "#hand-ways", swap: "innerHTML" });
}

document.addEventListener("click", (event) => event.target.closest("[data-hand]") && tryHands());
