// Ghosts: what a fix would make of the sheet, drawn over it while the hand rests on it.
import { base, sheet } from "./lines.js";
import { state } from "./selection.js";

const WAIT = 150; // ms that a hand rests on a fix before its ghost is asked for
let wish = 0;

export const unlay = () => {
  for (const ghost of sheet.querySelectorAll(".ghost")) ghost.replaceChildren();
  sheet.classList.remove("compared");
};

function show(fix) {
  const mine = ++wish;
  setTimeout(() => {
    if (mine !== wish || !fix.isConnected) return;
    const values = new URLSearchParams({ note: state.selected, code: fix.dataset.code, fix: fix.dataset.fix });
    htmx.ajax("GET", `${base}/ghost?${values}`, { source: "#compare", target: "#status", swap: "none" });
  }, WAIT);
}

for (const [enter, leave] of [["pointerover", "pointerout"], ["focusin", "focusout"]]) {
  document.addEventListener(enter, (event) => event.target.closest("[data-fix]") && show(event.target.closest("[data-fix]")));
  document.addEventListener(leave, (event) => {
    if (!event.target.closest("[data-fix]") || sheet.classList.contains("compared")) return;
    wish += 1;
    unlay();
  });
}
