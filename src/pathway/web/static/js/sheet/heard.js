// What is heard on a note: its causes, and which of them it was.
import { base } from "./lines.js";
import { state } from "./selection.js";

const ask = (method, query, values) => htmx.ajax(method, `${base}/notes/${state.selected}/hear${query}`, { source: "#causes", target: "#causes", swap: "innerHTML", values });
const hear = (what) => ask("GET", `?heard=${encodeURIComponent(what)}`);

document.addEventListener("click", (event) => {
  const { heardInTake } = event.target.closest("[data-heard-in-take]")?.dataset ?? {};
  if (heardInTake) {
    document.querySelector("[data-hear]").value = heardInTake;
    hear(heardInTake);
    return;
  }
  const { cause, heard } = event.target.closest("[data-cause]")?.dataset ?? {};
  if (cause) ask("POST", "", { heard, cause });
});

document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-hear]")) return;
  if (event.target.value) hear(event.target.value);
  else document.getElementById("causes").replaceChildren();
});
