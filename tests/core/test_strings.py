"""Which string: cheap ways, printed numbers, double stops, and notes that lie nowhere."""

import pytest

from pathway.core.planning.strings import choose_strings
from pathway.core.rig import preset
from pathway.errors import ScoreError
from pathway.formats.score import ScoreFile
from tests.helpers import document, part_of, segments


def _strings(text: str, rig: str = "violin") -> list[tuple[int, ...]]:
    part = part_of(text, rig)
    return [p.strings for p in choose_strings(part, segments(part), preset(rig).instrument)]


def test_a_scale_in_first_position_climbs_the_strings() -> None:
    """Never down again while the line rises."""
    chosen = [s[0] for s in _strings("g3:8 a3 b3 c4 d4 e4 f4 g4 | a4:8 b4 c5 d5 e5 f5 g5 a5")]
    assert chosen == sorted(chosen)
    assert (chosen[0], chosen[-1]) == (0, 3)


def test_one_note_out_of_place_does_not_move_the_hand() -> None:
    """A single B among notes on the D string crosses over instead of shifting."""
    assert _strings("d4:4 e4 b4 e4")[2] == (2,)


def test_printed_string_numbers_are_kept() -> None:
    """A fourth-finger A on the D string, as the part says (3 is the third string from the top)."""
    notes = document("g4:4 a4 g4 r").split(b"</note>")
    notes[1] += b"<notations><technical><string>3</string></technical></notations>"
    marked = b"</note>".join(notes)
    part = ScoreFile(marked, "x.musicxml").part().part
    assert [event.top.string for event in part.events] == [None, 3, None]
    placed = choose_strings(part, segments(part), preset("violin").instrument)
    assert placed[1].strings == (1,)


def test_double_stops_take_neighbouring_strings() -> None:
    """A sixth lies on two strings, top voice first."""
    assert _strings("c5:2+ e4:2 d4:2")[0] == (2, 1)


def test_a_chord_that_does_not_lie_keeps_its_top() -> None:
    """Two notes that both need the lowest string: the upper one is planned."""
    assert _strings("b3:2+ g3:2 d4:2")[0] == (0,)


@pytest.mark.parametrize(
    ("text", "said"), [("d4:4 f3 g4 a4", "F3 is below the lowest note of the violin"), ("d4:4 e9 g4 a4", "E9 is above")]
)
def test_notes_outside_the_instrument_are_named(text: str, said: str) -> None:
    """With bar and beat."""
    with pytest.raises(ScoreError, match=said) as caught:
        _strings(text)
    assert "bar 1, beat 2" in caught.value.text
