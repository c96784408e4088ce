"""What the rig room shows: a rig in pictures, and its numbers with their range, effect and typical value."""

from dataclasses import dataclass
from functools import cached_property

from pathway.core.guide.measuring import MEASURES, RigGroup, RigMeasure, effect_of, string_measures
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning.wish_checks import RETUNED
from pathway.core.rig import Rig, preset
from pathway.core.rig.instrument import open_pitch
from pathway.errors import PathwayError
from pathway.formats.rig_document import key_of, revised, rig_document
from pathway.store import KnownRig
from pathway.web.rigs import pictures
from pathway.web.rigs.drawings import drawing

CHOICES = ("hold", "strong", "hard_way", "directions")  # of a rig file, that are chosen from a list
_DIGITS = 4  # of numbers shown


@dataclass(frozen=True, slots=True)
class NumberRow:
    """One number of the rig, ready to be changed."""

    key: str
    name: str
    unit: str
    how: str
    drawing: str
    value: str
    typical: str
    usually: str
    effect: str
    changed: bool


class RigView:
    """One rig."""

    def __init__(self, known: KnownRig, default: str, say: Speech = PLAIN) -> None:
        self.known, self.rig, self.say = known, known.rig, say
        self.is_default = default == known.key
        self._typical = preset(known.base)

    @cached_property
    def groups(self) -> list[tuple[str, list[NumberRow]]]:
        """Return the numbers by what they belong to."""
        rows: dict[RigGroup, list[NumberRow]] = {group: [] for group in RigGroup}
        for measure in (*MEASURES, *string_measures(self.rig)):
            rows[measure.group].append(self._row(measure))
        return [(group.value, found) for group, found in rows.items() if found]

    def _row(self, measure: RigMeasure) -> NumberRow:
        key = key_of(measure)
        value = value_of(self.rig, key)
        typical = value_of(self._typical, key) if key in self._known else value
        spread = measure.usual * (typical or 0.0)
        least, most = max((typical or 0.0) - spread, 0), (typical or 0.0) + spread
        unit = self.say.unit(measure.unit)
        low, high, now, usual = (self._as_told(number, measure.unit) for number in (least, most, value, typical))
        return NumberRow(
            key=key,
            name=measure.name,
            unit=unit,
            how=measure.how,
            drawing=drawing(measure.field),
            value=now,
            typical=usual,
            usually=f"{float(low):.3g} to {float(high):.3g} {unit}" if spread else "",
            effect="" if value is None else self._effect(measure, value),
            changed=now != usual,
        )

    def _as_told(self, value: float | None, unit: str) -> str:
        return _shown(None if value is None else self.say.shown(value, unit))

    def meant(self, key: str, unit: str, said: str) -> str:
        """Return what a player has written of a number, in the unit of rig files; one left alone stays to the digit."""
        value = value_of(self.rig, key)
        if said == self._as_told(value, unit):
            return "" if value is None else f"{value!r}"
        try:
            return f"{self.say.meant(float(said), unit)!r}" if self.say.unit(unit) != unit else said
        except ValueError:  # no number: refused by its name
            return said

    @cached_property
    def _known(self) -> set[str]:
        """The numbers that the typical rig has too: one of another kind may have fewer strings."""
        return {key_of(measure) for measure in (*MEASURES, *string_measures(self._typical))}

    def _effect(self, measure: RigMeasure, value: float) -> str:
        try:
            more = revised(self.rig, [f"{key_of(measure)}={value + measure.step}"])
        except PathwayError:  # at the end of its range
            return ""
        return effect_of(measure, self.rig, more, self.say)

    @property
    def choices(self) -> dict[str, str]:
        """Return hold, strong direction and the hard way round as the form has them."""
        doc = rig_document(self.rig)
        return {name: str(doc[name]) for name in CHOICES}

    @property
    def bow(self) -> str:
        """Return the picture of the bow."""
        return pictures.bow_picture(self.rig, self.say)

    @property
    def strings(self) -> str:
        """Return the picture of the strings."""
        return pictures.strings_picture(self.rig, self.say)

    @property
    def levels(self) -> str:
        """Return the picture of the bridge."""
        return pictures.levels_picture(self.rig)


def _shown(value: float | None) -> str:
    """Return a number as it is shown; empty where it is not known."""
    return "" if value is None else f"{value:.{_DIGITS}g}"


def value_of(rig: Rig, key: str) -> float | None:
    """Return a number of a rig by its key in rig files; None where it is not known."""
    inner: object = rig_document(rig)
    for step in key.split("."):
        inner = inner[int(step)] if isinstance(inner, list) else inner[step]  # type: ignore[index]
    return None if inner is None else float(inner)  # type: ignore[arg-type]


@dataclass(frozen=True, slots=True)
class TuningView:
    """The strings of a piece: as its rig has them, and as they are tuned for it."""

    own: Rig
    now: Rig

    @property
    def rows(self) -> list[tuple[str, int, list[tuple[int, str]]]]:
        """Return for every string, the lowest first, its name, its pitch now and those it can be tuned to."""
        return [
            (
                string.name,
                now.midi,
                [(m, open_pitch(m)) for m in range(string.midi - RETUNED, string.midi + RETUNED + 1)],
            )
            for string, now in zip(self.own.instrument.strings, self.now.instrument.strings, strict=True)
        ]

    @property
    def retuned(self) -> bool:
        """Whether any is tuned otherwise."""
        return self.own.instrument != self.now.instrument
