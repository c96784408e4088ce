// Edits go to the server one after the other.
import { base } from "./lines.js";
import { chosen, keepCard, letCardGo, state } from "./selection.js";
import { asked, inTurn } from "../shared/server.js";

export const SAFE = "Your last change is kept here and sent again in a moment; nothing is lost.";
const version = () => document.querySelector("[data-version]").dataset.version;

export function post(path, values = {}) {
  const send = (address) => asked("POST", address, { note: state.selected, version: version(), ...values });
  letCardGo();
  return inTurn(`${base}/${path}`, send, SAFE).then(keepCard);
}

export function edit(what, { value = "", step = "" } = {}) {
  const values = { notes: chosen().join(" "), what };
  if (value !== "") values.value = value;
  if (step !== "") values.step = step;
  return post("edit", values);
}
