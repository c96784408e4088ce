"""Which string: cheap ways, printed numbers, double stops, and notes that lie nowhere."""

from dataclasses import replace

import pytest

from pathway.core.physics.string import SoundingString, force_window
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.strings import Line, choose_strings
from pathway.core.rig import preset
from pathway.formats.score import ScoreFile
from tests.helpers import document, part_of, segments


def _strings(text: str, rig: str = "violin") -> list[tuple[int, ...]]:
    part = part_of(text, rig)
    return [p.strings for p in choose_strings(Line.of(segments(part), {}), preset(rig).instrument)]


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
    placed = choose_strings(Line.of(segments(part), {}), preset("violin").instrument)
    assert placed[1].strings == (1,)


def test_double_stops_take_neighbouring_strings() -> None:
    """A sixth lies on two strings, top voice first."""
    assert _strings("c5+e4:2 d4")[0] == (2, 1)


def test_a_chord_that_does_not_lie_keeps_its_top() -> None:
    """Two notes that both need the lowest string: the upper one is planned."""
    assert _strings("b3+g3:2 d4")[0] == (0,)


def _harmonic(midi: int, string: int | None = None) -> Placement:
    part = part_of("[mf] a4:1")
    event = part.events[0]
    touched = replace(event, heads=(replace(event.heads[0], midi=midi, harmonic=True, string=string),))
    (placed,) = choose_strings(Line.of(segments(replace(part, events=(touched,))), {}), preset("violin").instrument)
    return placed


@pytest.mark.parametrize(
    ("midi", "string", "loops", "length"),
    [
        (81, 2, 2, 0.328),  # an octave over the open A: as it sounds
        (93, 2, 4, 0.328),  # two octaves over it
        (76, 2, 3, 0.328),  # written where it is touched, a fifth over the open A, sounding a twelfth higher
        (95, 3, 3, 0.328),  # a twelfth over the open E
    ],
)
def test_natural_harmonics_sound_on_the_whole_string(midi: int, string: int, loops: int, length: float) -> None:
    """The place is told on the string's length, the force on its loop."""
    placed = _harmonic(midi, string=4 - string)
    assert placed.strings == (string,)
    assert (placed.lead.loops, placed.lead.length) == (loops, pytest.approx(length))
    assert not placed.lead.stopped


def test_an_artificial_harmonic_is_stopped_two_octaves_lower() -> None:
    """B♭6 on the A string: stopped a semitone up, touched a fourth higher."""
    placed = _harmonic(94, string=2)
    assert placed.lead.loops == 4
    assert placed.lead.length == pytest.approx(0.328 * 2 ** (-1 / 12))


def test_a_harmonic_takes_less_weight() -> None:
    """The force window of its loop is narrower at the top."""
    full, touched = (SoundingString.of(preset("violin").instrument, 2, 0, loops) for loops in (1, 4))
    assert force_window(0.2, 0.08, touched).upper < force_window(0.2, 0.08, full).upper


def test_words_keep_a_string_where_it_can_hold_the_notes() -> None:
    """Sul G as far as it goes; quick shifts inside a slur are avoided."""
    assert _strings("{sul_G} b3:4 c4 d4 e4") == [(0,)] * 4
