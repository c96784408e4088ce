"""Rows hold every field of a value, and give it back; what is too long for them is cut."""

from dataclasses import replace
from datetime import datetime, timedelta, timezone
from pathlib import Path

import pytest
from sqlalchemy import Engine

from pathway.core.planning import Plan, Settings
from pathway.core.practice.log import PlayedSet
from pathway.core.practice.staircase import Verdict
from pathway.store import NewPiece, Pieces, Revision
from pathway.store.practice import PracticeLog
from pathway.store.summary import PlanSummary
from pathway.store.takes import NewTake, Takes
from tests.filled import filled


@pytest.fixture
def piece(engine: Engine, small_plan: Plan) -> int:
    """A piece on the shelf."""
    state = Revision("First", Settings(), (), small_plan.path, PlanSummary())
    return Pieces(engine).add(filled(NewPiece), state)


def test_every_field_of_a_piece_is_kept(engine: Engine, piece: int) -> None:
    """As it was brought."""
    stored, brought = Pieces(engine).piece(piece), filled(NewPiece)
    told = ("title", "part_name", "source_name", "source", "mei", "rig", "rig_version")
    assert [getattr(stored, name) for name in told] == [getattr(brought, name) for name in told]


def test_every_field_of_a_set_is_kept(engine: Engine, piece: int) -> None:
    """Under the title of its piece, whatever the page called it; a time comes back as the moment it was."""
    begun = datetime(2026, 11, 20, 23, 30, tzinfo=timezone(timedelta(hours=-8)))
    played = filled(PlayedSet, piece=piece, id=1, removed=False, begun=begun)
    log = PracticeLog(engine)
    log.keep(played)
    kept = log.find(played.token)
    assert kept is not None
    assert kept == replace(played, title=filled(NewPiece).title)
    assert kept.begun.utcoffset() == timedelta(0)


def test_what_is_too_long_for_a_row_is_cut(engine: Engine) -> None:
    """Words at their end, tries at their beginning; numbers go to the end of their range."""
    tries = (*[Verdict.NOT_YET] * 100, *[Verdict.CLEAN] * 500)
    long = filled(PlayedSet, piece=None, note="x" * 2000, tries=tries, seconds=-4.0, rung=900)
    kept = PracticeLog(engine).keep(long)
    assert (len(kept.note), kept.tries, kept.seconds, kept.rung) == (1000, tries[100:], 0, 100)


def test_every_field_of_a_take_is_kept(engine: Engine, piece: int, tmp_path: Path) -> None:
    """With the moment it was begun."""
    takes, new = Takes(engine, tmp_path), filled(NewTake, piece=piece)
    take = takes.take(piece, takes.add(new, b"sound"))
    told = ("piece", "name", "state", "seconds", "first", "last", "begun")
    assert [getattr(take, name) for name in told] == [getattr(new, name) for name in told]
