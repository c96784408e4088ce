"""How every stroke joins the next, or ends: what of a bow change is heard, and what an ending takes."""

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.physics.attack import COME_BACK, dip_time, join_is_heard
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.notes.onsets import Sounds
from pathway.core.planning.wishes import Link
from pathway.core.rig.instrument import Rig, frequency
from pathway.core.technique.endings import Exit
from pathway.core.technique.stroke_types import Contact, StrokeType

TURNED_AT = 0.6  # of its speed a stroke still has over the last 2 cm before it turns; a player's habit [1]
AUDIBLE_FROM = -5.0  # softer joins are not heard [dB]


def join_dips(sounds: Sounds, closing: FloatArray, following: FloatArray, rig: Rig) -> FloatArray:
    """Return how long the tone dips where the bow turns after notes [s].

    Args:
        sounds: the notes.
        closing: speed as they end over their mean [1]: a bow that spends its hair turns slowly.
        following: how long the notes after them sound [s].
        rig: instrument, bow and hand.
    """
    ends, shorter = sounds.wedge(sounds.force * sounds.swell[2]), np.minimum(sounds.sounding, following)
    return dip_time(TURNED_AT * sounds.speed * closing, ends, shorter, rig.instrument.length)


def join_stands_out(dip: float, note: NotePlan) -> bool:
    """Whether a dip [s] of the tone after a note is heard."""
    lead = note.lead
    audible = note.target_db >= AUDIBLE_FROM
    return audible and join_is_heard(dip, lead.beta, frequency(lead.midi))


def exit_of(kind: StrokeType, following: Link | None, rest_after: float) -> Exit:
    """Return how a stroke ends by itself; following is the link to the next one, if there is one."""
    if following is Link.RETAKE:
        return Exit.LIFTED
    if kind.contact is not Contact.ON or rest_after > 0:
        return Exit.RINGING
    return Exit.STOPPED if following is Link.HOOK or kind.gap > 0 else Exit.JOINED


def exit_time(how: Exit, gap: float) -> float:
    """Return what an ending takes [s]; gap is the silent time after the last note."""
    return {Exit.JOINED: 0.0, Exit.STOPPED: gap, Exit.RINGING: 0.0, Exit.LIFTED: gap + COME_BACK}[how]
