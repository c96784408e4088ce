"""Reading scores: parts, ids, signs, and refusals that say what, where and what to do."""

import io
import re
import zipfile
from dataclasses import fields, replace
from fractions import Fraction

import pytest

from pathway.core.music import Event, Head, Mark, Measure, Part
from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.errors import NotFound, ScoreError, TooLarge
from pathway.formats.engraver import engraver
from pathway.formats.musicxml import write_bow_marks
from pathway.formats.safe_files import MOST_BYTES
from pathway.formats.score import ScoreFile, at_pitch
from pathway.formats.staves import read_system
from tests.helpers import document, part_of

ABC = b"X:1\nT:A walk\nM:3/4\nL:1/8\nK:D\nF2 (AB) c>d | d6 |]\n"
HUMDRUM = b"**kern\n*Iviola\n*clefC3\n*k[f#]\n*M3/4\n=1\n4f#\n(8g\n8a)\n4.cc#'\n=2\n2.dd\n*-\n"


def _two_parts() -> bytes:
    upper, lower = document("d4:4 e4 f4 g4").decode(), document("g2:1", "cello").decode()
    head = lower[lower.index("<score-part ") : lower.index("</part-list>")].replace("P1", "P2")
    body = lower[lower.index("  <part id") : lower.index("</score-partwise>")].replace("P1", "P2")
    return (
        upper.replace("</part-list>", head + "</part-list>")
        .replace("</score-partwise>", body + "</score-partwise>")
        .encode()
    )


def _zipped(name: str, data: bytes, container: str | None = None) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        if container:
            archive.writestr("META-INF/container.xml", container)
        archive.writestr(name, data)
    return out.getvalue()


def test_signs_of_a_part_arrive() -> None:
    """Slurs, articulations, bow marks, dynamics, hairpins, words for tempo and meter."""
    part = part_of("[p] (d4:4 e4) vf4> g4. | [<] a4:8! b4- c5:4 [*] [f] d5:2", tempo="96", fifths="1")
    assert [float(e.duration) for e in part.events] == [1, 1, 1, 1, 0.5, 0.5, 1, 2]
    assert [e.bow for e in part.events][2] is Direction.UP
    assert part.events[2].marks == {Mark.ACCENT}
    assert part.events[4].marks == {Mark.WEDGE}
    assert part.events[5].marks == {Mark.DASH}
    assert [(s.start, s.end) for s in part.slurs] == [(part.events[0].id, part.events[1].id)]
    assert [d.level_db for d in part.dynamics] == [-9, 4]
    assert part.hairpins[0].grows
    assert part.tempo.quarters_per_minute == 96


def test_ids_are_the_notes_of_the_document() -> None:
    """The third note element is n3, rests included."""
    assert [e.id for e in part_of("d4:4 r f4 g4").events] == ["n1", "n3", "n4"]


def test_chords_keep_their_heads_and_take_the_first_id() -> None:
    """A double stop is one event."""
    part = part_of("c5+e4:2 d4")
    assert [len(e.heads) for e in part.events] == [2, 1]
    assert part.events[0].id == part.events[0].heads[0].id == "n1"


def test_tuplets_and_grace_notes_are_counted() -> None:
    """A triplet fills its beat; a grace note takes no written time."""
    bars = document("d4:4 e4 f4 g4").replace(
        b"<duration>12</duration><voice>1</voice><type>quarter</type></note>",
        b"<duration>4</duration><voice>1</voice><type>eighth</type><time-modification><actual-notes>3</actual-notes>"
        b"<normal-notes>2</normal-notes></time-modification></note>",
        3,
    )
    grace = b"<note><grace/><pitch><step>A</step><octave>4</octave></pitch><voice>1</voice><type>eighth</type></note>"
    at = bars.rindex(b"<note>")
    part = ScoreFile(bars[:at] + grace + bars[at:], "x.musicxml").part().part
    assert [e.duration for e in part.events] == [Fraction(1, 3)] * 3 + [Fraction(0), Fraction(1)]
    assert [e.grace for e in part.events] == [False] * 3 + [True, False]
    assert part.events[-1].onset == 1


def test_two_voices_sound_together_as_double_stops() -> None:
    """What one voice holds goes on while the other moves, in one bow."""
    second = (
        b"<backup><duration>48</duration></backup><note><pitch><step>D</step><octave>4</octave></pitch>"
        b"<duration>48</duration><voice>2</voice><type>whole</type></note>"
    )
    data = document("g4:4 a4 b4 c5").replace(b"<barline", second + b"<barline", 1)
    part = ScoreFile(data, "x.musicxml").part().part
    assert [e.top.midi for e in part.events] == [67, 69, 71, 72]
    assert [[(h.midi, h.held) for h in e.heads if h.midi == 62] for e in part.events] == [
        [(62, False)], [(62, True)], [(62, True)], [(62, True)]
    ]  # fmt: skip
    assert "double stops" in part.notices[0]
    plan = plan_part(part, preset("violin"))
    assert len(plan.strokes) == 1
    assert [len(note.voices) for note in plan.notes] == [2, 2, 2, 2]


