"""Every finding by its code: a small score that has it, and one like it that has not."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
import pytest

from pathway.core.guide.findings import SENTENCES
from pathway.core.physics.string import SoundingString
from pathway.core.planning import Lock, Passage, Plan, Settings, plan_part
from pathway.core.planning.finding import Code, Severity
from pathway.core.planning.findings.catalogue import CATALOGUE
from pathway.core.planning.note_plan import Onset
from pathway.core.planning.notes.joins import join_dips
from pathway.core.planning.notes.onsets import Sounds, onsets_of
from pathway.core.planning.wishes import Link
from pathway.core.rig import Rig, preset
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import OneBow, frequency
from pathway.core.technique.stroke_types import STROKE_TYPES, Start
from tests.helpers import HEADS, part_of, plan_of

DOWN = Direction.DOWN
SIXTEENTHS = " | ".join(["d4:16 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4"] * 2)
ONE_BOW = "[mf] " + " | ".join(["(d4:16. e4. f4. g4. a4. b4. c5. d5.) d5:2"] * 2)
RUNNING = (Passage("n1", "n8", kind="running-staccato"), Passage("n10", "n17", kind="running-staccato"))


@dataclass(frozen=True)
class Score:
    """A small score under some wishes."""

    text: str
    tempo: float = 80
    rig: str = "violin"
    locks: tuple[Lock, ...] = ()
    passages: tuple[Passage, ...] = ()
    change: Callable[[Rig], Rig] = field(default=lambda rig: rig)

    def plan(self) -> Plan:
        """Return its plan."""
        rig = self.change(preset(self.rig))
        part = part_of(self.text, self.rig if self.rig in HEADS else "violin")
        return plan_part(part, rig, Settings(self.tempo, passages=self.passages), self.locks)


def _bow(**numbers: float) -> Callable[[Rig], Rig]:
    return lambda rig: replace(rig, bow=replace(rig.bow, **numbers))


def _instrument(**numbers: float) -> Callable[[Rig], Rig]:
    return lambda rig: replace(rig, instrument=replace(rig.instrument, **numbers))


def _characters(step: float) -> tuple[Passage, Passage]:
    """Two passages of different character, the second so much louder."""
    return Passage("n1", "n4", character="broad"), Passage("n5", "n8", character="veiled", offset_db=step)


def _at_the_tip(rig: Rig) -> Rig:
    return replace(rig.with_hair(0.50, 0.64), torque_limit=0.3)


def _own_rate(rate: float) -> Callable[[Rig], Rig]:
    return lambda rig: replace(rig, staccato=(OneBow(rate), OneBow(rate)))


QUARTERS = "[mf] " + " | ".join(["d4:4 e4 f4 g4"] * 2)
CROWDED = (
    Lock("n3", start=0.60, end=0.63),
    *(Lock(f"n{i}", end=0.63 if i % 2 else 0.60, link=Link.CHANGE) for i in (4, 5, 6)),
)
HIGH = "[mf] e7:4 d7 e7 d7"
UP_HIGH = tuple(Lock(f"n{i}", string=2) for i in range(1, 5))
WEDGES = "[mf] d4:8! e4! f4! g4! a4! g4! f4! e4!"
TO_THE_TOP = tuple(Lock(f"n{i}", string=3) for i in range(2, 17, 2))
WITH_THE_HAND = tuple(
    Lock(f"n{i}", Direction.DOWN if i % 2 else Direction.UP, string=None if i % 2 else 2) for i in range(1, 17)
)
AGAINST_THE_HAND = tuple(replace(lock, direction=Direction(-int(lock.direction or 1))) for lock in WITH_THE_HAND)
THERE_AND_BACK = (Lock("n1", start=0.01, end=0.59), Lock("n3", end=0.01))
LOST_BEHIND = (
    Lock("n1", start=0.02, end=0.50),
    Lock("n2", link=Link.CHANGE, end=0.48),
    Lock("n3", link=Link.CHANGE),
)
ALTERNATING = tuple(
    Lock(f"n{3 * (i // 2) + (3 if i % 2 else 1)}", Direction((-1) ** i), link=Link.CHANGE if i else None)
    for i in range(8)
)  # of a slur of two notes and one alone, over and over
A_MINUTE = "[mf] " + " | ".join(["d4:4 e4 f4 g4"] * 20)
ACCENTS = "[{}] " + " | ".join(["d4:1> | e4:1>"] * 4)

DOTTED = "[mf] " + " | ".join(["d4:8d e4:16 f4:8d g4:16 a4:8d g4:16 f4:8d e4:16"] * 4)
FADES = "[f] " + " | ".join(["[>] d4:4d e4:8 [*] [f] [>] f4:4d g4:8 [*] [f]"] * 3)
LONG_BOWS = "[f] d4:1 | e4:1 | f4:1 | g4:1"
RETURNING = "[mf] d4:1 | e4:1 | {} | d4:1 | e4:1 | g4:1"

CASES = {
    "runs-out": (Score("[f] (d4:1 | e4:1) | f4:1", 60), Score("[f] (d4:1 | e4:1) | f4:1", 180)),
    "speed-spike": (
        Score("[f] " + " | ".join(["(d4:2d e4:8) f4:8"] * 4), locks=ALTERNATING),
        Score("[f] " + " | ".join(["d4:2 e4"] * 3)),
    ),
    "stuck": (Score(QUARTERS, locks=CROWDED), Score(QUARTERS)),
    "retake-no-time": (
        Score("[mf] " + SIXTEENTHS, 150, locks=(Lock("n7", link=Link.RETAKE),)),
        Score("[mf] d4:4 r e4 r", locks=(Lock("n3", link=Link.RETAKE),)),
    ),
    "repeat-seam": (
        Score("[mf] |: d4:4 e4 f4 g4 | a4:4 g4 f4 e4 :| d4:1", locks=(Lock("n1", DOWN), Lock("n8", DOWN))),
        Score("[mf] |: d4:4 e4 f4 g4 | a4:4 g4 f4 r :| d4:1", locks=(Lock("n1", DOWN), Lock("n7", DOWN))),
    ),
    "fade-literal": (
        Score(FADES, 70, locks=tuple(Lock(f"n{i}", link=Link.CHANGE) for i in range(2, 13, 2))),
        Score(FADES.replace("[>]", "[<]"), 70, locks=tuple(Lock(f"n{i}", link=Link.CHANGE) for i in range(2, 13, 2))),
    ),
    "pressed-through": (
        Score("[mf] d4:4! e4! f4! g4!", locks=(Lock("n2", force=2.85),)),
        Score("[mf] d4:4! e4! f4! g4!", locks=(Lock("n2", force=1.8),)),
    ),
    "chord-hard": (Score("[mf] ab3+g4+e5:2 d4"), Score("[mf] g3+d4+b4:2 d4")),
    "mixed-run": (Score(DOTTED, locks=(Lock("n6", link=Link.CHANGE),)), Score(DOTTED)),
    "returns-differ": (
        Score(RETURNING.format("f4:1"), 90),
        Score(RETURNING.format("f4:2 g4"), 90),
    ),
    "keep-back-short": (
        Score(LONG_BOWS, 60, passages=(Passage("n1", "n4", keep_back=0.55),)),
        Score(LONG_BOWS, 60, passages=(Passage("n1", "n4", keep_back=0.05),)),
    ),
    "level-short": (Score("[mf] {sautille} d4:4. e4. f4. g4.", 100), Score(QUARTERS)),
    "too-loud": (Score(QUARTERS.replace("mf", "pp"), locks=(Lock("n2", start=0.05, end=0.6),)), Score(QUARTERS)),
    "off-zone": (Score("[mf] d4:4! e4! f4! g4!", locks=(Lock("n2", end=0.05),)), Score("[mf] d4:4! e4! f4! g4!")),
    "uneven-accents": (Score(ACCENTS.format("f"), 60), Score(ACCENTS.format("p"), 140)),
    "string-imbalance": (
        Score("[ff] " + " | ".join(["(g3:1 | a3:1)"] * 5) + " | " + " | ".join(["d5:4 e5 d5 e5"] * 3), 60),
        Score("[mf] " + " | ".join(["g3:4 a3 g3 a3", "d5:4 e5 d5 e5"] * 3)),
    ),
    "too-fast-for-type": (Score(WEDGES, 170), Score(WEDGES, 110)),
    "rate-mismatch": (
        Score(ONE_BOW, 110, passages=RUNNING, change=_own_rate(10)),
        Score(ONE_BOW, 150, passages=RUNNING, change=_own_rate(10)),
    ),
    "bounce-place": (
        Score("[mf] {spiccato} " + SIXTEENTHS, 110, locks=tuple(Lock(f"n{i}", end=0.08) for i in range(1, 32, 3))),
        Score("[mf] {spiccato} " + SIXTEENTHS, 110),
    ),
    "bounce-height": (
        Score("[mf] {spiccato} " + SIXTEENTHS, 93, locks=tuple(Lock(f"n{i}", end=0.62) for i in range(1, 32, 3))),
        Score("[mf] {spiccato} " + SIXTEENTHS, 110),
    ),
    "wood-contact": (
        Score("[ff] a5:2 b5 | a5 b5", change=_bow(clearance=0.001)),
        Score("[ff] a5:2 b5 | a5 b5"),
    ),
    "hair-too-wide": (Score(HIGH, change=_bow(ribbon=0.016)), Score(HIGH)),
    "off-square-sensitive": (Score("[f] d4:1 | e4:1 | d4:1", 70), Score("[f] d4:2 e4 | d4 e4", 120)),
    "shift-heard": (
        Score("[mf] (a4:16 e6 a4 e6 f4 f6 g4 c6) d5:2", 140, locks=UP_HIGH),
        Score("[mf] (a4:16 b4 c5 d5 a4 b4 c5 d5) d5:2", 140),
    ),
    "heavy-hand": (
        Score(A_MINUTE, 60, change=_at_the_tip),
        Score("[mf] " + " | ".join(["g3:2 a3:2"] * 20), 60),
    ),
    "speaks-late": (
        Score("[mf] " + " | ".join(["e2:16 f2 g2 a2 e2 f2 g2 a2 e2 f2 g2 a2 e2 f2 g2 a2"] * 2), 140, "bass"),
        Score("[mf] e2:2 f2 | g2 a2", 80, "bass"),
    ),
    "buried-note": (
        Score("[mf] d4:2d e4:4 | f4:1", locks=LOST_BEHIND),
        Score("[mf] d4:2d e4:4 | f4:1"),
    ),
    "join-heard": (
        Score("[mf] (c2:2 d2) | (e2 f2) | g2:1", 170, "cello", THERE_AND_BACK),
        Score("[p] (c2:4 d2) (e2 f2) | g2:1", 120, "cello"),
    ),
    "crossing-fast": (
        Score("[mf] " + "g3:16 e5 " * 8, 100, locks=TO_THE_TOP),
        Score("[mf] " + "g3:16 e5 " * 8, 15, locks=TO_THE_TOP),
    ),
    "skip-no-time": (
        Score("[mf] " + "g3:16 e5 " * 8, 100, locks=TO_THE_TOP),
        Score("[mf] " + "g3:16 d4 " * 8, 100),
    ),
    "crossing-hard": (
        Score("[mf] " + "d4:16 b4 " * 8, 80, locks=AGAINST_THE_HAND),
        Score("[mf] " + "d4:16 b4 " * 8, 80, locks=WITH_THE_HAND),
    ),
    "angle-carried": (Score("[f] c2:8 a3:2d | a3:1", 60, "cello"), Score("[f] c2:4 a3:2d | a3:1", 60, "cello")),
    "voice-lost": (
        Score("[ff] (g3+e5:1 | g3+e5:1)", 48),
        Score("[mf] d4+b4:2 d4+b4"),
    ),
    "chord-out-of-reach": (Score("[mf] g3+a3+e4:2 d4"), Score("[mf] g3+d4+b4:2 d4")),
    "far-up": (
        Score("[mf] a4:4 b4 c5 d5 | b4:4 f5 d5 b4", locks=(Lock("n7", string=1),)),
        Score("[mf] a4:4 b4 c5 d5 | b4:4 f5 d5 b4"),
    ),
    "jump": (Score("[mf] " + "g3+d4:16 a4+e5 " * 8, 90), Score("[mf] " + "g3+d4:16 d4+a4 " * 8, 90)),
    "outside": (Score("[mf] g3:4 f3 g3 d4"), Score("[mf] g3:4 g3 g3 d4")),
    "airy": (Score(QUARTERS, locks=(Lock("n2", force=0.05),)), Score(QUARTERS)),
    "pressed": (Score(QUARTERS, locks=(Lock("n2", force=9.0),)), Score(QUARTERS)),
    "no-window": (Score(QUARTERS, change=_instrument(loss=5.0)), Score(QUARTERS, change=_instrument(loss=12.0))),
    "choked": (
        Score("[pp] g3:1 a3:1", 60, locks=(Lock("n1", force=0.2, lane=6),), change=_instrument(loss=400.0)),
        Score("[pp] g3:1 a3:1", 60, locks=(Lock("n1", force=0.8, lane=6),), change=_instrument(loss=400.0)),
    ),
    "contrast-thin": (Score(QUARTERS, passages=_characters(0.0)), Score(QUARTERS, passages=_characters(4.0))),
}  # fmt: skip


@pytest.mark.parametrize("code", CASES)
def test_a_finding_comes_where_it_should_and_not_where_it_should_not(code: str) -> None:
    """It names notes of the piece, says its bar, and carries its numbers."""
    having, lacking = (score.plan() for score in CASES[code])
    found = [finding for finding in having.findings if finding.code == code]
    assert found, [finding.code for finding in having.findings]
    assert set(found[0].notes) <= having.note.keys()
    assert found[0].text().startswith("Bar ")
    assert found[0].numbers
    assert code not in {finding.code for finding in lacking.findings}


def test_every_code_stands_in_the_catalogue_and_has_its_words_and_its_case() -> None:
    """With two ways to help, or a reason why there are fewer."""
    assert set(Code) == CATALOGUE.keys() == SENTENCES.keys() == CASES.keys()
    for code, row in CATALOGUE.items():
        assert len(row.makers) == len(set(row.makers))
        assert len(row.makers) >= 2, code


def test_a_start_too_light_for_its_string_chokes() -> None:
    """The wedge of clean starts is closed; on a ringing string, or caught, the note speaks all the same."""
    rig = preset("violin")
    string = SoundingString.of(rig.instrument, 0, 0)
    light = [string.impedance, 1, frequency(55), 0.2, 0.05, [[1.0]] * 3, 2.0, 0.1, 0.3, 1.0, 0.3, 0.98]
    sounds = Sounds(*(np.atleast_1d(value) for value in light))

    def onset(kind: str, *, ringing: bool) -> Onset:
        caught = STROKE_TYPES[kind].start is Start.CATCH
        return onsets_of(sounds, np.array([caught]), np.array([ringing]), rig).of(0)

    assert not onset("detache", ringing=False).clean
    assert onset("detache", ringing=True).clean
    assert onset("martele", ringing=False).clean
    assert onset("detache", ringing=False).speak > 3 * onset("detache", ringing=True).speak


def test_like_figures_are_told_once() -> None:
    """Eight bars with one trouble make one finding that names the others."""
    plan = Score("[f] " + " | ".join(["(d4:2d e4:4) | f4:1"] * 4), 54).plan()
    codes = [finding.code for finding in plan.findings if finding.code == "runs-out"]
    assert 1 <= len(codes) <= 3
    assert any("more bars" in finding.text() or "Also bar" in finding.text() for finding in plan.findings)


def test_a_mute_start_is_grave_only_where_it_is_asked_for() -> None:
    """Locked weight, or a catch: high; else the hand mends it, and nothing is said while the note has the time."""
    quiet = _instrument(loss=400.0)
    free = Score("[pp] g3:1 a3:1", 60, change=quiet).plan()
    assert "choked" not in {finding.code for finding in free.findings}
    asked = Score("[pp] g3:1 a3:1", 60, locks=(Lock("n1", force=0.2, lane=6),), change=quiet).plan()
    (choked,) = [finding for finding in asked.findings if finding.code == "choked"]
    assert choked.severity is Severity.HIGH


def test_a_beat_that_swells_by_its_speed_is_told() -> None:
    """Twice the speed of the note before, as loud as it; not where it is written louder."""
    locks = (Lock("n4", start=0.10, end=0.06), Lock("n5", end=0.60, link=Link.CHANGE))
    bulge = Score(QUARTERS, locks=locks).plan()
    (found,) = [f for f in bulge.findings if f.code == "speed-spike" and f.facts["how"] == "bulge"]
    assert found.notes == ("n5",)
    assert "bulge" in found.text()
    louder = QUARTERS.replace("| d4", "| [ff] d4")
    assert not any(f.facts.get("how") == "bulge" for f in Score(louder, locks=locks).plan().findings)


def test_a_ricochet_is_judged_by_the_throws_of_its_place() -> None:
    """Too slow for any throw there: found, with the rates that it gives."""
    locks = (Lock("n1", kind="ricochet"),)
    slow, fine = (Score("[mf] (d4:16. d4. d4. d4.) d4:2d", tempo, locks=locks).plan() for tempo in (60, 140))
    (found,) = [f for f in slow.findings if f.code == "rate-mismatch"]
    assert found.facts["how"] == "thrown"
    assert found.numbers["rate"] < found.numbers["low"] < found.numbers["high"]
    assert "rate-mismatch" not in {f.code for f in fine.findings}


def test_a_note_that_goes_slower_is_no_spike() -> None:
    """Faster than its own measure and its other neighbour, but slower than the note it follows."""
    text = "[ff] d4:4 [p] e4:4 [pp] f4:4 e4:4"
    plan = Score(text, 60, locks=(Lock("n1", start=0.02, end=0.64), Lock("n2", end=0.10))).plan()
    assert plan.notes[1].speed < plan.notes[0].speed
    assert "n2" not in {note for finding in plan.findings if finding.code == "speed-spike" for note in finding.notes}


def test_a_phrase_that_is_made_to_differ_is_left_in_peace() -> None:
    """The player turned it, or its model: nothing is said."""
    for lock in (Lock("n4", Direction.UP), Lock("n1", Direction.DOWN)):
        plan = Score(RETURNING.format("f4:1"), 90, locks=(lock,)).plan()
        assert plan.strokes[0].direction is not plan.strokes[3].direction
        assert "returns-differ" not in {finding.code for finding in plan.findings}


def test_a_bow_that_ends_lighter_dips_longer() -> None:
    """The join is judged by the force there, not by the steady one."""
    rig = preset("bass")
    string = SoundingString.of(rig.instrument, 0, 0)

    def dip(end: float) -> float:
        sounds = Sounds(
            *(np.atleast_1d(value) for value in (string.impedance, 1, frequency(28), 0.002, 3.0)),
            np.array([[1.0], [1.0], [end]]),
            *(np.atleast_1d(value) for value in (9.0, 0.1, 0.5, 2.0, 0.3, 0.9)),
        )
        return float(join_dips(sounds, np.ones(1), np.array([2.0]), rig)[0])

    assert dip(0.5) > 2 * dip(1.0)


def test_a_crossing_is_too_fast_from_what_a_hand_does() -> None:
    """Over a string, tempo by tempo: named where the hand would have to go faster than 2.2 m/s, not before."""
    speeds = set()
    for tempo in (60, 80, 100, 120, 140):
        plan = Score("[mf] " + "d4:16 e5 " * 8, tempo).plan()
        told = {f.notes[i + 1] for f in plan.findings if f.code == "crossing-fast" for i in range(0, len(f.notes), 2)}
        assert told == {crossing.to_note for crossing in plan.crossings if crossing.speed > 2.2}
        speeds |= {crossing.speed for crossing in plan.crossings}
    assert any(1.6 < speed < 2.2 for speed in speeds)
    assert any(speed > 2.2 for speed in speeds)


def test_a_few_hard_crossings_are_left_in_peace() -> None:
    """Six in a row are worth a word, five are not."""
    text, hard = "[mf] " + "d4:16 b4 " * 8, AGAINST_THE_HAND[:16]
    plan = Score(text, 80, locks=hard).plan()
    (told,) = [finding for finding in plan.findings if finding.code == "crossing-hard"]
    assert told.numbers["crossings"] >= 6
    for count, heard in ((6, False), (7, True)):
        plan = Score("[mf] " + "d4:16 b4 " * (count // 2) + "d4 " * (count % 2) + "r:16 " * (16 - count), 80,
                     locks=AGAINST_THE_HAND[:count]).plan()  # fmt: skip
        assert ("crossing-hard" in {finding.code for finding in plan.findings}) == heard


def test_one_bow_of_a_phrase_that_differs_is_left_in_peace(monkeypatch: pytest.MonkeyPatch) -> None:
    """Two in a row are told; where three were asked for they would not be."""
    score = Score(RETURNING.format("f4:1"), 90)
    (told,) = [finding for finding in score.plan().findings if finding.code == "returns-differ"]
    assert told.numbers["strokes"] == 2
    monkeypatch.setattr("pathway.core.planning.findings.owed.LEAST_TURNED", 3)
    assert "returns-differ" not in {finding.code for finding in score.plan().findings}


def test_a_low_string_takes_fewer_catches_than_the_manner_allows() -> None:
    """Three martelé strokes a second are too many for a cello's lowest string, and few for a violin's."""
    low, high = (
        plan_of("[f] " + f"{pitch}:8! " * 8, rig, tempo=100) for pitch, rig in (("c2", "cello"), ("g3", "violin"))
    )
    catches, few = ([f.facts["how"] for f in plan.findings if f.code == Code.TOO_FAST_FOR_TYPE] for plan in (low, high))
    assert (catches, few) == (["string, other"], [])


def test_from_one_string_to_two_is_no_jump() -> None:
    """However fast: only from two strings to two others has the bow to leave and find again."""
    one, two = ("[mf] " + f"{first}:16 a4+e5 " * 8 for first in ("g3", "g3+d4"))
    assert [Code.JUMP in {f.code for f in Score(text, 90).plan().findings} for text in (one, two)] == [False, True]
