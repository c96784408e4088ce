// What a set has so far, kept in this browser: a reload, another tab or a dead server lose nothing.
import { say } from "../shared/say.js";

const AGAIN = 3000; // ms until what could not be sent is tried once more
const OLD = 3 * 3600e3; // ms after which a set that was left open is another one
const waiting = () => JSON.parse(localStorage.getItem("practice-waiting") ?? "[]");
const keep = (list) => localStorage.setItem("practice-waiting", JSON.stringify(list));
const answers = new Map(); // what is done with the answer to each that is waiting
let sending = false;

const name = (run) => `practice-set ${run.piece} ${run.drill}`;

export function setOf(run) { // the set that is under way, or a new one
  const found = JSON.parse(localStorage.getItem(name(run)) ?? "null");
  if (found && Date.now() - found.touched < OLD) return found;
  return { token: crypto.randomUUID().replaceAll("-", ""), tries: 0, seconds: 0, begun: Date.now(), touched: Date.now() };
}

export const keepSet = (run, set) => localStorage.setItem(name(run), JSON.stringify({ ...set, touched: Date.now() }));
export const forgetSet = (run) => localStorage.removeItem(name(run));

export function send(path, fields, show) { // in turn; what is sent again counts once
  const id = crypto.randomUUID();
  answers.set(id, show);
  keep([...waiting(), { id, path, fields }]);
  return flush(show);
}

let under = Promise.resolve();

export function flush(show) { // → when all is sent, or the server does not answer
  if (!sending) under = inTurn(show);
  return under;
}

async function inTurn(show) {
  sending = true;
  try {
    for (let list = waiting(); list.length; list = waiting()) {
      const [{ id, path, fields }] = list;
      const body = new URLSearchParams({ ...fields, ...(fields.begun && { ago: ((Date.now() - fields.begun) / 1000).toFixed(0) }) });
      body.delete("begun");
      const answer = await fetch(path, { method: "POST", body, headers: { "HX-Request": "true" } }).catch(() => null);
      if (!answer || answer.status >= 500) {
        say("The server does not answer. What you said is kept here, and sent when it is back.");
        setTimeout(() => flush(show), AGAIN);
        return;
      }
      keep(waiting().filter((one) => one.id !== id));
      const text = await answer.text();
      if (answer.ok) { document.getElementById("message").replaceChildren(); (answers.get(id) ?? show)(text); } else say(new DOMParser().parseFromString(text, "text/html").body.textContent.trim());
    }
  } finally { sending = false; }
}
