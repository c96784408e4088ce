"""Pitches by name in documents: a letter, # or b, and an octave."""

import re
from typing import Annotated

from pydantic import Field

from pathway.errors import PlanError

_PITCH = re.compile(r"^([A-G])([#b]?)(\d)$")
_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
Pitch = Annotated[str, Field(pattern=_PITCH.pattern)]
PitchName = Annotated[str, Field(pattern=r"^[A-G][#b]?\d$")]


def midi_of(pitch: str) -> int:
    """Return the MIDI number of a pitch such as "F#3".

    Raises:
        PlanError: it is none.
    """
    match = _PITCH.match(pitch)
    if match is None:
        raise PlanError(f"{pitch!r} is not a pitch", advice="Write a letter, # or b, and an octave: F#3.")
    return _STEPS[match[1]] + {"": 0, "#": 1, "b": -1}[match[2]] + 12 * (int(match[3]) + 1)
