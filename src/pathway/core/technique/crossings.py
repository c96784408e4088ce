"""How the bow comes from string to string: in what manner, by which part of the arm, the easy or the hard way round."""

from enum import StrEnum

FINGERS_REACH = 0.12  # most that fingers and wrist move the hand in a quick crossing [m], our estimate
_LOUD, _SLOW = 4.0, 2.0  # crossings that the arm leads: from [dB], below [1/s]


class CrossingManner(StrEnum):
    """How the bow comes to another string."""

    EARLY = "early"  # led, slurred
    SMOOTH = "smooth"
    THROUGH = "through"  # both strings
    CHANGE = "change"  # with the turn of the bow
    OSCILLATION = "oscillation"  # back and forth
    LIFT = "lift"  # over silent strings
    ROLL = "roll"  # over them, on the string


class Sense(StrEnum):
    """Whether separate bows go round two strings as the arm likes it."""

    EASY = "easy"
    HARD = "hard"
    NEUTRAL = "neutral"


class Mover(StrEnum):
    """What carries the bow over."""

    FINGERS = "fingers"
    FOREARM = "forearm"
    ARM = "arm"

    @property
    def said(self) -> str:
        """Return it in a player's words."""
        return {Mover.FINGERS: "fingers and wrist", Mover.FOREARM: "forearm", Mover.ARM: "whole arm"}[self]


def mover_of(travel: float, rate: float, level_db: float = 0.0) -> Mover:
    """Return what makes a crossing: by the hand's travel [m], crossings a second and level [dB].

    Quick ones come from the fingers as far as these reach; a wider way is the forearm's, however quick; loud and slow
    ones the arm leads, however near.
    """
    quick = rate > 5
    if level_db >= _LOUD and rate < _SLOW:
        return Mover.ARM
    if travel < 0.05 or (quick and travel < FINGERS_REACH):
        return Mover.FINGERS
    return Mover.FOREARM if travel < 0.10 or quick else Mover.ARM
