// Small Alpine parts that several pages use.
document.addEventListener("alpine:init", () => {
  Alpine.data("theme", () => ({
    evening: document.documentElement.dataset.theme === "evening",
    turn() {
      this.evening = !this.evening;
      const light = this.evening ? "evening" : "day";
      document.documentElement.dataset.theme = light;
      localStorage.setItem("light", light);
    },
  }));
  Alpine.data("menu", () => ({
    open: false,
    toggle() { this.open = !this.open; },
    close() { this.open = false; },
  }));
  Alpine.data("drop", () => ({
    over: false,
    take(event) {
      this.over = false;
      this.$refs.file.files = event.dataTransfer.files;
      this.send();
    },
    send() { // a file that is too large is not even sent
      const file = this.$refs.file.files[0];
      const most = Number(this.$root.dataset.most);
      const said = document.getElementById("message");
      said.textContent = "";
      if (file && file.size > most && !file.name.endsWith(".pathway")) {
        said.textContent = `The file has ${Math.round(file.size / 1e6)} MB; Pathway takes up to ${most / 1e6}. Export the part alone, without pictures or sound.`;
        this.$refs.file.value = "";
      } else if (file) htmx.trigger(this.$root, "chosen");
    },
  }));
  Alpine.data("choice", () => ({
    unnamed: false,
    init() { this.unnamed = this.$el.querySelector("[name=part]:checked")?.dataset.unnamed === "true"; },
    suggest(event) {
      this.$refs.rig.value = event.target.dataset.rig;
      this.unnamed = event.target.dataset.unnamed === "true";
    },
  }));
});
