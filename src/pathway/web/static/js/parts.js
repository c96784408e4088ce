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
      htmx.trigger(this.$root, "dropped");
    },
  }));
  Alpine.data("choice", () => ({
    suggest(event) { this.$refs.rig.value = event.target.dataset.rig; },
  }));
});
