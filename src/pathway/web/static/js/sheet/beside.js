// Beside the plan: ghosts of what a fix or a variant would do, what is heard, the history, the tempo slider.
import { base, lines, sheet } from "./lines.js";
import { chosen, state } from "./selection.js";
import { post, SAFE } from "./edits.js";
import { asked, inTurn } from "./server.js";

const WAIT = 150; // ms that a hand rests on a fix before its ghost is asked for
const REST = 300; // ms that the tempo slider rests before the whole piece is looked at, not only the lines in view
let ghostWish = 0;
const LANES = ["#status", "#message"]; // sources of glances: while one is drawn the next is planned
const glances = [null, null]; // those under way, by lane
let wanted = null;
let rest = 0;

const get = (path, target = "#status") => htmx.ajax("GET", `${base}/${path}`, { source: target, target, swap: target === "#status" ? "none" : "innerHTML" });
export const unlay = () => {
  for (const ghost of sheet.querySelectorAll(".ghost")) ghost.replaceChildren();
  sheet.classList.remove("compared");
};

function ghost(fix) {
  const wish = ++ghostWish;
  setTimeout(() => {
    if (wish !== ghostWish || !fix.isConnected) return;
    const values = new URLSearchParams({ note: state.selected, code: fix.dataset.code, fix: fix.dataset.fix });
    get(`ghost?${values}`);
  }, WAIT);
}

for (const [enter, leave] of [["pointerover", "pointerout"], ["focusin", "focusout"]]) {
  document.addEventListener(enter, (event) => event.target.closest("[data-fix]") && ghost(event.target.closest("[data-fix]")));
  document.addEventListener(leave, (event) => {
    if (!event.target.closest("[data-fix]") || sheet.classList.contains("compared")) return;
    ghostWish += 1;
    unlay();
  });
}

const drawer = document.getElementById("drawer");
const show = (title, asked) => {
  document.getElementById("drawer-title").textContent = title;
  asked.then(() => drawer.open || drawer.showModal());
};
const open = (name) => show({ history: "What was changed", variants: "Variants" }[name], get(name, "#drawer-body"));
export const keysOver = () => show("Keys", htmx.ajax("GET", "/keys", { target: "#drawer-body", swap: "innerHTML" }));

export function work() { // the first drill for this note, or the drills for some notes
  const range = chosen();
  if (range.length < 2) { document.querySelector("#card .drill-line")?.click(); return; }
  show(`Practise ${range.length} notes`, get(`practise/for?${new URLSearchParams({ note: range[0], last: range.at(-1) })}`, "#drawer-body"));
}

document.addEventListener("click", (event) => {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-work]")) work();
  else if (on("[data-keys]")) keysOver();
  else if (on("[data-open]")) open(on("[data-open]").dataset.open);
  else if (on("[data-close]")) drawer.close();
  else if (on("[data-rewind]")) post(`history/to/${on("[data-rewind]").dataset.rewind}`).then(() => get("history", "#drawer-body"));
  else if (on("[data-compare]")) {
    drawer.close();
    compare(on("[data-compare]").dataset.compare);
  }
  else if (on("[data-forget]")) htmx.ajax("POST", `${base}/variants/${on("[data-forget]").dataset.forget}/forget`, { target: "#drawer-body", swap: "innerHTML" });
  else if (on("[data-take-bar]")) post(on("[data-take-bar]").dataset.takeBar).then(() => compared && compare(compared));
  else if (on("[data-take]")) post(`${on("[data-take]").dataset.take}/take`).then(putAway);
  else if (on("[data-least]")) document.getElementById("findings").dataset.shows = on("[data-least]").dataset.least;
  else if (on("[data-unlay]")) putAway();
  else if (on("[data-plain]")) {
    document.cookie = "colour=tone; path=/; samesite=strict; max-age=31536000";
    location.reload();
  }
  else if (on("[data-aside]")) askWhy(on("[data-aside]").dataset);
  else if (on("[data-back]")) aside({ code: on("[data-back]").dataset.back, note: on("[data-back]").dataset.note });
});

