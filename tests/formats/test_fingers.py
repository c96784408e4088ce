"""Printed fingers come in from every format that has them."""

import pytest

from pathway.formats.score import ScoreFile
from tests.helpers import document

_SIGNS = (
    "<fingering>1</fingering>",
    "<fingering>4</fingering>",
    "<open-string/>",
    "<thumb-position/>",
    '<fingering>3</fingering><fingering substitution="yes">1</fingering>',
    "<fingering>T</fingering>",
    "<fingering>12</fingering>",
)


def _fingers(data: bytes, name: str) -> list[int | None]:
    return [event.top.finger for event in ScoreFile(data, name).part().part.events]


def test_fingers_of_musicxml() -> None:
    """With the thumb and the open string; of a substitution the first; what is none is none."""
    notes = document("a4:4 b4 c5 d5 | e5:4 d5 c5 b4").split(b"</note>")
    for i, sign in enumerate(_SIGNS):
        notes[i] += f"<notations><technical>{sign}</technical></notations>".encode()
    assert _fingers(b"</note>".join(notes), "x.musicxml") == [1, 4, 0, 5, 3, 5, None, None]


def test_fingers_of_abc() -> None:
    """Over the notes that follow them, in the voice that has them."""
    tune = b"X:1\nT:t\nM:4/4\nL:1/4\nK:D\n!1!A !4!e !0!e !f!B | !T!A !3!c B A |]\n"
    assert _fingers(tune, "x.abc") == [1, 4, 0, None, 5, 3, None, None]


@pytest.mark.parametrize("text", ["3", "t", "0"])
def test_fingers_of_mei(text: str) -> None:
    """By the note that the sign begins at."""
    mei = ScoreFile(document("a4:4 b4 c5 d5"), "x.musicxml").part().mei
    sign = f'<fing startid="#n2">{text}</fing></measure>'
    (finger,) = [
        finger for finger in _fingers(mei.replace("</measure>", sign, 1).encode(), "x.mei") if finger is not None
    ]
    assert finger == {"t": 5}.get(text, int(text) if text.isdigit() else None)
