"""What a player does to a plan with a hand or a key, as wishes: every edit turns the locks there are into others."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import IntEnum, StrEnum

from pathway.core.physics.hair import DEGREE
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import LOCK_FIELDS, Break, Lock
from pathway.core.rig.bow import Direction
from pathway.core.says import declared, range_of
from pathway.core.technique.fingers import finger_named
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import PlanError

LEAST_STROKE = 0.005  # that can be set by hand [m]


class What(StrEnum):
    """What an edit changes."""

    DIRECTION = "direction"
    LINK = "link"
    SLUR = "slur"
    START = "start"
    END = "end"
    TYPE = "type"
    PROFILE = "profile"
    EXIT = "exit"
    STRING = "string"
    FINGER = "finger"
    LEAD = "lead"
    CHORD = "chord"
    LANE = "lane"
    WEIGHT = "weight"
    TILT = "tilt"
    OCTAVE = "octave"
    VOICING = "voicing"
    VIBRATO = "vibrato"
    FROM_AIR = "from air"
    POINT = "point"  # lane and weight at once, as a point on the tone map is both
    HOLD = "hold"  # the bow as it is: direction, start and end
    ALL = "all"  # everything that was set


OF_STROKES = {What.DIRECTION, What.LINK, What.START, What.END, What.TYPE, What.PROFILE, What.EXIT, What.FROM_AIR}
_ENTRIES = {"string": False, "air": True}
LABELS = {What.POINT: "place and weight", What.ALL: "everything"}
_POINT = (What.LANE, What.WEIGHT)


@dataclass(frozen=True, slots=True)
class Edit:
    """One change to some notes: to a value, by a step, or back to the plan's own choice."""

    what: What
    notes: tuple[str, ...]
    value: str | None = None  # in the words and units of documents; None with no step: left to the plan again
    step: float | None = None  # cm, lanes, N or degrees; 0: kept as it is

    @property
    def frees(self) -> bool:
        """Whether it leaves a thing to the plan again."""
        return self.value is None and self.step is None

    @property
    def parts(self) -> tuple["Edit", ...]:
        """Return the edits of single things that it is made of.

        Raises:
            PlanError: a point without a lane and a weight.
        """
        if self.what is not What.POINT:
            return (self,)
        if self.frees:
            return tuple(replace(self, what=what) for what in _POINT)
        words = (self.value or "").split()
        if len(words) != len(_POINT):
            raise PlanError(f"{self.value!r} is no point", advice="Give a lane and a weight, such as 3 0.5.")
        return tuple(replace(self, what=what, value=word) for what, word in zip(_POINT, words, strict=True))


def edited_locks(plan: Plan, edit: Edit) -> dict[str, Lock]:
    """Return the player's locks after an edit.

    Raises:
        NotFound: no such note.
        PlanError: a value that cannot be meant; names the place.
    """
    locks = dict(plan.locks)
    notes = [plan.any_note(note) if edit.what is What.OCTAVE else plan.bowed_note(note) for note in edit.notes]
    if edit.what is What.ALL:
        return {n: lock for n, lock in locks.items() if n not in _with_strokes(plan, notes)}
    if edit.what is What.HOLD:
        for stroke in {note.stroke: plan.stroke[note.stroke or ""] for note in notes}.values():
            _put(locks, _held(locks.get(stroke.id, Lock(stroke.id)), stroke))
        return locks
    if edit.what is What.SLUR:
        return _slurred(plan, locks, notes, edit)
    for part in edit.parts:
        for id_ in _targets(plan, notes, part.what):
            value = None if part.frees else _value(plan, id_, part)
            lock = replace(locks.get(id_, Lock(id_)), **{LOCK_FIELDS[part.what]: value})  # type: ignore[arg-type]
            if isinstance(value, Direction):
                lock = _turned(_for_good(lock, plan.stroke[id_]), value)
            _put(locks, lock)
    return locks


def label_of(plan: Plan, edit: Edit) -> str:
    """Return an edit in a few words, for the history."""
    bars = list(dict.fromkeys(plan.note[note].measure for note in edit.notes))
    where = f"Bar {bars[0]}" if len(bars) == 1 else f"Bars {bars[0]}–{bars[-1]}"
    name = LABELS.get(edit.what, edit.what.value)
    if edit.what is What.HOLD:
        return f"{where}: bow kept as it is"
    if edit.frees:
        return f"{where}: {name} left to the plan"
    if edit.what is What.DIRECTION:
        return f"{where}: {plan.rig.word(Direction[str(edit.value).upper()])}"
    if edit.step == 0:
        return f"{where}: {name} kept as it is"
    if edit.step is not None:
        return f"{where}: {name} {'more' if edit.step > 0 else 'less'}"
    return f"{where}: {name} {edit.value}"


def _with_strokes(plan: Plan, notes: Sequence[NotePlan]) -> set[str]:
    """Return the notes, and all of those of their strokes."""
    return {id_ for note in notes for id_ in plan.stroke[note.stroke or ""].notes}


def _targets(plan: Plan, notes: Sequence[NotePlan], what: What) -> list[str]:
    """Return which notes carry the lock: the first of every stroke, or the notes themselves."""
    if what in OF_STROKES:
        return list(dict.fromkeys(note.stroke or "" for note in notes))
    return [note.id for note in notes]


def _put(locks: dict[str, Lock], lock: Lock) -> None:
    if lock.names:
        locks[lock.note] = lock
    else:
        locks.pop(lock.note, None)


