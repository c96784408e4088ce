"""What a fine teacher would expect of a plan, each in a small score of its own."""

from itertools import pairwise

import numpy as np
import pytest

from pathway.core.planning import Passage, Plan, Settings, Style, plan_part
from pathway.core.planning.finding import Finding
from pathway.core.planning.wishes import Link, Lock
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from tests.helpers import directions, part_of, plan_of


def _codes(plan: Plan) -> set[str]:
    return {finding.code for finding in plan.findings}


def _found(plan: Plan, code: str) -> list[Finding]:
    return [finding for finding in plan.findings if finding.code == code]


def _middles(plan: Plan) -> np.ndarray:
    return (plan.path.starts + plan.path.ends) / 2


def test_even_quarters_stay_in_the_middle() -> None:
    """Sixteen alike: about the middle of the bow, one as long as the other."""
    plan = plan_of("[mf] " + " | ".join(["d4:4 e4 f4 g4"] * 4))
    lengths = plan.path.lengths
    assert np.abs(_middles(plan) - 0.33).max() < 0.06
    assert lengths.max() / lengths.min() < 1.05
    assert directions(plan) == "nv" * 8


@pytest.mark.parametrize(
    ("bar", "meter"), [("(d4:8 e4 f4 g4 a4 b4 c5) d5", "4/4"), ("(d4:16 e4 f4 g4) (a4:16 b4 c5 d5) c5:16", "9/16")]
)
def test_a_remainder_is_brought_back(bar: str, meter: str) -> None:
    """Uneven strokes over and over: what a bar takes is brought back in it, or in the next one."""
    plan = plan_of("[mf] " + " | ".join([bar] * 8), meter=meter)
    nets = [net for _, _, net in plan.totals.per_measure][1:-1]
    assert min(max(map(abs, nets)), max(abs(one + other) for one, other in pairwise(nets))) < 0.01
    assert not [f for f in plan.findings if f.severity.value == "high"]


def test_long_and_short_pairs_never_bark_unsaid() -> None:
    """Linked in one direction, or balanced; a short one that has to hurry is a finding."""
    plan = plan_of("[mf] " + " | ".join(["d4:4d e4:8 f4:4d g4:8"] * 4))
    spikes = {id_ for f in _found(plan, "speed-spike") for id_ in f.notes}
    for before, stroke in zip(plan.strokes, plan.strokes[1:], strict=False):
        ratio = plan.note[stroke.id].speed / plan.note[before.id].speed
        assert stroke.entry is Link.HOOK or ratio < 1.6 or stroke.id in spikes


def test_a_slow_forte_goes_to_the_bridge_and_a_soft_tasto_away_from_it() -> None:
    """The same whole note: nearer and heavier; then faster, lighter, further out."""
    loud = plan_of("[f] d4:1 | d4:1").bowed[0]
    soft = plan_of("[p] {sul_tasto} d4:1 | d4:1").bowed[0]
    plain = plan_of("[p] d4:1 | d4:1").bowed[0]
    assert loud.contact < plain.contact < soft.contact
    assert loud.force > plain.force > soft.force
    assert soft.speed > plain.speed


def test_the_same_slur_at_half_the_tempo_runs_out() -> None:
    """And the finding says from which tempo it fits; planned there it does."""
    text = "[mf] (d4:4 e4 f4 g4) | (a4:4 g4 f4 e4)"
    assert "runs-out" not in _codes(plan_of(text, tempo=104))
    assert "runs-out" not in _codes(plan_of(text, tempo=52))  # saved on the way, but level and tone hold
    (finding,) = _found(plan_of(text, tempo=30), "runs-out")
    fits = finding.numbers["fits_from_bpm"]
    assert 30 < fits < 104
    assert f"from {fits:.0f} a minute" in finding.text()
    assert "runs-out" not in _codes(plan_of(text, tempo=1.03 * fits))


def test_growing_goes_up_and_fading_down_when_the_bow_is_free() -> None:
    """Long slurs under hairpins on weak places, both ways."""
    grow = plan_of("[p] d4:4 r:2 [<] (e4:4 | f4:4 g4 a4 b4) | [*] [f] c5:1")
    assert grow.strokes[1].direction is Direction.UP


def test_a_mute_only_takes_level_away() -> None:
    """Five decibels less from its words to its end, and no other strokes."""
    muted = plan_of("[mf] d4:4 e4 f4 g4 | {con_sord.} d4 e4 f4 g4 | {senza_sord.} d4 e4 f4 g4")
    plain = plan_of("[mf] d4:4 e4 f4 g4 | d4 e4 f4 g4 | d4 e4 f4 g4")
    assert [n.target_db for n in muted.notes] == [0.0] * 4 + [-5.0] * 4 + [0.0] * 4
    assert directions(muted) == directions(plain)


def test_a_fermata_is_a_longer_note() -> None:
    """It asks for more hair or time; what comes after waits."""
    held = part_of("[mf] d4:4 e4 f4 g4 | a4:1")
    from dataclasses import replace

    from pathway.core.music import Stretch

    event = held.events[1]
    longer = replace(held, stretches=(Stretch(event.onset, event.end, 1.6),))
    plain, waits = (plan_part(part, preset("violin")) for part in (held, longer))
    assert waits.notes[1].duration == pytest.approx(1.6 * plain.notes[1].duration)
    assert waits.notes[2].onset > plain.notes[2].onset
    assert waits.strokes[1].length > plain.strokes[1].length


