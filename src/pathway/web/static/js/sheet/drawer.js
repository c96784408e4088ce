// The drawer at the side: the history, variants, keys, what to practise.
import { base } from "./lines.js";
import { chosen } from "./selection.js";
import { post } from "./edits.js";

const drawer = document.getElementById("drawer");
const body = document.getElementById("drawer-body");
const TITLES = { history: "What was changed", variants: "Variants" };

const into = (method, address, values) => htmx.ajax(method, address, { source: "#drawer-body", target: "#drawer-body", swap: "innerHTML", values });
export const fill = (method, path, values) => into(method, `${base}/${path}`, values);
export const close = () => drawer.close();

function show(title, filled) {
  document.getElementById("drawer-title").textContent = title;
  filled.then(() => drawer.open || drawer.showModal());
}

export function ask(title, form) { // a question of the page's own
  document.getElementById("drawer-title").textContent = title;
  body.replaceChildren(form);
  drawer.showModal();
}

export const keysOver = () => show("Keys", into("GET", "/keys"));

export function work() { // the first drill for this note, or the drills for some notes
  const range = chosen();
  if (range.length < 2) { document.querySelector("#card .drill-line")?.click(); return; }
  show(`Practise ${range.length} notes`, fill("GET", `practise/for?${new URLSearchParams({ note: range[0], last: range.at(-1) })}`));
}

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-work]")) work();
  else if (on("[data-keys]")) keysOver();
  else if (on("[data-open]")) show(TITLES[on("[data-open]").dataset.open], fill("GET", on("[data-open]").dataset.open));
  else if (on("[data-close]")) close();
  else if (on("[data-rewind]")) post(`history/to/${on("[data-rewind]").dataset.rewind}`).then(() => fill("GET", "history"));
});
