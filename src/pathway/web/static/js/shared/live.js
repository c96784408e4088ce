// What another device does in this piece: the version that it has now, and the note at which the player stands there.
export function listen(base, changed) {
  const events = new EventSource(`${base}/live`);
  events.addEventListener("message", ({ data }) => changed(JSON.parse(data)));
  addEventListener("pagehide", () => events.close());
}