def test_accents_lie_nearer_the_frog_when_free() -> None:
    """The same notes with and without."""
    plain = plan_of("[f] " + " | ".join(["d4:4 r e4 r"] * 4))
    accents = plan_of("[f] " + " | ".join(["d4:4> r e4> r"] * 4))
    assert _middles(accents).mean() < _middles(plain).mean() - 0.01


def test_equal_accents_take_different_hands() -> None:
    """Down near the frog the hand takes weight off, up near the tip it adds; the levels agree."""
    plan = plan_of("[f] " + " | ".join(["d4:1> | e4:1>"] * 3), tempo=100)
    downs = [n for n in plan.bowed if plan.stroke[n.stroke or ""].direction is Direction.DOWN]
    ups = [n for n in plan.bowed if plan.stroke[n.stroke or ""].direction is Direction.UP]
    assert max(n.torque_at[0] for n in downs) < min(n.torque_at[0] for n in ups)
    levels = [n.level_db for n in plan.bowed]
    assert max(levels) - min(levels) < 2.0


def test_a_high_note_on_the_thick_string_is_bowed_closer_in_proportion() -> None:
    """An octave up on one string: half the string, half the distance."""
    low, high = (
        plan_part(part_of(f"[mf] {{sul_G}} {pitch}:2 {pitch}:2"), preset("violin")).bowed[0] for pitch in ("a3", "a4")
    )
    assert (low.lead.string, high.lead.string) == (0, 0)
    assert high.contact / low.contact == pytest.approx(high.lead.vibrating / low.lead.vibrating, rel=0.15)


def test_sixteenths_off_the_string_move_up_the_bow_until_they_tremble() -> None:
    """Further out with the tempo; then the stick's own rate; then too fast, with what else to play."""
    text = "[mf] {spiccato} " + " | ".join(["d4:16 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4 d4"] * 2)
    slow, quick, springing, wild = (plan_of(text, tempo=t) for t in (92, 132, 170, 240))
    assert [p.strokes[4].kind for p in (slow, quick, springing)] == ["spiccato", "spiccato", "sautille"]
    places = [float(np.median(_middles(plan))) for plan in (slow, quick)]
    assert places[0] < places[1]
    assert not {"too-fast-for-type", "bounce-place", "bounce-height"} & _codes(quick)
    (finding,) = _found(wild, "too-fast-for-type")
    assert "Play" in finding.text()


def test_martele_too_fast_for_catching_is_said_and_softened() -> None:
    """Six wedges a second: the finding names the soft form, which works."""
    text = "[mf] " + " | ".join(["d4:8! e4! f4! g4! a4! g4! f4! e4!"] * 2)
    assert "too-fast-for-type" not in _codes(plan_of(text, tempo=120))
    (finding,) = _found(plan_of(text, tempo=170), "too-fast-for-type")
    assert "soft martelé" in finding.text()


def test_a_viol_dance_pushes_on_strong_beats_and_stays_on_the_string() -> None:
    """The strong bow of an underhand hold goes to the frog; its words are push and pull."""
    rig = preset("treble-viol")
    plan = plan_part(part_of(" | ".join(["a4:4 b4 d5"] * 6), meter="3/4"), rig, Settings(style=Style.EARLY))
    firsts = [plan.strokes[3 * bar].direction for bar in range(6)]
    assert firsts == [Direction.UP] * 6
    assert (rig.word(Direction.UP), rig.word(Direction.DOWN)) == ("push", "pull")
    assert not rig.lifts_to_cross
    assert not [s for s in plan.strokes if s.entry is Link.RETAKE]


def test_early_style_weakens_the_weak_bow_and_swells() -> None:
    """Two decibels less in the weak direction; every stroke opens and closes softly."""
    plan = plan_part(
        part_of("[mf] " + " | ".join(["d4:4 e4 f4"] * 3), meter="3/4"),
        preset("early-violin"),
        Settings(style=Style.EARLY),
    )
    for stroke in plan.strokes:
        note = plan.note[stroke.id]
        assert note.target_db == (0.0 if stroke.direction is Direction.DOWN else -2.0)
        assert max(note.speed_ends) < note.speed


def test_like_bars_are_bowed_alike() -> None:
    """A figure that could go either way goes one way throughout."""
    plan = plan_of("[mf] " + " | ".join(["d4:4 (e4:8 f4) g4:4 a4", "b4:4 a4 g4 f4"] * 3))
    words = directions(plan)
    assert words[:8] == words[8:16] == words[16:24]


def test_repeats_are_looked_at_where_they_go_back() -> None:
    """A section that would end on the bow it begins with is told, unless a rest gives time."""
    locks = [Lock("n1", Direction.DOWN), Lock("n8", Direction.DOWN)]
    part = part_of("[mf] |: d4:4 e4 f4 g4 | a4:4 g4 f4 e4 :| d4:1")
    assert len(part.repeats) == 1
    plan = plan_part(part, preset("violin"), locks=locks)
    assert "repeat-seam" in _codes(plan)
    assert "repeat-seam" not in _codes(plan_part(part, preset("violin")))


def test_hair_is_kept_back_where_it_is_asked_for() -> None:
    """A passage that must leave twenty-five centimetres ahead."""
    part = part_of("[f] (d4:2 e4) | f4:1 | (g4:2 a4) | b4:1")
    plain = plan_part(part, preset("violin"))
    kept = plan_part(part, preset("violin"), Settings(passages=(Passage("n1", "n3", keep_back=0.30),)))

    def ahead(plan: Plan) -> float:
        stroke = plan.stroke[plan.note["n3"].stroke or ""]
        return 0.64 - stroke.end if stroke.direction is Direction.DOWN else stroke.end - 0.01

    assert ahead(kept) > ahead(plain) + 0.05
