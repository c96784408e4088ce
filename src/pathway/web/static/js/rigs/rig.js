// The rig's numbers: back to typical, and a mark on what was changed but not kept yet.
const form = document.getElementById("numbers");

form.addEventListener("click", (event) => {
  if (!event.target.closest("[data-typical-again]")) return;
  const input = event.target.closest("[data-measure]").querySelector("input");
  input.value = input.dataset.typical;
  input.dispatchEvent(new Event("input", { bubbles: true }));
  input.focus();
});
form.addEventListener("input", (event) => {
  event.target.closest("[data-measure]")?.classList.toggle("unkept", event.target.value !== event.target.defaultValue);
});
