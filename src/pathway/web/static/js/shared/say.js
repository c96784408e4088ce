// A message in words, where the page has a place for it.
export function say(text) {
  const said = document.createElement("p");
  said.className = "rounded-lg border border-bad text-bad bg-sheet px-4 py-3";
  said.textContent = text;
  document.getElementById("message")?.replaceChildren(said);
  return said;
}
