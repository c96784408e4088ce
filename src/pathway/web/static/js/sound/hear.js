// What of the sheet is heard: a note, a bow, its bars; before and after a help; as planned and as it should be.
import { base } from "../sheet/lines.js";
import { state } from "../sheet/selection.js";
import { hear } from "./clip.js";
import { wish } from "./voice.js";

function address({ sound: scope, note = state.selected, fixHeard, ...other }) {
  const version = document.getElementById("tempo").dataset.version;
  const values = new URLSearchParams({ scope, note, version, ...(fixHeard && { fix: fixHeard }), ...other });
  if (wish.alone) values.set("alone", "true");
  return `${base}/sound.wav?${values}`;
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-sound]");
  if (!button) return;
  const { inTurn, ...asked } = button.dataset;
  const { sound, note, code } = asked;
  const planned = { sound, ...(note && { note }), ...(code && { code }) };
  hear((inTurn ? [planned, asked] : [asked]).map(address), button);
});
