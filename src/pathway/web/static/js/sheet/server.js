// How the page speaks with the server: one request after the other; one that does not arrive is sent again.
import { say } from "../shared/say.js";

const AGAIN = 3000; // ms until a lost request is tried again
let queue = Promise.resolve();
let underWay = null;
let lost = false;

document.addEventListener("htmx:error", ({ detail: { ctx } }) => { // of this request, and before an answer has come
  if (underWay && ctx?.request.action.includes(underWay) && ctx.text === undefined) lost = true;
});

// Only edits are sent from #status, which says meanwhile that it plans: two requests from one element stand in each other's way.
export const asked = (method, address, values) => htmx.ajax(method, address, { source: "#status", target: "#status", swap: "none", values });

async function insist(address, request, safe) {
  for (let said = null; ; ) {
    [lost, underWay] = [false, address];
    await request(address);
    underWay = null;
    said?.remove();
    if (!lost) return;
    said = say(`The server does not answer. ${safe}`);
    await new Promise((done) => setTimeout(done, AGAIN));
  }
}

export function inTurn(address, request, safe) { // safe: what to say of it while the server is gone
  queue = queue.then(() => insist(address, request, safe));
  return queue;
}
