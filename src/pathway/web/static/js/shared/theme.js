// Sets the light before the first paint, and tells the server how much room a line of music has.
document.documentElement.dataset.theme = localStorage.getItem("light") ?? "day";
document.cookie = `room=${innerWidth < 1160 ? "narrow" : "wide"}; path=/; samesite=strict; max-age=31536000`;
