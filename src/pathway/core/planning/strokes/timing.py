"""The times of a part as it is played: at the player's tempo, with the player's own changes of it."""

from dataclasses import replace
from fractions import Fraction

from pathway.core.music import Clock, Part, TempoMark
from pathway.core.planning.wishes import Settings
from pathway.errors import OutOfRange, PlanError

TEMPO_LIMITS = (10.0, 400.0)  # that a player can mean [beats a minute]


def clock_of(part: Part, settings: Settings) -> Clock:
    """Return the clock of a part under a player's settings.

    Raises:
        PlanError: a change of tempo at a note that is not there, or at the very beginning.
        OutOfRange: not a tempo.
    """
    if settings.tempo_bpm is not None:
        checked_tempo(settings.tempo_bpm)
    return Clock(replace(part, tempos=tempo_marks(part, settings)) if settings.tempi else part, settings.tempo_bpm)


def checked_tempo(beats_per_minute: float) -> float:
    """Return a tempo that a player can mean [beats a minute].

    Raises:
        OutOfRange: it is none.
    """
    if not TEMPO_LIMITS[0] <= beats_per_minute <= TEMPO_LIMITS[1]:
        raise OutOfRange("the tempo", beats_per_minute, *TEMPO_LIMITS, "beats a minute")
    return beats_per_minute


def tempo_marks(part: Part, settings: Settings) -> tuple[TempoMark, ...]:
    """Return the printed tempo marks and the player's own in order; the first holds from the start.

    Raises:
        PlanError, OutOfRange: as for clock_of.
    """
    first = part.tempo
    marks = {mark.onset: mark for mark in (*part.tempos, first)}
    for change in settings.tempi:
        event = part.event.get(change.note)
        if event is None:
            raise PlanError(f"There is no note {change.note!r} to change the tempo at", advice="Choose another note.")
        if event.onset <= Fraction(0):
            raise PlanError("The tempo of the beginning is the piece's own", advice="Set it over the sheet.")
        tempo = checked_tempo(change.beats_per_minute)
        marks[event.onset] = TempoMark(event.onset, tempo * float(first.unit), first.unit)
    return tuple(marks[onset] for onset in sorted(marks))
