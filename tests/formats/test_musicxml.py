"""Bow marks written into the player's own document: nothing else changes, and reading it again gives the plan."""

import codecs
import re

import pytest

from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.errors import ScoreError
from pathway.formats.musicxml import write_bow_marks
from pathway.formats.plan_exchange import bow_marks
from pathway.formats.score import ScoreFile
from tests.helpers import directions, document, plan_of

TEXT = "[mf] (d4:4 e4) f#4:8. g4. a4:4> | b4:8. a4. g4. f#4. (e4:2) | r:4 [p] (d4:4d e4:8 f#4:4)"
MARK = re.compile(rb"<technical><(?:up|down)-bow/></technical>")
EMPTY = re.compile(rb"<notations></notations>")


def test_reading_the_marked_score_gives_the_same_directions() -> None:
    """Every stroke carries its sign home."""
    source = document(TEXT)
    plan = plan_of(TEXT)
    marked = write_bow_marks(source, bow_marks(plan))
    again = plan_part(ScoreFile(marked, "x.musicxml").part().part, preset("violin"))
    assert directions(again) == directions(plan)
    assert all(stroke.printed for stroke in again.strokes)


@pytest.mark.parametrize(
    ("mark", "encoding", "called"),
    [(codecs.BOM_UTF8, "utf-8", "bogus"), (codecs.BOM_UTF16_LE, "utf-16-le", "UTF-8"),
     (codecs.BOM_UTF16_BE, "utf-16-be", "bogus"), (b"", "latin-1", "ISO-8859-1")],
)  # fmt: skip
def test_what_the_first_bytes_say_holds_whatever_the_document_calls_its_encoding(
    mark: bytes, encoding: str, called: str
) -> None:
    """It comes in, and goes home with its marks in the same letters."""
    source = mark + document(TEXT, title="Grün").decode().replace("UTF-8", called).encode(encoding)
    plan = plan_of(TEXT)
    marked = write_bow_marks(source, bow_marks(plan))
    assert "<up-bow/>" in marked.removeprefix(mark).decode(encoding)
    assert "\ufeff" not in marked.removeprefix(mark).decode(encoding)
    assert directions(plan_part(ScoreFile(marked, "x.musicxml").part().part, preset("violin"))) == directions(plan)


def test_nothing_else_changes() -> None:
    """Without the marks the bytes are those of the player's document, line ends and comments included."""
    source = document(TEXT).replace(b"\n", b"\r\n").replace(b"<measure", b"<!-- mine --><measure", 1)
    marked = write_bow_marks(source, bow_marks(plan_of(TEXT)))
    assert EMPTY.sub(b"", MARK.sub(b"", marked)) == source
    assert len(MARK.findall(marked)) == len(plan_of(TEXT).strokes)


def test_a_printed_mark_is_turned_not_doubled() -> None:
    """An old sign that disagrees goes; one that agrees stays as it was."""
    source = document("vd4:4 ne4 f4 g4")
    marked = write_bow_marks(source, {"n1": Direction.DOWN, "n2": Direction.DOWN})
    assert marked == source.replace(b"<up-bow/>", b"<down-bow/>")
    assert write_bow_marks(source, {"n1": Direction.UP}) == source


@pytest.mark.parametrize(
    ("there", "then"),
    [
        (b"<notations/>", b"<notations><technical><up-bow/></technical></notations>"),
        (
            b"<notations><technical><fingering>2</fingering></technical></notations>",
            b"<fingering>2</fingering><up-bow/>",
        ),
        (b"<notations><tied type='start'/></notations>", b"<tied type='start'/><technical><up-bow/>"),
    ],
)
def test_marks_join_what_is_there(there: bytes, then: bytes) -> None:
    """One notations, one technical: readers look no further."""
    source = document("d4:1").replace(b"</note>", there + b"</note>")
    assert then in write_bow_marks(source, {"n1": Direction.UP})


def test_marks_stand_before_lyrics() -> None:
    """The order of elements in a note is kept valid."""
    source = document("d4:1").replace(b"</note>", b"<lyric><text>la</text></lyric></note>")
    marked = write_bow_marks(source, {"n1": Direction.DOWN})
    assert marked.index(b"<down-bow/>") < marked.index(b"<lyric>")


def test_other_encodings_stay() -> None:
    """A document in Latin-1 keeps its bytes."""
    source = document("d4:1", title="Möwe").decode().replace("UTF-8", "ISO-8859-1").encode("latin-1")
    marked = write_bow_marks(source, {"n1": Direction.UP})
    assert "Möwe".encode("latin-1") in marked
    assert b"<up-bow/>" in marked


def test_broken_documents_are_refused() -> None:
    """With the line."""
    with pytest.raises(ScoreError, match="line 1"):
        write_bow_marks(b"<score-partwise>", {})
