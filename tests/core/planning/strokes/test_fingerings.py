"""Printed fingers decide: string and position follow from finger and pitch, in studies for every family."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import pytest

from pathway.core.music import Part
from pathway.core.planning import Plan, Settings, plan_part
from pathway.core.planning.strokes import hand, string_weights, strings
from pathway.core.planning.wishes import Lock
from pathway.core.rig import preset
from pathway.core.technique.fingers import fingers_for, reaching
from tests.helpers import part_of


@dataclass(frozen=True)
class Study:
    """A line with fingers over some of its notes, and the strings that follow where they are worth a word."""

    rig: str
    text: str
    fingers: str  # a note each: "." where none is printed
    strings: str = ""

    @property
    def printed(self) -> list[int | None]:
        """Return the finger over every note."""
        return [None if sign == "." else 5 if sign == "T" else int(sign) for sign in self.fingers.split()]


STUDIES = [
    Study("violin", "a4:4 b4 c5 e5", "0 1 2 4", "A A A A"),
    Study("violin", "e5:4 e5 e5 e5", "4 0 4 1", "A E A"),
    Study("violin", "d4:8 e4 f4 g4 a4 b4 c5 d5", "1 . . . . . . .", "G"),
    Study("violin", "a4:4 c5 d5 e5 f5 e5 d5 c5", ". 1 2 3 4 3 2 1", "A A A A A A A A"),
    Study("violin", "g5:8 a5 b5 c6 d6 c6 b5 a5", "2 3 1 2 3 2 1 3", "E E E E E E E E"),
    Study("violin", "b4:4 f5 bb5 c6", "1 1 4 4"),
    Study("violin", "a4:2 e5", "0 0", "A E"),
    Study("violin", "a5:2 e6", "0 0"),
    Study("violin", "g3:16 bb3 d4 g4 bb4 d5 g5 bb5", "0 2 0 3 1 3 2 4"),
    Study("viola", "d4:4 e4 f4 a4", "0 1 2 4", "D D D D"),
    Study("viola", "g4:8 a4 b4 c5 d5 e5 d5 c5", "1 2 3 4 . . . ."),
    Study("cello", "d3:4 e3 f3 g3", "0 1 2 4", "D D D D"),
    Study("cello", "e3:4 f#3 g3 a3", "1 3 4 4"),
    Study("cello", "a3:4 b3 c#4 d4 e4 f#4 g4", "0 1 3 1 1 3 4", "A A A A A A A"),
    Study("cello", "a4:4 b4 c#5 d5", "T 1 2 3", "A A A A"),
    Study("cello", "g4:4 a4 e4 d4", "2 T 1 T"),
    Study("bass", "g3:4 a3 bb3 b3", "0 1 2 4", "G G G G"),
    Study("bass", "e3:4 f3 g3 ab3", "1 2 4 1"),
    Study("bass-viol", "d3:4 e3 f3 g3", "1 3 4 4"),
    Study("treble-viol", "a4:4 b4 c5 d5", "0 1 2 4"),
    Study("early-violin", "g4:8 f4 e4 d4 c4 b3 a3 g3", "3 2 1 0 3 2 1 0", "D D D D G G G G"),
    Study("violin", "(c4:2 g4 a4 e4)", "3 1 2 2", "G D D"),
]


CLEFS = {"bass-viol": "cello", "treble-viol": "violin", "early-violin": "violin"}  # as they are written


def _fingered(part: Part, fingers: Sequence[int | None]) -> Part:
    """Return the part with a finger over each note's top head."""
    events = (
        replace(event, heads=(replace(event.heads[0], finger=finger), *event.heads[1:]))
        for event, finger in zip(part.events, fingers, strict=True)
    )
    return replace(part, events=tuple(events))


def _plan(rig: str, text: str, fingers: Sequence[int | None], tempo: float | None = None) -> Plan:
    return plan_part(_fingered(part_of(text, CLEFS.get(rig, rig)), fingers), preset(rig), Settings(tempo))


def _fingers(plan: Plan) -> list[int | None]:
    return [note.lead.finger for note in plan.bowed]


def _letters(plan: Plan) -> list[str]:
    return [plan.rig.instrument.strings[note.lead.string].letter for note in plan.bowed]


@pytest.mark.parametrize("study", STUDIES, ids=lambda study: f"{study.rig} {study.text}")
def test_printed_fingers_are_kept(study: Study) -> None:
    """At any tempo that a study is played at, with nothing to tell."""
    for tempo in (50.0, 120.0):
        plan = _plan(study.rig, study.text, study.printed, tempo)
        played = _fingers(plan)
        assert [f for f, asked in zip(played, study.printed, strict=True) if asked is not None] == [
            f for f in study.printed if f is not None
        ]
        assert not plan.draft.other_fingers
        for letter, wanted in zip(_letters(plan), study.strings.split(), strict=False):
            assert letter == wanted


def test_a_fourth_finger_over_e_is_on_the_a_string_and_sounds_stopped() -> None:
    """Without it the string is open."""
    (with_it,) = _plan("violin", "e5:1", [4]).bowed
    (without,) = _plan("violin", "e5:1", [None]).bowed
    assert (with_it.lead.string, without.lead.string) == (2, 3)
    assert with_it.lead.vibrating < without.lead.vibrating
    assert with_it.rings < without.rings


