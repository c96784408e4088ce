"""Wish files: passages and locks as JSON; the passages stand in plan documents too.

Places are note ids, or bars and beats as a player says them: "bar 12", "bar 12 beat 3".
"""

import math
import re
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from pathway.core.music import Event, Part
from pathway.core.planning.wishes import (
    Break,
    Colour,
    Link,
    Lock,
    Passage,
    Profile,
    Relation,
    Role,
    Settings,
    Stress,
    Style,
    TempoChange,
    Vibrato,
)
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import open_pitch
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.endings import Exit
from pathway.errors import PlanError
from pathway.formats.misread import first_fault

_PLACE = re.compile(r"^bar (?P<bar>\S+)(?: beat (?P<beat>\d+(?:\.\d+)?))?$")
_LINKS = {"change": Link.CHANGE, "hook": Link.HOOK, "retake": Link.RETAKE}
_TOUCH = 1e-4  # beats


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)


_PITCH = re.compile(r"^([A-G])([#b]?)(\d)$")
_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
Pitch = Annotated[str, Field(pattern=_PITCH.pattern)]


def midi_of(pitch: str) -> int:
    """Return the MIDI number of a pitch such as "F#3"."""
    match = _PITCH.match(pitch)
    if match is None:
        raise PlanError(f"{pitch!r} is not a pitch", advice="Write a letter, # or b, and an octave: F#3.")
    return _STEPS[match[1]] + {"": 0, "#": 1, "b": -1}[match[2]] + 12 * (int(match[3]) + 1)


class LockDoc(_Model):
    """A wish for the stroke that starts with a note."""

    note: str
    direction: Literal["down", "up"] | None = None
    start_cm: float | None = None
    end_cm: float | None = None
    link: Literal["change", "hook", "retake"] | None = None
    type: str | None = None
    profile: Profile | None = None
    slur: Break | None = Field(default=None, description="split: a new bow begins here; join: it goes on")
    string: int | None = Field(default=None, description="0 is the lowest")
    lead: Leading | None = Field(default=None, description="which voice of a double stop or chord leads")
    chord: Form | None = Field(default=None, description="how a chord is bowed")
    exit: Exit | None = Field(default=None, description="how the stroke ends")
    lane: Annotated[int, Field(ge=1, le=6)] | None = Field(default=None, description="1 at the fingerboard")
    force_n: float | None = None
    tilt_deg: float | None = None
    octave: int | None = Field(default=None, description="how many higher than printed")
    voicing: list[Pitch] = Field(default=[], description="pitches played instead of those of the printed chord")
    vibrato: Vibrato | None = None
    from_air: bool | None = Field(default=None, description="whether a stroke off the string lands on it")


class StressDoc(_Model):
    """Which beats and bars carry weight."""

    beats: list[float] = []
    bars: list[int] = []
    group: Annotated[int, Field(ge=1, le=32)] = 1
    swing: float = 1.0


class RelationDoc(_Model):
    """How loud a passage is against another one."""

    to: int = Field(description="the id of the other passage")
    by_db: float = 0.0


class PassageDoc(_Model):
    """A range of notes with a character of its own."""

    from_: str = Field(alias="from")
    to: str
    character: str = ""
    type: str | None = None
    colour: Colour = Colour.PLAIN
    colour_end: Colour | None = None
    offset_db: float = 0.0
    style: Style | None = None
    profile: Profile | None = None
    string: int | None = None
    lead: Leading | None = None
    chords: Form | None = None
    role: Role | None = None
    vibrato: Vibrato | None = None
    stress: StressDoc = StressDoc()
    gap: float | None = None
    keep_back_cm: float | None = None
    relation: RelationDoc | None = None
    id: Annotated[int, Field(ge=0, le=9999)] = Field(default=0, description="0: its place in the list, from 1")


class TempoDoc(_Model):
    """A change of tempo from a note on, told at the printed first tempo."""

    at: str
    bpm: float


class WishesDoc(_Model):
    """Everything a player asks for beyond the page."""

    format: Literal["pathway-wishes"] = "pathway-wishes"
    version: Literal[1] = 1
    tempo_bpm: float | None = Field(default=None, description="of the whole, in the part's beat unit; else as printed")
    style: Style = Style.MODERN
    chords_before_beat: bool = False
    tempi: list[TempoDoc] = []
    tuning: list[Pitch] = Field(default=[], description="the open strings, the lowest first, where they are retuned")
    passages: list[PassageDoc] = []
    locks: list[LockDoc] = []


def read_wishes(data: bytes) -> WishesDoc:
    """Return a wish file.

    Raises:
        PlanError: names the first field that is wrong.
    """
    try:
        return WishesDoc.model_validate_json(data)
    except ValidationError as error:
        where, what = first_fault(error)
        raise PlanError(
            f"This is not a wish file: {where} {what}",
            advice="Its form is in docs/wishes.schema.json.",
        ) from error


