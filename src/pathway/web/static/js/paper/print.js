// A page for paper: what is set is asked for anew, and the browser's own dialog prints it.
document.getElementById("print").addEventListener("click", () => print());
const form = document.getElementById("paper-form");

function query() {
  const values = new URLSearchParams({ paper: form.elements.paper.value });
  for (const box of form.querySelectorAll("[data-name]")) values.set(box.dataset.name, box.checked);
  return values;
}

if (form) {
  form.addEventListener("change", () => location.replace(`?${query()}`));
  const pdf = document.getElementById("pdf");
  if (pdf) pdf.href += `?${query()}`;
}
