"""What the station Music sends: a passage field by field, and what each field sets."""

from dataclasses import replace
from typing import Annotated

from pydantic import BaseModel, BeforeValidator, Field

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning.wishes import Colour, Passage, Profile, Relation, Role, Stress, Style, Vibrato
from pathway.core.says import CM, declared
from pathway.core.technique.chords import Form as ChordForm
from pathway.core.technique.double_stops import Leading

_EMPTY = BeforeValidator(lambda value: value or None)  # an empty field asks for nothing
_EMPTY_NUMBER = BeforeValidator(lambda value: None if value == "" else value)
_LIST = BeforeValidator(lambda values: tuple(" ".join(values).replace(",", " ").split()))  # numbers in one field
_FIELDS = {"type": "kind"}  # what the page calls otherwise than a passage does


class PassageForm(BaseModel):
    """What is changed of one passage; fields that are not sent stay, empty ones are left to the notation."""

    version: int
    id: Annotated[int, Field(ge=0, le=9999)] = 0  # which one is changed; 0: a new one
    start: Annotated[str, Field(max_length=60)]
    end: Annotated[str, Field(max_length=60)]
    word: Annotated[str, Field(max_length=80)] = ""  # a character that sets the rest
    character: Annotated[str, Field(max_length=80)] = ""
    type: Annotated[str | None, _EMPTY] = None
    colour: Colour = Colour.PLAIN
    colour_end: Annotated[Colour | None, _EMPTY] = None
    offset_db: float = 0.0
    style: Annotated[Style | None, _EMPTY] = None
    profile: Annotated[Profile | None, _EMPTY] = None
    lead: Annotated[Leading | None, _EMPTY] = None
    chords: Annotated[ChordForm | None, _EMPTY] = None
    role: Annotated[Role | None, _EMPTY] = None
    vibrato: Annotated[Vibrato | None, _EMPTY] = None
    string: Annotated[int | None, _EMPTY_NUMBER] = None
    gap: Annotated[float | None, _EMPTY_NUMBER] = None  # [%]
    keep_back: Annotated[float | None, _EMPTY_NUMBER] = None  # in the player's unit
    beats: Annotated[tuple[float, ...], _LIST] = ()
    bars: Annotated[tuple[int, ...], _LIST] = ()
    group: Annotated[int, Field(ge=1, le=32)] = 1
    swing: float = 1.0
    like: Annotated[int | None, _EMPTY_NUMBER] = None  # the passage it leans on
    by_db: float = 0.0

    def changed(self, before: Passage, say: Speech = PLAIN) -> Passage:
        """Return a passage with what the page sent; what it did not send stays as it was."""
        sent = {_FIELDS.get(name, name): getattr(self, name) for name in self.model_fields_set}
        if sent.get("gap") is not None:
            sent["gap"] /= 100
        if sent.get("keep_back") is not None:
            sent["keep_back"] = say.meant(sent["keep_back"], "cm") / CM.per_si
        if "character" in sent:
            sent["character"] = sent["character"].strip()
        if "like" in sent:
            sent["relation"] = None if self.like is None else Relation(self.like, self.by_db)
        stress = {name: value for name, value in sent.items() if name in declared(Stress)}
        asked = {name: value for name, value in sent.items() if name in declared(Passage)}
        return replace(before, **asked | {"id": before.id, "stress": replace(before.stress, **stress)})
