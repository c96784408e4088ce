"""From what is heard on a note to its likely causes, in the order of the plan's own margins there."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from pathway.core.guide.causes import CauseWords, cause_words
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning.advice import margins as m
from pathway.core.planning.advice.margins import Margin, NoteInPlan
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
class CauseRow:
    """What may cause something: how near the plan is to it, where it can be at all, and what may be pressed for it."""

    margin: Margin
    makers: tuple[Maker, ...] = ()
    can_be: Callable[[NoteInPlan], bool] = lambda _: True
    by_hand: bool = False  # a fault of hand or arm, where the plan is hard for them


def _crossed(p: NoteInPlan) -> bool:
    return p.arrival is not None


def _follows(p: NoteInPlan) -> bool:
    return p.before is not None


def causes(plan: Plan, note: str, heard: Heard) -> list[Cause]:
    """Return what may cause what is heard on a note, the likeliest first; what cannot be there is left out.

    Raises:
        NotFound: there is no bowed note there.
    """
    place = NoteInPlan.of(plan, note)
    found = [Cause(heard, key, _margin(row, place)) for key, row in TABLE[heard].items() if row.can_be(place)]
    return sorted(found, key=lambda cause: cause.margin)


def margin_of(plan: Plan, note: str, cause: Cause) -> float:
    """Return how far a note is from a cause in a plan.

    Raises:
        NotFound: there is no bowed note there.
    """
    return _margin(TABLE[cause.heard][cause.key], NoteInPlan.of(plan, note))


def _margin(row: CauseRow, place: NoteInPlan) -> float:
    return m.within(row.margin(place) + BY_HAND * row.by_hand)


def _hook(p: NoteInPlan) -> float:
    return m.HOOK_HEARD if p.stroke.entry is Link.HOOK else 1.0


M = Maker
TABLE: Mapping[Heard, Mapping[str, CauseRow]] = {
    Heard.BREATHY: {
        "light": CauseRow(m.under_window, (M.WEIGHT, M.LANE, M.COLOUR)),
        "slant": CauseRow(m.slant, (M.LANE, M.SPLIT, M.PLACE)),
        "open": CauseRow(m.whistle, (M.STRING, M.WEIGHT), lambda p: p.on_open),
        "shift": CauseRow(m.left_hand, (M.SPLIT, M.STRING), lambda p: p.shift is not None),
        "little finger": CauseRow(m.carrying, (M.PLACE,), lambda p: min(p.note.torque_at) < 0, by_hand=True),
    },
    Heard.GRATING: {
        "heavy": CauseRow(m.over_window, (M.WEIGHT, M.LANE, M.COLOUR)),
        "preload": CauseRow(m.load, (M.TYPE, M.LANE), lambda p: p.note.load is not None),
        "thumb": CauseRow(m.moment, (M.PLACE, M.WEIGHT), by_hand=True),
    },
    Heard.MUTE: {
        "gather": CauseRow(m.start, (M.WEIGHT, M.LANE, M.TYPE)),
        "light": CauseRow(m.under_window, (M.WEIGHT, M.LANE)),
        "knuckles": CauseRow(m.near_frog, (M.PLACE,), by_hand=True),
    },
    Heard.SQUEAL: {
        "level": CauseRow(m.level, (M.LANE, M.STRING)),
        "carried": CauseRow(m.carried, (M.ENDING, M.STRING), _crossed),
        "slant": CauseRow(m.slant, (M.LANE, M.PLACE)),
        "lane": CauseRow(m.lane, (M.LANE,)),
        "shoulder": CauseRow(m.crossing, (M.STRING,), _crossed, by_hand=True),
    },
    Heard.STICKS_OUT: {
        "remainder": CauseRow(m.hurry, (M.HOOK, M.RETAKE, M.ENDING, M.JOIN), _follows),
        "heavy": CauseRow(m.over_window, (M.WEIGHT,)),
        "open": CauseRow(m.whistle, (M.STRING,), lambda p: p.on_open),
    },
    Heard.BURIED: {
        "fade": CauseRow(m.behind, (M.ENDING, M.GAP, M.HOOK), _follows),
        "light": CauseRow(m.under_window, (M.WEIGHT, M.LANE)),
    },
    Heard.NOWHERE: {
        "hair": CauseRow(m.hair_left, (M.RETAKE, M.HOOK, M.SPLIT, M.TURN)),
        "remainder": CauseRow(m.hurry, (M.HOOK, M.RETAKE), _follows),
    },
    Heard.ACCENT: {
        "tip": CauseRow(m.from_tip, (M.PLACE, M.TURN)),
        "hand": CauseRow(m.moment, (M.PLACE, M.SOFTER)),
        "shoulder": CauseRow(m.moment, (M.PLACE,), by_hand=True),
    },
    Heard.VOICE: {
        "share": CauseRow(m.share, (M.LEAD, M.LANE, M.WEIGHT), lambda p: len(p.note.voices) > 1),
        "level": CauseRow(m.level, (M.LANE,)),
    },
    Heard.BOUNCE: {
        "crossing": CauseRow(m.crossing, (M.STRING, M.TURN, M.JOIN), lambda p: bool(p.arrival or p.departure)),
        "place": CauseRow(m.home, (M.PLACE, M.TILT, M.TYPE)),
        "flight": CauseRow(m.flight, (M.TILT, M.PLACE), lambda p: p.note.landing is not None),
        "thumb": CauseRow(m.home, (M.TYPE,), by_hand=True),
    },
    Heard.WOOD: {
        "stick": CauseRow(m.stick, (M.TILT, M.WEIGHT, M.PLACE)),
        "tilt": CauseRow(m.tilted, (M.TILT,)),
    },
    Heard.JOIN: {
        "reversal": CauseRow(m.dip, (M.PROFILE, M.WEIGHT, M.SOFTER)),
        "hook": CauseRow(_hook, (M.CHANGE, M.JOIN), lambda p: p.stroke.entry is Link.HOOK),
        "shift": CauseRow(m.left_hand, (M.SPLIT, M.STRING), lambda p: p.shift is not None),
        "knuckles": CauseRow(m.near_frog, (M.PLACE,), by_hand=True),
    },
}
