"""Notes as plain tones: another part to play along with, where it is not to be taken for a string."""

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.rig.instrument import frequency
from pathway.core.sound.playable import Playable
from pathway.errors import PlanError

_PARTIALS = ((1, 1.0), (2, 0.30), (3, 0.12), (4, 0.05))  # of the pitch, strength
_LEVEL = 0.10  # of a plain mezzo-forte, against full scale
_RISE, _FALL = 0.012, 0.06  # [s]
_LEAD_IN = 0.05  # [s]
_HIGHEST = 8000.0  # no partial is higher [Hz]


def plain_tones(played: Playable, begin: float, end: float, rate: int) -> tuple[FloatArray, float]:
    """Return the notes that begin in a span as plain tones, and where that sound begins [s].

    Raises:
        PlanError: no note begins there.
    """
    notes = [note for note in played.notes if begin <= note.onset < end and (note.voices or note.id in played.plucked)]
    if not notes:
        raise PlanError("There is nothing to play there", advice="Choose bars with notes.")
    first = notes[0].onset - _LEAD_IN
    last = max(note.onset + note.sounding for note in notes) + _FALL
    sound = np.zeros(int((last - first) * rate) + 1)
    for note in notes:
        at, count = int((note.onset - first) * rate), int(note.sounding * rate)
        times = np.arange(count) / rate
        level = note.level_db if note.voices else note.target_db
        shape = (
            _LEVEL * 10 ** (level / 20) * np.minimum(times / _RISE, 1) * np.clip((note.sounding - times) / _FALL, 0, 1)
        )
        for pitch in [voice.midi for voice in note.voices] or [one.midi for one in played.plucked[note.id]]:
            for partial, strength in _PARTIALS:
                if frequency(pitch) * partial < _HIGHEST:
                    sound[at : at + count] += shape * strength * np.sin(2 * np.pi * frequency(pitch) * partial * times)
    return np.clip(sound, -1, 1), first
