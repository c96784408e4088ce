"""Parts made by the core, written as MusicXML and read back by the reader."""

from fractions import Fraction

import pytest

from pathway.core.music import Mark, Part
from pathway.core.practice.material import EIGHTH, QUARTER, SIXTEENTH, WHOLE, DrillTone, line, rest, tones
from pathway.core.rig import PRESETS
from pathway.formats.part_writer import clef_of, write_part
from pathway.formats.score import ScoreFile, at_pitch
from tests.helpers import plan_of

VIOLIN = PRESETS["violin"]


def _back(part: Part, rig: str = "violin", fifths: int = 0) -> Part:
    """Write a part and read it again."""
    written = write_part(part, PRESETS[rig].instrument, fifths)
    return at_pitch(ScoreFile(written.data, "drill.musicxml").part().part, PRESETS[rig])


def _told(part: Part) -> list[tuple[object, ...]]:
    return [(e.onset, e.duration, tuple(sorted(h.midi for h in e.heads)), e.marks, e.tied) for e in part.events]


@pytest.mark.parametrize("rig", PRESETS)
def test_a_line_comes_back_as_it_was(rig: str) -> None:
    """Pitches, values, rests, slurs, signs, level and tempo, on every instrument."""
    low = PRESETS[rig].instrument.strings[0].midi
    played = [
        *tones([low + 2, low + 4, low + 5, low + 7], EIGHTH), rest(EIGHTH), *tones([low + 9], 3 * EIGHTH, Mark.DOT),
        *tones([low + 3], WHOLE, Mark.ACCENT), DrillTone((low, low + 7), QUARTER),
    ]  # fmt: skip
    part = line("Test", played, a_bow=(2, 1, 1, 1, 1, 1, 1), tempo=72, level_db=4.0)
    back = _back(part, rig, -3)
    assert _told(back) == _told(part)
    assert [(back.index[s.start], back.index[s.end]) for s in back.slurs] == [
        (part.index[s.start], part.index[s.end]) for s in part.slurs
    ]
    assert back.dynamics[0].level_db == 4.0
    assert back.tempo.quarters_per_minute == 72


def test_the_notes_are_named_as_the_drill_names_them() -> None:
    """Rests and tied pieces are notes of the document too: the names say which is which."""
    part = line("Test", [rest(), *tones([62, 64]), rest(), DrillTone((65, 69), WHOLE + QUARTER)])
    written = write_part(part, VIOLIN.instrument)
    heads = [head.id for event in part.events for head in event.heads]
    assert sorted(written.heads.values()) == sorted(heads)
    back = ScoreFile(written.data, "x.musicxml").part().part
    named = {written.heads[event.id]: event.top.midi for event in back.events if event.id in written.heads}
    assert named == {event.id: event.top.midi for event in part.events}


@pytest.mark.parametrize("value", [Fraction(1, 3), Fraction(2, 3), Fraction(1, 6), Fraction(1, 5), Fraction(1, 7)])
def test_tuplets_are_written(value: Fraction) -> None:
    """As many as fill a beat or two."""
    count = int(Fraction(2) / value) if (Fraction(2) / value).denominator == 1 else 6
    part = line("Test", tones([62] * count, value), meter=(2, 4))
    assert [e.duration for e in _back(part).events] == [e.duration for e in part.events]


def test_values_that_no_single_note_has_are_tied() -> None:
    """Five quarters in a longer bar."""
    part = line("Test", [DrillTone((62,), Fraction(5, 2))], meter=(4, 4))
    back = _back(part)
    assert sum(event.duration for event in back.events) == Fraction(5, 2)
    assert [event.tied for event in back.events] == [False, True]


def test_short_notes_are_beamed_by_the_beat() -> None:
    """And not over rests."""
    data = write_part(
        line("Test", [*tones([62] * 4, SIXTEENTH), *tones([64], EIGHTH), rest(EIGHTH)]), VIOLIN.instrument
    ).data
    assert data.count(b'<beam number="1">begin</beam>') == 1
    assert data.count(b'<beam number="2">end</beam>') == 1


def test_accidentals_follow_the_key() -> None:
    """Flats in flat keys, sharps in sharp ones."""
    part = line("Test", tones([63]))
    assert b"<step>E</step><alter>-1</alter>" in write_part(part, VIOLIN.instrument, -3).data
    assert b"<step>D</step><alter>1</alter>" in write_part(part, VIOLIN.instrument, 3).data


@pytest.mark.parametrize(
    ("rig", "clef"),
    [
        ("violin", "treble"),
        ("viola", "alto"),
        ("cello", "bass"),
        ("bass", "bass"),
        ("treble-viol", "treble"),
        ("bass-viol", "bass"),
    ],
)
def test_the_clef_is_that_of_the_instrument(rig: str, clef: str) -> None:
    """High up another one."""
    instrument = PRESETS[rig].instrument
    assert clef_of(instrument, instrument.strings[1].midi) == clef
    assert clef_of(instrument, 84) == "treble"


def test_own_bars_can_be_taken_home() -> None:
    """Grace notes, ties and marks of a piece."""
    plan = plan_of("[mf] (d4:4 e4) f#4:8. g4. a4:4> | (b4:2~ b4:4) a4")
    assert _told(_back(plan.part)) == _told(plan.part)
