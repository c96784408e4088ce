// Sets the light before the first paint.
document.documentElement.dataset.theme = localStorage.getItem("light") ?? "day";
