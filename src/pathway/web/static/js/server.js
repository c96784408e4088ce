// How the page speaks with the server: one request after the other; one that does not arrive is sent again.
const AGAIN = 3000; // ms until a lost request is tried again
let queue = Promise.resolve();
let lost = false;

document.addEventListener("htmx:error", () => { lost = true; });

export function say(text) {
  const said = document.createElement("p");
  said.className = "rounded-lg border border-bad text-bad bg-sheet px-4 py-3";
  said.textContent = text;
  document.getElementById("message").replaceChildren(said);
  return said;
}

async function insist(request, safe) {
  for (let said = null; ; ) {
    lost = false;
    await request();
    said?.remove();
    if (!lost) return;
    said = say(`The server does not answer. ${safe}`);
    await new Promise((done) => setTimeout(done, AGAIN));
  }
}

export function inTurn(request, safe) { // safe: what to say of it while the server is gone
  queue = queue.then(() => insist(request, safe));
  return queue;
}
