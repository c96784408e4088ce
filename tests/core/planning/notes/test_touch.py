"""The touch of a note: colour, role and vibrato, tilt, loaded starts, landings out of the air."""

import math
from dataclasses import replace

import pytest

from pathway.core.planning import Lock, Passage, Plan, Settings, plan_part, replan
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.wishes import Colour, Link, Profile, Role, Vibrato
from pathway.core.rig import preset
from pathway.core.technique.tilts import habitual_tilt
from tests.helpers import part_of, plan_of

SPICCATO = "[mf] {spiccato} " + "d4:16 e4 f4 g4 a4 g4 f4 e4 " * 2
LONG = "[mf] d4:2 e4 | f4 g4"


def _asked(text: str = LONG, rig: str = "violin", tempo: float = 70, **wishes: object) -> Plan:
    """The plan of a text that is one passage with some wishes."""
    part = part_of(text, rig)
    passage = Passage("n1", part.events[-1].id, **wishes)  # type: ignore[arg-type]
    return plan_part(part, preset(rig), Settings(tempo, passages=(passage,)))


@pytest.mark.parametrize("rig", ["violin", "cello"])
def test_colour_moves_speed_place_and_weight_together(rig: str) -> None:
    """Soft: faster, further out, lower in the window; focused the other way round; the level stays."""
    text = LONG.replace("4", "3") if rig == "cello" else LONG
    soft, plain, firm = (_asked(text, rig, colour=colour).notes[1] for colour in Colour)
    assert soft.speed > plain.speed > firm.speed
    assert soft.contact > plain.contact > firm.contact
    assert soft.lead.place < plain.lead.place < firm.lead.place
    assert soft.tilt > plain.tilt > firm.tilt
    assert {round(note.level_db, 1) for note in (soft, plain, firm)} == {0.0}


def test_colour_turns_all_of_them_inside_one_note() -> None:
    """From soft to focused: it ends slower, closer, heavier and flatter than it begins, at one level."""
    part = part_of("[mf] d4:1 | e4:1")
    passage = Passage("n1", "n1", colour=Colour.SOFT, colour_end=Colour.FOCUSED)
    note = plan_part(part, preset("violin"), Settings(80, passages=(passage,))).notes[0]
    assert note.speed_ends[0] > 1.2 * note.speed_ends[1]
    assert note.contact_ends[0] > 1.2 * note.contact_ends[1]
    assert note.force_at[2] > 1.2 * note.force_at[0]
    assert note.tilt > note.tilt_end + math.radians(10)
    assert note.level_at == pytest.approx((note.level_db,) * 3, abs=0.1)
    plain = plan_of("[mf] d4:1 | e4:1", tempo=80).notes[0]
    assert plain.contact_ends == pytest.approx((plain.contact, plain.contact))


def test_a_role_moves_level_and_place() -> None:
    """Who leads is two decibels over the page, who blends two under it and further out."""
    leads, plain, blends = (_asked(role=role).notes[1] for role in (Role.LEADS, None, Role.BLENDS))
    assert [note.target_db for note in (leads, plain, blends)] == [2.0, 0.0, -2.0]
    assert blends.contact > plain.contact > leads.contact


def test_vibrato_wished_for_stops_an_open_string() -> None:
    """Wide, narrow or with the accent: not on an open string; none, or no wish: open as before."""
    part = part_of("[mf] g4:4 a4 b4 a4")
    plan = plan_part(part, preset("violin"))
    assert plan.notes[1].lead.midi == plan.rig.instrument.strings[plan.notes[1].lead.string].midi
    for wish in Vibrato:
        note = replan(plan, [Lock("n2", vibrato=wish)]).notes[1]
        is_open = note.lead.midi == plan.rig.instrument.strings[note.lead.string].midi
        assert is_open == (wish is Vibrato.NONE)
        assert note.vibrato is wish
    assert _asked("[mf] g4:4 a4 b4 a4", vibrato=Vibrato.WIDE).notes[3].lead.string == 1


def test_tilt_follows_level_lane_place_and_length() -> None:
    """Flatter when loud, flatter close to the bridge, more at a turn near the hand and in short quick strokes."""
    soft, plain, loud = (habitual_tilt(15.0, 0.0, level, 0.0) for level in (-9.0, 0.0, 8.0))
    assert soft > plain > loud
    near = plan_of("[mf] d4:4 e4 f4 g4", locks=[Lock("n2", end=0.06), Lock("n3", start=0.06)]).notes
    assert math.degrees(near[1].tilt_end - near[1].tilt) == pytest.approx(10, abs=0.5)
    assert math.degrees(near[2].tilt - near[2].tilt_end) == pytest.approx(10, abs=0.5)
    slow, quick = (plan_of("[mf] " + "d4:16 e4 f4 g4 " * 4, tempo=tempo).notes[5].tilt for tempo in (80, 120))
    assert math.degrees(quick - slow) == pytest.approx(5, abs=0.5)
    close, far = (plan_of(LONG, locks=[Lock("n2", lane=lane)]).notes[1].tilt for lane in (6, 3))
    assert math.degrees(far - close) == pytest.approx(8, abs=0.5)


def test_a_caught_start_is_loaded_and_let_go() -> None:
    """One and a half to twice the note's weight rests before it; half is gone when 1.5/(β f) has passed."""
    note = plan_of("[mf] d4:4! e4! f4! g4!").notes[1]
    assert note.load is not None
    assert note.load.resting == pytest.approx((1.5 * note.force, 2.0 * note.force))
    assert note.load.time == 0.070
    assert note.load.let_go == pytest.approx(1.5 / (note.lead.beta * 440 * 2 ** ((64 - 69) / 12)))
    assert note.load.gone == 2 * note.load.let_go
    assert note.force_at[0] == note.load.resting[0] > note.force_at[1]
    assert plan_of("[mf] d4:4 e4").notes[1].load is None


