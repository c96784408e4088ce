"""Every finding on a place made for it, and silence where nothing is wrong."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec import structs

from pathway.core.physics.string import CLOSEST, SoundingString, StringRow
from pathway.core.planning import Plan, plan_part
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.tone import LEVEL_SHORT
from pathway.core.planning.note_plan import Tone
from pathway.core.planning.notes.tone import TOO_LIGHT, Voices, tone_class, tone_of
from pathway.core.planning.validate import problems_in, problems_of
from pathway.core.planning.wishes import Link, Lock
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from tests.helpers import broken_rules_of, part_of, plan_of


def _found(plan: Plan, code: str) -> list[Finding]:
    return [finding for finding in plan.findings if finding.code == code]


@pytest.mark.parametrize("rig", ["violin", "viola", "cello", "bass"])
@pytest.mark.parametrize("level", ["p", "mf", "f"])
def test_ordinary_music_is_left_in_peace(rig: str, level: str) -> None:
    """Quarters and short slurs in the middle of the instrument: nothing to say."""
    octave = {"violin": 4, "viola": 4, "cello": 3, "bass": 3}[rig]
    bars = f"d{octave}:4 e{octave} (f{octave}:8 g{octave}) a{octave}:4"
    assert plan_of(f"[{level}] " + " | ".join([bars] * 4), rig).findings == ()


def test_a_long_bow_that_sounds_softer_says_by_how_much() -> None:
    """Between half the slowest speed and the slowest: medium, with the dB."""
    (finding,) = _found(plan_of("[f] d4:1~ | d4:2~ d4:4 r", tempo=76), "runs-out")
    assert finding.severity is Severity.MEDIUM
    assert -6 < finding.numbers["softer_db"] < -1
    assert f"{-finding.numbers['softer_db']:.0f} dB softer" in finding.text()


def test_a_long_note_and_a_short_one_alone_stick_out_or_are_linked() -> None:
    """Held against hooks and retakes by locks, the short note has to bark, and it is said."""
    text = "[f] " + " | ".join(["(d4:2d e4:8) f4:8"] * 4)
    free = plan_of(text)
    ways = (Direction.DOWN, Direction.UP)
    joined = (None, Link.CHANGE)
    locks = [Lock(s.id, ways[i % 2], link=joined[i > 0]) for i, s in enumerate(free.strokes)]
    forced = plan_of(text, locks=locks)
    short = {note for stroke in forced.strokes[1::2] for note in stroke.notes}
    spikes = {note for finding in _found(forced, "speed-spike") for note in finding.notes}
    assert spikes
    assert spikes <= short
    assert not _found(free, "speed-spike")
    assert any(stroke.entry in (Link.HOOK, Link.RETAKE) for stroke in free.strokes[1::2])


def test_a_retake_without_time_is_named() -> None:
    """Sixteenths locked all down at speed: the bow cannot come back."""
    text = "[mf] " + " | ".join(["d4:16 e4 f4 g4 d4 e4 f4 g4 d4 e4 f4 g4 d4 e4 f4 g4"] * 4)
    plan = plan_of(text, tempo=150)
    locked = plan_of(text, tempo=150, locks=[Lock(s.id, Direction.DOWN) for s in plan.strokes])
    assert {s.direction for s in locked.strokes} == {Direction.DOWN}
    assert broken_rules_of(locked) == []
    (late,) = _found(locked, "retake-no-time")
    assert late.severity is Severity.HIGH
    assert late.numbers["missing_s"] > 0.3
    assert all(locked.stroke[note].entry is Link.RETAKE for note in late.notes)


def test_findings_come_worst_first() -> None:
    """High before medium before low, then in the order of the music."""
    plan = plan_of("[f] d4:1~ | d4:2~ d4:4 r | " + " | ".join(["e4:1~"] * 6) + " | e4:1", tempo=60)
    ranks = [list(Severity).index(f.severity) for f in plan.findings]
    assert ranks == sorted(ranks)
    assert plan.findings[0].severity is Severity.HIGH


def _voice(speed: float, level: float, hair: float = 0.3, string: int = 0, factor: float = 1.0) -> Voices:
    rig = preset("violin")
    return Voices(
        StringRow.of([SoundingString.of(rig.instrument, string, 0)]), np.array([string]), np.array([speed]),
        np.array([factor]), np.array([level]), np.full((3, 1), hair), np.zeros((3, 1)), np.ones((3, 1)),
        np.array([[CLOSEST, 0.177]]), np.full(1, np.nan), np.zeros(1, bool),
    )  # fmt: skip


def test_the_place_follows_speed_and_level() -> None:
    """Faster is further out, louder is closer; the level is met where the place is not at its limit."""
    rig = preset("violin")
    slow, fast, loud = (tone_of(_voice(v, db), rig) for v, db in ((0.2, 0), (0.4, 0), (0.3, 4)))
    assert slow.contact[0] < fast.contact[0]
    assert loud.level_db[0] == pytest.approx(4)
    assert tone_of(_voice(0.05, 4), rig).level_db[0] < 4 + LEVEL_SHORT


@given(st.floats(0.05, 0.9), st.floats(0.036, 0.17), st.floats(0.036, 0.17))
def test_a_closer_lane_never_softens(speed: float, one: float, other: float) -> None:
    """At one speed, with the place fixed as a lane fixes it."""
    rig = preset("violin")
    close, far = (
        tone_of(replace(_voice(speed, 0.0), ranges=np.array([[beta, beta]])), rig) for beta in sorted((one, other))
    )
    assert close.level_db[0] >= far.level_db[0] - 1e-9


def test_force_never_passes_comfort_or_the_hands_limit() -> None:
    """Near the tip the hand's moment is the limit, near the frog the player's comfort."""
    rig = replace(preset("violin"), torque_limit=0.2)
    tip = tone_of(_voice(0.8, 8, hair=0.63), rig)
    assert tip.force[0] <= (0.2 + 0.98 * 0.06 * 9.81 * 0.22) / 0.65 + 1e-9
    assert tone_of(_voice(0.8, 8, hair=0.05), rig).force[0] <= rig.instrument.comfort_force


def test_a_weak_hand_moves_outward_and_loses_level() -> None:
    """Where the most force would be too light the place gives way until it is not."""
    rig = replace(preset("violin"), torque_limit=0.02)
    found = tone_of(_voice(0.45, 8, hair=0.63), rig)
    plain = tone_of(_voice(0.45, 8, hair=0.63), preset("violin"))
    assert found.contact[0] >= plain.contact[0]
    assert found.place[0] >= TOO_LIGHT - 0.01 or found.level_db[0] < 8


def test_the_place_gives_way_to_the_lightest_moment_of_a_note() -> None:
    """A bow that travels to the tip lies where it would if it were there all the time."""
    rig = replace(preset("violin"), torque_limit=0.02)
    travelling = replace(_voice(0.45, 8), hair=np.array([[0.05], [0.34], [0.63]]))
    assert tone_of(travelling, rig).contact == pytest.approx(tone_of(_voice(0.45, 8, hair=0.63), rig).contact)
    assert tone_of(travelling, rig).contact[0] > tone_of(_voice(0.45, 8, hair=0.34), rig).contact[0]


def test_a_type_with_a_speed_factor_keeps_its_place() -> None:
    """Martelé at 1.6 times the speed lies where the plain stroke does: the rest is attack."""
    rig = preset("violin")
    plain, sharp = tone_of(_voice(0.27, 0), rig), tone_of(_voice(0.27 * 1.6, 0, factor=1.6), rig)
    assert sharp.contact[0] == pytest.approx(plain.contact[0])
    assert sharp.level_db[0] == pytest.approx(plain.level_db[0])


def test_plain_tone_is_neither_dark_nor_bright() -> None:
    """Brightness is told against a plain mezzo-forte on the same open string."""
    assert tone_of(_voice(0.27, 0, string=2), preset("violin")).brightness[0] == pytest.approx(0, abs=1e-6)


def test_crossings_know_time_travel_and_sense(small_plan: Plan) -> None:
    """Each joins neighbouring notes on different strings; its angle grows with skips."""
    order = [note.id for note in small_plan.bowed]
    assert small_plan.crossings
    for crossing in small_plan.crossings:
        assert order.index(crossing.to_note) == order.index(crossing.from_note) + 1
        assert crossing.from_string != crossing.to_string
        assert crossing.skips == abs(crossing.to_string - crossing.from_string) - 1
        assert crossing.time > 0
    free = plan_of("[mf] e4:16 b4 e4 b4 e4 b4 e4 b4 e4:2", tempo=100).crossings
    held = plan_of("[mf] ve4:16 nb4 ve4 nb4 e4 b4 e4 b4 e4:2", tempo=100).crossings
    assert {c.sense for c in free} == {"easy"}
    assert [c.sense for c in held[:3]] == ["hard"] * 3


def test_totals_add_up(small_plan: Plan) -> None:
    """Hair of the bars is hair of the strokes; net movement is what is left between first and last place."""
    totals = small_plan.totals
    assert sum(hair for _, hair, _ in totals.per_measure) == pytest.approx(totals.hair)
    assert totals.hair == pytest.approx(sum(s.length for s in small_plan.strokes))
    assert set(totals.by_string_db) == {n.lead.string for n in small_plan.bowed}


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"direction": Direction.UP}, "does not move as its direction says"),
        ({"start": -0.05}, "leaves the hair"),
        ({"end": 0.9}, "leaves the hair"),
        ({"notes": ("n1", "zz")}, "not there"),
    ],
)
def test_each_rule_of_strokes_is_seen_when_broken(small_plan: Plan, change: dict[str, object], said: str) -> None:
    """The first stroke goes down; spoil it in one way at a time."""
    assert small_plan.strokes[0].direction is Direction.DOWN
    strokes = [structs.replace(small_plan.strokes[0], **change), *small_plan.strokes[1:]]  # type: ignore[arg-type]
    assert any(said in p for p in problems_in(strokes, small_plan.notes, 0.65, {}))


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"sounding": 0.0}, "no time"),
        ({"sounding": 9.0}, "still sounds"),
        ({"stroke": None}, "not there"),
        ({"speed": 3.0}, "speed × time"),
        ({"lane": 7}, "no lane"),
        ({"contact": 0.2}, "β"),
        ({"voices": ()}, "one leading voice"),
    ],
)
def test_each_rule_of_notes_is_seen_when_broken(small_plan: Plan, change: dict[str, object], said: str) -> None:
    """Spoil the first note in one way at a time."""
    notes = [structs.replace(small_plan.notes[0], **change), *small_plan.notes[1:]]  # type: ignore[arg-type]
    assert any(said in p for p in problems_in(small_plan.strokes, notes, 0.65, {}))


def test_a_plan_is_held_against_its_part_and_its_strings(small_plan: Plan) -> None:
    """A printed sign that it goes against, a roll too far, notes without a stroke, and a note that none names."""
    plan = plan_of("[mf] nd4:4 e4 f#4 g4 | a4:1")
    assert problems_of(plan) == []
    path, crossed = plan.path, plan.crossed
    turned = replace(plan, path=replace(path, directions=-path.directions, starts=path.ends, ends=path.starts))
    assert any("against the printed sign at bar 1" in p for p in problems_of(turned))
    there = crossed.columns.there
    assert there.any()
    rolled = replace(crossed.columns, rolls=there, shift=np.where(there, 0.3, 0.0))
    assert any("lies off where" in p for p in problems_of(replace(plan, crossed=replace(crossed, columns=rolled))))
    event = plan.part.events[-1]
    longer = replace(plan.part, events=(*plan.part.events, replace(event, id="n9", onset=event.end)))
    more = replace(plan, draft=replace(plan.draft, part=longer))
    assert any("no stroke" in p for p in problems_of(more))
    assert any("no stroke" in p for p in problems_in(small_plan.strokes[:-1], small_plan.notes, 0.65, {}))


def test_links_must_be_what_they_are_called(small_plan: Plan) -> None:
    """A change that goes on, a hook that turns, a joint that does not meet."""
    first, second, *rest = small_plan.strokes
    hooked = structs.replace(second, entry=Link.HOOK)
    assert any("hook and turns" in p for p in problems_in([first, hooked, *rest], small_plan.notes, 0.65, {}))
    moved = structs.replace(second, start=second.start + 0.05)
    assert any("does not start where" in p for p in problems_in([first, moved, *rest], small_plan.notes, 0.65, {}))


def test_tone_classes_have_their_borders() -> None:
    """Airy under .08, pressed over .92."""
    assert [tone_class(q) for q in (0.05, 0.5, 0.95)] == [Tone.AIRY, Tone.CORE, Tone.PRESSED]


def _heavy(*spans: tuple[str, int]) -> Finding | None:
    """Return what is said of the hand over so many bars of four seconds in each dynamic."""
    bars = [f"[{mark}] d5:2 e5" if n == 0 else "d5:2 e5" for mark, count in spans for n in range(count)]
    plan = plan_part(part_of(" | ".join(bars), tempo="60"), replace(preset("violin"), torque_limit=0.6))
    return next((finding for finding in plan.findings if finding.code is Code.HEAVY_HAND), None)


def test_a_hand_is_strained_by_more_than_half_of_a_minute() -> None:
    """Forty seconds are told with a short rest between them, and not with a minute of rest."""
    assert _heavy(("ff", 5), ("pp", 16), ("ff", 5)) is None
    told = _heavy(("ff", 5), ("pp", 3), ("ff", 5))
    assert told is not None
    assert told.numbers["lasts_s"] == pytest.approx(32)  # as soon as it is more than thirty


def test_the_strain_is_told_at_a_note_of_its_minute() -> None:
    """Not at one as heavy a minute before."""
    told = _heavy(("fff", 2), ("pp", 16), ("ff", 10))
    assert told is not None
    assert told.bar == "19"
