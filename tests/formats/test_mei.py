"""The reader of normalised MEI on small hand-written documents: values, meters, ties and marks of other origins."""

from fractions import Fraction

import pytest

from pathway.core.music import Mark, Part
from pathway.core.rig.bow import Direction
from pathway.errors import ScoreError
from pathway.formats.mei import read_mei, without_bow_marks
from pathway.formats.safe_files import parse_xml
from pathway.formats.score import keep_staff

HEAD = '<mei xmlns="http://www.music-encoding.org/ns/mei"><music><body><mdiv><score>'
TAIL = "</score></mdiv></body></music></mei>"
DEFINITION = (
    '<scoreDef><staffGrp><staffDef n="1" {attributes}><clef shape="G" line="2"/>{meter}</staffDef>'
    "</staffGrp></scoreDef>"
)
FOUR = '<meterSig count="4" unit="4"/>'


def _measure(layer: str, marks: str = "", attributes: str = "") -> str:
    return f'<measure {attributes}><staff n="1"><layer n="1">{layer}</layer></staff>{marks}</measure>'


def _note(id_: str, pitch: str = "d4", dur: str = "4", more: str = "", inside: str = "") -> str:
    return f'<note xml:id="{id_}" pname="{pitch[0]}" oct="{pitch[1]}" dur="{dur}" {more}>{inside}</note>'


def _read(*measures: str, meter: str = FOUR, attributes: str = "") -> Part:
    definition = DEFINITION.format(attributes=attributes, meter=meter)
    return read_mei(
        parse_xml((HEAD + definition + "<section>" + "".join(measures) + "</section>" + TAIL).encode()), "t", "p"
    )


def test_written_values_are_summed() -> None:
    """Dots, tuplets, tremolos, breves."""
    part = _read(
        _measure(
            _note("a", dur="4", more='dots="1"')
            + _note("b", dur="8")
            + '<tuplet num="3" numbase="2">' + "".join(_note(f"t{i}", dur="8") for i in range(3)) + "</tuplet>"
            + "<fTrem>" + _note("f", dur="4") + _note("g", dur="4") + "</fTrem>"
        ),
        _measure(_note("z", dur="breve")),
    )  # fmt: skip
    assert [e.duration for e in part.events] == [
        Fraction(3, 2), Fraction(1, 2), *[Fraction(1, 3)] * 3, Fraction(1, 2), Fraction(1, 2), Fraction(8)
    ]  # fmt: skip
    assert part.events[-1].onset == 4


def test_counted_values_win_over_written_ones() -> None:
    """Where the file counts durations, odd tuplets come out exactly."""
    part = _read(
        _measure(_note("a", dur="4", more='dur.ppq="5"') + _note("b", more='dur.ppq="7"')), attributes='ppq="6"'
    )
    assert [e.duration for e in part.events] == [Fraction(5, 6), Fraction(7, 6)]


def test_a_note_without_a_length_is_left_out_and_said() -> None:
    """A counted length of nothing is no length: the written value stands; without either the note goes."""
    layer = _note("n1", more='dur.ppq="0"') + '<note xml:id="n2" pname="e" oct="4" dur.ppq="0"/>' + _note("n3")
    part = _read(_measure(layer, attributes='n="7"'), attributes='ppq="4"')
    assert [(event.id, event.duration) for event in part.events] == [("n1", 1), ("n3", 1)]
    assert part.notices == ("Bar 7: a note that has no length is left out.",)


def test_a_sign_at_no_beat_stands_at_the_start_of_its_bar() -> None:
    """Where a file says nonsense, nothing else is lost."""
    part = _read(_measure(_note("n1") * 1, '<dynam staff="1" tstamp="-nan">p</dynam>'))
    assert [dynamic.onset for dynamic in part.dynamics] == [0]


@pytest.mark.parametrize(
    ("meter", "beats", "unit"),
    [('<meterSig sym="common"/>', 4, 4), ('<meterSig sym="cut"/>', 2, 2), ('<meterSig count="3+2" unit="8"/>', 5, 8)],
)
def test_meters_by_sign_and_sum(meter: str, beats: int, unit: int) -> None:
    """C, cut C, and 3 + 2."""
    part = _read(_measure("<mRest/>"), _measure(_note("a")), meter=meter)
    assert (part.measures[0].beats, part.measures[0].beat_type) == (beats, unit)
    assert part.measures[1].onset == Fraction(4 * beats, unit)


def test_meters_change_where_they_are_written() -> None:
    """A new meter between bars holds from there."""
    change = '<scoreDef><staffGrp><staffDef n="1"><meterSig count="3" unit="4"/></staffDef></staffGrp></scoreDef>'
    part = _read(_measure("<mRest/>"), change, _measure("<mRest/>"), _measure(_note("a", dur="2", more='dots="1"')))
    assert [m.beats for m in part.measures] == [4, 3, 3]
    assert part.events[0].onset == 7


def test_a_bar_cut_in_two_by_a_repeat_counts_on() -> None:
    """Three quarters and one: the second part begins on the fourth beat."""
    part = _read(_measure(_note("a", dur="2", more='dots="1"')), _measure(_note("b")), _measure(_note("c", dur="1")))
    assert part.measures[1].pickup
    assert part.measures[1].beat_of(float(part.events[1].onset)) == 4
    assert not part.measures[2].pickup