let compared = null; // where the plan comes from that lies over this one
export function compare(other) {
  compared = other;
  unlay();
  sheet.classList.add("compared");
  const lay = (address) => asked("GET", address);
  inTurn(`${base}/${other}/compare`, lay, "The other plan is asked for again in a moment."); // after edits under way
}
sheet.addEventListener("came", () => compared && compare(compared)); // over the new lines too

export function putAway() {
  compared = null;
  unlay();
  document.getElementById("compare").replaceChildren();
}

const aside = (values) => inTurn(`${base}/aside`, (address) => asked("POST", address, values), SAFE);

function askWhy(finding) {
  document.getElementById("drawer-title").textContent = "Lay this finding aside";
  const form = document.getElementById("aside-form").content.cloneNode(true).firstElementChild;
  Object.assign(form.dataset, { code: finding.aside, note: finding.note });
  document.getElementById("drawer-body").replaceChildren(form);
  drawer.showModal();
  form.elements.reason.select();
}

document.addEventListener("submit", (event) => {
  if (event.target.dataset.code) {
    event.preventDefault();
    drawer.close();
    aside({ ...event.target.dataset, reason: event.target.elements.reason.value });
  }
  if (event.target.id !== "keep-variant") return;
  event.preventDefault();
  htmx.ajax("POST", `${base}/variants`, { target: "#drawer-body", swap: "innerHTML", values: { name: new FormData(event.target).get("name") } });
});

const hear = (what) => get(`notes/${state.selected}/hear?heard=${encodeURIComponent(what)}`, "#causes");

document.addEventListener("click", (event) => {
  const { heardInTake } = event.target.closest("[data-heard-in-take]")?.dataset ?? {};
  if (heardInTake) {
    document.querySelector("[data-hear]").value = heardInTake;
    hear(heardInTake);
    return;
  }
  const { cause, heard } = event.target.closest("[data-cause]")?.dataset ?? {};
  if (!cause) return;
  htmx.ajax("POST", `${base}/notes/${state.selected}/hear`, { target: "#causes", swap: "innerHTML", values: { heard, cause } });
});

document.addEventListener("change", (event) => {
  if (event.target.matches("[data-name-variant]")) {
    const values = { name: event.target.value };
    htmx.ajax("POST", `${base}/variants/${event.target.dataset.nameVariant}/name`, { target: "#drawer-body", swap: "innerHTML", values });
    return;
  }
  if (event.target.matches("[data-hear]")) {
    if (event.target.value) hear(event.target.value);
    else document.getElementById("causes").replaceChildren();
  } else if (event.target.matches("[data-tempo-slider]")) {
    wanted = null;
    clearTimeout(rest);
    const tempo = event.target.value; // kept once no glance can arrive after it
    Promise.all(glances).then(() => post("tempo", { tempo }));
  }
});

document.addEventListener("input", (event) => {
  if (!event.target.matches("[data-tempo-slider]")) return;
  document.querySelector("[name=tempo]").value = event.target.value;
  look({ tempo: event.target.value });
  clearTimeout(rest);
  rest = setTimeout(() => look({ tempo: event.target.value, whole: true }), REST);
});

function look(at) {
  wanted = at;
  const free = glances.indexOf(null);
  if (free >= 0) glances[free] = glance(free).finally(() => { glances[free] = null; });
}

function inView() { // numbers of the first and last line that can be seen
  const seen = lines.map((line) => line.getBoundingClientRect());
  const shown = seen.flatMap((box, i) => (box.bottom > 0 && box.top < innerHeight ? [i] : []));
  return [shown[0] ?? 0, shown.at(-1) ?? 0];
}

async function glance(lane) { // always for the newest place of the slider
  while (wanted !== null) {
    const [first, last] = inView();
    const values = new URLSearchParams({ ...wanted, first, last });
    wanted = null;
    await htmx.ajax("GET", `${base}/preview?${values}`, { source: LANES[lane], target: "#status", swap: "none" });
  }
}
if (sheet.dataset.laid) compare(sheet.dataset.laid);
