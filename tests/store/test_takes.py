"""Recordings are kept beside the database, come in pieces, and go."""

from datetime import UTC, datetime
from pathlib import Path

import pytest
from sqlalchemy import Engine

from pathway.core.planning import Settings
from pathway.errors import DataError, NotFound, ScoreError
from pathway.store import NewPiece, Pieces, Revision
from pathway.store.summary import PlanSummary
from pathway.store.takes import MOST_UNFINISHED, NewTake, Takes
from tests.helpers import plan_of

PLAN = plan_of("[mf] d4:4 e4 f#4 g4")
WHEN = datetime(2026, 11, 20, 17, 5, tzinfo=UTC)


@pytest.fixture
def takes(engine: Engine, tmp_path: Path) -> Takes:
    """A shelf with one piece, and a folder for its takes."""
    state = Revision("First", Settings(), (), PLAN.path, PlanSummary())
    Pieces(engine).add(NewPiece("Title", "Violin", "x.musicxml", b"<x/>", "<mei/>", "violin"), state)
    return Takes(engine, tmp_path / "takes")


def test_a_take_is_kept_with_its_sound(takes: Takes) -> None:
    """The newest first; the room that all take is known."""
    first = takes.add(NewTake(1, "One", 0, 12.5, "n1", "n4", WHEN), b"flac-one")
    second = takes.add(NewTake(1, "Two", 3, 4.0), b"flac-two!")
    assert [take.id for take in takes.of(1)] == [second, first]
    one = takes.take(1, first)
    assert (one.name, one.first, one.last, one.state, one.seconds, one.begun) == ("One", "n1", "n4", 0, 12.5, WHEN)
    assert takes.sound(one) == b"flac-one"
    assert takes.size == 17
    assert takes.state(1) == "in work"
    assert takes.state(2) == "untouched"


def test_a_take_that_was_put_away_keeps_its_sound(takes: Takes, tmp_path: Path) -> None:
    """It is in no list; one whose file is gone can still be put away."""
    id_ = takes.add(NewTake(1, "One", 0, 1.0), b"x")
    takes.put_away(1, id_)
    assert takes.of(1) == []
    (sound,) = (tmp_path / "takes").glob("*.flac")
    assert sound.read_bytes() == b"x"
    sound.unlink()
    id_ = takes.add(NewTake(1, "One", 0, 1.0), b"x")
    next((tmp_path / "takes").glob("*.flac")).unlink()
    with pytest.raises(NotFound, match="sound"):
        takes.sound(takes.take(1, id_))
    takes.put_away(1, id_)
    with pytest.raises(NotFound):
        takes.take(1, id_)


def test_a_take_of_no_piece_leaves_no_file(takes: Takes, tmp_path: Path) -> None:
    """Nor one of a folder that cannot be written."""
    with pytest.raises(NotFound):
        takes.add(NewTake(9, "One", 0, 1.0), b"x")
    assert list((tmp_path / "takes").glob("*.flac")) == []
    (tmp_path / "file").write_bytes(b"")
    with pytest.raises(DataError):
        Takes(takes._engine, tmp_path / "file").add(NewTake(1, "One", 0, 1.0), b"x")


def test_pieces_come_in_any_order_and_more_than_once(takes: Takes) -> None:
    """Each lies at its place; what was never finished is named."""
    takes.add_piece("token-of-it", 4, b"5678")
    takes.add_piece("token-of-it", 0, b"1234")
    takes.add_piece("token-of-it", 4, b"5678")
    assert takes.finished("token-of-it") == b"12345678"
    assert [(one.token, one.size) for one in takes.unfinished()] == [("token-of-it", 8)]
    takes.drop_unfinished("token-of-it")
    assert takes.unfinished() == []
    with pytest.raises(NotFound):
        takes.finished("token-of-it")


@pytest.mark.parametrize("token", ["../../etc/passwd", "", "a/b", "x" * 60, "..%2f..", "token\n"])
def test_a_name_cannot_leave_the_folder(takes: Takes, token: str) -> None:
    """Whatever it is."""
    for ask in (
        lambda: takes.add_piece(token, 0, b"x"),
        lambda: takes.finished(token),
        lambda: takes.drop_unfinished(token),
    ):
        with pytest.raises(ScoreError):
            ask()


def test_a_recording_that_never_ends_is_refused(takes: Takes) -> None:
    """And a piece before its beginning."""
    for offset in (MOST_UNFINISHED, -1):
        with pytest.raises(ScoreError):
            takes.add_piece("token-of-it", offset, b"x")


def test_a_recording_that_never_ended_is_put_away_and_comes_back(takes: Takes) -> None:
    """Its sound stays as it came."""
    takes.add_piece("token-of-it", 0, b"1234")
    takes.put_away_unfinished("token-of-it")
    assert takes.unfinished() == []
    assert [one.token for one in takes.unfinished(away=True)] == ["token-of-it"]
    takes.put_away_unfinished("token-of-it", back=True)
    assert takes.finished("token-of-it") == b"1234"
    with pytest.raises(NotFound):
        takes.put_away_unfinished("token-of-it", back=True)


def test_recordings_on_their_way_have_a_budget(takes: Takes, monkeypatch: pytest.MonkeyPatch) -> None:
    """By their number and by their bytes; one that has begun goes on."""
    monkeypatch.setattr("pathway.store.takes.MOST_ON_THEIR_WAY", 2)
    monkeypatch.setattr("pathway.store.takes.MOST_WAITING", 20)
    takes.add_piece("recording-1", 0, b"12345678")
    takes.add_piece("recording-2", 0, b"12345678")
    with pytest.raises(ScoreError, match="2 recordings were begun and never finished"):
        takes.add_piece("recording-3", 0, b"1")
    takes.add_piece("recording-2", 8, b"1234")
    with pytest.raises(ScoreError, match="never finished"):
        takes.add_piece("recording-2", 12, b"1")


def test_a_recording_is_kept_under_the_name_it_came_under(takes: Takes) -> None:
    """So that it is known again; a name that is taken is not written over."""
    id_ = takes.add(NewTake(1, "One", 0, 1.0), b"one", "token-of-it")
    other = takes.add(NewTake(1, "Two", 0, 1.0), b"two", "token-of-it")
    assert takes.by_token(1, "token-of-it") == id_ != other
    assert takes.by_token(2, "token-of-it") is None
    assert takes.sound(takes.take(1, id_)) == b"one"
