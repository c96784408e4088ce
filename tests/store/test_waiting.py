"""Scores that wait for a choice."""

from datetime import timedelta

import pytest
from sqlalchemy import Engine

from pathway.errors import NotFound
from pathway.store import Waiting


def test_a_score_waits_until_it_is_dropped(engine: Engine) -> None:
    """By its token; one that is not there is refused in words."""
    waiting = Waiting(engine)
    token = waiting.keep("a.xml", b"data")
    assert waiting.find(token) == ("a.xml", b"data")
    waiting.drop(token)
    with pytest.raises(NotFound, match="not waiting"):
        waiting.find(token)


def test_what_has_waited_too_long_goes_with_the_next(engine: Engine, monkeypatch: pytest.MonkeyPatch) -> None:
    """The table does not grow with every score that nobody chose a part of."""
    waiting = Waiting(engine)
    old = waiting.keep("a.xml", b"data")
    waiting.keep("b.xml", b"data")
    assert waiting.find(old) == ("a.xml", b"data")
    monkeypatch.setattr("pathway.store.waiting.WAITS_FOR", timedelta(0))
    new = waiting.keep("c.xml", b"data")
    assert waiting.find(new) == ("c.xml", b"data")
    with pytest.raises(NotFound):
        waiting.find(old)
