"""The string under the bow, drawn slowly: shapes only, looks are in the style sheet."""

import numpy as np

from pathway.core.planning.note_plan import Tone
from pathway.core.sound.seen import Seen
from pathway.web.shared.svg import path, picture, px, through

_WIDTH, _HEIGHT, _EDGE = 300.0, 120.0, 8.0
SLOWED = 8.0  # all of it takes so long to be run through [s]
_POINTS = 400
_WORDS = {
    Tone.CORE: "It sticks to the bow and slips back once in every period: a clear tone.",
    Tone.AIRY: "It slips back several times in a period: airy, and softer.",
    Tone.PRESSED: "It slips when it will, each time otherwise: raucous.",
}


def seen_picture(seen: Seen, name: str) -> str:
    """Return how the string goes to and fro under the bow, with a point that runs along slowly."""
    step = max(1, len(seen.times) // _POINTS)
    times, place = seen.times[::step], seen.place[::step]
    most = max(float(np.abs(place).max()), 1e-9)
    xs = _EDGE + (_WIDTH - 2 * _EDGE) * times / max(float(seen.times[-1]), 1e-9)
    ys = _HEIGHT / 2 - (_HEIGHT / 2 - _EDGE) * place / most
    line = through(zip(xs.tolist(), ys.tolist(), strict=True))
    periods = "".join(f"M{px(_EDGE + k * (_WIDTH - 2 * _EDGE) / seen.times[-1])} 0V{_HEIGHT:.0f}" for k in range(1, 5))
    run = f'<animateMotion dur="{SLOWED:g}s" repeatCount="indefinite" path="{line}"/>'
    point = f'<circle class="seen-point" r="5">{run}</circle>'
    label = f"The string under the bow, {name}"
    return picture(label, _WIDTH, _HEIGHT, path("grid", periods), path("seen-line", line), point, kind="seen")


def seen_words(seen: Seen) -> str:
    """Return what is seen in words, with how far the string goes and how much it is slowed."""
    reach = float(seen.place.max() - seen.place.min())
    slower = SLOWED / (float(seen.times[-1]) / seen.pitch)
    told = _WORDS[seen.tone] if seen.tone else "The note is too short for its tone to stand."
    return f"{told} It goes {1000 * reach:.2f} mm to and fro under the bow; shown {round(slower, -2):.0f} times slower."
