"""Two voices become one line: what is held goes on, what begins gives the name, nothing is lost."""

from fractions import Fraction
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from pathway.core.music import Event, Head, Mark
from pathway.core.rig.bow import Direction
from pathway.formats.voices import merged

Voice = list[Event]


def _voice(name: str, lengths: list[int], base: int, gaps: set[int] = frozenset()) -> Voice:  # type: ignore[assignment]
    events, at = [], Fraction(0)
    for i, length in enumerate(lengths):
        if i not in gaps:
            id_ = f"{name}{i}"
            events.append(Event(id_, 0, at, Fraction(length), (Head(id_, base + i),)))
        at += length
    return events


def _shape(events: list[Event]) -> list[tuple[float, float, list[tuple[str, bool]]]]:
    return [(e.place, float(e.duration), [(h.id, h.held) for h in e.heads]) for e in events]


def test_a_held_note_goes_on_under_a_moving_one() -> None:
    """A half note under two quarters: two events, the second holding."""
    found = merged(_voice("a", [1, 1], 70), _voice("b", [2], 60))
    assert _shape(found) == [(0, 1, [("a0", False), ("b0", False)]), (1, 1, [("a1", False), ("b0", True)])]
    assert [event.id for event in found] == ["a0", "a1"]
    assert found[1].held


def test_the_note_that_begins_gives_its_name_and_signs() -> None:
    """The upper voice holds while the lower moves, with its own mark and bow."""
    low = _voice("b", [1, 1], 60)
    low[1] = Event("b1", 0, Fraction(1), Fraction(1), (Head("b1", 61),), frozenset({Mark.ACCENT}), bow=Direction.UP)
    found = merged(_voice("a", [2], 70), low)
    assert found[1].id == "b1"
    assert found[1].marks == {Mark.ACCENT}
    assert found[1].bow is Direction.UP


def test_one_voice_alone_stays_as_it_is() -> None:
    """Where the other rests, or where both have the same note."""
    found = merged(_voice("a", [1, 1], 70, gaps={0}), _voice("b", [1, 1], 60, gaps={1}))
    assert [[head.id for head in event.heads] for event in found] == [["b0"], ["a1"]]
    unison = merged(_voice("a", [1], 70), _voice("b", [1], 70))
    assert [len(event.heads) for event in unison] == [1]


@given(st.lists(st.integers(1, 4), min_size=1, max_size=6), st.lists(st.integers(1, 4), min_size=1, max_size=6))
def test_nothing_is_lost_and_nothing_overlaps(one: list[int], other: list[int]) -> None:
    """Every head begins once and sounds at least as long as it was written; events follow each other.

    Where one voice ends and the other goes on alone, the bow keeps both.
    """
    voices = _voice("a", one, 40), _voice("b", other, 80)
    found = merged(*voices)
    for event in (*voices[0], *voices[1]):
        pieces = [e for e in found if any(h.id == event.id for h in e.heads)]
        assert sum(e.duration for e in pieces) >= event.duration
        assert sum(not h.held for e in pieces for h in e.heads if h.id == event.id) == 1
    for before, after in pairwise(found):
        assert before.end <= after.onset
