"""Rig files: instrument, bow and hand with every number, as JSON; the same block stands in plan documents.

Each number has the range in which the model means something; what lies outside is refused by name.
"""

import json
import math
from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from pathway.core.guide.measuring import RigMeasure, RigQuantity
from pathway.core.rig.bow import Bow, Direction, Hold
from pathway.core.rig.instrument import RING, Instrument, OneBow, OpenString, Rig, aside_of
from pathway.errors import RigError
from pathway.formats.misread import first_fault

_DIGITS = 5  # of rounded numbers
_LONG = 200  # no number or name that is set one by one is as long [characters]


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


def _within(low: float, high: float) -> Any:
    return Field(ge=low, le=high)


class StringDoc(_Model):
    """One open string."""

    name: str = Field(pattern=r"^[A-G][#b]?\d$")
    midi: Annotated[int, _within(21, 100)]
    tension_n: Annotated[float, _within(10, 500)]
    gravity_share: Annotated[float, _within(0.05, 1)]
    ring_s: Annotated[float, _within(0.05, 12)] | None = Field(
        default=None, description="until the open string has fallen by 20 dB after the bow has left it; else estimated"
    )
    stick_deg: Annotated[float, _within(-45, 45)] | None = Field(
        default=None, description="of the stick on it, seen from above; positive: the hand drawn back; else estimated"
    )
    answer_db: Annotated[float, _within(-12, 12)] = Field(
        default=0.0, description="how much louder it is than another string of its weight with the same bow"
    )


class InstrumentDoc(_Model):
    """The instrument, with every number used."""

    name: str = Field(min_length=1, max_length=80)
    strings: list[StringDoc] = Field(min_length=1, max_length=8)
    vibrating_cm: Annotated[float, _within(15, 150)]
    gap_cm: Annotated[float, _within(2, 40)]
    spacing_cm: Annotated[float, _within(0.5, 5)]
    bridge_radius_cm: Annotated[float, _within(2, 15)]
    drive_mf_m_s: Annotated[float, _within(0.5, 10)]
    loss_ratio: Annotated[float, _within(10, 1000)]
    plain_place: Annotated[float, _within(0.2, 0.85)]
    comfort_force_n: Annotated[float, _within(0.3, 20)]
    octave_down: bool = False
    held_down: bool = Field(default=False, description="the lowest string lies next to the bow hand")


class BowDoc(_Model):
    """The bow, with every number used."""

    name: str = Field(min_length=1, max_length=80)
    mass_g: Annotated[float, _within(20, 250)]
    hair_cm: Annotated[float, _within(20, 90)]
    stick_cm: Annotated[float, _within(20, 100)]
    centre_cm: Annotated[float, _within(3, 50)]
    pivot_cm: Annotated[float, _within(0, 10)]
    tension_n: Annotated[float, _within(10, 150)]
    ribbon_mm: Annotated[float, _within(2, 30)]
    clearance_mm: Annotated[float, _within(2, 40)]
    turns: Annotated[float, _within(-3, 3)] = Field(default=0.0, description="of the screw, tighter than usual")
    inertia_g_m2: Annotated[float, _within(0.2, 60)] | None = Field(
        default=None, description="about the hold's pivot, where it was measured; else estimated"
    )


class OneBowDoc(_Model):
    """The player's own staccato in one bow, in one direction."""

    per_second: Annotated[float, _within(4, 20)] | None = Field(default=None, description="of the self-running one")
    from_cm: Annotated[float, _within(0, 90)] | None = Field(default=None, description="where it begins to be reliable")
    to_cm: Annotated[float, _within(0, 90)] | None = None


