"""Differences between kinds of notes of a take: bows, strings, parts of the bow, accents; each with its ±."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Rig
from pathway.core.takes.measures import MeasuredNote
from pathway.core.takes.score import PlannedNotes
from pathway.core.takes.words import Word

LEAST_PAIRS, TRIM = 4, 0.1  # of a mean, and what of its ends is clipped
ERRORS = 3.0  # a difference is told from so many of its ± on
PAIRED, AMONG = 2.5, 3.5  # and from so much on [dB]: between bows; among places, which differ by room too
LEAST_AMONG = 12  # notes of one among several
_PARTS = ("lower third", "middle third", "upper third")


@dataclass(frozen=True, slots=True)
class HeardGroup:
    """A difference between two kinds of notes."""

    kind: str  # direction, accents, string or part
    name: str
    mean: float  # [dB]
    error: float  # ± [dB]
    count: int
    notes: tuple[str, ...]

    @property
    def told(self) -> bool:
        """Whether it is more than chance."""
        paired = self.kind in {"direction", "accents"}
        least, count = (PAIRED, LEAST_PAIRS) if paired else (AMONG, LEAST_AMONG)
        return self.count >= count and abs(self.mean) > ERRORS * self.error and abs(self.mean) >= least


def groups_of(rows: Sequence[MeasuredNote], planned: PlannedNotes, rig: Rig) -> tuple[HeardGroup, ...]:
    """Return all that can be compared in a take, whether it is worth telling or not."""
    fit = [row for row in rows if not _unfit(row) and np.isfinite(row.raw)]
    letters = [string.letter for string in rig.instrument.strings]

    def part(row: MeasuredNote) -> int:
        note = planned.notes[row.note]
        return min(int(len(_PARTS) * (note.start + note.end) / 2 / rig.bow.hair), len(_PARTS) - 1)

    among = [
        *_against(fit, planned, lambda row: planned.strings[row.note], letters, "string"),
        *_against(fit, planned, part, _PARTS, "part"),
    ]
    return tuple(group for group in (_directions(rows, planned), _accents(fit, planned), *among) if group is not None)


def _directions(rows: Sequence[MeasuredNote], planned: PlannedNotes) -> HeardGroup | None:
    """Return down against up, from neighbours; None from too few."""
    found, notes = [], list[str]()
    for before, after in pairwise(rows):
        ways = planned.directions[before.note], planned.directions[after.note]
        if after.note != before.note + 1 or ways[0] is ways[1] or _unfit(before) or _unfit(after):
            continue
        found.append((before.off - after.off) * (1 if ways[0] is Direction.DOWN else -1))
        notes += [planned.notes[row.note].id for row in (before, after)]
    return _mean("direction", "down against up", found, notes)


def _accents(fit: Sequence[MeasuredNote], planned: PlannedNotes) -> HeardGroup | None:
    """Return how accents on down-bows come out against those on up-bows; None from too few of either.

    An accent is heard over plain notes of its own pitch: a string rings at some pitches more than at others.
    """
    plain: dict[int, list[float]] = {}
    for row in fit:
        if planned.notes[row.note].pulse_db == 0:
            plain.setdefault(int(planned.lowest[row.note]), []).append(row.raw)
    over = [
        (row, row.bite - float(np.median(plain[pitch])))
        for row in fit
        if planned.notes[row.note].pulse_db > 0 and len(plain.get(pitch := int(planned.lowest[row.note]), ())) > 1
    ]
    notes = _ids([row for row, _ in over], planned)
    down, up = (
        _mean("accents", way.word, [bite for row, bite in over if planned.directions[row.note] is way], notes)
        for way in (Direction.DOWN, Direction.UP)
    )
    if down is None or up is None:
        return None
    mean, error = down.mean - up.mean, float(np.hypot(down.error, up.error))
    return HeardGroup("accents", "accents down against up", mean, error, min(down.count, up.count), down.notes)


def _against(
    fit: Sequence[MeasuredNote],
    planned: PlannedNotes,
    of: Callable[[MeasuredNote], int],
    names: Sequence[str],
    kind: str,
) -> list[HeardGroup]:
    """Return every kind of notes against all others, where there are enough of both.

    A string rings at some pitches more than at others: what is meant of a kind has to hold from pitch to pitch, so that
    each of its pitches counts once, and the ± is that among them.
    """
    found = []
    for n, name in enumerate(names):
        mine, others = ([row for row in fit if (of(row) == n) is inside] for inside in (True, False))
        one, rest = (_mean(kind, name, _by_pitch(rows, planned), _ids(rows, planned)) for rows in (mine, others))
        if one is not None and rest is not None:
            mean, error = one.mean - rest.mean, float(np.hypot(one.error, rest.error))
            found.append(replace(one, mean=mean, error=error, count=len(mine)))
    return found


def _by_pitch(rows: Sequence[MeasuredNote], planned: PlannedNotes) -> list[float]:
    """Return the mean level of each pitch [dB]."""
    levels: dict[int, list[float]] = {}
    for row in rows:
        levels.setdefault(int(planned.lowest[row.note]), []).append(row.raw)
    return [float(np.mean(some)) for some in levels.values()]


def _ids(rows: Sequence[MeasuredNote], planned: PlannedNotes) -> list[str]:
    return [planned.notes[row.note].id for row in rows]


def _unfit(row: MeasuredNote) -> bool:
    return bool(row.words & {Word.MISSED, Word.WRONG})


def _mean(kind: str, name: str, values: Sequence[float], notes: Sequence[str]) -> HeardGroup | None:
    """Return a mean whose outliers are clipped, with its standard error."""
    if len(values) < LEAST_PAIRS:
        return None
    low, high = np.quantile(values, [TRIM, 1 - TRIM])
    clipped: FloatArray = np.clip(values, low, high)
    error = float(clipped.std(ddof=1)) / len(values) ** 0.5 * 1.25
    return HeardGroup(kind, name, float(clipped.mean()), error, len(values), tuple(dict.fromkeys(notes)))
