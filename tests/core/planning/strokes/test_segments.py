"""From notes to strokes: slurs, ties, grace notes, plucked notes, and what carries weight."""

from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.music import Event, Head, Mark, Measure, Part, Slur
from tests.helpers import part_of, plan_of, segments


def _sizes(text: str, **head: str) -> list[int]:
    return [len(segment.notes) for segment in segments(part_of(text, **head))]


def test_slurs_and_ties_share_a_stroke() -> None:
    """A slur of three, a single note, a tie over the bar."""
    assert _sizes("(d4:4 e4 f4) g4 | a4:2 b4:2~ | b4:1") == [3, 1, 1, 2]


def test_a_new_slur_on_a_tied_note_begins_a_new_stroke() -> None:
    """The tie is divided where the player's slur begins."""
    assert _sizes("d4:2 e4:2~ | (e4:4 f4 g4) a4") == [1, 1, 3, 1]


def test_a_bow_mark_inside_a_slur_divides_it() -> None:
    """Printed marks win."""
    assert _sizes("(d4:4 e4 vf4 g4)") == [2, 2]


def test_a_rest_ends_a_slur() -> None:
    """The bow stops; what follows is a stroke of its own."""
    assert _sizes("(d4:4 e4 r f4)") == [2, 1]


@pytest.mark.parametrize(
    ("bars", "kinds"),
    [
        ("d4:4 e4 f4> g4", ["detache", "detache", "detache", "detache"]),
        (
            "d4:8. e4. f4! g4.> (d4:4 e4) f4-  g4",
            ["short-detache"] * 2 + ["martele"] * 2 + ["legato", "porte", "detache"],
        ),
        ("(d4:16. e4. f4. g4.) (d4:4. e4.) f4:4", ["staccato", "portato", "detache"]),
    ],
)
def test_signs_choose_the_manner(bars: str, kinds: list[str]) -> None:
    """Dots, wedges, dashes and slurs with dots, by their rate."""
    assert [segment.kind.key for segment in segments(part_of(bars))] == kinds


def test_gaps_shorten_the_sound_not_the_rhythm() -> None:
    """A dotted eighth at 80 sounds for less than its written time."""
    first = segments(part_of("d4:8. e4. f4. g4. d4:2"))[0]
    assert first.notes[0].end - first.notes[0].begin == pytest.approx(0.375)
    assert first.notes[0].sounding == pytest.approx(0.375 * 0.65)


def test_rests_are_counted_from_the_written_end() -> None:
    """A quarter rest at 80 lasts three quarters of a second."""
    found = segments(part_of("d4:4 r e4 f4"))
    assert [round(s.rest_before, 6) for s in found] == [0, 0.75, 0]
    assert plan_of("d4:4 r e4 f4").draft.columns.starts_phrase.tolist() == [False, True, False]


def test_weights_of_a_bar_of_four() -> None:
    """First beat, half bar, other beats, off-beats."""
    found = segments(part_of("d4:4 e4:8 f4 g4:4 a4"))
    assert [s.strength for s in found] == [1.0, 0.25, 0.125, 0.5, 0.25]
    assert found[0].first_of_bar
    assert found[-1].upbeat


def test_plucked_notes_have_no_stroke() -> None:
    """Pizz. to arco: the bow is free meanwhile."""
    part = part_of("d4:4 e4 {pizz.} f4 g4 | {arco} a4:2 b4:2")
    assert [event.plucked for event in part.events] == [False, False, True, True, False, False]
    assert [s.id for s in segments(part)] == [part.events[i].id for i in (0, 1, 4, 5)]


def test_a_growing_slur_knows_it() -> None:
    """The stroke under a hairpin grows, the one under a fade fades."""
    found = segments(part_of("[p] [<] (d4:4 e4 f4 g4) | [*] [f] [>] (d4:4 e4 f4 g4) | [*] [p] d4:1"))
    assert [s.grows for s in found] == [1, -1, 0]


def _graced(kinds: list[int], slurred: list[tuple[int, int]]) -> Part:
    """A bar whose notes last some eighths; grace notes last none."""
    events, at = [], Fraction(0)
    for k, eighths in enumerate(kinds):
        length = Fraction(eighths, 2)
        events.append(Event(f"n{k}", 0, at, length, (Head(f"n{k}", 67),), grace=not eighths))
        at += length
    whole = max(at, Fraction(1))
    slurs = [Slur(f"n{a}", f"n{b}") for a, b in slurred if a < b < len(kinds)]
    return Part("", "", (Measure("1", Fraction(0), whole, 4, 4, False),), tuple(events), tuple(slurs))


@given(
    st.lists(st.sampled_from([0, 0, 1, 2]), min_size=1, max_size=9),
    st.lists(st.tuples(st.integers(0, 8), st.integers(0, 8)), max_size=3),
)
def test_grace_notes_never_sound_with_another_note(kinds: list[int], slurred: list[tuple[int, int]]) -> None:
    """Before their main note, under its slur, and after it: the bow plays one note after the other."""
    notes = [note for segment in segments(_graced(kinds, slurred)) for note in segment.notes]
    assert len(notes) == len(kinds)
    assert all(note.sounding > 0 for note in notes)
    for one, other in pairwise(notes):
        assert one.begin + one.sounding <= other.begin + 1e-9


def test_grace_notes_after_a_note_take_its_end() -> None:
    """Two of them under its slur: the note is over when the first begins, the next note is in time."""
    first, second = segments(_graced([2, 0, 0, 2], [(0, 2)]))
    assert [round(note.begin, 3) for note in (*first.notes, *second.notes)] == [0, 0.61, 0.68, 0.75]
    assert first.notes[0].end == pytest.approx(0.61)


@pytest.mark.parametrize(
    ("text", "tempo", "bows", "kind"),
    [
        ("[pp] d4:1", "60", 41, "tremolo"),  # ten a second, and one more so that the bow is left as after one stroke
        ("[ff] d4:1", "60", 57, "tremolo"),
        ("d4:16", "240", 0, "detache"),  # there is no time to repeat it
    ],
)
def test_a_tremolo_that_is_not_counted_goes_by_its_dynamic(text: str, tempo: str, bows: int, kind: str) -> None:
    """Softer ones are slower; the number is odd."""
    part = part_of(text, tempo=tempo)
    marked = replace(part, events=tuple(replace(event, marks=frozenset({Mark.TREMOLO})) for event in part.events))
    segment = segments(marked)[0]
    assert (segment.notes[0].bows, segment.kind.key) == (bows, kind)


@pytest.mark.parametrize(
    ("tempo", "value", "bows", "kind"),
    [
        ("60", Fraction(1, 2), 8, "detache"),  # eighths, one slash
        ("60", Fraction(1, 4), 16, "detache"),  # sixteenths
        ("50", Fraction(1, 8), 32, "detache"),  # three slashes, slow enough to count
        ("120", Fraction(1, 8), 25, "tremolo"),  # and not
        ("180", Fraction(1, 4), 16, "tremolo"),  # counted, and as fast as a tremolo
    ],
)
def test_slashes_are_counted_where_they_can_be(tempo: str, value: Fraction, bows: int, kind: str) -> None:
    """A whole note with one, two and three slashes at several tempi."""
    part = part_of("d4:1", tempo=tempo)
    slashed = replace(part, events=tuple(replace(event, repeated=value) for event in part.events))
    segment = segments(slashed)[0]
    assert (segment.notes[0].bows, segment.kind.key) == (bows, kind)