def test_every_note_of_a_staccato_in_one_bow_is_loaded() -> None:
    """Inside the bow too; a plain slur has none."""
    notes = plan_of("[mf] (d4:8. e4. f4. g4.) a4:2", locks=[Lock("n1", kind="staccato")]).notes
    assert all(note.load for note in notes[:4])
    assert not any(note.load for note in plan_of("[mf] (d4:8 e4 f4 g4) a4:2").notes)


def _landing(plan: Plan, i: int = 5) -> tuple[NotePlan, float, float, float]:
    note = plan.notes[i]
    assert note.landing is not None
    return note, note.landing.rate, note.landing.height, note.landing.dryness


def test_every_bouncing_note_has_a_spring_of_its_own() -> None:
    """Of its string and lane: the same throw answers otherwise a string further; notes on the string have none."""
    plan = plan_of("[mf] {spiccato} d4:16 d4 d4 d4 e5 e5 e5 e5 " + "d4 d4 d4 d4 e5 e5 e5 e5", tempo=100)
    low, high = plan.notes[2], plan.notes[6]
    assert low.landing is not None
    assert high.landing is not None
    assert low.landing.weight > high.landing.weight  # more of the bow's weight presses the lower string
    assert low.landing.rate != high.landing.rate
    assert not any(note.landing for note in plan_of(LONG).notes)


def test_tilt_and_lane_move_a_bouncing_stroke() -> None:
    """More tilt is a softer spring: slower, lower, less dry at one place; so the stroke goes further out for it."""
    part = part_of(SPICCATO)
    plan = plan_part(part, preset("violin"), Settings(100))
    _, rate, height, dry = _landing(plan)
    held = [Lock(s.id, start=s.start, end=s.end) for s in plan.strokes]
    tilted = replan(plan, [replace(lock, tilt=math.radians(40)) for lock in held])
    assert _landing(tilted)[1] < rate
    assert _landing(tilted)[2] < height
    assert _landing(tilted)[3] < dry
    free = replan(plan, [Lock(s.id, tilt=math.radians(40)) for s in plan.strokes])
    assert free.notes[5].start > plan.notes[5].start + 0.01
    closer = replan(plan, [replace(lock, lane=6) for lock in held])
    assert _landing(closer)[1] > rate


def test_the_screw_changes_rate_height_and_wood() -> None:
    """A turn tighter: a quicker rebound, a higher flight, and the stick further from the hair."""
    rig = preset("violin")
    tight = replace(rig, bow=replace(rig.bow, turns=1.0))
    part = part_of(SPICCATO)
    plan = plan_part(part, rig, Settings(100))
    held = [Lock(s.id, start=s.start, end=s.end) for s in plan.strokes]
    now, tighter = (plan_part(part, one, Settings(100), held).notes[5].landing for one in (rig, tight))
    assert now is not None
    assert tighter is not None
    assert tighter.rate > now.rate
    assert tighter.height > now.height
    assert tight.bow.headroom > rig.bow.headroom


def test_on_two_strings_both_bear_the_bow() -> None:
    """Two strings under the hair are the stiffer spring."""
    one, two = (
        plan_of("[mf] {spiccato} " + f"{text} " * 16, tempo=90, locks=[Lock("n1", start=0.2)]).notes[0]
        for text in ("d4:16", "d4+a4:16")
    )
    assert one.landing is not None
    assert two.landing is not None
    assert two.landing.rate > one.landing.rate


def test_a_bounce_comes_from_the_air_where_it_was_lifted() -> None:
    """The first starts from the string, the next land; after a note kept down it begins anew; a wish turns it round."""
    plan = plan_of("[mf] {spiccato} d4:8 e4 f4 g4 | a4 g4 f4 e4", tempo=120, locks=[Lock("n4", kind="detache")])
    assert [stroke.from_air for stroke in plan.strokes] == [False, True, True, False, False, True, True, True]
    assert [stroke.kept_down for stroke in plan.strokes] == [False] * 3 + [True] + [False] * 4
    asked = replan(plan, [*plan.locks.values(), Lock("n1", from_air=True), Lock("n2", from_air=False)])
    assert [stroke.from_air for stroke in asked.strokes[:3]] == [True, False, True]
    rested = plan_of("[mf] {spiccato} d4:8 e4 r f4", tempo=120)
    assert rested.strokes[2].from_air


def test_landings_near_the_frog_take_part_of_the_ribbon() -> None:
    """At least 20 degrees out of the air; a start from the string is as flat as its manner."""
    locks = [Lock("n1", kind="heavy-spiccato"), Lock("n2", kind="heavy-spiccato")]
    plan = plan_of("[f] d4:4 e4:4 f4:2", tempo=100, locks=locks)
    held = replan(plan, [replace(lock, from_air=False) for lock in locks])
    assert math.degrees(plan.notes[1].tilt) >= 20
    assert plan.notes[1].tilt > held.notes[1].tilt


def test_a_bow_that_spends_its_hair_turns_more_slowly() -> None:
    """The dip of a join follows the speed of its last centimetres."""
    text = "[mf] d5:8 e5 d5 e5 d5 e5 d5 e5"
    even, spent = (
        plan_of(text, tempo=60, locks=[Lock("n2", profile=profile, link=Link.CHANGE)]).strokes[1].dip
        for profile in (Profile.EVEN, Profile.SPEND)
    )
    assert 0 < spent < even
