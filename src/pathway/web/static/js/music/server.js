// How the page of music speaks with the server: one request after the other; what comes back finds its place by its id.
export const music = document.getElementById("music");
const base = `/pieces/${music.dataset.piece}/music`;
const AGAIN = 3000; // ms until a lost request is tried again
let queue = Promise.resolve();

export const lines = () => [...music.querySelectorAll("[data-line]")];
const there = () => lines().filter((line) => !line.querySelector(".to-come")).map((line) => line.dataset.line).join(" ");
const headers = () => ({ "HX-Request": "true", Room: music.dataset.room, Lines: there() });

export function say(text) {
  const said = document.createElement("p");
  said.className = "rounded-lg border border-bad text-bad bg-sheet px-4 py-3";
  said.textContent = text;
  document.getElementById("message").replaceChildren(...(text ? [said] : []));
}

async function insist(address, options) {
  for (;;) {
    try {
      return await fetch(address, options());
    } catch {
      say("The server does not answer. What you did is sent again in a moment.");
      await new Promise((done) => setTimeout(done, AGAIN));
    }
  }
}

async function put(answer) {
  const text = await answer.text();
  const parts = document.createElement("template");
  parts.innerHTML = text;
  if (!answer.ok) {
    document.getElementById("message").replaceChildren(parts.content);
    return false;
  }
  say("");
  const opened = [...document.querySelectorAll("[data-step-row][open]")].map((row) => row.dataset.stepRow);
  for (const part of [...parts.content.children]) {
    const here = document.getElementById(part.id);
    if (part.hasAttribute("data-inner")) here?.replaceChildren(...part.childNodes);
    else here?.replaceWith(part);
  }
  for (const id of opened) document.querySelector(`[data-step-row="${id}"]`)?.setAttribute("open", "");
  const version = document.getElementById("beside").dataset.version;
  music.dataset.version = version;
  return true;
}

const inTurn = (task) => { queue = queue.then(task); return queue; };

export const get = (path, values) => inTurn(async () =>
  put(await insist(`${base}/${path}?${new URLSearchParams(values)}`, () => ({ headers: headers() }))));

export const post = (path, values) => inTurn(async () =>
  put(await insist(`${base}/${path}`, () => ({
    method: "POST",
    headers: headers(),
    body: new URLSearchParams({ version: music.dataset.version, ...values }),
  }))));
