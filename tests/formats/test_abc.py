"""ABC read whole: keys that change, voices, books of tunes, tempi; against an independent reader of five books."""

from pathlib import Path

import pytest
from music21 import converter, corpus

from pathway.errors import NotFound, ScoreError
from pathway.formats.abc import voices_of
from pathway.formats.score import ScoreFile

HEAD = "X:1\nT:Walk\nM:4/4\nL:1/4\n"
TWO = (
    'X:7\nT:Two\nM:3/4\nL:1/8\nV:1 name="Violin I"\nV:2 nm="Cello" clef=bass\nK:Em\n'
    "V:1\nE2 F2 G2|A2 B2 c2|\nV:2\nE,6|A,,6|\nV:1\nd2 e2 f2|]\nV:2\nD,6|]\n"
)


def _midi(text: str, part: int = 1) -> list[int]:
    found = ScoreFile(text.encode(), "x.abc").part(part).part
    return [event.top.midi for event in found.events]


@pytest.mark.parametrize(
    ("body", "midi"),
    [("K:C\nCFcf|", [60, 65, 72, 77]), ("K:D\nCFcf|", [61, 66, 73, 78]), ("K:C\nCF|[K:D]CF|", [60, 65, 61, 66]),
     ("K:C\nCF|\nK:D\nCF|", [60, 65, 61, 66]), ("K:D\nCF|[K:C]CF|", [61, 66, 60, 65]),
     ("K:Bb\nBE|[K:Em]BF|", [70, 63, 71, 66]),
     ("K:C\n[K:D]=FFcF|F", [65, 65, 73, 65, 66]), ("K:C\n[K:D]^^CC|C", [62, 62, 61]), ("K:A Minor\nCFG", [60, 65, 67]),
     ("K:Dmix\nCF", [60, 66]), ("K:G dorian\nBEF", [70, 64, 65]), ("K:D =c\ncF", [72, 66]), ("K:none\nCF", [60, 65]),
     ('K:C\n"D7"C!f!F[K:A]"F"c{ag}f|', [60, 65, 73, 81, 80, 78]), ("K:C\nCF|%[K:D]\nCF|", [60, 65, 60, 65]),
     ("K:Cb\nCF", [59, 64])],
)  # fmt: skip
def test_every_note_has_its_key(body: str, midi: list[int]) -> None:
    """Of the header, in a line of its own, inside a bar; accidentals hold to the end of the bar, and no tune that was
    read before changes it.
    """
    assert _midi("X:1\nM:4/4\nL:1/4\nK:E\nCDEF|]\n") == [61, 63, 64, 66]
    assert _midi(HEAD + body + "\n") == midi


def test_a_change_of_key_is_told() -> None:
    """For it is not printed as one."""
    part = ScoreFile((HEAD + "K:C\nCF|[K:D]CF|\n").encode(), "x.abc").part().part
    assert any("key changes inside the tune" in notice for notice in part.notices)


def test_voices_are_parts_that_sound_together() -> None:
    """Each with its name, its clef and all its lines."""
    score = ScoreFile(TWO.encode(), "two.abc")
    assert [(part.name, part.notes, part.clef, part.guess.rig) for part in score.parts] == [
        ("Violin I", 9, "G", "violin"), ("Cello", 3, "F", "cello"),
    ]  # fmt: skip
    assert _midi(TWO) == [64, 66, 67, 69, 71, 72, 74, 76, 78]
    assert _midi(TWO, 2) == [52, 45, 50]
    first, second = (score.part(n).part for n in (1, 2))
    assert first.measures[-1].onset == second.measures[-1].onset == 6
    inline = "X:1\nT:I\nM:4/4\nL:1/4\nK:C\n[V:A] CDEF|\n[V:B] cdef|\n[V:A] GABc|\n[V:B] gabc'|\n"
    assert [_midi(inline, n) for n in (1, 2)] == [[60, 62, 64, 65, 67, 69, 71, 72], [72, 74, 76, 77, 79, 81, 83, 84]]


def test_a_book_is_a_list_of_tunes() -> None:
    """Each with its title; one is chosen, and is a piece of that name. What no one can read costs itself alone."""
    book = HEAD + "K:C\nCDEF|\n\n" + HEAD.replace("Walk", "Run") + "Q:120\nK:D\nFFFF|\n\n" + TWO
    score = ScoreFile(book.encode(), "my book.abc")
    assert score.title == "my book"
    assert [part.name for part in score.parts] == ["Walk", "Run", "Two, Violin I", "Two, Cello"]
    assert score.tempo_printed
    run = score.part("Run").part
    assert (run.title, run.tempo.quarters_per_minute) == ("Run", 120)
    with pytest.raises(NotFound, match="1 Walk"):
        score.part("Nothing")


def test_a_last_bar_without_its_line_is_read() -> None:
    """And a tune without a meter, and one whose lines are folded."""
    assert _midi(HEAD + "K:C\nCDEF|GABc") == [60, 62, 64, 65, 67, 69, 71, 72]
    part = ScoreFile(b"X:1\nT:Free\nM:none\nL:1/4\nK:C\nCDEF|GA|\n", "x.abc").part().part
    assert len(part.events) == 6
    assert any("no time signature" in notice for notice in part.notices)


@pytest.mark.parametrize("text", ["", "K:C\n", "X:1\nT:Nothing\n", "plain words\n", "X:1\nK:C\n|||\n"])
def test_what_is_no_tune_is_refused(text: str) -> None:
    """In words, as ever."""
    with pytest.raises(ScoreError):
        ScoreFile(text.encode(), "x.abc").part()


def _other_reader(text: str) -> list[tuple[int, ...]]:
    """Return the pitches that an independent reader finds."""
    notes = converter.parse(text, format="abc").stripTies().recurse().notes
    own = (note for note in notes if not note.duration.isGrace and "ChordSymbol" not in note.classes)
    return [tuple(sorted(pitch.midi for pitch in note.pitches)) for note in own]


@pytest.mark.filterwarnings("ignore")
def test_no_pitch_differs_from_that_of_another_reader() -> None:
    """Tunes of five books whose notes both count alike; those that the other reads otherwise are few."""
    books = ("altdeu10", "ballad10", "book6", "han1", "essenNative")
    found = [Path(path) for path in corpus.getCorePaths() if Path(path).suffix == ".abc" and Path(path).stem in books]
    alike, compared = 0, 0
    for path in found[: len(books)]:
        score = ScoreFile(path.read_bytes(), path.name)
        for voice, entry in list(zip(voices_of(path.read_text("utf-8")), score.parts, strict=False))[:8]:
            events = [e for e in score.part(entry.number).part.events if not e.grace and not e.tied]
            mine, theirs = [tuple(sorted(event.pitches)) for event in events], _other_reader(voice.text)
            compared += 1
            if len(mine) == len(theirs):
                alike += 1
                assert mine == theirs, (path.name, entry.name)
    assert compared >= 24
    assert alike >= 0.85 * compared
