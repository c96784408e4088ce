"""What a string does under the bow in some periods of a note, to be seen slowly."""

from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.planning.note_plan import Tone
from pathway.core.rig.instrument import frequency
from pathway.core.sound.gestures import gestures_of
from pathway.core.sound.playable import Playable
from pathway.core.sound.slips import heard_in
from pathway.core.sound.strings import bowed
from pathway.errors import NotFound

PERIODS = 5
AT = 0.80  # of the note, when its tone stands


@dataclass(frozen=True)
class Seen:
    """The string under the bow through some periods."""

    times: FloatArray  # in periods, from 0; shape (n,)
    place: FloatArray  # of the string from its middle [m]
    bow: float  # its speed [m/s]
    pitch: float  # [Hz]
    tone: Tone | None  # what it is heard as; None where the note is too short to tell
    a_period: float  # slips


def seen_in(played: Playable, note: str) -> Seen:
    """Return how the leading string of a note moves near the note's end, bowed as it is planned.

    Raises:
        NotFound: there is no bowed note there.
    """
    found = played.note.get(note)
    if found is None or not found.voices:
        raise NotFound("There is no bowed note there", advice="Choose another note.")
    curves = gestures_of(played, found.onset - 1e-6, found.onset + 1e-6, vibrato=0.0)
    strings = bowed(curves, played.rig.instrument, watched=True)
    string = next(one for one in strings if one.string == found.lead.string)
    sounded = next(one for one in curves.notes if one.note.id == note)
    pitch = frequency(found.lead.midi)
    first = int((sounded.on + AT * found.sounding - PERIODS / 2 / pitch) * string.rate)
    count = int(PERIODS / pitch * string.rate)
    velocity = string.motion[max(0, first) : max(0, first) + count]
    way = np.cumsum(velocity) / string.rate
    heard = heard_in(string, sounded.on, sounded.off - min(0.03, 0.15 * found.sounding), pitch, found.speed)
    return Seen(
        np.arange(len(way)) / string.rate * pitch,
        way - np.linspace(0, way[-1], len(way)) - np.mean(way - np.linspace(0, way[-1], len(way))),
        found.speed,
        pitch,
        heard.tone if heard else None,
        heard.a_period if heard else 0.0,
    )
