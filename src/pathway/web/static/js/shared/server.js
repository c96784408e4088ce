// How a page speaks with the server: one request after the other, over htmx; one that does not arrive is sent again.
import { say } from "./say.js";

const AGAIN = 3000; // ms until a lost request is tried again
let queue = Promise.resolve();
let underWay = null; // the request that is, and what has come of it

const ours = (ctx) => underWay && ctx?.request.action.includes(underWay.address);
document.addEventListener("htmx:error", ({ detail: { ctx } }) => { // before an answer has come
  if (ours(ctx) && ctx.text === undefined) underWay.lost = true;
});
document.addEventListener("htmx:after:request", ({ detail: { ctx } }) => {
  if (ours(ctx)) underWay.status = ctx.response?.status ?? 0;
});

// Only what is done in turn is sent from #status, which says meanwhile that it plans: two requests from one element stand
// in each other's way. What comes finds its place by itself, unless the page says where it goes.
export const asked = (method, address, values, where = {}) =>
  htmx.ajax(method, address, { source: "#status", target: "#status", swap: "none", values, ...where });

async function insist(address, request, safe, lost) {
  for (let said = null; ; ) {
    const mine = underWay = { address, lost: false, status: 0 };
    const arrived = await request(address);
    underWay = null;
    said?.remove();
    if (!mine.lost && arrived !== false) return mine.status < 400;
    lost?.();
    said = say(`The server does not answer. ${safe}`);
    await new Promise((done) => setTimeout(done, AGAIN));
  }
}

// safe: what to say of it while the server is gone; lost: what to do each time that it is → whether it was done
export function inTurn(address, request, safe, lost) {
  queue = queue.then(() => insist(address, request, safe, lost));
  return queue;
}

export const answered = () => underWay?.status ?? 0; // of the request under way