def test_ties_by_sign_and_by_element() -> None:
    """Both ways of writing a tie are read; a chord is tied only as a whole."""
    chord = '<chord xml:id="x" dur="4">' + "".join(
        f'<note xml:id="{i}" pname="{p}" oct="4"/>' for i, p in (("c1", "d"), ("c2", "a"))
    )
    part = _read(
        _measure(
            _note("a", more='tie="i"') + _note("b", more='tie="t"') + _note("c", "d4") + chord + "</chord>",
            '<tie startid="#c" endid="#c1"/>',
        )
    )
    assert [e.tied for e in part.events] == [False, True, False, False]


def test_marks_by_attribute_and_by_element() -> None:
    """Articulations and bow marks, on notes and on chords."""
    part = _read(
        _measure(
            _note("a", more='artic="stacc acc"')
            + _note("b", inside='<artic artic="upbow"/>')
            + '<chord xml:id="x" dur="4"><artic artic="marc dnbow"/><note xml:id="c" pname="d" oct="4"/></chord>'
            + _note("e", more='tab.string="2"')
        )
    )
    assert part.events[0].marks == {Mark.DOT, Mark.ACCENT}
    assert [e.bow for e in part.events] == [None, Direction.UP, Direction.DOWN, None]
    assert part.events[2].marks == {Mark.STRONG_ACCENT}
    assert part.events[3].top.string == 2


def test_dynamics_hairpins_tempo_and_fingers_find_their_places() -> None:
    """By beat, by note, and over the bar line."""
    part = _read(
        _measure(
            _note("a", dur="2") + _note("b", dur="2"),
            '<dynam tstamp="3">p</dynam><dynam startid="#a">f</dynam><hairpin tstamp="1" tstamp2="1m+3" form="dim"/>'
            '<tempo tstamp="1" mm="60" mm.unit="4" mm.dots="1">x</tempo><fing startid="#b">3</fing>',
        ),
        _measure(_note("c", dur="1"), '<hairpin startid="#c" endid="#c" form="cres"/>'),
    )
    assert [(d.onset, d.level_db) for d in part.dynamics] == [(0, 4), (2, -9)]
    assert [(p.start, p.end, p.grows) for p in part.hairpins] == [(0, 6, False), (4, 8, True)]
    assert part.tempo.quarters_per_minute == 90
    assert part.events[1].top.finger == 3


def test_grace_notes_by_sign_and_group() -> None:
    """They take no written time and belong to what follows."""
    part = _read(
        _measure(
            "<graceGrp>" + _note("g", dur="8") + "</graceGrp>" + _note("h", more='grace="acc"') + _note("a", dur="1")
        )
    )
    assert [(e.grace, e.duration) for e in part.events] == [(True, 0), (True, 0), (False, 4)]


def test_transposition_and_octave_signs_are_heard() -> None:
    """Written d' a fourth higher; a note under an octave line by its sounding octave; accidentals."""
    part = _read(
        _measure(
            _note("a")
            + _note("b", more='oct.ges="5"')
            + _note("c", more='accid.ges="f"')
            + _note("d", inside='<accid accid="ss"/>')
        ),
        attributes='trans.semi="5"',
    )
    assert [e.top.midi for e in part.events] == [67, 79, 66, 69]
    assert part.transposed


def test_percussion_and_nothing_are_refused() -> None:
    """A note without pitch, a percussion clef, no bars at all."""
    with pytest.raises(ScoreError, match="percussion"):
        _read(_measure('<note xml:id="a" dur="4" loc="4"/>'))
    with pytest.raises(ScoreError, match="percussion"):
        _read(_measure(_note("a")), attributes='clef.shape="perc"')
    with pytest.raises(ScoreError, match="no bars"):
        _read()


def test_one_staff_is_kept_with_what_belongs_to_it() -> None:
    """Other staves, their definitions and their marks go."""
    staves = "".join(f'<staff n="{n}"><layer n="1">{_note(f"s{n}", dur="1")}</layer></staff>' for n in (1, 2))
    marks = (
        '<dynam staff="1" tstamp="1">p</dynam><dynam staff="2" tstamp="1">f</dynam><slur startid="#s1" endid="#s1"/>'
    )
    second = '<staffDef n="2"><meterSig count="4" unit="4"/></staffDef>'
    definition = f'<scoreDef><staffGrp><staffDef n="1"/>{second}</staffGrp></scoreDef>'
    root = parse_xml((HEAD + definition + f"<section><measure>{staves}{marks}</measure></section>" + TAIL).encode())
    keep_staff(root, "2")
    part = read_mei(root, "t", "p")
    assert [e.id for e in part.events] == ["s2"]
    assert [d.level_db for d in part.dynamics] == [4]
    assert not part.slurs


def test_the_sheet_draws_bow_marks_itself() -> None:
    """Only they are taken out of the engraving."""
    mei = HEAD + _note("a", inside='<artic artic="upbow"/><artic artic="stacc"/>') + TAIL
    left = without_bow_marks(mei)
    assert "upbow" not in left
    assert "stacc" in left
