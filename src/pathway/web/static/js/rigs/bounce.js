// Taps along with the rebounding bow, by key, click or touch; what they mean is computed by the server.
const form = document.getElementById("bounce");
const said = document.getElementById("tapping");
const taps = new Map(); // place → { place, each, times }
const LEAST = 6;
const base = `/rigs/${form.dataset.rig}/bounce`;

function here() {
  const place = Number(form.elements.place.value);
  const each = Number(form.elements.each.value);
  const known = taps.get(place);
  if (!known || known.each !== each) taps.set(place, { place, each, times: [] });
  return taps.get(place);
}

const enough = () => JSON.stringify([...taps.values()].filter((row) => row.times.length >= LEAST));
const show = () => htmx.ajax("POST", base, { target: "#bounce-result", swap: "innerHTML", values: { taps: enough() } });

function tap(time) {
  const row = here();
  row.times.push(time / 1000);
  form.querySelector("[data-count]").textContent = row.times.length;
  said.textContent = row.times.length < LEAST ? `${LEAST - row.times.length} more at this mark` : "";
  clearTimeout(tap.wait);
  if (row.times.length >= LEAST) tap.wait = setTimeout(show, 600);
}

form.querySelector("[data-tap]").addEventListener("pointerdown", (event) => tap(event.timeStamp));
document.addEventListener("keydown", (event) => {
  if (event.key === "t" && !event.repeat && !event.ctrlKey && !event.metaKey) tap(event.timeStamp);
});
form.querySelector("[data-tap]").addEventListener("click", (event) => { if (event.detail === 0) tap(event.timeStamp); });
form.elements.place.addEventListener("change", () => { form.querySelector("[data-count]").textContent = here().times.length || ""; });
form.querySelector("[data-again]").addEventListener("click", () => {
  here().times.length = 0;
  form.querySelector("[data-count]").textContent = "";
  show();
});
form.querySelector("[data-simulate]").addEventListener("click", async () => {
  for (const option of form.elements.place.options) {
    const answer = await fetch(`${base}/simulated?place=${option.value}&each=4`);
    taps.set(Number(option.value), { place: Number(option.value), each: 4, times: await answer.json() });
  }
  said.textContent = "A simulated bow tapped at all marks.";
  show();
});
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-accept]")) htmx.ajax("POST", `${base}/accept`, { target: "#message", swap: "innerHTML", values: { taps: enough() } });
});
