"""From what is heard on a note to its likely causes, in the order of the plan's own margins there."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from pathway.core.guide.causes import CauseWords, cause_words
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning.advice import margins as m
from pathway.core.planning.advice.margins import Margin, Place
from pathway.core.planning.findings.catalogue import Maker
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Link

BY_HAND = 0.15  # a fault of the hand is a little less likely than what the plan itself brings


class Heard(StrEnum):
    """What a player hears."""

    BREATHY = "breathy"
    GRATING = "grating"
    MUTE = "mute start"
    SQUEAL = "sudden squeal"
    STICKS_OUT = "sticks out"
    BURIED = "buried"
    NOWHERE = "nowhere left to go"
    ACCENT = "accent falls short"
    VOICE = "a voice is missing"
    BOUNCE = "bounce falls apart"
    WOOD = "wood noise"
    JOIN = "audible join"


@dataclass(frozen=True, slots=True)
class Cause:
    """One likely cause of what is heard; a margin of 0 is at its limit, 1 is far from it."""

    heard: Heard
    key: str
    margin: float

    def words(self, say: Speech = PLAIN) -> CauseWords:
        """Return what is told of it."""
        return cause_words(self.heard.value, self.key, say)


@dataclass(frozen=True, slots=True)
class Row:
    """What may cause something: how near the plan is to it, where it can be at all, and what may be pressed for it."""

    margin: Margin
    makers: tuple[Maker, ...] = ()
    can_be: Callable[[Place], bool] = lambda _: True
    by_hand: bool = False  # a fault of hand or arm, where the plan is hard for them


def _crossed(p: Place) -> bool:
    return p.arrival is not None


def _follows(p: Place) -> bool:
    return p.before is not None


def causes(plan: Plan, note: str, heard: Heard) -> list[Cause]:
    """Return what may cause what is heard on a note, the likeliest first; what cannot be there is left out.

    Raises:
        NotFound: there is no bowed note there.
    """
    place = Place.of(plan, note)
    found = [Cause(heard, key, _margin(row, place)) for key, row in TABLE[heard].items() if row.can_be(place)]
    return sorted(found, key=lambda cause: cause.margin)


def margin_of(plan: Plan, note: str, cause: Cause) -> float:
    """Return how far a note is from a cause in a plan.

    Raises:
        NotFound: there is no bowed note there.
    """
    return _margin(TABLE[cause.heard][cause.key], Place.of(plan, note))


def _margin(row: Row, place: Place) -> float:
    return m.within(row.margin(place) + BY_HAND * row.by_hand)


def _hook(p: Place) -> float:
    return m.HOOK_HEARD if p.stroke.entry is Link.HOOK else 1.0


M = Maker
TABLE: Mapping[Heard, Mapping[str, Row]] = {
    Heard.BREATHY: {
        "light": Row(m.under_window, (M.WEIGHT, M.LANE, M.COLOUR)),
        "slant": Row(m.slant, (M.LANE, M.SPLIT, M.PLACE)),
        "open": Row(m.whistle, (M.STRING, M.WEIGHT), lambda p: p.on_open),
        "shift": Row(m.left_hand, (M.SPLIT, M.STRING), lambda p: p.shift is not None),
        "little finger": Row(m.carrying, (M.PLACE,), lambda p: min(p.note.torque_at) < 0, by_hand=True),
    },
    Heard.GRATING: {
        "heavy": Row(m.over_window, (M.WEIGHT, M.LANE, M.COLOUR)),
        "preload": Row(m.load, (M.TYPE, M.LANE), lambda p: p.note.load is not None),
        "thumb": Row(m.moment, (M.PLACE, M.WEIGHT), by_hand=True),
    },
    Heard.MUTE: {
        "gather": Row(m.start, (M.WEIGHT, M.LANE, M.TYPE)),
        "light": Row(m.under_window, (M.WEIGHT, M.LANE)),
        "knuckles": Row(m.near_frog, (M.PLACE,), by_hand=True),
    },
    Heard.SQUEAL: {
        "level": Row(m.level, (M.LANE, M.STRING)),
        "carried": Row(m.carried, (M.ENDING, M.STRING), _crossed),
        "slant": Row(m.slant, (M.LANE, M.PLACE)),
        "lane": Row(m.lane, (M.LANE,)),
        "shoulder": Row(m.crossing, (M.STRING,), _crossed, by_hand=True),
    },
    Heard.STICKS_OUT: {
        "remainder": Row(m.hurry, (M.HOOK, M.RETAKE, M.ENDING, M.JOIN), _follows),
        "heavy": Row(m.over_window, (M.WEIGHT,)),
        "open": Row(m.whistle, (M.STRING,), lambda p: p.on_open),
    },
    Heard.BURIED: {
        "fade": Row(m.behind, (M.ENDING, M.GAP, M.HOOK), _follows),
        "light": Row(m.under_window, (M.WEIGHT, M.LANE)),
    },
    Heard.NOWHERE: {
        "hair": Row(m.hair_left, (M.RETAKE, M.HOOK, M.SPLIT, M.TURN)),
        "remainder": Row(m.hurry, (M.HOOK, M.RETAKE), _follows),
    },
    Heard.ACCENT: {
        "tip": Row(m.from_tip, (M.PLACE, M.TURN)),
        "hand": Row(m.moment, (M.PLACE, M.SOFTER)),
        "shoulder": Row(m.moment, (M.PLACE,), by_hand=True),
    },
    Heard.VOICE: {
        "share": Row(m.share, (M.LEAD, M.LANE, M.WEIGHT), lambda p: len(p.note.voices) > 1),
        "level": Row(m.level, (M.LANE,)),
    },
    Heard.BOUNCE: {
        "crossing": Row(m.crossing, (M.STRING, M.TURN, M.JOIN), lambda p: bool(p.arrival or p.departure)),
        "place": Row(m.home, (M.PLACE, M.TILT, M.TYPE)),
        "flight": Row(m.flight, (M.TILT, M.PLACE), lambda p: p.note.landing is not None),
        "thumb": Row(m.home, (M.TYPE,), by_hand=True),
    },
    Heard.WOOD: {
        "stick": Row(m.stick, (M.TILT, M.WEIGHT, M.PLACE)),
        "tilt": Row(m.tilted, (M.TILT,)),
    },
    Heard.JOIN: {
        "reversal": Row(m.dip, (M.PROFILE, M.WEIGHT, M.SOFTER)),
        "hook": Row(_hook, (M.CHANGE, M.JOIN), lambda p: p.stroke.entry is Link.HOOK),
        "shift": Row(m.left_hand, (M.SPLIT, M.STRING), lambda p: p.shift is not None),
        "knuckles": Row(m.near_frog, (M.PLACE,), by_hand=True),
    },
}