def wishes_of(doc: WishesDoc, part: Part | None = None) -> tuple[Settings, tuple[Lock, ...]]:
    """Return what a wish file asks for, in a part; without one its places are note ids already.

    Raises:
        PlanError: a place that is not in the part.
    """
    settings = Settings(
        tempo_bpm=doc.tempo_bpm,
        style=doc.style,
        passages=tuple(passage_of(passage, part) for passage in doc.passages),
        chords_before_beat=doc.chords_before_beat,
        tempi=tuple(TempoChange(_first(tempo.at, part), tempo.bpm) for tempo in doc.tempi),
        tuning=tuple(map(midi_of, doc.tuning)),
    )
    return settings, tuple(_lock(lock, part) for lock in doc.locks)


def wishes_document(settings: Settings, locks: Iterable[Lock]) -> WishesDoc:
    """Return the document of all that a player wishes of a piece."""
    return WishesDoc(
        tempo_bpm=settings.tempo_bpm,
        style=settings.style,
        chords_before_beat=settings.chords_before_beat,
        tempi=[TempoDoc(at=tempo.note, bpm=tempo.beats_per_minute) for tempo in settings.tempi],
        tuning=[open_pitch(midi) for midi in settings.tuning],
        passages=[passage_document(passage) for passage in settings.passages],
        locks=[lock_document(lock) for lock in locks],
    )


def _lock(doc: LockDoc, part: Part | None) -> Lock:
    return Lock(
        note=_first(doc.note, part),
        direction=Direction[doc.direction.upper()] if doc.direction else None,
        start=None if doc.start_cm is None else doc.start_cm / 100,
        end=None if doc.end_cm is None else doc.end_cm / 100,
        link=_LINKS[doc.link] if doc.link else None,
        kind=doc.type,
        profile=doc.profile,
        divide=doc.slur,
        string=doc.string,
        lead=doc.lead,
        chord=doc.chord,
        exit=doc.exit,
        lane=doc.lane,
        force=doc.force_n,
        tilt=None if doc.tilt_deg is None else math.radians(doc.tilt_deg),
        octave=doc.octave,
        voicing=tuple(midi_of(pitch) for pitch in doc.voicing) or None,
        vibrato=doc.vibrato,
        from_air=doc.from_air,
    )


def passage_of(doc: PassageDoc, part: Part | None = None) -> Passage:
    """Return a passage of a part; without one its places are note ids already.

    Raises:
        PlanError: a place that is not in the part.
    """
    stress = doc.stress
    return Passage(
        start=_first(doc.from_, part),
        end=doc.to if part is None else _found(doc.to, part)[-1].id,
        character=doc.character,
        kind=doc.type,
        colour=doc.colour,
        colour_end=doc.colour_end,
        offset_db=doc.offset_db,
        style=doc.style,
        profile=doc.profile,
        string=doc.string,
        lead=doc.lead,
        chords=doc.chords,
        role=doc.role,
        vibrato=doc.vibrato,
        stress=Stress(tuple(stress.beats), tuple(stress.bars), stress.group, stress.swing),
        gap=doc.gap,
        keep_back=None if doc.keep_back_cm is None else doc.keep_back_cm / 100,
        relation=Relation(doc.relation.to, doc.relation.by_db) if doc.relation else None,
        id=doc.id,
    )


def passage_document(passage: Passage) -> PassageDoc:
    """Return the document of a passage."""
    stress = passage.stress
    return PassageDoc(
        from_=passage.start,
        to=passage.end,
        character=passage.character,
        type=passage.kind,
        colour=passage.colour,
        colour_end=passage.colour_end,
        offset_db=passage.offset_db,
        style=passage.style,
        profile=passage.profile,
        string=passage.string,
        lead=passage.lead,
        chords=passage.chords,
        role=passage.role,
        vibrato=passage.vibrato,
        stress=StressDoc(beats=list(stress.beats), bars=list(stress.bars), group=stress.group, swing=stress.swing),
        gap=passage.gap,
        keep_back_cm=None if passage.keep_back is None else round(100 * passage.keep_back, 5),
        relation=RelationDoc(to=passage.relation.to, by_db=passage.relation.by_db) if passage.relation else None,
        id=passage.id,
    )


def lock_document(lock: Lock) -> LockDoc:
    """Return the document of a lock."""
    return LockDoc(
        note=lock.note,
        direction=None if lock.direction is None else "down" if lock.direction > 0 else "up",
        start_cm=None if lock.start is None else round(100 * lock.start, 5),
        end_cm=None if lock.end is None else round(100 * lock.end, 5),
        link=None if lock.link is None else next(word for word, link in _LINKS.items() if link is lock.link),
        type=lock.kind,
        profile=lock.profile,
        slur=lock.divide,
        string=lock.string,
        lead=lock.lead,
        chord=lock.chord,
        exit=lock.exit,
        lane=lock.lane,
        force_n=lock.force,
        tilt_deg=None if lock.tilt is None else round(math.degrees(lock.tilt), 5),
        octave=lock.octave,
        voicing=[open_pitch(midi) for midi in lock.voicing or ()],
        vibrato=lock.vibrato,
        from_air=lock.from_air,
    )


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


def _first(place: str, part: Part | None) -> str:
    return place if part is None else note_at(place, part)


def _found(place: str, part: Part) -> list[Event]:
    found = _at(place, part)
    if not found:
        raise PlanError(
            f"There is no bowed note at {place!r}",
            place=f"{part.name}, bars {part.measures[0].number} to {part.measures[-1].number}",
            advice='Write a note id, "bar 12" or "bar 12 beat 3".',
        )
    return found
