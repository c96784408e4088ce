// Another plan of the piece: a variant, or the one planned anew; laid over the sheet, taken whole or by the bar.
import { base, sheet } from "./lines.js";
import { post } from "./edits.js";
import { asked, inTurn } from "../shared/server.js";
import { close, fill } from "./drawer.js";
import { unlay } from "./ghosts.js";

let compared = null; // where the plan comes from that lies over this one

export function compare(other) {
  compared = other;
  unlay();
  sheet.classList.add("compared");
  const lay = (address) => asked("GET", address);
  inTurn(`${base}/${other}/compare`, lay, "The other plan is asked for again in a moment."); // after edits under way
}

export function putAway() {
  compared = null;
  unlay();
  document.getElementById("compare").replaceChildren();
}

sheet.addEventListener("came", () => compared && compare(compared)); // over the new lines too
if (sheet.dataset.laid) compare(sheet.dataset.laid);

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-compare]")) {
    close();
    compare(on("[data-compare]").dataset.compare);
  }
  else if (on("[data-forget]")) fill("POST", `variants/${on("[data-forget]").dataset.forget}/forget`);
  else if (on("[data-take-bar]")) post(on("[data-take-bar]").dataset.takeBar).then(() => compared && compare(compared));
  else if (on("[data-take]")) post(`${on("[data-take]").dataset.take}/take`).then(putAway);
  else if (on("[data-unlay]")) putAway();
});

document.addEventListener("submit", (event) => {
  if (event.target.id !== "keep-variant") return;
  event.preventDefault();
  fill("POST", "variants", { name: new FormData(event.target).get("name") });
});

document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-name-variant]")) return;
  fill("POST", `variants/${event.target.dataset.nameVariant}/name`, { name: event.target.value });
});
