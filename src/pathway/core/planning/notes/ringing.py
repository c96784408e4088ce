"""How long strings ring on once the bow has left them. SI units; the shares are our estimates."""

from collections.abc import Sequence

from pathway.core.planning.note_plan import Voice
from pathway.core.rig.instrument import Instrument

_STOPPED, _TOUCHED = 0.35, 0.75  # of the open string's ring: under a finger that stays, and of a harmonic


def ring_of(instrument: Instrument, string: int, *, stopped: bool, loops: int = 1) -> float:
    """Return until a string has fallen by 20 dB [s]: open, stopped or touched."""
    share = _TOUCHED if loops > 1 else _STOPPED if stopped else 1.0
    return instrument.strings[string].ring * share


def rings_of(voices: Sequence[Voice], instrument: Instrument) -> float:
    """Return how long the longest of some sounding strings rings on [s]."""
    opens = instrument.strings
    rings = (ring_of(instrument, v.string, stopped=v.midi != opens[v.string].midi, loops=v.loops) for v in voices)
    return max(rings, default=0.0)
