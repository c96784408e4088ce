// The sheet under the hands: selection by key, click and touch, and edits one after the other.
const sheet = document.getElementById("sheet");
const base = `/pieces/${sheet.dataset.piece}`;
let selected = sheet.dataset.selected;
let queue = Promise.resolve();
let cardWish = 0;

const hits = () => [...sheet.querySelectorAll(".hit")];
const hitOf = (note) => sheet.querySelector(`.hit[data-note="${CSS.escape(note)}"]`);
const ribbonOf = (note) => sheet.querySelector(`.ribbon[data-notes~="${CSS.escape(note)}"]`);

function mark() {
  for (const hit of sheet.querySelectorAll('.hit[aria-current="true"], .hit[tabindex="0"]')) {
    hit.removeAttribute("aria-current");
    hit.setAttribute("tabindex", "-1");
  }
  for (const ribbon of sheet.querySelectorAll(".ribbon.chosen")) ribbon.classList.remove("chosen");
  const hit = hitOf(selected);
  hit?.setAttribute("aria-current", "true");
  hit?.setAttribute("tabindex", "0");
  ribbonOf(selected)?.classList.add("chosen");
}

function select(note) {
  if (!note || note === selected) return;
  selected = note;
  mark();
  const hit = hitOf(note);
  hit?.focus({ preventScroll: true });
  hit?.closest(".system").scrollIntoView({ block: "nearest" });
  const wish = ++cardWish;
  setTimeout(() => wish === cardWish && htmx.ajax("GET", `${base}/notes/${note}`, { source: "#card", target: "#card", swap: "innerHTML" }), 40);
}

function edit(path, values) {
  queue = queue.then(() => {
    const version = document.getElementById("tempo").dataset.version;
    return htmx.ajax("POST", `${base}/${path}`, { source: "#sheet", target: "#status", swap: "none", values: { note: selected, version, ...values } });
  });
}

function step(by) {
  const all = hits();
  const at = all.findIndex((hit) => hit.dataset.note === selected);
  select(all[Math.min(Math.max(at + by, 0), all.length - 1)]?.dataset.note);
}

function line(by) {
  const hit = hitOf(selected);
  let system = hit?.closest(".system");
  do system = by > 0 ? system?.nextElementSibling : system?.previousElementSibling;
  while (system && !system.querySelector(".hit"));
  if (!system) return;
  const x = Number(hit.getAttribute("x"));
  const near = [...system.querySelectorAll(".hit")].reduce((best, other) =>
    Math.abs(other.getAttribute("x") - x) < Math.abs(best.getAttribute("x") - x) ? other : best);
  select(near.dataset.note);
}

function finding(by) {
  const order = hits().map((hit) => hit.dataset.note);
  const notes = [...document.querySelectorAll("[data-goto]")].map((b) => order.indexOf(b.dataset.goto)).sort((a, b) => a - b);
  const at = order.indexOf(selected);
  const next = by > 0 ? notes.find((n) => n > at) ?? notes[0] : notes.findLast((n) => n < at) ?? notes.at(-1);
  if (next !== undefined) select(order[next]);
}

const keys = {
  ArrowRight: () => step(1), ArrowLeft: () => step(-1), ArrowDown: () => line(1), ArrowUp: () => line(-1),
  Home: () => step(-1e6), End: () => step(1e6),
  d: () => edit("direction", { to: "down" }), u: () => edit("direction", { to: "up" }), l: () => edit("direction", { to: "free" }),
  z: () => edit("history/undo", {}), Z: () => edit("history/redo", {}),
  f: () => document.querySelector("[data-fix]")?.click(),
  ".": () => finding(1), ",": () => finding(-1), "?": () => { location.href = "/keys"; },
};

document.addEventListener("keydown", (event) => {
  if (event.target.closest("input, select, textarea") || event.altKey || event.metaKey) return;
  const control = { z: keys.z, Z: keys.Z, y: keys.Z }[event.key];
  const action = event.ctrlKey ? control : keys[event.key];
  if (!action || (event.target.closest("aside") && event.key.startsWith("Arrow"))) return;
  event.preventDefault();
  action();
});

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on(".hit")) select(on(".hit").dataset.note);
  else if (on("[data-goto]")) {
    select(on("[data-goto]").dataset.goto);
    document.getElementById("card").scrollIntoView({ block: "nearest" });
  }
  else if (on("[data-turn]")) edit("direction", { to: on("[data-turn]").dataset.turn });
  else if (on("[data-fix]")) edit("fix", { code: on("[data-fix]").dataset.code, fix: on("[data-fix]").dataset.fix });
  else if (on("[data-history]")) edit(`history/${on("[data-history]").dataset.history}`, {});
  else if (on("[data-tempo]")) edit("tempo", { tempo: Number(document.querySelector("[name=tempo]").value) + Number(on("[data-tempo]").dataset.tempo) });
});

document.addEventListener("change", (event) => {
  if (event.target.name === "tempo") edit("tempo", { tempo: event.target.value });
});
document.addEventListener("submit", (event) => event.target.id === "tempo" && event.preventDefault());

let marking = false;
document.addEventListener("htmx:after:swap", () => {
  if (marking) return; // an edit swaps several places; mark once, before the next paint
  marking = true;
  queueMicrotask(() => {
    marking = false;
    const hadFocus = document.activeElement === document.body;
    mark();
    if (hadFocus) hitOf(selected)?.focus({ preventScroll: true });
  });
});

mark();
hitOf(selected)?.closest(".system").scrollIntoView({ block: "nearest" });