class RigDoc(_Model):
    """Instrument, bow and hand."""

    key: str = Field(min_length=1, max_length=60)
    instrument: InstrumentDoc
    bow: BowDoc
    hold: Literal["shallow", "deep", "early", "underhand"]
    index_lever_cm: Annotated[float, _within(1, 15)]
    torque_limit_nm: Annotated[float, _within(0.05, 5)]
    strong: Literal["down", "up"]
    hard_way: Literal[-1, 0, 1]
    usable_cm: tuple[float, float]
    lifts_to_cross: bool = Field(default=True, description="may leave the string to pass over others")
    tilt_habit_deg: Annotated[float, _within(-20, 30)] = Field(
        default=0.0, description="more than others tilt the stick, or less"
    )
    directions: Literal["by hold", "down and up", "pull and push"] = "by hold"
    staccato_per_second: Annotated[float, _within(4, 20)] | None = Field(
        default=None, description="as older rig files have it: the same on both bows"
    )
    staccato_down: OneBowDoc = OneBowDoc()
    staccato_up: OneBowDoc = OneBowDoc()


def read_rig(data: bytes) -> Rig:
    """Return a rig from a rig file.

    Raises:
        RigError: names the field, its value and its range.
    """
    return rig_of(_validated(data))


_KEYS = {
    RigQuantity.LENGTH: "instrument.vibrating_cm",
    RigQuantity.GAP: "instrument.gap_cm",
    RigQuantity.SPACING: "instrument.spacing_cm",
    RigQuantity.BRIDGE_RADIUS: "instrument.bridge_radius_cm",
    RigQuantity.COMFORT_FORCE: "instrument.comfort_force_n",
    RigQuantity.MASS: "bow.mass_g",
    RigQuantity.CENTRE: "bow.centre_cm",
    RigQuantity.HAIR: "bow.hair_cm",
    RigQuantity.STICK: "bow.stick_cm",
    RigQuantity.PIVOT: "bow.pivot_cm",
    RigQuantity.TENSION: "bow.tension_n",
    RigQuantity.RIBBON: "bow.ribbon_mm",
    RigQuantity.CLEARANCE: "bow.clearance_mm",
    RigQuantity.TURNS: "bow.turns",
    RigQuantity.INDEX_LEVER: "index_lever_cm",
    RigQuantity.TORQUE_LIMIT: "torque_limit_nm",
    RigQuantity.TILT_HABIT: "tilt_habit_deg",
    RigQuantity.FIRST_HAIR: "usable_cm.0",
    RigQuantity.LAST_HAIR: "usable_cm.1",
    RigQuantity.STACCATO_DOWN: "staccato_down.per_second",
    RigQuantity.STACCATO_DOWN_FROM: "staccato_down.from_cm",
    RigQuantity.STACCATO_DOWN_TO: "staccato_down.to_cm",
    RigQuantity.STACCATO_UP: "staccato_up.per_second",
    RigQuantity.STACCATO_UP_FROM: "staccato_up.from_cm",
    RigQuantity.STACCATO_UP_TO: "staccato_up.to_cm",
}
_OF_STRINGS = {
    RigQuantity.STRING_TENSION: "tension_n",
    RigQuantity.RING: "ring_s",
    RigQuantity.STICK_ANGLE: "stick_deg",
    RigQuantity.ANSWER: "answer_db",
}


def key_of(measure: RigMeasure) -> str:
    """Return where a rig file has a number."""
    if measure.quantity in _OF_STRINGS:
        return f"instrument.strings.{measure.string}.{_OF_STRINGS[measure.quantity]}"
    return _KEYS[measure.quantity]


def revised(rig: Rig, settings: Iterable[str]) -> Rig:
    """Return a rig with some numbers of its file set, each as KEY=VALUE, such as ``bow.mass_g=58``.

    Raises:
        RigError: not of that form, no such key, or a value outside its range.
    """
    doc = rig_document(rig).model_dump(mode="json")
    for setting in settings:
        key, equals, value = setting.partition("=")
        inner, last = _home_of(key.strip(), doc)
        if not equals or last is None:
            keys = ", ".join(str(k) for k in (inner if isinstance(inner, dict) else range(len(inner))))
            raise RigError(
                f"{setting!r} does not set a number of the rig",
                place="--set",
                advice=f"Write KEY=VALUE, such as bow.mass_g=58. Keys here: {keys}.",
            )
        try:
            inner[last] = json.loads(value) if value and len(value) < _LONG else value[:_LONG] or None
        except json.JSONDecodeError:
            inner[last] = value
    return rig_of(_validated(json.dumps(doc).encode()))


