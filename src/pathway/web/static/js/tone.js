// The tone map under the hand: the point is a place and a weight; both are set when it is let go.
const page = document.getElementById("tone");
const address = `/pieces/${page.dataset.piece}`;

async function set(edit) {
  const { note, version } = page.dataset;
  const body = new URLSearchParams({ notes: note, note, version, ...edit });
  const answer = await fetch(`${address}/edit`, { method: "POST", body, headers: { "HX-Request": "true" } });
  if (answer.ok) location.replace(`${address}/tone?note=${note}`);
  else document.getElementById("message").innerHTML = await answer.text();
}

let held = null;
document.addEventListener("pointerdown", (event) => {
  if (!event.target.matches(".tone-map .point")) return;
  event.preventDefault();
  held = event.target;
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  const map = held.ownerSVGElement;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(map.getScreenCTM().inverse());
  const { left, right, top, bottom } = map.dataset;
  held.setAttribute("cx", Math.min(Math.max(at.x, left), right));
  held.setAttribute("cy", Math.min(Math.max(at.y, top), bottom));
});
document.addEventListener("pointerup", () => {
  if (!held) return;
  const { left, right, top, bottom, least, most, others } = held.ownerSVGElement.dataset;
  const [x, y] = [Number(held.getAttribute("cx")), Number(held.getAttribute("cy"))];
  held = null;
  const lane = Math.min(Math.floor((x - left) / (right - left) * 6) + 1, 6);
  const force = least * (most / least) ** ((bottom - y) / (bottom - top)) + Number(others);
  set({ what: "point", value: `${lane} ${force.toFixed(3)}` });
});
document.addEventListener("click", (event) => {
  const move = event.target.closest("[data-move]");
  if (move) set(move.dataset.step ? { what: move.dataset.move, step: move.dataset.step } : { what: move.dataset.move });
  const colour = event.target.closest("[data-colour]");
  if (!colour) return;
  document.cookie = `colour=${colour.dataset.colour}; path=/; samesite=strict; max-age=31536000`;
  location.href = address;
});
