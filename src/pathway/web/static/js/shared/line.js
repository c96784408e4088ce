// The line that moves over the music, and on it the place of the hair that is on the string.
const NS = "http://www.w3.org/2000/svg";
const HEAD = 16; // px from a note's left edge to the middle of its head, at most
const BEYOND = 20; // px that the line goes on after the last note of a system

export function spot(hit) { // the overlay of its line and the middle of its head; null before the line has come
  if (!hit) return null;
  return { tracks: hit.ownerSVGElement, x: Number(hit.getAttribute("x")) + Math.min(Number(hit.getAttribute("width")) / 2, HEAD) };
}

export function move(at, then, share, place) { // between two spots; place: share of the hair, where it is known
  const { tracks } = at;
  const x = (at.x + share * ((then && then.tracks === tracks ? then.x : at.x + BEYOND) - at.x)).toFixed(1);
  const [top, tall] = [Number(tracks.dataset.hairTop), Number(tracks.dataset.hair)];
  draw(tracks, "path", "play-line", { d: `M${x} 0V${place === undefined ? tracks.viewBox.baseVal.height : top + tall}` });
  if (place !== undefined) draw(tracks, "circle", "play-bow", { cx: x, cy: (top + place * tall).toFixed(1), r: 6 });
}

function draw(tracks, name, kind, values) {
  let drawn = document.querySelector(`.tracks > .${kind}`);
  if (drawn?.ownerSVGElement !== tracks) {
    drawn?.remove();
    drawn = document.createElementNS(NS, name);
    drawn.setAttribute("class", kind);
    tracks.append(drawn);
  }
  for (const [key, value] of Object.entries(values)) drawn.setAttribute(key, value);
}

export function dot(picture, x, y) { // the same place in a picture of the bow
  let drawn = picture.querySelector(".play-bow");
  if (!drawn) {
    drawn = document.createElementNS(NS, "circle");
    drawn.setAttribute("class", "play-bow");
    drawn.setAttribute("r", "5");
    picture.append(drawn);
  }
  drawn.setAttribute("cx", x.toFixed(1));
  drawn.setAttribute("cy", y.toFixed(1));
}

export function clear() {
  for (const mark of document.querySelectorAll(".play-line, .play-bow")) mark.remove();
}
