"""Which string each note is played on: the cheapest way through strings and hand positions.

A state is a string and a hand position (semitones of the first finger above the open string), from which the finger
follows. Printed and locked strings are kept; printed and locked fingers wherever they reach their note.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import IntEnum
from functools import lru_cache

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.music import Head
from pathway.core.planning.strokes.hand import POSITIONS, LeftHand, hand_of
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.segments import Segment, first_notes
from pathway.core.planning.strokes.string_loop import cheapest_hand
from pathway.core.planning.strokes.string_weights import (
    AGAINST_WISH,
    CROSSING,
    EASY_SHIFT,
    FINGER_HOLDS,
    FURTHER,
    HEARD_SHIFT,
    HOLDS_TO,
    IN_SLUR,
    IN_STEP,
    LONG_GAP,
    OPEN_SHAKEN,
    OPEN_SINGING,
    OVER_IN_SLUR,
    PAIR_SHIFT,
    QUICK,
    QUICK_STEP,
    SHIFT,
    SHIFT_SEMITONE,
    SINGING_FROM,
    SLIDE,
    STEP,
    STOPPED,
    SUNG,
    SUNG_FROM,
    SUNG_REACH,
    SUNG_SHIFT,
)
from pathway.core.planning.wishes import Lock, Vibrato
from pathway.core.rig.instrument import Instrument
from pathway.errors import PlanError

SINGING = {"legato", "sustained", "portato"}


def choose_strings(line: "Line", instrument: Instrument) -> list[Placement]:
    """Return the placement of every note of a line, in order.

    Raises:
        PlanError: the locked strings cannot hold their notes.
    """
    hand = hand_of(instrument)
    table = np.stack([costs_of(hand, kind) for kind in line.kinds])
    found = line.cheapest(table[line.kind], hand)
    if found is None:
        raise PlanError("The locked strings cannot hold their notes", advice="Unlock one of them.")
    held = [kind.held(instrument) for kind in line.kinds]
    strings, positions = found
    lies = np.ravel_multi_index((line.kind, strings, positions), (len(held), *table.shape[1:])).tolist()
    told = dict(zip(lies, zip(line.kind, strings, positions, strict=True), strict=True))  # most lie like others
    placed = {at: hand.place(held[kind], int(top), int(POSITIONS[n])) for at, (kind, top, n) in told.items()}
    return [placed[at] for at in lies]


class _Joint(IntEnum):
    """How two notes follow each other, for what a crossing between them costs."""

    OPEN = 0
    SLUR = 1  # inside one
    STEP = 2  # a small interval inside a slur, or a quick one
    SUNG = 3  # inside a slur, both long


@dataclass(frozen=True, slots=True)
class HandWish:
    """How the player wants a note to lie, beside what passages say."""

    string: int | None = None
    finger: int | None = None
    vibrato: Vibrato | None = None

    @classmethod
    def of(cls, lock: Lock) -> "HandWish":
        """Return what a lock says of it."""
        return cls(lock.string, lock.finger, lock.vibrato)


_NO_WISH = HandWish()


@dataclass(frozen=True, slots=True)
class _Kind:
    """What decides how a note can lie: its heads, and what is wished of them."""

    heads: tuple[Head, ...]
    asked: int | None  # string that words or a passage ask for
    sings: bool
    wish: HandWish
    vibrato: Vibrato | None

    @property
    def fingered(self) -> bool:
        """Whether it is said which finger plays one of its heads."""
        return self.wish.finger is not None or any(head.finger is not None for head in self.heads)

    @property
    def freed(self) -> "_Kind":
        """Return it without fingers and strings that are printed or wished for; words keep their string."""
        heads = tuple(replace(head, finger=None) for head in self.heads)
        return replace(self, heads=heads, wish=_NO_WISH)

    def held(self, instrument: Instrument) -> tuple[Head, ...]:
        """Return the heads with the top one on the string and with the finger that are wished for, if any are."""
        if self.wish.string is None and self.wish.finger is None:
            return self.heads
        top = max(self.heads, key=lambda head: head.midi)
        string = top.string if self.wish.string is None else len(instrument.strings) - self.wish.string
        finger = top.finger if self.wish.finger is None else self.wish.finger
        lies = replace(top, string=string, finger=finger)
        return tuple(lies if head is top else head for head in self.heads)


@dataclass(frozen=True)
class Line:
    """The notes of some strokes one after the other; arrays of shape (N,).

    Strings and fingers wished for by note are kept, and a note that shall be shaken is stopped rather than open.
    """

    kinds: Sequence[_Kind]
    codes: Mapping[object, int]  # of the kinds
    kind: IntArray
    top: IntArray  # pitch of the highest head
    inside: BoolArray  # a slur
    begin: FloatArray  # [s]
    end: FloatArray
    sounding: FloatArray

    @classmethod
    def of(
        cls,
        segments: Sequence[Segment],
        wishes: Mapping[str, HandWish],
        before: "Line | None" = None,
        anew: Sequence[int] = (),
    ) -> "Line":
        """Return the line of some strokes.

        Args:
            segments: the strokes.
            wishes: by note.
            before: the line of the same notes before an edit.
            anew: the strokes in which it may differ; without a line before all are looked at.
        """
        codes, kinds = (dict(before.codes), list(before.kinds)) if before else (dict[object, int](), list[_Kind]())
        anew = anew if before else range(len(segments))
        rows: list[tuple[float, ...]] = []
        for segment in (segments[k] for k in anew):
            slurred = segment.kind.key in SINGING
            for j, note in enumerate(segment.notes):
                event, asked = note.event, note.ask.string
                wish = wishes.get(event.id, _NO_WISH)
                sings = slurred and note.end - note.begin > SINGING_FROM
                pitches = tuple((head.midi, head.string, head.harmonic, head.finger) for head in event.heads)
                shaken = note.ask.vibrato if wish.vibrato is None else wish.vibrato
                key = (pitches, asked, sings, wish, shaken)
                if key not in codes:
                    codes[key] = len(kinds)
                    kinds.append(_Kind(event.heads, asked, sings, wish, shaken))
                top = pitches[0][0] if len(pitches) == 1 else event.top.midi
                rows.append((codes[key], top, j > 0, note.begin, note.end, note.sounding))
        columns = np.array(rows, dtype=float).reshape(-1, 6).T.copy()
        if before:
            firsts, fresh = first_notes(segments).tolist(), columns
            columns = np.stack([before.kind, before.top, before.inside, before.begin, before.end, before.sounding])
            columns[:, [i for k in anew for i in range(firsts[k], firsts[k + 1])]] = fresh
        of_kind, tops = columns[:2].astype(np.int64)
        return cls(kinds, codes, of_kind, tops, columns[2] > 0, *columns[3:])

    def lies_as(self, before: "Line", instrument: Instrument) -> bool:
        """Whether nothing that a line and the one before an edit differ in has a say in where the notes lie."""
        hand, joints, old = hand_of(instrument), self.joints, before.joints
        return (
            np.array_equal(self.kind, before.kind)
            and np.array_equal(joints, old)
            and np.array_equal(self.eases(joints, hand), before.eases(old, hand))
        )

    def cheapest(self, costs: FloatArray, hand: LeftHand) -> IntArray | None:
        """Return string and position of every note on the cheapest way, shape (2, N); None if there is no way.

        Args:
            costs: of every note by string and position.
            hand: of the instrument.
        """
        joints, cross = self.joints, crossing_costs(len(hand.instrument.strings))
        eases = self.eases(joints, hand)
        found: IntArray | None = cheapest_hand(costs, cross, joints, eases, self.slides(hand), SHIFT, SHIFT_SEMITONE)
        return found

    def paid(self, costs: FloatArray, hand: LeftHand, way: IntArray) -> float:
        """Return what a way costs: its places, its crossings, its shifts and slides."""
        strings, positions = way
        joints, at = self.joints, np.arange(len(strings))
        moved = np.abs(np.diff(positions))
        shifts = np.where(moved > 0, SHIFT + SHIFT_SEMITONE * moved, 0.0) * self.eases(joints, hand)[1:]
        crossings = crossing_costs(len(hand.instrument.strings))[joints[1:], strings[:-1], strings[1:]]
        stays = (moved == 0) & (np.diff(strings) == 0)
        slides = self.slides(hand)[at, strings, positions][1:] * stays
        return float(costs[at, strings, positions].sum() + crossings.sum() + shifts.sum() + slides.sum())

    def slides(self, hand: LeftHand) -> FloatArray:
        """Return what it costs to come to every note with the finger of the one before, by string and position.

        Shape (N, strings, positions); one finger in one position has one place, else it slides.
        """
        fingers = np.stack([hand.fingers(kind.held(hand.instrument)) for kind in self.kinds])[self.kind]
        slides = np.zeros(fingers.shape)
        moved = (np.diff(self.top) != 0)[:, None, None]
        slides[1:] = SLIDE * (moved & (fingers[1:] == fingers[:-1]) & (fingers[1:] > 0))
        return slides

    def freed(self, span: slice) -> "Line":
        """Return some of its notes, as if nobody had said which finger plays them, or on which string."""
        own = sorted({*self.kind[span].tolist()})
        kinds = [self.kinds[k].freed for k in own]
        kind = np.searchsorted(own, self.kind[span])
        top, inside, begin, end = self.top[span], self.inside[span], self.begin[span], self.end[span]
        return Line(kinds, {}, kind, top, inside, begin, end, self.sounding[span])

    @property
    def joints(self) -> IntArray:
        """Return how every note follows the one before."""
        length = self.end - self.begin
        before, now, inside = length[:-1], length[1:], self.inside[1:]
        leap = np.abs(np.diff(self.top))
        step, sung = leap <= STEP, inside & (np.minimum(before, now) >= SUNG_FROM) & (leap <= SUNG_REACH)
        found = np.full(len(self.kind), _Joint.OPEN, dtype=np.int64)
        found[1:][inside] = _Joint.SLUR
        found[1:][step & (inside | (before < QUICK_STEP))] = _Joint.STEP
        found[1:][sung] = _Joint.SUNG
        return found

    def eases(self, joints: IntArray, hand: LeftHand) -> FloatArray:
        """Return how a shift before every note costs against a plain one."""
        eases = np.where(joints == _Joint.SUNG, SUNG_SHIFT, 1.0)
        gap = self.begin[1:] - self.begin[:-1] - self.sounding[:-1]
        free = (gap > LONG_GAP) | np.isin(self.top[:-1], list(hand.open))
        heard = self.inside[1:] & (self.sounding[:-1] < QUICK)
        eases[1:] = np.where(free, np.minimum(eases[1:], EASY_SHIFT), np.where(heard, HEARD_SHIFT, eases[1:]))
        pairs = np.array([len(kind.heads) > 1 for kind in self.kinds])[self.kind]
        eases[1:] *= np.where(pairs[1:] & pairs[:-1], PAIR_SHIFT, 1.0)
        return np.where(self._kept, eases * FINGER_HOLDS, eases)

    @property
    def _kept(self) -> BoolArray:
        """Return before which notes the hand stays where a finger has put it: until the next finger, or a rest."""
        kept, fingered = np.zeros(len(self.kind), bool), np.array([kind.fingered for kind in self.kinds])[self.kind]
        if not fingered.any():
            return kept
        ends = fingered | np.concatenate([[True], self.begin[1:] - self.end[:-1] > HOLDS_TO])
        since = np.maximum.accumulate(np.where(ends, np.arange(len(kept)), 0))
        held: BoolArray = fingered[since] & ~ends
        return held


def costs_of(hand: LeftHand, kind: _Kind) -> FloatArray:
    """Return what each string and position costs: for the hand, against words and passages, for an open string's voice.

    Shape (strings, positions).
    """
    strings = hand.instrument.strings
    wishes, top = np.zeros((len(strings), 1)), max(head.midi for head in kind.heads)
    if kind.asked is not None:
        wishes += AGAINST_WISH
        wishes[kind.asked] = 0.0
    opens = [i for i, string in enumerate(strings) if string.midi == top]
    if kind.vibrato is not None and kind.vibrato.shakes:
        wishes[opens] += OPEN_SHAKEN
    elif kind.sings and kind.vibrato is None:
        wishes[opens] += OPEN_SINGING
    elif opens and len(kind.heads) == 1 and not kind.heads[0].harmonic:
        wishes += STOPPED
        wishes[opens] -= STOPPED
    return hand.costs(kind.held(hand.instrument)) + wishes


@lru_cache(maxsize=8)
def crossing_costs(count: int) -> FloatArray:
    """Cost from string to string for every kind of joint; shape (joints, strings, strings)."""
    step = np.abs(np.subtract.outer(np.arange(count), np.arange(count)))
    plain = np.where(step > 0, CROSSING + FURTHER * (step - 1), 0.0)
    more = {_Joint.OPEN: 0.0, _Joint.SLUR: IN_SLUR, _Joint.STEP: IN_STEP, _Joint.SUNG: SUNG}
    extra = np.array([more[joint] for joint in _Joint])
    over = np.where(np.arange(len(extra)) == _Joint.OPEN, 0.0, OVER_IN_SLUR)
    costs: FloatArray = plain + extra[:, None, None] * (step > 0) + over[:, None, None] * np.maximum(step - 1, 0)
    return costs
