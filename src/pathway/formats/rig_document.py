"""Rig files: instrument, bow and hand with every number, as JSON; the same block stands in plan documents.

Each number has the range in which the model means something; what lies outside is refused by name.
"""

import json
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Annotated, Any, Literal, get_args

from pydantic import Field, ValidationError

from pathway.core.guide.measuring import RigMeasure
from pathway.core.rig.bow import Bow, Hold
from pathway.core.rig.instrument import Instrument, OneBow, OpenString, Rig, aside_of
from pathway.core.says import CM, Says, declared
from pathway.errors import RigError
from pathway.formats.codec import Also, Codec, form_of, model_of
from pathway.formats.misread import first_fault

_LONG = 200  # no number or name that is set one by one is as long [characters]
_CALLED: Mapping[str, bool | None] = {"by hold": None, "down and up": False, "pull and push": True}
_Place = Annotated[float, Field(ge=0, le=90)] | None
_CENTIMETRES = form_of(float, Says(CM))


def _strings_aside(document: Any) -> Instrument:
    """Return an instrument, the stick on its strings as our estimate has it where a document says nothing of it."""
    made = INSTRUMENTS.value(document)
    strings, middle = list(made.strings), (len(made.strings) - 1) / 2
    for i, said in enumerate(document.strings):
        if said.stick_deg is None:
            aside = aside_of(i - middle, made.angle_step, held_down=made.held_down)
            strings[i] = replace(strings[i], aside=aside)
    return replace(made, strings=tuple(strings))


Codec(OpenString, model_of(OpenString, "StringDoc", "One open string."))
INSTRUMENTS = Codec(
    Instrument, model_of(Instrument, "InstrumentDoc", "The instrument, with every number used."), read=_strings_aside
)
Codec(Bow, model_of(Bow, "BowDoc", "The bow, with every number used."))
Codec(Hold, model_of(Hold, "HoldDoc", "How the bow is held."))
_OneBowDoc = model_of(
    OneBow,
    "OneBowDoc",
    "The player's own staccato in one bow, in one direction.",
    {
        "from_cm": Also(_Place, default=None, note="where it begins to be reliable"),
        "to_cm": Also(_Place, default=None),
    },
)


def _one_bow_document(one: OneBow) -> dict[str, Any]:
    low, high = map(_CENTIMETRES.out, one.stretch) if one.stretch else (None, None)
    return ONE_BOWS.dump(one, from_cm=low, to_cm=high)


ONE_BOWS = Codec(OneBow, _OneBowDoc, write=_one_bow_document)
RigDoc = model_of(
    Rig,
    "RigDoc",
    "Instrument, bow and hand.",
    {
        "usable_cm": Also(tuple[float, float], "lifts_to_cross"),
        "directions": Also(Literal["by hold", "down and up", "pull and push"], default="by hold"),
        "staccato_per_second": Also(
            Annotated[float, Field(ge=4, le=20)] | None,
            default=None,
            note="as older rig files have it: the same on both bows",
        ),
        "staccato_down": Also(_OneBowDoc, default=_OneBowDoc()),
        "staccato_up": Also(_OneBowDoc, default=_OneBowDoc()),
    },
)


def rig_document(rig: Rig) -> dict[str, Any]:
    """Return the document of a rig."""
    return RIGS.dump(
        rig,
        usable_cm=[_CENTIMETRES.out(place) for place in rig.usable],
        directions=next(words for words, called in _CALLED.items() if called is rig.says_pull),
        staccato_per_second=None,
        staccato_down=ONE_BOWS.write(rig.staccato[0]),
        staccato_up=ONE_BOWS.write(rig.staccato[1]),
    )


def _rig_of(doc: Any) -> Rig:
    """Return the rig that a document describes.

    Raises:
        RigError: numbers that contradict each other.
    """
    low, high = doc.usable_cm
    if not 0 <= low < high <= doc.bow.hair_cm:
        raise RigError(
            f"usable_cm is {low:g} to {high:g}; it must lie on the {doc.bow.hair_cm:g} cm of hair", place="rig file"
        )
    pitches = [string.midi for string in doc.instrument.strings]
    if pitches != sorted(pitches):
        raise RigError("The strings must stand from the lowest to the highest", place="instrument.strings")
    return RIGS.value(
        doc,
        frog_margin=low / 100,
        tip_margin=doc.bow.hair_cm / 100 - high / 100,
        staccato=(_one_bow(doc.staccato_down, doc), _one_bow(doc.staccato_up, doc)),
        says_pull=_CALLED[doc.directions],
    )


RIGS = Codec(Rig, RigDoc, read=_rig_of, write=rig_document)


def _one_bow(doc: Any, rig: Any) -> OneBow:
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


def read_rig(data: bytes) -> Rig:
    """Return a rig from a rig file.

    Raises:
        RigError: names the field, its value and its range.
    """
    try:
        return RIGS.read(RigDoc.model_validate_json(data))
    except ValidationError as error:
        where, what = first_fault(error)
        value = error.errors()[0].get("input")
        shown = f"is {value:g}; it {what}" if isinstance(value, int | float) else what
        raise RigError(
            f"{where} {shown}",
            place="rig file",
            advice="Start from `pathway rigs --show violin` and change what differs.",
        ) from error


_WORKED_OUT = {
    "usable.first": "usable_cm.0",
    "usable.last": "usable_cm.1",
    **{
        f"staccato_{way}.{field}": f"staccato_{way}.{key}"
        for way in ("down", "up")
        for field, key in (("rate", "per_second"), ("from", "from_cm"), ("to", "to_cm"))
    },
}


def key_of(measure: RigMeasure) -> str:
    """Return where a rig file has a number."""
    if measure.field in _WORKED_OUT:
        return _WORKED_OUT[measure.field]
    kind: Any = Rig
    steps: list[str] = []
    for name in measure.field.split("."):
        if name.isdecimal():
            steps, kind = [*steps, name], get_args(kind)[0]
        else:
            field = declared(kind)[name]
            steps, kind = steps if field.says.flat else [*steps, field.key], field.type
    return ".".join(steps)


def revised(rig: Rig, settings: Iterable[str]) -> Rig:
    """Return a rig with some numbers of its file set, each as KEY=VALUE, such as ``bow.mass_g=58``.

    Raises:
        RigError: not of that form, no such key, or a value outside its range.
    """
    doc = rig_document(rig)
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
    return read_rig(json.dumps(doc).encode())


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
