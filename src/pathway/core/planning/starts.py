"""How every stroke begins, joins the next and ends: advice in seconds, and what is likely to be heard."""

from dataclasses import dataclass
from math import log10

from pathway.core.physics.attack import (
    COME_BACK,
    accent_force,
    dip_time,
    join_is_heard,
    most_catches,
    periods_to_speak,
    rise_time,
    wedge,
)
from pathway.core.physics.string import SoundingString
from pathway.core.planning.path_problem import Link
from pathway.core.planning.plan import NotePlan, Onset
from pathway.core.planning.strings import Placement
from pathway.core.rig.instrument import Rig, frequency
from pathway.core.technique.stroke_types import Start, StrokeType

TURNED_AT = 0.6  # of its speed a stroke still has over the last 2 cm before it turns; a player's habit [1]
AUDIBLE_FROM = -5.0  # softer joins are not heard [dB]


@dataclass(frozen=True, slots=True)
class Sound:
    """What the onset of a note depends on."""

    string: SoundingString
    midi: int
    speed: float  # [m/s]
    force: float  # [N]
    greatest: float  # F_max [N]
    beta: float
    place: float  # q
    sounding: float  # [s]

    @property
    def frequency(self) -> float:
        """Return the pitch [Hz]."""
        return frequency(self.midi)


def sound_of(note: NotePlan, placed: Placement) -> Sound:
    """Return what the onset and the end of a planned note depend on."""
    lead = note.lead
    return Sound(placed.lead, lead.midi, note.speed, lead.force, lead.window[1], lead.beta, lead.place, note.sounding)


def onset_of(sound: Sound, kind: StrokeType, rig: Rig, hair: float, gravity_share: float, *, ringing: bool) -> Onset:
    """Return how a note begins.

    Args:
        sound: the note.
        kind: its stroke type.
        rig: instrument, bow and hand.
        hair: where on the hair it begins [m].
        gravity_share: g₁ of its string.
        ringing: the string sounds already.
    """
    start = wedge(sound.force, sound.beta * sound.string.loops, sound.frequency, sound.string.impedance)
    rise = rise_time(sound.speed, start, sound.sounding, rig.instrument.length)
    caught = kind.start is Start.CATCH
    clean = ringing or caught or (start.open and sound.speed / rise >= start.low)
    periods = periods_to_speak(sound.beta, sound.place, ringing=ringing, caught=caught, clean=clean)
    strongest = accent_force(sound.force, sound.greatest, hair, rig.bow, gravity_share, rig.torque_limit)
    return Onset(rise, periods / sound.frequency, clean, attack_level(strongest, sound.force))


def attack_level(strongest: float, force: float) -> float:
    """Return 20 log₁₀ of an accent's force over the note's own [dB]; never negative."""
    return float(max(0.0, 20 * log10(strongest / force)))


def join_dip(sound: Sound, rig: Rig) -> float:
    """Return how long the tone dips where the bow turns after a note [s]."""
    start = wedge(sound.force, sound.beta * sound.string.loops, sound.frequency, sound.string.impedance)
    return dip_time(TURNED_AT * sound.speed, start, rig.instrument.length)


def join_stands_out(dip: float, note: NotePlan, rig: Rig) -> bool:
    """Whether a dip [s] of the tone after a note is heard."""
    lead = note.lead
    audible = note.target_db >= AUDIBLE_FROM
    return audible and join_is_heard(dip, lead.beta, frequency(lead.midi), rig.instrument.length)


def fastest_catch(sound: Sound, kind: StrokeType) -> float | None:
    """Return how many caught strokes a second a string takes [1/s]; None for other starts."""
    if kind.start is not Start.CATCH or kind.catch == 0:
        return None
    return most_catches(sound.beta, sound.frequency, kind.catch, max(kind.gap, 0.05))


def exit_of(kind: StrokeType, following: Link | None, rest_after: float) -> str:
    """Return how a stroke ends: joined, stopped, ringing or lifted."""
    if following is Link.RETAKE:
        return "lifted"
    if kind.contact.value != "on":
        return "ringing"
    if rest_after > 0:
        return "ringing"
    return "stopped" if following is Link.HOOK or kind.gap > 0 else "joined"


def exit_time(how: str, gap: float) -> float:
    """Return what an ending takes [s]; gap is the silent time after the last note."""
    return {"joined": 0.0, "stopped": gap, "ringing": 0.0, "lifted": gap + COME_BACK}[how]