def _for_good(lock: Lock, stroke: StrokePlan) -> Lock:
    """Take a proposed bow change for good, so that it stands at any tempo."""
    return replace(lock, divide=Break.SPLIT) if stroke.proposed else lock


def _held(lock: Lock, stroke: StrokePlan) -> Lock:
    return _for_good(replace(lock, direction=stroke.direction, start=stroke.start, end=stroke.end), stroke)


def _turned(lock: Lock, direction: Direction) -> Lock:
    """Let go of a locked start or end that the new direction cannot have."""
    if lock.start is None or lock.end is None or (lock.end - lock.start) * direction > 0:
        return lock
    return replace(lock, start=None, end=None)


def _slurred(plan: Plan, locks: dict[str, Lock], notes: Sequence[NotePlan], edit: Edit) -> dict[str, Lock]:
    """Begin a new bow with a note, or take the stroke after it into its bow."""
    for note in notes:
        id_ = note.id
        if edit.value == "join":
            k = plan.stroke_index[note.stroke or ""] + 1
            if k >= len(plan.strokes):
                raise PlanError("There is no stroke after this one to join")
            id_ = plan.strokes[k].id
            old = locks.get(id_, Lock(id_))
            _put(locks, Lock(id_, divide=Break.JOIN, string=old.string, finger=old.finger))
            continue
        if edit.value == "split" and id_ == note.stroke:
            raise PlanError(
                "A bow begins with this note already",
                place=f"bar {note.measure}",
                advice="Choose a note inside a slur.",
            )
        wish = Break.SPLIT if edit.value == "split" else None
        _put(locks, replace(locks.get(id_, Lock(id_)), divide=wish))
    return locks


def _value(plan: Plan, id_: str, edit: Edit) -> object:
    note = plan.note[id_]
    place = note.where
    if edit.what in _NUMBERS:
        return _NUMBERS[edit.what](plan, note, edit)
    word = edit.value or ""
    try:
        return _meant(edit.what, word)
    except (KeyError, ValueError) as error:
        raise PlanError(f"{word!r} is no {edit.what.value}", place=place) from error


def _number(edit: Edit, now: float, unit: float = 1.0) -> float:
    """Return the number an edit asks for: set, or the present one and a step, in SI."""
    if edit.step is not None:
        return now + edit.step * unit
    try:
        wanted = float(edit.value or "")
    except ValueError:
        wanted = math.nan
    if not math.isfinite(wanted):
        raise PlanError(f"{edit.value!r} is not a number")
    return wanted * unit


def _end(plan: Plan, note: NotePlan, edit: Edit) -> float:
    stroke = plan.stroke[note.stroke or ""]
    low, high = plan.rig.usable
    wanted = _number(edit, stroke.end, 0.01)
    if stroke.direction > 0:
        return min(max(wanted, _begin(plan, stroke) + LEAST_STROKE), high)
    return max(min(wanted, _begin(plan, stroke) - LEAST_STROKE), low)


def _begin(plan: Plan, stroke: StrokePlan) -> float:
    lock = plan.locks.get(stroke.id)
    return lock.start if lock and lock.start is not None else stroke.start


def _start(plan: Plan, note: NotePlan, edit: Edit) -> float:
    stroke = plan.stroke[note.stroke or ""]
    low, high = plan.rig.usable
    lock = plan.locks.get(stroke.id)
    end = lock.end if lock and lock.end is not None else None
    wanted = min(max(_number(edit, stroke.start, 0.01), low), high)
    if end is None:
        return wanted
    return min(wanted, end - LEAST_STROKE) if stroke.direction > 0 else max(wanted, end + LEAST_STROKE)


def _within(name: str, wanted: float) -> float:
    """Return a number of a note within what it can be."""
    low, high = range_of(Lock, name)
    return min(max(wanted, low), high)


def _string(plan: Plan, note: NotePlan, edit: Edit) -> int:
    strings = plan.rig.instrument.strings
    string = int(_number(edit, note.lead.string))
    if not 0 <= string < len(strings):
        raise PlanError("There is no string there", place=f"bar {note.measure}")
    return string


def _finger(plan: Plan, note: NotePlan, edit: Edit) -> int:
    finger = finger_named(edit.value or "")
    if finger is None:
        raise PlanError(f"{edit.value!r} is no finger", place=note.where, advice="0 to 4, or T for the thumb.")
    return finger


def _octave(plan: Plan, note: NotePlan, edit: Edit) -> int | None:
    lock = plan.locks.get(note.id)
    return round(_number(edit, lock.octave or 0 if lock else 0)) or None


_NUMBERS: Mapping[What, Callable[[Plan, NotePlan, Edit], object]] = {
    What.START: _start,
    What.END: _end,
    What.LANE: lambda _, note, edit: int(_within("lane", round(_number(edit, note.lane)))),
    What.WEIGHT: lambda _, note, edit: round(_within("force", _number(edit, note.force)), 4),
    What.TILT: lambda _, note, edit: _within("tilt", _number(edit, note.tilt, DEGREE)),
    What.STRING: _string,
    What.FINGER: _finger,
    What.OCTAVE: _octave,
}


def _meant(what: What, word: str) -> object:
    """Return what a word asks for, by the kind of the wish.

    Raises:
        KeyError, ValueError: nothing.
    """
    kind = declared(Lock)[LOCK_FIELDS[what]].kind
    if kind is str:
        return STROKE_TYPES[word].key
    if kind is bool:
        return _ENTRIES[word]
    return kind[word.upper()] if issubclass(kind, IntEnum) else kind(word)
