"""Characters in a word: what each of them sets in a passage. Our choice; everything can be set otherwise afterwards."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from pathway.core.planning.wishes import Colour, Passage, Profile, Role, Vibrato


@dataclass(frozen=True, slots=True)
class Character:
    """A word, and the fields of a passage that it sets."""

    word: str
    sets: Mapping[str, Any]


CHARACTERS = (
    Character("calm", {"colour": Colour.SOFT, "offset_db": -2.0, "vibrato": Vibrato.NARROW}),
    Character("asking", {"colour": Colour.SOFT, "colour_end": Colour.PLAIN, "offset_db": -1.0}),
    Character("singing", {"offset_db": 1.0, "role": Role.LEADS, "vibrato": Vibrato.WIDE}),
    Character("dancing", {"gap": 0.2, "profile": Profile.SPEND, "vibrato": Vibrato.NARROW}),
    Character("broad", {"kind": "broad-detache", "colour": Colour.FOCUSED, "offset_db": 1.0, "vibrato": Vibrato.WIDE}),
    Character("bold", {"kind": "soft-martele", "colour": Colour.FOCUSED, "offset_db": 2.0, "vibrato": Vibrato.PULSE}),
    Character("dry", {"gap": 0.35, "offset_db": -1.0, "vibrato": Vibrato.NONE}),
    Character("far away", {"colour": Colour.SOFT, "offset_db": -5.0, "role": Role.BLENDS, "vibrato": Vibrato.NARROW}),
)
_ALL = {field for character in CHARACTERS for field in character.sets}
_PLAIN = Passage("", "")


def as_character(passage: Passage, word: str) -> Passage:
    """Return a passage with a character, known or of the player's own.

    A known word sets its fields, and takes back what other known words set; a relation keeps the level it asks for.
    """
    known = next((character for character in CHARACTERS if character.word == word), None)
    if known is None:
        return replace(passage, character=word)
    plain = {field: getattr(_PLAIN, field) for field in _ALL}
    return replace(passage, character=word, **{**plain, **known.sets})
