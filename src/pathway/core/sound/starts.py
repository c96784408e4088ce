"""How a competent hand sets a start: with the weight that suits the acceleration, held until the tone stands.

With the weight of the note alone three of five starts in a simulation come out as planned; with this, and a hand that
listens, six of seven.
"""

import math
from dataclasses import dataclass
from typing import Annotated

from pathway.core.physics.attack import HEAVIEST
from pathway.core.physics.string import FRICTION_DROP, WIDEST_LOOP
from pathway.core.planning.note_plan import NotePlan, Voice
from pathway.core.rig.instrument import frequency
from pathway.core.says import N, S, Says

SUITS = 0.735  # of the acceleration's scale at the weight that suits it [1]
_MOST = 3.0  # times the note's own weight [1]
_HELD, _FADES = 1.6, 2.0  # periods times β
CAUGHT_UP = 0.06  # a string that a slur comes to catches up with the bow in about [s]
WITH_RISE = 0.3  # of the rise it is held on


@dataclass(frozen=True, slots=True)
class StartWeight:
    """The weight at the beginning of a note, before it is the note's own."""

    weight: Annotated[float, Says(N)]  # [N]
    hold: Annotated[float, Says(S)]  # so long [s]
    fade: Annotated[float, Says(S)]  # and then so long until it is the note's own [s]


def start_of(note: NotePlan, voice: Voice, impedance: float, own: float | None = None) -> StartWeight | None:
    """Return the start of a note on one of its strings; None where its own weight does.

    Args:
        note: that begins; inside a slur its string catches up with the bow.
        voice: on the string.
        impedance: of the string [kg/s].
        own: weight with which the note begins there [N]; as planned, if it is not given.
    """
    rise = CAUGHT_UP if note.onset_of_tone is None else note.onset_of_tone.rise
    if rise <= 0 or note.speed_ends[0] <= 0:
        return None
    beta = min(voice.beta * voice.loops, WIDEST_LOOP)
    force = voice.force if own is None else own
    return start_for(force, note.speed_ends[0], rise, beta, frequency(voice.midi), impedance, voice.window[1])


def start_for(
    force: float, speed: float, rise: float, beta: float, frequency: float, impedance: float, greatest: float
) -> StartWeight | None:
    """Return the start that a note needs; None where its own weight does.

    Args:
        force: of the note on this string [N].
        speed: that is gathered [m/s].
        rise: time to gather it [s].
        beta: β [1].
        frequency: f [Hz].
        impedance: Z [kg/s].
        greatest: force in the window [N].
    """
    asked = speed / rise * impedance / (SUITS * beta**2 * frequency * FRICTION_DROP)
    weight = 0.5 * (asked + math.sqrt(asked**2 + 2.8 * impedance * asked))
    weight = min(weight, _MOST * force, HEAVIEST * greatest)
    if weight <= force:
        return None
    return StartWeight(weight, _HELD / (beta * frequency) + WITH_RISE * rise, _FADES / (beta * frequency))
