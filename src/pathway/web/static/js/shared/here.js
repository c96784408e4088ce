// Where the player stands in a piece: told when it is opened, a moment after a note is chosen, and when the page goes.
const piece = document.querySelector(".way") && location.pathname.match(/^\/pieces\/\d+/)?.[0];
let note = document.querySelector("[data-stands]")?.dataset.stands;
let waiting = 0;

function tell() {
  clearTimeout(waiting);
  waiting = 0;
  const body = new URLSearchParams(note ? { note } : {});
  fetch(`${piece}/here`, { method: "POST", body, headers: { "HX-Request": "true" }, keepalive: true }).catch(() => {});
}

if (piece) {
  tell();
  document.addEventListener("stands", ({ detail }) => {
    note = detail;
    clearTimeout(waiting);
    waiting = setTimeout(tell, 300);
  });
  addEventListener("pagehide", () => waiting && tell());
}