def _home_of(key: str, doc: dict[str, Any]) -> tuple[Any, str | int | None]:
    """Walk down a dotted key; return the block its last step lies in, and that step, or None if there is none."""
    inner: Any = doc
    steps: list[str | int] = [int(step) if step.isdecimal() else step for step in key.split(".")]
    for n, step in enumerate(steps):
        known = step in inner if isinstance(inner, dict) else isinstance(step, int) and step < len(inner)
        if not known:
            return inner, None
        value = inner[step]
        if n + 1 == len(steps):
            return inner, None if isinstance(value, dict) else step
        if not isinstance(value, dict | list):
            return inner, None
        inner = value
    return inner, None


def _validated(data: bytes) -> RigDoc:
    try:
        return RigDoc.model_validate_json(data)
    except ValidationError as error:
        where, what = first_fault(error)
        value = error.errors()[0].get("input")
        shown = f"is {value:g}; it {what}" if isinstance(value, int | float) else what
        raise RigError(
            f"{where} {shown}",
            place="rig file",
            advice="Start from `pathway rigs --show violin` and change what differs.",
        ) from error


def rig_of(doc: RigDoc) -> Rig:
    """Return the rig that a document describes.

    Raises:
        RigError: numbers that contradict each other.
    """
    low, high = (place / 100 for place in doc.usable_cm)
    if not 0 <= low < high <= doc.bow.hair_cm / 100:
        raise RigError(
            "usable_cm is {:g} to {:g}; it must lie on the {:g} cm of hair".format(*doc.usable_cm, doc.bow.hair_cm),
            place="rig file",
        )
    pitches = [string.midi for string in doc.instrument.strings]
    if pitches != sorted(pitches):
        raise RigError("The strings must stand from the lowest to the highest", place="instrument.strings")
    return Rig(
        key=doc.key,
        instrument=_instrument_of(doc.instrument),
        bow=Bow(
            name=doc.bow.name,
            mass=doc.bow.mass_g / 1000,
            hair=doc.bow.hair_cm / 100,
            stick=doc.bow.stick_cm / 100,
            centre=doc.bow.centre_cm / 100,
            pivot=doc.bow.pivot_cm / 100,
            tension=doc.bow.tension_n,
            ribbon=doc.bow.ribbon_mm / 1000,
            clearance=doc.bow.clearance_mm / 1000,
            turns=doc.bow.turns,
            measured_inertia=None if doc.bow.inertia_g_m2 is None else doc.bow.inertia_g_m2 / 1000,
        ),
        hold=Hold(doc.hold, doc.index_lever_cm / 100),
        torque_limit=doc.torque_limit_nm,
        strong=Direction[doc.strong.upper()],
        hard_way=doc.hard_way,
        frog_margin=low,
        tip_margin=doc.bow.hair_cm / 100 - high,
        lifts_to_cross=doc.lifts_to_cross,
        staccato=(_one_bow(doc.staccato_down, doc), _one_bow(doc.staccato_up, doc)),
        tilt_habit=math.radians(doc.tilt_habit_deg),
        says_pull={"by hold": None, "down and up": False, "pull and push": True}[doc.directions],
    )


def _aside(doc: InstrumentDoc, string: int) -> float:
    """Return the direction of the stick on a string that a file says nothing of, our estimate [rad]."""
    off = string - (len(doc.strings) - 1) / 2
    return aside_of(off, doc.spacing_cm / doc.bridge_radius_cm, held_down=doc.held_down)


def _one_bow(doc: OneBowDoc, rig: RigDoc) -> OneBow:
    rate = rig.staccato_per_second if doc.per_second is None else doc.per_second
    if doc.from_cm is None and doc.to_cm is None:
        return OneBow(rate)
    low = rig.usable_cm[0] if doc.from_cm is None else doc.from_cm
    high = rig.usable_cm[1] if doc.to_cm is None else doc.to_cm
    if not low < high <= rig.bow.hair_cm:
        raise RigError(
            f"The stretch of a staccato is {low:g} to {high:g} cm; it must lie on the {rig.bow.hair_cm:g} cm of hair",
            place="rig file",
        )
    return OneBow(rate, (low / 100, high / 100))


