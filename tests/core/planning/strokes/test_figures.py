"""Figures as teachers finger them: on which strings they lie, on every kind of instrument."""

import pytest

from pathway.core.planning.strokes.strings import Line, choose_strings
from pathway.core.rig import preset
from pathway.formats.score import ScoreFile, at_pitch
from tests.helpers import document, segments

CLEFS = {"treble-viol": "violin", "bass-viol": "cello", "early-violin": "violin", "early-cello": "cello"}

LEAPS = [
    ("violin", "(d4:1 a5 | f4 e5)", "D E D A"),  # slow and slurred: it is no line that sings on one string
    ("violin", "g3:8 e5 g3 e5", "G E G E"),
    ("violin", "g3:8 a4 g3 a4", "G A G A"),
    ("violin", "d4:8 e5 d4 e5", "D E D E"),
    ("violin", "a4:8 e5 a4 e5 a4 e5", "A E A E A E"),
    ("violin", "g3:8 b4 g3 b4", "G A G A"),
    ("violin", "d4:8 b5 d4 b5", "D E D E"),
    ("violin", "g3:8 g5 g3 g5", "G E G E"),
    ("violin", "(g3:8 e5) (g3 e5)", "G E G E"),
    ("viola", "c3:8 a4 c3 a4", "C A C A"),
    ("viola", "c3:8 d4 c3 d4", "C D C D"),
    ("cello", "c2:8 d3 c2 d3", "C D C D"),
    ("cello", "c2:8 a3 c2 a3", "C A C A"),
    ("cello", "g2:8 a3 g2 a3", "G A G A"),
    ("bass", "e2:8 d3 e2 d3", "E D E D"),
    ("bass", "e2:8 g3 e2 g3", "E G E G"),
    ("early-violin", "g3:8 e5 g3 e5", "G E G E"),
    ("early-cello", "c2:8 d3 c2 d3", "C D C D"),
    ("treble-viol", "d3:8 d5 d3 d5", "0 5 0 5"),
    ("bass-viol", "d2:8 d4 d2 d4", "0 5 0 5"),
]
BARIOLAGE = [
    ("violin", "a4:16 e5 b4 e5 c5 e5 d5 e5", "A E A E A E A E"),
    ("violin", "a4:16 f4 a4 g4 a4 f4 a4 e4", "A D A D A D A D"),
    ("violin", "d4:16 c4 d4 b3 d4 a3 d4 b3", "D G D G D G D G"),
    ("viola", "d4:16 a4 d4 b4 d4 c5 d4 b4", "D A D A D A D A"),
    ("cello", "a3:16 f3 a3 g3 a3 f3 a3 e3", "A D A D A D A D"),
    ("bass", "d3:16 f2 d3 g2 d3 f2 d3 e2", "D E D E D E D E"),
]
ARPEGGIOS = [
    ("violin", "d4:16 a4 f5 a4 d4 a4 f5 a4", "D A E A D A E A"),
    ("violin", "(d4:16 a4 f5) (a4 d4 a4) (f5 a4 d4) r", "D A E A D A E A D"),
    ("violin", "g3:16 d4 b4 g5 b4 d4 g3 r", "G D A E A D G"),
    ("violin", "(g3:16 d4 b4 g5) (g5 b4 d4 g3)", "G D A E E A D G"),
    ("viola", "c3:16 g3 e4 c5 e4 g3 c3 r", "C G D A D G C"),
    ("cello", "g2:16 d3 b3 d3 g2 d3 b3 d3", "G D A D G D A D"),
    ("cello", "c2:16 g2 e3 c4 e3 g2 c2 r", "C G D A D G C"),
    ("treble-viol", "d3:8 g3 c4 e4 a4 d5 a4 e4", "0 1 2 3 4 5 4 3"),
    ("bass-viol", "d2:16 a2 d3 f3 a3 d4 a3 f3", "0 1 2 3 4 5 4 3"),
]
SCALES = [
    ("violin", "g3:8 a3 b3 c4 d4 e4 f#4 g4", "G G G G D D D D"),
    ("violin", "a4:8 b4 c5 d5 e5 f5 g5 a5", "A A A A E E E E"),
    ("violin", "a5:8 g5 f5 e5 d5 c5 b4 a4", "E E E E A A A A"),
    ("violin", "(g4:8 a4 b4 c5) (d5 e5 f#5 g5)", "D A A A A E E E"),
    ("violin", "e5:8 f5 g5 a5 b5 a5 g5 f5", "E E E E E E E E"),
    ("viola", "c3:8 d3 e3 f3 g3 a3 b3 c4", "C C C C G G G G"),
    ("cello", "c2:8 d2 e2 f2 g2 a2 b2 c3", "C C C C G G G G"),
    ("cello", "d3:8 e3 f3 g3 a3 b3 c4 d4", "D D D D A A A A"),
    ("cello", "a3:8 b3 c4 d4 e4 d4 c4 b3", "A A A A A A A A"),
    ("cello", "a4:8 b4 c5 d5 e5 d5 c5 b4", "A A A A A A A A"),
    ("bass", "e2:8 f#2 g2 a2 b2 c3 d3 e3", "E E E A A A D D"),
    ("bass", "g3:8 a3 b3 c4 d4 c4 b3 a3", "G G G G G G G G"),
    ("bass-viol", "d2:8 e2 f2 g2 a2 b2 c3 d3", "0 0 0 1 1 1 2 2"),
]
NEIGHBOURS = [
    ("violin", "(g4:8 a4 g4 f4) (e4 f4 g4 f4)", "D D D D D D D D"),  # the fourth finger saves two crossings
    ("violin", "g4:8 a4 g4 a4 g4 a4 g4 r", "D A D A D A D"),  # separate and slow enough: the open string
    ("violin", "d4:4 e4 b4 e4", "D D A D"),
    ("violin", "e4:8 f4 g4 f5 g4 f4 e4 r", "D D D E D D D"),  # one high note takes no new position
    ("violin", "g4:8 d5 b4 d5 g4 d5 b4 d5", "D A A A D A A A"),
    ("cello", "f3:8 g3 a3 g3 f3 g3 a3 g3", "D D A D D D A D"),
]
PAIRS = [
    ("violin", "c4+e4:4 d4+f4 e4+g4 f4+a4", "GD GD GD DA"),
    ("violin", "d4+a4:4 e4+b4 f4+a4 d4+a4", "DA DA DA DA"),
    ("violin", "g3+d4:4 a3+d4 b3+d4 g3+d4", "GD GD GD GD"),
    ("viola", "c3+g3:4 d3+b3 e3+c4 c3+g3", "CG CG CG CG"),
    ("cello", "g2+d3:4 a2+e3 g2+d3 r", "GD GD GD"),
]
SUNG = [
    ("violin", "[p] (b4:2 d5) | (g5 f#5 | d5 b4)", "A A A A A A"),
    ("violin", "[p] (g4:2 b4 | a4 g4)", "D D D D"),
    ("cello", "[p] (d3:2 f3 | a3 b3)", "D D D D"),
    ("viola", "[p] (d4:2 f4 | a4 b4)", "D D D D"),
]


