"""Wish files: passages and locks as JSON; both stand in plan documents too.

Places are note ids, or bars and beats as a player says them: "bar 12", "bar 12 beat 3".
"""

import re
from dataclasses import replace
from typing import Any, Literal

from pydantic import ValidationError

from pathway.core.music import Event, Part
from pathway.core.planning.wishes import Lock, Passage, Relation, Settings, Stress, TempoChange, Wishes
from pathway.errors import PlanError
from pathway.formats.codec import Also, Codec, bare, model_of
from pathway.formats.misread import first_fault

_PLACE = re.compile(r"^bar (?P<bar>\S+)(?: beat (?P<beat>\d+(?:\.\d+)?))?$")
_TOUCH = 1e-4  # beats

LOCKS = Codec(Lock, model_of(Lock, "LockDoc", "A wish for the stroke that starts with a note."))
Codec(Stress, model_of(Stress, "StressDoc", "Which beats and bars carry weight."))
Codec(Relation, model_of(Relation, "RelationDoc", "How loud a passage is against another one."))
PASSAGES = Codec(Passage, model_of(Passage, "PassageDoc", "A range of notes with a character of its own."))
TEMPO_CHANGES = Codec(
    TempoChange, model_of(TempoChange, "TempoDoc", "A change of tempo from a note on, told at the printed first tempo.")
)
Codec(Settings, model_of(Settings, "ChoicesDoc", "What the player chose for a whole piece."))
WishesDoc = model_of(
    Wishes,
    "WishesDoc",
    "Everything a player asks for beyond the page.",
    {
        "format": Also(Literal["pathway-wishes"], "tempo_bpm", "pathway-wishes"),
        "version": Also(Literal[1], "tempo_bpm", 1),
    },
)


def wishes_document(wishes: Wishes) -> dict[str, Any]:
    """Return the document of all that a player wishes of a piece: nothing in it hangs on what is usual."""
    found: dict[str, Any] = bare(ALL_WISHES.dump(wishes, format="pathway-wishes", version=1))
    return found


ALL_WISHES = Codec(Wishes, WishesDoc, write=wishes_document)


def read_wishes(data: bytes) -> Wishes:
    """Return what a wish file asks for, with its places as they are written.

    Raises:
        PlanError: names the first field that is wrong.
    """
    try:
        return ALL_WISHES.read(WishesDoc.model_validate_json(data))
    except ValidationError as error:
        where, what = first_fault(error)
        raise PlanError(
            f"This is not a wish file: {where} {what}",
            advice="Its form is in docs/wishes.schema.json.",
        ) from error


def placed(wishes: Wishes, part: Part) -> Wishes:
    """Return wishes with the notes of a part in the place of bars and beats.

    Raises:
        PlanError: a place that is not in the part.
    """
    settings = replace(
        wishes.settings,
        passages=tuple(placed_passage(passage, part) for passage in wishes.settings.passages),
        tempi=tuple(replace(tempo, note=note_at(tempo.note, part)) for tempo in wishes.settings.tempi),
    )
    return Wishes(settings, tuple(replace(lock, note=note_at(lock.note, part)) for lock in wishes.locks))


def placed_passage(passage: Passage, part: Part) -> Passage:
    """Return a passage from and to the notes of a part.

    Raises:
        PlanError: a place that is not in the part.
    """
    return replace(passage, start=note_at(passage.start, part), end=_found(passage.end, part)[-1].id)


def _at(place: str, part: Part) -> list[Event]:
    """Return the bowed events a place means, in order."""
    match = _PLACE.match(place.strip().lower())
    if match is None:
        return [part.event[place]] if place in part.event else []
    found = [e for e in part.events if part.measures[e.measure].number.lower() == match["bar"] and not e.plucked]
    if match["beat"] is None:
        return found
    beat = float(match["beat"])
    return [e for e in found if abs(part.measures[e.measure].beat_of(float(e.onset)) - beat) < _TOUCH]


def note_at(place: str, part: Part) -> str:
    """Return the id of the first bowed note at a place.

    Raises:
        PlanError: there is none.
    """
    return _found(place, part)[0].id


def _found(place: str, part: Part) -> list[Event]:
    found = _at(place, part)
    if not found:
        raise PlanError(
            f"There is no bowed note at {place!r}",
            place=f"{part.name}, bars {part.measures[0].number} to {part.measures[-1].number}",
            advice='Write a note id, "bar 12" or "bar 12 beat 3".',
        )
    return found