def _one_bow_document(one: OneBow) -> OneBowDoc:
    low, high = one.stretch or (None, None)
    return OneBowDoc(
        per_second=one.rate,
        from_cm=None if low is None else _cm(low),
        to_cm=None if high is None else _cm(high),
    )


def _instrument_of(doc: InstrumentDoc) -> Instrument:
    return Instrument(
        name=doc.name,
        strings=tuple(
            OpenString(
                s.name,
                s.midi,
                s.tension_n,
                s.gravity_share,
                RING if s.ring_s is None else s.ring_s,
                _aside(doc, i) if s.stick_deg is None else math.radians(s.stick_deg),
                s.answer_db,
            )
            for i, s in enumerate(doc.strings)
        ),
        length=doc.vibrating_cm / 100,
        gap=doc.gap_cm / 100,
        spacing=doc.spacing_cm / 100,
        bridge_radius=doc.bridge_radius_cm / 100,
        drive_mf=doc.drive_mf_m_s,
        loss=doc.loss_ratio,
        plain_place=doc.plain_place,
        comfort_force=doc.comfort_force_n,
        octave_down=doc.octave_down,
        held_down=doc.held_down,
    )


def rig_document(rig: Rig) -> RigDoc:
    """Return the document of a rig."""
    instrument, bow = rig.instrument, rig.bow
    return RigDoc(
        key=rig.key,
        instrument=InstrumentDoc(
            name=instrument.name,
            strings=[
                StringDoc(
                    name=s.name,
                    midi=s.midi,
                    tension_n=s.tension,
                    gravity_share=s.gravity_share,
                    ring_s=s.ring,
                    stick_deg=round(math.degrees(s.aside), _DIGITS),
                    answer_db=s.answer,
                )
                for s in instrument.strings
            ],
            vibrating_cm=_cm(instrument.length),
            gap_cm=_cm(instrument.gap),
            spacing_cm=_cm(instrument.spacing),
            bridge_radius_cm=_cm(instrument.bridge_radius),
            drive_mf_m_s=instrument.drive_mf,
            loss_ratio=instrument.loss,
            plain_place=instrument.plain_place,
            comfort_force_n=instrument.comfort_force,
            octave_down=instrument.octave_down,
            held_down=instrument.held_down,
        ),
        bow=BowDoc(
            name=bow.name,
            mass_g=round(1000 * bow.mass, _DIGITS),
            hair_cm=_cm(bow.hair),
            stick_cm=_cm(bow.stick),
            centre_cm=_cm(bow.centre),
            pivot_cm=_cm(bow.pivot),
            tension_n=bow.tension,
            ribbon_mm=round(1000 * bow.ribbon, _DIGITS),
            clearance_mm=round(1000 * bow.clearance, _DIGITS),
            turns=bow.turns,
            inertia_g_m2=None if bow.measured_inertia is None else round(1000 * bow.measured_inertia, _DIGITS),
        ),
        hold=rig.hold.name,
        index_lever_cm=_cm(rig.hold.index_lever),
        torque_limit_nm=rig.torque_limit,
        strong="down" if rig.strong > 0 else "up",
        hard_way=1 if rig.hard_way > 0 else (-1 if rig.hard_way else 0),
        usable_cm=(_cm(rig.usable[0]), _cm(rig.usable[1])),
        lifts_to_cross=rig.lifts_to_cross,
        staccato_down=_one_bow_document(rig.staccato[0]),
        staccato_up=_one_bow_document(rig.staccato[1]),
        tilt_habit_deg=round(math.degrees(rig.tilt_habit), _DIGITS),
        directions="by hold" if rig.says_pull is None else "pull and push" if rig.says_pull else "down and up",
    )


def _cm(metres: float) -> float:
    return round(100 * metres, _DIGITS)