def lies(rig: str, text: str, **head: str) -> str:
    """Return the strings on which a figure lies, note by note."""
    score = ScoreFile(document(text, CLEFS.get(rig, rig), **head), "x.musicxml")
    instrument = preset(rig).instrument
    placed = choose_strings(Line.of(segments(at_pitch(score.part().part, preset(rig)), rig), {}), instrument)
    names = [str(i) if "viol" in rig.split("-")[-1:] else s.letter for i, s in enumerate(instrument.strings)]
    return " ".join("".join(names[string] for string in sorted(one.strings)) for one in placed)


@pytest.mark.parametrize(("rig", "text", "strings"), [*LEAPS, *BARIOLAGE, *ARPEGGIOS, *SCALES, *NEIGHBOURS, *PAIRS])
def test_a_figure_lies_where_a_teacher_puts_it(rig: str, text: str, strings: str) -> None:
    """Leaps cross with their open strings open, arpeggios lie on their strings, scales stay in position."""
    assert lies(rig, text) == strings


@pytest.mark.parametrize(("rig", "text", "strings"), SUNG)
def test_a_slow_slurred_line_keeps_one_string_up_to_a_sixth(rig: str, text: str, strings: str) -> None:
    """Half notes at 60 a minute; the same notes quick and separate take the strings as they come."""
    assert lies(rig, text, tempo="60") == strings
    quick = text.replace("(", "").replace(")", "").replace(":2", ":16")
    assert len(set(lies(rig, quick.replace(" |", ""), tempo="60").split())) > 1


def test_there_are_figures_enough() -> None:
    """Every family of instruments has some of its own."""
    figures = [*LEAPS, *BARIOLAGE, *ARPEGGIOS, *SCALES, *NEIGHBOURS, *PAIRS, *SUNG]
    assert len(figures) >= 60
    assert {rig for rig, _, _ in figures} >= {"violin", "viola", "cello", "bass", "treble-viol", "bass-viol"}
