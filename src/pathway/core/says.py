"""What is said of a quantity where it is declared, once: its unit and key in documents, its range, how it acts.

A field says it beside its type, ``hair: Annotated[float, Says(CM, (0.2, 0.9))]``: the value is a plain number in SI,
and documents, rows, forms, checks and edits read there what they need to know of it.
"""

import dataclasses
import math
import typing
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from types import NoneType
from typing import Any, cast

from msgspec import Struct, structs


@dataclass(frozen=True, slots=True)
class Unit:
    """In what documents say a quantity: the ending of its key, and how many of it are one in SI."""

    ending: str = ""
    per_si: float = 1.0
    name: str = ""  # where it is no number

    def meant(self, said: float) -> float:
        """Return in SI what is said in it."""
        return math.radians(said) if self.ending == "_deg" else said / self.per_si


AS_IT_IS = Unit()
CM, CM_S, MM = Unit("_cm", 100.0), Unit("_cm_s", 100.0), Unit("_mm", 1000.0)
GRAMS, G_M2 = Unit("_g", 1000.0), Unit("_g_m2", 1000.0)
N, NM, S, DB, BPM = Unit("_n"), Unit("_nm"), Unit("_s"), Unit("_db"), Unit("_bpm")
DEG, LANES_PULLED = Unit("_deg", math.degrees(1.0)), Unit("_lanes")
PITCH, PITCH_NAME = Unit(name="pitch"), Unit(name="name")  # a MIDI number that documents give by name, and the name


class Acts(StrEnum):
    """What a wish changes of a plan."""

    SHAPES = "shapes"  # the strokes themselves
    STEERS = "steers"  # where the bow goes
    SOUNDS = "sounds"  # the tone of its note


@dataclass(frozen=True, slots=True)
class Says:
    """What is said of one field."""

    unit: Unit = AS_IT_IS
    within: tuple[float, float] | None = None  # in SI; of text and lists: how long
    acts: Acts | None = None
    key: str = ""  # in documents, where it is not the field's name with the unit
    called: str = ""  # in the history of a piece, where it is not the key's words
    note: str = ""  # to who reads the schema
    when_read: bool = True  # a document with a value out of its range is refused; else whoever uses it says so
    estimated: bool = False  # where a document leaves it open
    flat: bool = False  # its own fields stand beside the others
    spread: tuple[str, ...] = ()  # keys of its numbers, which stand beside the others
    kept: bool = True  # in documents
    always: bool = False  # they have to say it

    def fitted(self, value: Any) -> Any:
        """Return a value brought into its range; texts and lists cut to their length, lists at their beginning."""
        if self.within is None or value is None:
            return value
        low, high = self.within
        if isinstance(value, str):
            return value[: int(high)]
        return value[-int(high) :] if isinstance(value, tuple) else min(max(value, low), high)


_SILENT = Says()


@dataclass(frozen=True, slots=True)
class Declared:
    """A field of a value, as it is declared."""

    name: str
    type: Any
    default: Any
    says: Says

    @property
    def kind(self) -> Any:
        """Return its type, whether or not it may be None."""
        return next((one for one in typing.get_args(self.type) if NoneType in typing.get_args(self.type)), self.type)

    @property
    def key(self) -> str:
        """Return what documents call it: its name with the ending of its unit."""
        ending = self.says.unit.ending
        return self.says.key or (self.name if self.name.endswith(ending) else self.name + ending)

    @property
    def called(self) -> str:
        """Return what the history of a piece and the lists of what was set call it."""
        return self.says.called or self.key.removesuffix(self.says.unit.ending).replace("_", " ")

    @property
    def range(self) -> tuple[float, float]:
        """Return its least and greatest value in SI.

        Raises:
            ValueError: none is declared.
        """
        if self.says.within is None:
            raise ValueError(f"{self.name} has no range")
        return self.says.within


@cache
def declared(value: type) -> Mapping[str, Declared]:
    """Return the fields of a frozen value by name, in their order."""
    hints = typing.get_type_hints(value, include_extras=True)
    return {name: _declared(name, hints[name], default) for name, default in _defaults(value)}


def range_of(value: type, name: str) -> tuple[float, float]:
    """Return the least and greatest value of a field in SI."""
    return declared(value)[name].range


def outside(value: object) -> Iterator[tuple[str, float, float, float]]:
    """Yield the numbers of a value that lie outside their ranges: what they are called, what they are, their ranges."""
    for field in _ranged(cast(Any, type(value))):
        number, (low, high) = getattr(value, field.name), field.range
        if number is not None and not low <= number <= high:
            yield field.called, number, low, high


@cache
def _ranged(value: type) -> tuple[Declared, ...]:
    return tuple(field for field in declared(value).values() if field.says.within and field.kind in (int, float))


def acting(value: type, acts: Acts) -> tuple[str, ...]:
    """Return the names of the fields that act in a way."""
    return tuple(name for name, field in declared(value).items() if field.says.acts is acts)


def _declared(name: str, hint: Any, default: Any) -> Declared:
    notes = getattr(hint, "__metadata__", ())
    says = next((note for note in notes if isinstance(note, Says)), _SILENT)
    return Declared(name, hint.__origin__ if notes else hint, default, says)


def _defaults(value: type) -> Iterator[tuple[str, Any]]:
    if issubclass(value, Struct):
        for one in structs.fields(value):
            yield one.name, dataclasses.MISSING if one.required else one.default
        return
    for field in dataclasses.fields(cast(Any, value)):
        yield field.name, field.default
