"""From notes to strokes: slurs, ties, grace notes, plucked notes, and what carries weight."""

import pytest

from tests.helpers import part_of, segments


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
    assert first.moving == pytest.approx(0.375 * 0.65)


def test_rests_are_counted_from_the_written_end() -> None:
    """A quarter rest at 80 lasts three quarters of a second."""
    found = segments(part_of("d4:4 r e4 f4"))
    assert [round(s.rest_before, 6) for s in found] == [0, 0.75, 0]
    assert found[1].starts_phrase


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
