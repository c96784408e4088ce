// The code that was read from the picture stands behind the #, which no server sees.
const said = decodeURIComponent(location.hash.slice(1)).replaceAll("-", " ");
if (said) { document.getElementById("code").value = said; history.replaceState(null, "", "/enter"); }
