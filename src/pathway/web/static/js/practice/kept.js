// What a set has so far, kept in this browser: a reload, another tab or a dead server lose nothing.
import { answered, asked, inTurn } from "../shared/server.js";

const OLD = 3 * 3600e3; // ms after which a set that was left open is another one
const waiting = () => JSON.parse(localStorage.getItem("practice-waiting") ?? "[]");
const keep = (list) => localStorage.setItem("practice-waiting", JSON.stringify(list));
const SAFE = "What you said is kept here, and sent when it is back.";
const FAULT = 500; // from here on the server has not kept it

const name = (run) => `practice-set ${run.piece} ${run.drill}`;

export function setOf(run) { // the set that is under way, or a new one
  const found = JSON.parse(localStorage.getItem(name(run)) ?? "null");
  if (found && Date.now() - found.touched < OLD) return found;
  return { token: crypto.randomUUID().replaceAll("-", ""), tries: 0, seconds: 0, begun: Date.now(), touched: Date.now() };
}

export const keepSet = (run, set) => localStorage.setItem(name(run), JSON.stringify({ ...set, touched: Date.now() }));
export const forgetSet = (run) => localStorage.removeItem(name(run));

export function send(path, fields) { // in turn; what is sent again counts once
  const one = { id: crypto.randomUUID(), path, fields };
  keep([...waiting(), one]);
  return post(one);
}

const post = ({ id, path, fields: { begun, ...fields } }) => new Promise((done) => { // → whether it is kept, as soon as that is known
  const request = async (address) => {
    const values = { ...fields, ...(begun && { ago: ((Date.now() - begun) / 1000).toFixed(0) }) };
    await asked("POST", address, values, { target: "#stand", swap: "innerHTML" });
    return answered() < FAULT;
  };
  inTurn(path, request, SAFE, () => done(false)).then((kept) => {
    keep(waiting().filter((one) => one.id !== id));
    done(kept);
  });
});

export const flush = () => waiting().forEach(post);