def test_voices_of_divided_players_are_not_mixed() -> None:
    """Where the page says that players divide, the first voice is one player's."""
    second = (
        b"<backup><duration>48</duration></backup><note><pitch><step>D</step><octave>4</octave></pitch>"
        b"<duration>48</duration><voice>2</voice><type>whole</type></note>"
    )
    data = document("{div.} g4:4 a4 b4 c5").replace(b"<barline", second + b"<barline", 1)
    part = ScoreFile(data, "x.musicxml").part().part
    assert [len(e.heads) for e in part.events] == [1, 1, 1, 1]
    assert "divided" in part.notices[0]


def test_repeats_are_read_as_written() -> None:
    """Two bars with a repeat stay two bars."""
    part = part_of("|: d4:1 | e4:1 :|")
    assert [float(e.onset) for e in part.events] == [0, 4]


@pytest.mark.parametrize(
    ("data", "name", "midi"), [(ABC, "a.abc", [66, 69, 71, 73, 74, 74]), (HUMDRUM, "a.krn", [66, 67, 69, 73, 74])]
)
def test_other_formats(data: bytes, name: str, midi: list[int]) -> None:
    """ABC and Humdrum give the same kind of part."""
    part = ScoreFile(data, name).part().part
    assert [e.top.midi for e in part.events] == midi
    assert len(part.slurs) == 1


def test_mei_of_a_part_reads_back_the_same() -> None:
    """What is kept of a part for engraving holds all that planning needs."""
    first = ScoreFile(document("[p] (d4:4 e4) vf4> g4."), "x.musicxml").part()
    again = ScoreFile(first.mei.encode(), "x.mei").part().part
    assert again.events == first.part.events
    assert again.slurs == first.part.slurs
    assert again.dynamics == first.part.dynamics


def test_compressed_scores_open_with_and_without_container() -> None:
    """The container names the score; without it the first score in the archive is taken."""
    inner = document("d4:1")
    named = '<container><rootfiles><rootfile full-path="s/score.xml"/></rootfiles></container>'
    for data in (_zipped("s/score.xml", inner, named), _zipped("score.xml", inner)):
        assert len(ScoreFile(data, "x.mxl").part().part.events) == 1


def test_a_part_read_an_octave_down_keeps_everything_else() -> None:
    """A double-bass part without a transposition of its own: only the pitches change, in every field of every head."""
    head = Head("n1", 52, string=2, finger=3, harmonic=True, held=True)
    assert all(getattr(head, field.name) != field.default for field in fields(Head))  # none could hide by its default
    event = Event("n1", 0, Fraction(0), Fraction(1), (head,))
    part = Part("Title", "Bass", (Measure("1", Fraction(0), Fraction(4), 4, 4),), (event,))
    lowered = at_pitch(part, preset("bass"))
    assert lowered.events == (replace(event, heads=(replace(head, midi=40),)),)
    assert at_pitch(replace(part, transposed=True), preset("bass")).events == part.events


def test_parts_by_number_and_name() -> None:
    """The first part with notes is the default; a piece of a name is enough."""
    score = ScoreFile(_two_parts(), "x.musicxml")
    assert [(p.number, p.name) for p in score.parts] == [(1, "Violin"), (2, "Cello")]
    assert score.find().number == 1
    assert score.find("cel").number == score.find("2").number == 2
    assert [e.top.midi for e in score.part("Cello").part.events] == [43]
    with pytest.raises(NotFound, match="1 Violin, 2 Cello"):
        score.find("tuba")


LAUGHS = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;">]><score-partwise>&b;</score-partwise>'
NO_METER = document("d4:1").replace(b"<time><beats>4</beats><beat-type>4</beat-type></time>", b"")
DRUMS = (
    document("d4:1")
    .replace(
        b"<pitch><step>D</step><octave>4</octave></pitch>",
        b"<unpitched><display-step>E</display-step><display-octave>4</display-octave></unpitched>",
    )
    .replace(b"<sign>G</sign><line>2</line>", b"<sign>percussion</sign>")
)


@pytest.mark.parametrize(
    ("data", "name", "said"),
    [
        (b"\x89PNG....", "picture.png", "does not read .png"),
        (b"hello there", "x.musicxml", "XML is broken"),
        (b"   ", "x.abc", "empty"),
        (document("d4:1")[:-40], "x.musicxml", "line 8, column"),
        (b"<html></html>", "x.xml", "begins with <html>"),
        (b"<score-timewise/>", "x.xml", "no parts"),
        (LAUGHS, "x.musicxml", "entities"),
        (b"PK\x03\x04 not a zip", "x.mxl", "archive is damaged"),
        (_zipped("readme.txt", b"no score"), "x.mxl", "holds no score"),
        (b"nothing like a tune", "x.krn", "empty"),
        (b"<mei/>", "x.mei", "not music"),
        (document("r:1"), "x.musicxml", "empty"),
        (NO_METER, "x.musicxml", "no time signature \\(bar 1\\)"),
        (DRUMS, "x.musicxml", "percussion part"),
    ],
)
def test_bad_files_are_refused_in_words(data: bytes, name: str, said: str) -> None:
    """What is wrong, where, and never a stack trace."""
    with pytest.raises(ScoreError, match=said):
        ScoreFile(data, name).part()


