"""What the station Music sends: a passage field by field, and what each field sets."""

from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, Field

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning.wishes import Colour, Profile, Role, Style, Vibrato
from pathway.core.technique.chords import Form as ChordForm
from pathway.core.technique.double_stops import Leading
from pathway.formats.wishes_document import PassageDoc, RelationDoc

_EMPTY = BeforeValidator(lambda value: value or None)  # an empty field asks for nothing
_EMPTY_NUMBER = BeforeValidator(lambda value: None if value == "" else value)
_LIST = BeforeValidator(lambda values: tuple(" ".join(values).replace(",", " ").split()))  # numbers in one field
_PLAIN = {
    "type", "colour", "colour_end", "offset_db", "style", "profile", "lead", "chords", "string", "role", "vibrato",
}  # fmt: skip


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

    def changed(self, before: PassageDoc, say: Speech = PLAIN) -> PassageDoc:
        """Return the document of a passage with what the page sent; what it did not send stays as it was."""
        sent = self.model_fields_set
        values: dict[str, Any] = {name: getattr(self, name) for name in _PLAIN & sent}
        values |= {"from_": self.start, "to": self.end}
        if "character" in sent:
            values["character"] = self.character.strip()
        if "gap" in sent:
            values["gap"] = None if self.gap is None else self.gap / 100
        if "keep_back" in sent:
            values["keep_back_cm"] = None if self.keep_back is None else say.meant(self.keep_back, "cm")
        if stress := sent & {"beats", "bars", "group", "swing"}:
            asked = {name: list(value) if isinstance(value := getattr(self, name), tuple) else value for name in stress}
            values["stress"] = before.stress.model_copy(update=asked)
        if "like" in sent:
            values["relation"] = None if self.like is None else RelationDoc(to=self.like, by_db=self.by_db)
        return before.model_copy(update=values)
