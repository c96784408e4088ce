// The list of findings: how much of it is shown, and what is laid aside with a reason.
import { base } from "./lines.js";
import { SAFE } from "./edits.js";
import { asked, inTurn } from "../shared/server.js";
import { ask, close } from "./drawer.js";

const aside = (values) => inTurn(`${base}/aside`, (address) => asked("POST", address, values), SAFE);

function askWhy(finding) {
  const form = document.getElementById("aside-form").content.cloneNode(true).firstElementChild;
  Object.assign(form.dataset, { code: finding.aside, note: finding.note });
  ask("Lay this finding aside", form);
  form.elements.reason.select();
}

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-least]")) document.getElementById("findings").dataset.shows = on("[data-least]").dataset.least;
  else if (on("[data-aside]")) askWhy(on("[data-aside]").dataset);
  else if (on("[data-back]")) aside({ code: on("[data-back]").dataset.back, note: on("[data-back]").dataset.note });
  else if (on("[data-plain]")) {
    document.cookie = "colour=tone; path=/; samesite=strict; max-age=31536000";
    location.reload();
  }
});

document.addEventListener("submit", (event) => {
  if (!event.target.dataset.code) return;
  event.preventDefault();
  close();
  aside({ ...event.target.dataset, reason: event.target.elements.reason.value });
});