def test_a_nought_over_a_pitch_that_is_not_open_is_a_harmonic() -> None:
    """In two parts on the string an octave below."""
    (note,) = _plan("violin", "a5:1", [0]).bowed
    assert (note.lead.string, note.lead.loops, note.lead.finger) == (2, 2, 0)


def test_a_finger_that_cannot_reach_is_told_and_another_plays() -> None:
    """The fourth on the lowest semitone, the thumb on a violin, a finger on the lowest open string."""
    for text, finger, who in (("g#3:1", 4, "1"), ("b4:1", 5, ""), ("g3:1", 2, "0")):
        plan = _plan("violin", text, [finger])
        (told,) = plan.draft.other_fingers
        assert f"{who} plays it" in told
        assert "bar 1" in told
        assert told in plan.notices


def test_a_finger_holds_its_position_until_the_next_or_a_rest(monkeypatch: pytest.MonkeyPatch) -> None:
    """The line would come down by itself at once; a rest lets it."""
    text, fingers = "e4:8 f#4 g4 a4 b4 c5 d5 e5 d5 c5 b4 c5", [3, *[None] * 11]
    held = _plan("violin", text, fingers)
    assert {note.position for note in held.bowed if note.position} == {5}
    rested = _plan("violin", text.replace("b4 c5", "r r b4 c5", 1), fingers)
    assert rested.bowed[-1].position < 5
    monkeypatch.setattr(strings, "FINGER_HOLDS", 1.0)
    assert _plan("violin", text, fingers).bowed[-1].position < 5
    monkeypatch.undo()
    monkeypatch.setattr(strings, "HOLDS_TO", 99.0)
    assert _plan("violin", text.replace("b4 c5", "r r b4 c5", 1), fingers).bowed[-1].position == 5


def test_without_its_weight_a_printed_finger_is_not_kept(monkeypatch: pytest.MonkeyPatch) -> None:
    """The open string is the cheaper one."""
    hand.hand_of.cache_clear()
    monkeypatch.setattr(hand, "AGAINST_FINGER", 0.0)
    assert _letters(_plan("violin", "e5:1", [4])) == ["E"]
    hand.hand_of.cache_clear()


def test_a_fourth_finger_stretches_rather_than_shift(monkeypatch: pytest.MonkeyPatch) -> None:
    """For a single c‴ in first position; on a cello the hand goes."""
    text = "g5:8 a5 b5 c6 b5 a5 g5 f5"
    plan = _plan("violin", text, [None] * 8)
    assert {(note.lead.string, note.position) for note in plan.bowed} == {(3, 2)}
    assert plan.bowed[3].lead.finger == 4
    hand.hand_of.cache_clear()
    monkeypatch.setattr(hand, "EXTENDED", string_weights.UNREACHED)
    assert len({(note.lead.string, note.position) for note in _plan("violin", text, [None] * 8).bowed}) > 1
    hand.hand_of.cache_clear()


def test_a_finger_does_not_slide_and_half_position_has_to_save_something(monkeypatch: pytest.MonkeyPatch) -> None:
    """First position for b, c, d; without the weights the hand lies lower, the second finger twice."""
    text = "(b4:8 c5 d5 c5)"
    assert _fingers(_plan("violin", text, [None] * 4)) == [1, 2, 3, 2]
    (half,) = _plan("violin", "bb4:8", [None]).bowed
    assert (half.position, half.lead.finger) == (2, 1)
    hand.hand_of.cache_clear()
    monkeypatch.setattr(hand, "HALF_POSITION", 0.0)
    assert _plan("violin", "bb4:8", [None]).bowed[0].position == 1
    assert _fingers(_plan("violin", text, [None] * 4)) == [1, 2, 3, 2]
    monkeypatch.setattr(strings, "SLIDE", 0.0)
    assert _fingers(_plan("violin", text, [None] * 4)) == [2, 2, 3, 2]
    hand.hand_of.cache_clear()


def test_the_players_finger_wins_over_the_printed_one_and_can_be_left() -> None:
    """With the string, as the card sets both."""
    part = _fingered(part_of("a4:4 e5 d5 c5", "violin"), [None, 0, None, None])
    note = part.events[1].id
    mine = plan_part(part, preset("violin"), locks=[Lock(note, string=2, finger=4)])
    assert (mine.note[note].lead.string, mine.note[note].lead.finger) == (2, 4)
    left = plan_part(part, preset("violin"))
    assert (left.note[note].lead.string, left.note[note].lead.finger) == (3, 0)


def test_two_fingers_hold_a_double_stop_and_one_a_fifth() -> None:
    """A sixth takes two fingers, a fifth lies under one."""
    sixth, fifth = _plan("violin", "e5+g4:2 b4+e4", [None, None]).bowed
    assert len({voice.finger for voice in sixth.voices}) == 2
    assert len({voice.finger for voice in fifth.voices}) == 1


def test_every_place_within_the_frame_has_a_finger() -> None:
    """On all instruments, in all positions; beyond it at most one that is stretched."""
    for key in ("violin", "viola", "cello", "bass", "treble-viol", "bass-viol", "early-cello"):
        instrument = preset(key).instrument
        for position in range(1, 25):
            for above in range(position, position + instrument.frame(position) + 1):
                assert reaching(instrument, position, above), (key, position, above)
                assert fingers_for(instrument, position, [(above, 1)], [None]) != (None,)
