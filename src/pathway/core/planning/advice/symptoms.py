"""From what is heard on a note to its likely causes, in the order of the plan's own margins."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from pathway.core.guide.causes import CauseWords, cause_words
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.physics.geometry import square_tolerance
from pathway.core.physics.hair import wood_force
from pathway.core.physics.string import AIRY, LANES, PRESSED
from pathway.core.planning.plan import NotePlan, Plan, StrokePlan
from pathway.core.planning.wishes import Link


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
class _Place:
    plan: Plan
    note: NotePlan
    stroke: StrokePlan
    before: StrokePlan | None

    @property
    def slant(self) -> float:
        """Tolerated angle off square, over a generous ten degrees."""
        length = max(self.stroke.length, 0.02)
        return min(1.0, square_tolerance(length, self.note.contact, 0.27) / math.radians(10))

    @property
    def level_gap(self) -> float:
        """Distance to a neighbouring string, over a generous twelve degrees."""
        return min(1.0, math.degrees(self.plan.rig.instrument.angle_step) / 2 / 12)

    @property
    def hurry(self) -> float:
        """How little faster than the stroke before, 0 where it is twice as fast."""
        if self.before is None:
            return 1.0
        ratio = _speed(self.stroke) / _speed(self.before)
        return min(1.0, max(0.0, 2 - ratio))

    @property
    def open_thin(self) -> bool:
        strings = self.plan.rig.instrument.strings
        return self.note.lead.string == len(strings) - 1 and self.note.lead.midi == strings[-1].midi


_Margin = Callable[[_Place], float]
_Row = tuple[str, _Margin]


def causes(plan: Plan, note: str, heard: Heard) -> tuple[Cause, ...]:
    """Return the causes of what is heard on a bowed note, the likeliest first.

    Raises:
        NotFound: there is no such bowed note.
    """
    planned = plan.bowed_note(note)
    stroke = plan.stroke[planned.stroke or ""]
    k = plan.stroke_index[stroke.id]
    place = _Place(plan, planned, stroke, plan.strokes[k - 1] if k else None)
    found = [Cause(heard, key, float(margin(place))) for key, margin in _TABLE[heard]]
    return tuple(sorted(found, key=lambda cause: cause.margin))


def _speed(stroke: StrokePlan) -> float:
    return stroke.length / max(stroke.finish - stroke.begin, 1e-3)


def _window_low(p: _Place) -> float:
    return max(0.0, min(1.0, p.note.lead.place - AIRY))


def _window_high(p: _Place) -> float:
    return max(0.0, min(1.0, PRESSED - p.note.lead.place))


def _start(p: _Place) -> float:
    onset = p.note.onset_of_tone
    if onset is None:
        return 1.0
    return 0.0 if not onset.clean else min(1.0, max(0.0, 1 - onset.speak / max(p.note.sounding, 1e-3)))


def _hair_left(p: _Place) -> float:
    return min(1.0, max(0.0, p.stroke.in_hand / max(p.stroke.finish - p.stroke.begin, 1e-3)))


def _tip(p: _Place) -> float:
    return 1 - min(p.note.start, p.note.end) / p.plan.rig.bow.hair


def _torque(p: _Place) -> float:
    return max(0.0, 1 - max(map(abs, p.note.torque_at)) / p.plan.rig.torque_limit)


def _wood(p: _Place) -> float:
    limit = float(wood_force((p.note.start + p.note.end) / 2, p.note.tilt, p.plan.rig.bow))
    return max(0.0, 1 - p.note.force / limit)


def _share(p: _Place) -> float:
    others = [voice for voice in p.note.voices if not voice.lead]
    return min((max(0.0, voice.place) for voice in others), default=1.0)


def _crossing(p: _Place) -> float:
    hard = any(c.to_note == p.note.id and c.sense == "hard" for c in p.plan.crossings)
    near = any(p.note.id in (c.to_note, c.from_note) for c in p.plan.crossings)
    return 0.0 if hard else 0.5 if near else 1.0


def _dip(p: _Place) -> float:
    return max(0.0, 1 - p.stroke.dip / 0.2)


def _lane(p: _Place) -> float:
    return min(p.note.lane - 1, LANES - p.note.lane) / (LANES / 2)


_TABLE: dict[Heard, tuple[_Row, ...]] = {
    Heard.BREATHY: (
        ("light", _window_low),
        ("slant", lambda p: p.slant),
        ("open", lambda p: 0.3 if p.open_thin else 1.0),
    ),
    Heard.GRATING: (
        ("heavy", _window_high),
        ("preload", _start),
    ),
    Heard.MUTE: (
        ("gather", _start),
        ("light", _window_low),
    ),
    Heard.SQUEAL: (
        ("level", lambda p: p.level_gap),
        ("slant", lambda p: p.slant),
        ("lane", _lane),
    ),
    Heard.STICKS_OUT: (
        ("remainder", lambda p: p.hurry),
        ("heavy", _window_high),
    ),
    Heard.BURIED: (
        ("fade", lambda p: 1 - p.hurry),
        ("light", _window_low),
    ),
    Heard.NOWHERE: (("hair", _hair_left),),
    Heard.ACCENT: (
        ("tip", _tip),
        ("hand", _torque),
    ),
    Heard.VOICE: (("share", _share),),
    Heard.BOUNCE: (
        ("crossing", _crossing),
        ("place", lambda p: abs(p.note.start / p.plan.rig.bow.hair - 0.5)),
    ),
    Heard.WOOD: (("stick", _wood),),
    Heard.JOIN: (
        ("reversal", _dip),
        ("hook", lambda p: 0.2 if p.stroke.entry is Link.HOOK else 1.0),
    ),
}
