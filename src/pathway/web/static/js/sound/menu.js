// What sounds, chosen once and kept in this browser.
import { set, wish } from "./voice.js";

const menu = document.getElementById("sound-menu");

document.addEventListener("htmx:after:swap", () => {
  for (const field of menu?.querySelectorAll("[data-wish]") ?? []) {
    const value = wish[field.dataset.wish];
    if (field.type === "checkbox") field.checked = value;
    else field.value = value ?? "";
  }
});

for (const kind of ["input", "change"]) {
  menu?.addEventListener(kind, ({ target }) => {
    const name = target.dataset.wish;
    if (name) set(name, target.type === "checkbox" ? target.checked : target.type === "range" ? Number(target.value) : target.value);
  });
}