@pytest.mark.parametrize(
    ("durations", "said"),
    [
        ([4, 400_000], r"A note lasts 100000 quarters; .* \(bar 1, beat 2"),
        ([4, 10**20, 4], "A note lasts"),
        ([900] * 5, r"Bar 1 has 1125 quarters"),
    ],
)
def test_what_would_be_played_for_hours_is_refused(durations: list[int], said: str) -> None:
    """A kilobyte of score would take all memory as sound: the note is named before anything is planned."""
    pitch = "<pitch><step>A</step><octave>4</octave></pitch>"
    notes = "".join(f"<note>{pitch}<duration>{n}</duration><type>quarter</type></note>" for n in durations)
    data = document("a4:4").replace(re.search(rb"<note>.*</note>", document("a4:4"), re.DOTALL)[0], notes.encode())  # type: ignore[index]
    data = re.sub(rb"<divisions>\d+</divisions>", b"<divisions>4</divisions>", data)
    with pytest.raises(TooLarge, match=said):
        ScoreFile(data, "long.musicxml").part()


def test_too_much_is_refused() -> None:
    """30 MB of upload, and an archive that would unpack to gigabytes."""
    with pytest.raises(TooLarge, match="30 MB"):
        ScoreFile(b"x" * 30_000_000, "x.xml")
    bomb = _zipped("score.xml", b"0" * (3 * MOST_BYTES + 1))
    assert len(bomb) < 200_000
    with pytest.raises(TooLarge, match="unpack to 60 MB"):
        ScoreFile(bomb, "x.mxl")


def test_notes_lie_where_the_engraver_drew_them() -> None:
    """Heads in order from left to right, inside the staff's ends, and every event found by its id."""
    found = ScoreFile(document("d4:4 e4 f4 g4 | a4:2 b4:2"), "x.musicxml").part()
    system = read_system(engraver().draw(found.mei, 900)[0])
    xs = [system.notes[e.id].x for e in found.part.events]
    assert xs == sorted(xs)
    assert system.staff_left < xs[0]
    assert xs[-1] < system.staff_right
    assert all(spot.top <= system.staff_top for spot in system.notes.values())
    assert "<style" not in system.svg
    assert len(system.bars) == 2


def test_ids_of_a_score_never_become_ids_of_the_page() -> None:
    """A note that calls itself like a place of the page stays a note."""
    mei = ScoreFile(document("d4:4 e4 f4 g4"), "x.musicxml").part().mei.replace('"n2"', '"card"')
    system = read_system(engraver().draw(mei, 900)[0])
    assert "card" in system.notes
    assert 'data-id="card" class="note' in system.svg
    assert ' id="card"' not in system.svg
    used, there = (set(re.findall(sign, system.svg)) for sign in (r'href="#([^"]+)"', r' id="([^"]+)"'))
    assert used <= there, "every glyph that is used is there"


def test_a_score_that_is_ordered_by_time_is_read_and_marked() -> None:
    """Its notes keep their numbers, so that marks go into the player's own document where they belong."""
    partwise = document("d4:4 e4 f#4 g4 | a4:1").decode()
    head, body = partwise.split('<part id="P1">')
    bars = re.findall(r"<measure (.*?)>(.*?)</measure>", body.split("</part>")[0], re.DOTALL)
    timewise = "".join(f'<measure {told}><part id="P1">{inside}</part></measure>' for told, inside in bars)
    data = (head.replace("score-partwise", "score-timewise") + timewise + "</score-timewise>").encode()
    score = ScoreFile(data, "x.musicxml")
    assert [event.top.midi for event in score.part().part.events] == [62, 64, 66, 67, 69]
    marked = write_bow_marks(data, {score.part().part.events[-1].id: Direction.UP}).decode()
    assert marked.count("<up-bow/>") == 1
    assert marked.index("<up-bow/>") > marked.index("<step>A</step>")


def test_the_tempo_that_a_file_is_played_at_counts_where_none_is_printed() -> None:
    """As in Humdrum; a later one is a tempo mark."""
    krn = "**kern\n*clefG2\n*M4/4\n*MM96\n=1\n4c\n4d\n4e\n4f\n=2\n*MM120\n1c\n==\n*-\n"
    part = ScoreFile(krn.encode(), "x.krn").part().part
    assert [(float(m.onset), m.quarters_per_minute) for m in part.tempos] == [(0, 96), (4, 120)]
