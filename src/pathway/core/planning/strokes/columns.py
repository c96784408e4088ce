"""What is known of all strokes to be, quantity by quantity: for rules that look at the whole part at once."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields
from functools import cached_property
from operator import attrgetter
from typing import Any

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.physics.string import StringRow
from pathway.core.planning.strokes.asks import Ask
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.segments import HALF_BAR, Note, Segment
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.technique.notation import Half, place_range
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType

PHRASE_REST = 0.4  # a rest that ends a phrase [s]
RUN, LIKE_RATE = 3, 0.12  # strokes in a row that make a rate; how far their rates may differ [1]
_KINDS = {key: n for n, key in enumerate(STROKE_TYPES)}


def of_kinds(tell: Callable[[StrokeType], float]) -> NDArray[Any]:
    """Return what is to be told of each manner, in the order of their table: to be looked up by a column of them."""
    return np.array([tell(kind) for kind in STROKE_TYPES.values()])


def _quantities(tell: Mapping[str, Callable[[Any], object]], things: Sequence[Any]) -> dict[str, NDArray[Any]]:
    """Return what is to be told of things, quantity by quantity, by name."""
    return {name: np.array([one(thing) for thing in things]) for name, one in tell.items()}


_STOPS_INSIDE = of_kinds(lambda kind: kind.stops_inside)
_SUNG = of_kinds(lambda kind: kind.hair_a_note is None)


@dataclass(frozen=True, slots=True, kw_only=True)
class NotesAsked:
    """What is asked of all notes, and where they lie; arrays of shape (N,)."""

    begin: FloatArray  # [s]
    end: FloatArray  # as written [s]
    sounding: FloatArray  # [s]
    level: FloatArray  # mean [dB]
    opening: FloatArray  # level as it begins and as it ends [dB]
    closing: FloatArray
    accent: BoolArray
    tied: BoolArray
    bows: IntArray  # strokes to and fro that it is repeated in; 0 where it is not
    colour: FloatArray  # −1 soft to 1 focused, as it begins and as it ends
    colour_end: FloatArray
    pace: FloatArray  # by how much faster than habit, as it begins and as it ends [ln]
    pace_end: FloatArray
    beta_from: FloatArray  # least and greatest β asked for
    beta_to: FloatArray
    string: IntArray  # of the lead, 0 the lowest
    midi: IntArray
    position: IntArray  # of the left hand
    voices: IntArray  # strings that sound
    impedance: FloatArray  # of the lead as it sounds, as in a row of strings
    loss_resistance: FloatArray
    length: FloatArray
    heaviness: FloatArray
    furthest: FloatArray  # β before the fingerboard
    stopped: BoolArray
    loops: FloatArray

    @classmethod
    def of(cls, strokes: Sequence[Stroke]) -> "NotesAsked":
        """Return the notes of some strokes; most lie like others, of which the same is asked: that is told once."""
        pairs = [pair for stroke in strokes for pair in zip(stroke.notes, stroke.placements, strict=True)]
        alike = [(id(note.ask), id(place)) for note, place in pairs]
        told = {key: (note.ask, place) for key, (note, place) in zip(alike, pairs, strict=True)}
        number = {key: n for n, key in enumerate(told)}
        at = [number[key] for key in alike]
        timed = _quantities(_TIMED, [note for note, _ in pairs])
        lying = {name: column[at] for name, column in _quantities(_LYING, list(told.values())).items()}
        return cls(**timed, **lying)

    @property
    def strings(self) -> StringRow:
        """Return the leads as they sound."""
        return StringRow(**{field.name: getattr(self, field.name) for field in fields(StringRow)})


_TIMED: Mapping[str, Callable[[Note], object]] = {
    "begin": attrgetter("begin"),
    "end": attrgetter("end"),
    "sounding": attrgetter("sounding"),
    "level": attrgetter("level_db"),
    "opening": lambda note: note.level_ends[0],
    "closing": lambda note: note.level_ends[1],
    "accent": lambda note: note.pulse_db > 0,
    "tied": attrgetter("event.tied"),
    "bows": attrgetter("bows"),
}
_LYING: Mapping[str, Callable[[tuple[Ask, Placement]], object]] = {
    "colour": lambda one: one[0].colour,
    "colour_end": lambda one: one[0].colour_end,
    "pace": lambda one: one[0].paces[0],
    "pace_end": lambda one: one[0].paces[1],
    "beta_from": lambda one: place_range(one[0].where, one[1].lead.furthest)[0],
    "beta_to": lambda one: place_range(one[0].where, one[1].lead.furthest)[1],
    "string": lambda one: one[1].strings[one[1].leading],
    "midi": lambda one: one[1].pitches[one[1].leading],
    "position": lambda one: one[1].position,
    "voices": lambda one: len(one[1].strings),
    "impedance": lambda one: one[1].lead.impedance,
    "loss_resistance": lambda one: one[1].lead.loss_resistance,
    "length": lambda one: one[1].lead.length,
    "heaviness": lambda one: one[1].lead.heaviness,
    "furthest": lambda one: one[1].lead.furthest,
    "stopped": lambda one: one[1].lead.stopped,
    "loops": lambda one: float(one[1].lead.loops),
}


@dataclass(frozen=True, kw_only=True)
class StrokeColumns:
    """Arrays of shape (K,) over strokes to be."""

    begin: FloatArray  # [s]
    end: FloatArray  # as written [s]
    moving: FloatArray  # how long the bow moves [s]
    bows: FloatArray  # strokes to and fro
    notes: IntArray  # how many
    level: FloatArray  # mean [dB]
    accented: BoolArray
    rate: FloatArray  # separate notes that it carries a second
    rest: FloatArray  # silence before it [s]
    measure: IntArray  # in which it begins, counted from 0
    kind: IntArray  # manner, in the order of their table
    strength: FloatArray  # metrical, 0 to 1
    first_of_bar: BoolArray
    upbeat: BoolArray
    grows: IntArray  # 1 growing, −1 fading, 0 neither
    proposed: BoolArray  # begins with a bow change that the page does not have
    early: BoolArray  # its direction tells strong from weak
    chord: BoolArray  # it begins with three heads or more
    keep_back: FloatArray  # hair that should be left ahead at its end [m]
    halved: BoolArray  # a half of the bow, or another part, is asked for

    @classmethod
    def of(cls, strokes: Sequence[Segment], notes: NotesAsked) -> "StrokeColumns":
        """Return the columns of some strokes, whose notes are given."""
        ends = np.cumsum([len(stroke.notes) for stroke in strokes])
        firsts = np.append(0, ends[:-1])
        moving, bows = np.add.reduceat(notes.sounding, firsts), np.maximum(1, np.add.reduceat(notes.bows, firsts))
        begin, end = notes.begin[firsts], notes.end[ends - 1]
        separate = np.where(bows > 1, bows, np.add.reduceat(~notes.tied, firsts, dtype=np.int64))
        return cls(
            begin=begin,
            end=end,
            moving=moving,
            bows=bows.astype(np.float64),
            notes=ends - firsts,
            level=np.add.reduceat(notes.level * notes.sounding, firsts) / np.maximum(moving, 1e-9),
            accented=notes.accent[firsts],
            rate=np.divide(separate, end - begin, out=np.zeros(len(ends)), where=end > begin),
            **_quantities(_OF_STROKES, strokes),
        )

    @cached_property
    def firsts(self) -> IntArray:
        """Return the index of the first note of each."""
        firsts: IntArray = np.append(0, np.cumsum(self.notes)[:-1])
        return firsts

    @property
    def sung(self) -> BoolArray:
        """Return which neither bounce nor are caught."""
        sung: BoolArray = _SUNG[self.kind]
        return sung

    @property
    def slurred(self) -> BoolArray:
        """Return which have several notes."""
        several: BoolArray = self.notes > 1
        return several

    @property
    def weak(self) -> BoolArray:
        """Return which carry no weight of their own."""
        light: BoolArray = (self.strength < HALF_BAR) & ~self.accented
        return light

    @property
    def starts_phrase(self) -> BoolArray:
        """Return which begin a phrase on a beat that carries weight."""
        begins: BoolArray = (self.rest > PHRASE_REST) & (self.strength >= HALF_BAR)
        return begins


_OF_STROKES: Mapping[str, Callable[[Segment], object]] = {
    "rest": attrgetter("rest_before"),
    "measure": lambda stroke: stroke.notes[0].event.measure,
    "kind": lambda stroke: _KINDS[stroke.kind.key],
    "strength": attrgetter("strength"),
    "first_of_bar": attrgetter("first_of_bar"),
    "upbeat": attrgetter("upbeat"),
    "grows": attrgetter("grows"),
    "proposed": attrgetter("proposed"),
    "early": attrgetter("early"),
    "chord": attrgetter("is_chord"),
    "keep_back": lambda stroke: stroke.notes[-1].ask.keep_back or 0.0,
    "halved": lambda stroke: stroke.ask.half is not Half.ANY,
}


def rates_of(columns: StrokeColumns) -> FloatArray:
    """Return the rate of every stroke's notes [1/s]; 0 where too few follow each other to make one."""
    by_itself = (columns.bows > 1) | (_STOPS_INSIDE[columns.kind] & columns.slurred)
    found: FloatArray = np.where(by_itself, columns.rate, 0.0)
    alone, rates, kinds = columns.notes == 1, columns.rate.tolist(), columns.kind.tolist()
    goes_on, start = (alone & (columns.rest == 0)).tolist(), 0
    for k in range(1, len(rates) + 1):
        like = k < len(rates) and goes_on[k] and kinds[k] == kinds[start]
        if like and abs(rates[k] - rates[start]) < LIKE_RATE * rates[start]:
            continue
        if k - start >= RUN and alone[start]:
            found[start:k] = rates[start:k]
        start = k
    return found
