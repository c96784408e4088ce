"""Plans to be heard: the one that is open, and what it would be otherwise."""

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass, replace
from typing import TypeAlias

from pathway.core.planning import Settings, plan_part, tempo_marks
from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.plan import Plan
from pathway.core.rig import preset
from pathway.core.sound import SAMPLES, Manner, Playable, plain_tones, playable, render
from pathway.core.sound.otherwise import as_it_should, at_point, with_symptom
from pathway.core.sound.spans import Scope, span_around
from pathway.desk.desk import Desk
from pathway.desk.kept import Kept
from pathway.desk.open_piece import OpenPiece
from pathway.errors import OutOfRange
from pathway.formats.score import PartEntry, ScoreFile, at_pitch
from pathway.formats.wav import wav

_MOST_SECONDS = 180.0  # of a plan at once: longer than any one bow
SOUNDS, SECONDS = 150_000_000, 4  # bytes of clips, and second parts, that are kept at hand
Where: TypeAlias = tuple[float, float] | Scope  # from when to when something begins [s], or what around the note


@dataclass(frozen=True, slots=True)
class HeardOther:
    """Which plan is to be heard; with nothing set the one that is open."""

    note: str = ""  # that a help, a symptom or a finding is about
    code: str = ""  # of the finding
    fix: str = ""  # as this help would make it
    variant: int = 0  # as it is kept under a name
    anew: bool = False  # planned anew
    heard: Heard | None = None  # with this on the note
    should: bool = False  # with the finding's notes as they should be
    point: tuple[float, float] | None = None  # lane, counted through, and weight [N] on the note


@dataclass(frozen=True, slots=True)
class Clip:
    """Some seconds of a plan as a WAV file."""

    data: bytes
    begin: float  # of the file, in the time of the plan [s]


class Hearing:
    """Renders what is open on the desk, and keeps what was heard last."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._clips: Kept[Clip] = Kept(SOUNDS, lambda clip: len(clip.data))
        self._seconds: Kept[Playable] = Kept(SECONDS)

    def clip(self, key: int, where: Where, other: HeardOther, *, helped: bool) -> Clip:
        """Return some seconds of a piece.

        Raises:
            NotFound: no such piece, note, help or variant.
            OutOfRange: too long at once.
            PlanError: no note begins there.
        """
        now = self._desk.open(key)
        state = (now.state, where, other, helped)

        def made() -> Clip:
            plan = self._plan(key, other)
            begin, end = where if isinstance(where, tuple) else span_around(plan, self._about(plan, other), where)
            return _clip(playable(plan), *_checked(begin, end), helped)

        return self._clips.get_or_make(state, made)

    def others(self, key: int) -> tuple[PartEntry, ...]:
        """Return the other parts of a piece's score that have notes; none where it has but one."""
        piece = self._desk.open(key).piece
        score = ScoreFile(piece.source, piece.source_name)
        own = score.find(piece.part_name).number
        return tuple(part for part in score.parts if part.notes and part.number != own)

    def second(self, key: int, number: int, span: tuple[float, float], *, plain: bool) -> Clip:
        """Return another part of the same score, in the time of the piece's own plan.

        Args:
            key: of the piece.
            number: of the other part.
            span: from when to when a note begins [s].
            plain: as plain tones, not as strings.

        Raises:
            NotFound: no such piece or part.
            OutOfRange: too long at once.
            ScoreError: the part cannot be read or planned.
            PlanError: no note begins there.
        """
        now, span = self._desk.open(key), _checked(*span)
        state = (now.state, number)
        other = self._seconds.get_or_make(state, lambda: _in_time_with(now, number))

        def made() -> Clip:
            if not plain:
                return _clip(other, *span, helped=True)
            samples, begin = plain_tones(other, *span, SAMPLES)
            return Clip(wav(samples, SAMPLES), begin)

        return self._clips.get_or_make((*state, span, plain), made)

    def second_at(self, key: int, number: int, span: tuple[float, float], slower: float) -> Clip:
        """Return another part of the same score at another tempo.

        Args:
            key: of the piece.
            number: of the other part.
            span: from when to when a note begins, in the time of the piece's own plan [s].
            slower: the tempo over that of the plan.

        Raises:
            NotFound, OutOfRange, ScoreError, PlanError: as for second.
        """
        now, span = self._desk.open(key), _checked(*span)
        state = (now.state, number, slower)
        other = self._seconds.get_or_make(state, lambda: _in_time_with(now, number, slower))
        begin, end = span[0] / slower, span[1] / slower
        return self._clips.get_or_make((*state, span), lambda: _clip(other, begin, end, helped=True))

    def whole(self, about: Hashable, make: Callable[[], Playable]) -> Clip:
        """Return something that belongs to no piece, from its beginning to its end.

        Args:
            about: what it is, and on which rig: the same sounds the same.
            make: what is played.
        """
        return self._clips.get_or_make(about, lambda: _clip(make(), 0.0, math.inf, helped=True))

    def _plan(self, key: int, other: HeardOther) -> Plan:
        plan = self._desk.open(key).plan
        if other.fix:
            return self._desk.with_fix(key, other.note, other.code, other.fix).plan
        if other.variant:
            return self._desk.variant(key, other.variant)[1]
        if other.anew:
            return self._desk.anew(key)
        return self._changed(plan, other)

    def _changed(self, plan: Plan, other: HeardOther) -> Plan:
        """Return a plan with what is asked changed in it, which no planning would make."""
        if other.heard is not None:
            return with_symptom(plan, other.note, other.heard)
        if other.point is not None:
            return at_point(plan, other.note, *other.point)
        if other.should:
            return as_it_should(plan, self._about(plan, other))
        return plan

    @staticmethod
    def _about(plan: Plan, other: HeardOther) -> set[str]:
        """Return the notes that are asked about: those of the finding, or the note alone."""
        found = [f for f in plan.findings if f.code == other.code and other.note in f.notes]
        return {id_ for finding in found for id_ in finding.place} or {plan.any_note(other.note).id}


def _in_time_with(now: OpenPiece, number: int, slower: float = 1.0) -> Playable:
    """Plan another part of a piece's score with the tempi of the piece, or all of them so many times."""
    plan = now.plan
    score = ScoreFile(now.piece.source, now.piece.source_name)
    found, rig = score.part(number).part, preset(score.find(number).guess.rig)
    settings = plan.draft.settings
    part = replace(at_pitch(found, rig), tempos=tempo_marks(plan.part, settings), stretches=plan.part.stretches)
    tempo = settings.tempo_bpm if slower == 1 else slower * plan.draft.tempo_bpm
    return playable(plan_part(part, rig, Settings(tempo)))


def _checked(begin: float, end: float) -> tuple[float, float]:
    if not 0 < end - begin <= _MOST_SECONDS:
        raise OutOfRange("the time to be heard at once", end - begin, 0, _MOST_SECONDS, "s")
    return begin, end


def _clip(played: Playable, begin: float, end: float, helped: bool) -> Clip:
    sound = render(played, begin, end, Manner(helped=helped))
    return Clip(wav(sound.samples, SAMPLES), sound.begin)
