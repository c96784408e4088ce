// A press, and something sounds; another, and it ends. Several sound in turn.
import { say } from "../shared/say.js";
import { play, sound, voice } from "./voice.js";

const BETWEEN = 0.25; // s of silence between two that are heard in turn
const PRESSED = "[data-sound], [data-clip]";
let sounding = [];
let turn = 0;

export function hush() {
  turn += 1;
  for (const one of sounding) one.hush();
  sounding = [];
  for (const button of document.querySelectorAll(PRESSED)) button.setAttribute("aria-pressed", "false");
}

export async function hear(addresses, button) {
  const again = button?.getAttribute("aria-pressed") === "true";
  hush();
  if (again) return;
  const mine = turn;
  voice();
  button?.setAttribute("aria-pressed", "true");
  try {
    const sounds = await Promise.all(addresses.map(sound));
    if (mine !== turn) return; // another press came before
    let at = voice().context.currentTime + 0.02;
    for (const { buffer } of sounds) {
      sounding.push(play(buffer, at));
      at += buffer.duration + BETWEEN;
    }
    sounding.at(-1).source.addEventListener("ended", () => mine === turn && hush());
  } catch (refused) {
    if (mine !== turn) return;
    hush();
    say(refused.message);
  }
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-clip]");
  if (button) hear([button.dataset.clip], button);
});
