"""A take under an engraved line: each note's level against the plan, its time, and what is said of it."""

import re
from collections.abc import Sequence
from html import escape

import numpy as np

from pathway.core.takes import Listened, MeasuredNote
from pathway.web.shared.svg import across, path, px, text
from pathway.web.shared.tracks.geometry import Tracks

_ROOM = 52.0  # height of the track [px]
PER_CENT, MOST_CENTS = 0.3, 40.0  # of a note that is high or low, in px
_PER_DB, _MOST_DB = 2.0, 9.0
PER_SECOND, MOST_SHIFT = 120.0, 14.0  # of a note that is early or late
_BOX = re.compile(r'viewBox="0 0 ([\d.]+) ([\d.]+)" width="[\d.]+" height="[\d.]+"')


def with_take(drawn: str, tracks: Tracks, heard: Listened, other: Listened | None = None) -> str:
    """Return a drawn line with the take under it, and another take beside it."""
    top, left = tracks.height + 6, tracks.left
    middle, bottom = top + _ROOM / 2, top + _ROOM
    parts = [
        f'<rect class="hair-field" x="{px(left)}" y="{px(top)}" '
        f'width="{px(tracks.right - left)}" height="{px(_ROOM)}"/>',
        path("balance", across(middle, left, tracks.right)),
        text(left - 8, top + 8, "louder", "axis-name"),
        text(left - 8, middle + 3, "plan", "axis-name"),
        text(left - 8, bottom, "softer", "axis-name"),
    ]
    for hit in tracks.hits:
        row = heard.of.get(hit.note)
        x = hit.x0 + min((hit.x1 - hit.x0) / 2, 16.0)
        beside = other.of.get(hit.note) if other else None
        if beside is not None:
            parts.append(f'<circle class="take-other" cx="{px(x + 3)}" cy="{px(_level(beside, middle))}" r="3.4"/>')
        parts.append(_unheard(x, middle) if row is None else _note(row, hit.note, x, middle))
        if row is not None and row.cents == row.cents:
            up = float(np.clip(row.cents, -MOST_CENTS, MOST_CENTS)) * PER_CENT
            parts.append(path("take-cents", f"M{px(x - 5)} {px(middle)}v{px(-up)}m-3 0h6"))
        if heard.times_played[hit.note] > 1:
            again = heard.times_played[hit.note]
            parts.append(text(x, bottom + 6, f"{again}×", "take-again"))
    box = f'viewBox="0 0 {px(tracks.width)} {px(bottom + 8)}" width="{px(tracks.width)}" height="{px(bottom + 8)}"'
    return _BOX.sub(box, drawn, count=1).removesuffix("</svg>") + "".join(parts) + "</svg>"


def draw_trend(name: str, values: Sequence[tuple[float, float]], unit: str) -> str:
    """Return a number with its error from take to take, the oldest at the left; the dotted line is none."""
    width, height, edge = 300.0, 84.0, 20.0
    top, bottom = max(0.0, *(mean + error for mean, error in values)), min(0.0, *(m - error for m, error in values))
    scale = (height - 2 * edge) / max(top - bottom, 4.0)
    step, zero = (width - 60) / (len(values) - 1), edge + top * scale
    parts = [
        f'<svg class="drill-way tracks" viewBox="0 0 {px(width)} {px(height)}" role="img" '
        f'aria-label="{name} over {len(values)} takes: from {values[0][0]:.1f} to {values[-1][0]:.1f} {unit}">',
        path("balance", across(zero, 30, width - 30)),
    ]
    points = [(30 + n * step, zero - mean * scale, error * scale) for n, (mean, error) in enumerate(values)]
    parts.append(
        path("way-of-drill", "".join(f"{'L' if n else 'M'}{px(x)} {px(y)}" for n, (x, y, _) in enumerate(points)))
    )
    for (x, y, error), (mean, _) in zip(points, values, strict=True):
        parts.append(path("take-time", f"M{px(x)} {px(y - error)}V{px(y + error)}"))
        parts.append(f'<circle class="rung climbed" cx="{px(x)}" cy="{px(y)}" r="4"/>')
        parts.append(text(x, y - error - 7, f"{mean:.1f}", "take-value"))
    return "".join([*parts, "</svg>"])


def _unheard(x: float, middle: float) -> str:
    return path("take-unheard", f"M{px(x - 4)} {px(middle - 4)}h8v8h-8Zm0 8l8 -8")


def _level(row: MeasuredNote, middle: float) -> float:
    """Return how high a note's level lies."""
    return middle - float(np.clip(np.nan_to_num(row.off), -_MOST_DB, _MOST_DB)) * _PER_DB


def _note(row: MeasuredNote, note: str, x: float, middle: float) -> str:
    """Return the dot of one note: its level, its time, and its word by a shape of its own."""
    y = _level(row, middle)
    shift = float(np.clip(np.nan_to_num(row.late) * PER_SECOND, -MOST_SHIFT, MOST_SHIFT))
    name = escape(note, quote=True)
    time = path("take-time", f"M{px(x)} {px(y)}h{px(shift)}") if abs(shift) > 2 else ""
    if row.words & {"wrong note", "missed"}:
        return path("take-word", f"M{px(x)} {px(y - 5)}l5 5l-5 5l-5 -5Z") + time
    if row.words & {"rough", "airy"}:
        return path("take-word", f"M{px(x - 4)} {px(y - 4)}l8 8m0 -8l-8 8") + time
    kind = "take-dot said" if row.words else "take-dot" if row.sure else "take-dot unsure"
    return f'{time}<circle class="{kind}" data-take-note="{name}" cx="{px(x)}" cy="{px(y)}" r="3.4"/>'
