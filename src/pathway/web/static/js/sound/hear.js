// A press, and a few bars sound: a note, a bow, its bars; before and after a help; as planned and as it should be.
import { base } from "../sheet/lines.js";
import { state } from "../sheet/selection.js";
import { say } from "../sheet/server.js";
import { play, sound, voice, wish } from "./voice.js";

const BETWEEN = 0.25; // s of silence between two that are heard in turn
let sounding = [];
let turn = 0;

export function hush() {
  turn += 1;
  for (const one of sounding) one.hush();
  sounding = [];
  for (const pressed of document.querySelectorAll("[data-sound][aria-pressed=true]")) pressed.setAttribute("aria-pressed", "false");
}

function address(asked) {
  const { sound: scope, note = state.selected, fixHeard, ...other } = asked;
  if (fixHeard) other.fix = fixHeard;
  const version = document.getElementById("tempo").dataset.version;
  const values = new URLSearchParams({ scope, note, version, ...other });
  if (wish.alone) values.set("alone", "true");
  return `${base}/sound.wav?${values}`;
}

async function hear(button) {
  const again = button.getAttribute("aria-pressed") === "true";
  hush();
  if (again) return;
  const mine = turn;
  voice();
  button.setAttribute("aria-pressed", "true");
  const { inTurn, ...after } = button.dataset;
  const { sound: scope, note, code } = after;
  const asked = inTurn ? [{ sound: scope, ...(note && { note }), ...(code && { code }) }, after] : [after];
  try {
    const sounds = await Promise.all(asked.map((one) => sound(address(one))));
    if (mine !== turn) return; // another press came before
    let at = voice().context.currentTime + 0.02;
    for (const { buffer } of sounds) {
      sounding.push(play(buffer, at));
      at += buffer.duration + BETWEEN;
    }
    sounding.at(-1).source.addEventListener("ended", () => mine === turn && hush());
  } catch (refused) {
    hush();
    say(refused.message);
  }
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-sound]");
  if (button) hear(button);
});
