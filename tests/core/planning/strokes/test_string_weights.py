"""Every weight of the string choice decides something by itself: a line that lies otherwise when it is taken out."""

from collections.abc import Iterator
from dataclasses import dataclass

import pytest

from pathway.core.planning import Passage, Settings, plan_part
from pathway.core.planning.strokes import hand, string_weights, strings
from pathway.core.planning.weights import Weight
from pathway.core.planning.wishes import Vibrato
from pathway.core.rig import preset
from tests.core.planning.strokes.test_figures import lies
from tests.helpers import part_of


@dataclass(frozen=True)
class Case:
    """A line, the strings it lies on, and those without the weight."""

    rig: str
    text: str
    tempo: int
    lies: str
    otherwise: str
    out: float = 0.0  # what takes the weight out

    def strings(self) -> str:
        """Return on which strings the line lies."""
        return lies(self.rig, self.text, tempo=str(self.tempo))


CASES = {
    "SHIFT": Case("cello", "d4:4 a4 c5", 50, "D A A", "A A A"),
    "SHIFT_SEMITONE": Case("cello", "d4:4 a4 c5", 50, "D A A", "A A A"),
    "EASY_SHIFT": Case("viola", "b4:8 a4 g5 g5 e5", 90, "A A A A A", "D A A A A", out=1.0),
    "LONG_GAP": Case("violin", "e6:8 e6 r:16 a5:8", 50, "E E E", "E E A", out=9.0),
    "HEARD_SHIFT": Case("violin", "(c#5:16 c#6 e6)", 140, "D E E", "A E E", out=1.0),
    "QUICK": Case("violin", "(c#5:16 c#6 e6)", 140, "D E E", "A E E", out=0.001),
    "CROSSING": Case("cello", "a4:4 d4 a3", 140, "A A A", "A D A"),
    "FURTHER": Case("cello", "ab3:8 ab2 e2", 140, "D G C", "D C C"),
    "OVER_IN_SLUR": Case("cello", "(e4:8 eb4 eb3)", 140, "A A D", "A A G"),
    "IN_SLUR": Case("bass", "(g4:8 d4 c#4 b3 e4)", 140, "G G G G G", "G D D D G"),
    "IN_STEP": Case("viola", "(d3:8 g3 f3 f4)", 90, "C C C D", "C G C D"),
    "STEP": Case("viola", "(d3:8 g3 f3 f4)", 90, "C C C D", "C G C D"),
    "QUICK_STEP": Case("violin", "b3:16 c4 d4 c4 b3 c4", 110, "G G G G G G", "G G D G G G", out=0.001),
    "SUNG": Case("bass", "(g3:2 c4 g4)", 90, "G G G", "D G G"),
    "SUNG_FROM": Case("bass", "(g3:2 c4 g4)", 90, "G G G", "G D G", out=99.0),
    "SUNG_REACH": Case("violin", "(d4:4 e5)", 60, "D A", "D D", out=99.0),
    "SUNG_SHIFT": Case("violin", "(c4:2 g4 g4 d4)", 60, "G G G G", "G D D D", out=1.0),
    "HEIGHT": Case("cello", "a4:4 d4 a3", 140, "A A A", "A D A"),
    "PAIR_SHIFT": Case("violin", "f4+e4:4 e4+c5 a5+b5 b5", 90, "GD GD AE E", "GD DA AE E", out=1.0),
    "THICK": Case("cello", "a4:4 d4 a3", 140, "A A A", "A D A"),
    "THICK_FROM": Case("cello", "a4:4 d4 a3", 140, "A A A", "A D A", out=99.0),
    "REACH": Case("cello", "a4:4 d4 a3", 140, "A A A", "A D A"),
    "STOPPED": Case("violin", "eb5:2 e5 a4", 50, "A E A", "A A A"),
    "OPEN_SINGING": Case("bass", "(g3:8 f#3 d3)", 50, "D D A", "G D D"),
    "SINGING_FROM": Case("bass", "(g3:8 f#3 d3)", 50, "D D A", "G D D", out=99.0),
    "UNREACHED": Case("cello", "d4:4 a4 c5", 50, "D A A", "A A A"),
    "LEFT_OUT": Case("violin", "a3+g5:4 b3+a5", 80, "GD GD", "E E"),
}


def _forget() -> None:
    for learnt in (hand.hand_of, strings.crossing_costs):
        learnt.cache_clear()


@pytest.fixture(autouse=True)
def _forgotten() -> Iterator[None]:
    """What is learnt of an instrument with other weights is forgotten."""
    yield
    _forget()


@pytest.mark.parametrize("name", CASES)
def test_a_weight_decides(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """With it one way, without it another."""
    case = CASES[name]
    assert case.strings() == case.lies
    for room in (hand, strings):
        if hasattr(room, name):
            monkeypatch.setattr(room, name, case.out)
    _forget()
    assert case.strings() == case.otherwise


def test_a_passage_keeps_its_string_where_it_can(monkeypatch: pytest.MonkeyPatch) -> None:
    """Wished for, not forced: without the weight the line lies where it would by itself."""
    part = part_of("[mf] a4:4 b4 c5 d5")

    def strings_of() -> list[int]:
        plan = plan_part(part, preset("violin"), Settings(passages=(Passage("n1", "n4", string=1),)))
        return [note.lead.string for note in plan.notes]

    assert strings_of() == [1, 1, 1, 1]
    monkeypatch.setattr(strings, "AGAINST_WISH", 0.0)
    assert strings_of() == [2, 2, 2, 2]


def test_a_note_with_vibrato_is_stopped(monkeypatch: pytest.MonkeyPatch) -> None:
    """Wished for by its passage; without the weight it lies open."""
    part = part_of("[mf] g4:4 a4 b4 a4")

    def strings_of() -> list[int]:
        passage = Passage("n1", "n4", vibrato=Vibrato.NARROW)
        return [note.lead.string for note in plan_part(part, preset("violin"), Settings(passages=(passage,))).notes]

    assert strings_of()[1::2] == [1, 1]
    monkeypatch.setattr(strings, "OPEN_SHAKEN", 0.0)
    assert 2 in strings_of()[1::2]


def test_no_weight_is_left_out() -> None:
    """Every number of the table is among them."""
    every = {name for name, value in vars(string_weights).items() if isinstance(value, Weight)}
    fingered = {
        "AGAINST_FINGER",
        "EXTENDED",
        "FINGER_HOLDS",
        "HALF_POSITION",
        "HOLDS_TO",
        "SLIDE",
    }  # in test_fingerings
    assert every == {*CASES, *fingered, "AGAINST_WISH", "OPEN_SHAKEN"}
