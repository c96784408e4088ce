// The tempo slider: glances at the lines in view while it moves, at the whole piece while it rests, a plan when it is let go.
import { base, lines } from "./lines.js";
import { post } from "./edits.js";

const REST = 300; // ms that the slider rests before the whole piece is looked at, not only the lines in view
const LANES = ["#facts", "#message"]; // sources of glances: while one is drawn the next is planned
const glances = [null, null]; // those under way, by lane
let wanted = null;
let rest = 0;

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

document.addEventListener("input", (event) => {
  if (!event.target.matches("[data-tempo-slider]")) return;
  document.querySelector("[name=tempo]").value = event.target.value;
  look({ tempo: event.target.value });
  clearTimeout(rest);
  rest = setTimeout(() => look({ tempo: event.target.value, whole: true }), REST);
});

document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-tempo-slider]")) return;
  wanted = null;
  clearTimeout(rest);
  const tempo = event.target.value; // kept once no glance can arrive after it
  Promise.all(glances).then(() => post("tempo", { tempo }));
});
