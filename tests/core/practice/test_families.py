"""Every family, in every way, at every stage, for every rig: rungs that can be bowed, or a reason."""

import itertools

import pytest

from pathway.core.guide.drills import DRILL_WORDS
from pathway.core.planning.finding import Severity
from pathway.core.planning.wishes import Profile
from pathway.core.practice.drill import DrillAsk, Quantity, Stage
from pathway.core.practice.families import FAMILIES
from pathway.core.practice.making import drill_of, opened, stills
from pathway.core.rig import PRESETS
from pathway.core.rig.bow import EARLY_HOLDS
from pathway.core.rig.instrument import Rig
from pathway.core.technique.endings import Exit
from pathway.errors import NotFound, NotHere
from tests.core.practice.grounds import drill, place, tune_on
from tests.helpers import THOROUGH

OWN = {Stage.BARS, Stage.AROUND}
WAYS = {family: [(m, stage) for m in row.members for stage in row.stages] for family, row in FAMILIES.items()}


def _tried() -> list[tuple[str, str, Stage, str]]:
    """Return every way of every family on one rig, and one way of each on every other one, in turn."""
    found = []
    for n, rig in enumerate(PRESETS):
        for family, ways in WAYS.items():
            some = ways if rig == "violin" or THOROUGH > 1 else [ways[n % len(ways)]]
            found += [(family, member, stage, rig) for member, stage in some]
    return found


def _refused(family: str, member: str, stage: Stage, rig: Rig) -> bool:
    """Whether a drill is none on a rig, or in a tune of single notes."""
    if family == "two-strings":
        return stage in OWN
    return member == "rebounding" and rig.hold.name not in EARLY_HOLDS


REFUSED = {"two-strings": "no double stops", "weak-and-strong": "early bows"}


@pytest.mark.parametrize(("family", "member", "stage", "rig"), _tried())
def test_every_drill_can_be_bowed_on_every_rig(family: str, member: str, stage: Stage, rig: str) -> None:
    """Generated ones without a high finding; own bars with none that the piece does not have; else with a reason."""
    plan = tune_on(rig)
    first, last = place(plan)
    ask = DrillAsk(family, member, stage, first, last)
    if family in REFUSED and _refused(family, member, stage, plan.rig):
        with pytest.raises(NotHere, match=REFUSED[family]):
            opened(ask, plan.rig, plan)
        return
    ready = opened(ask, plan.rig, plan)
    known = {finding.code for finding in plan.findings} if stage in OWN else set()
    assert ready.rungs
    for one in ready.rungs:
        high = {finding.code for finding in one.plan.findings if finding.severity is Severity.HIGH}
        assert not high - known or (stage in OWN and not ready.row.strict)
        assert one.rate > 0
    assert {still.quantity for still in stills(ready.row, ready.rungs[0])} == {q for q, _ in ready.row.still}


@pytest.mark.parametrize("rig", ["bass-viol"])
@pytest.mark.parametrize("family", FAMILIES)
def test_a_drill_needs_no_piece_before_its_bars(family: str, rig: str) -> None:
    """Chosen freely it is made for the rig alone; its own bars it cannot do without."""
    row = FAMILIES[family]
    made = [stage for stage in row.stages if stage not in OWN]
    for stage in made:
        assert opened(DrillAsk(family, row.members[0], stage), PRESETS[rig]).rungs
    for stage in set(row.stages) - set(made):
        with pytest.raises(NotHere, match="from bars of a piece"):
            drill_of(DrillAsk(family, row.members[0], stage), PRESETS[rig])


def test_every_family_has_its_words() -> None:
    """And none is told that there is not."""
    assert set(DRILL_WORDS) == set(FAMILIES)
    for family, words in DRILL_WORDS.items():
        assert all((words.name, words.aim, words.watch, words.harmless)), family
        assert ("{limit}" in words.passes) == (FAMILIES[family].passes.quantity is not Quantity.OWN), family


@pytest.mark.parametrize("family", [f for f, row in FAMILIES.items() if row.members == ("down", "up")])
def test_both_members_of_a_pair_begin_otherwise(family: str) -> None:
    """Down first and up first are two drills."""
    stage = next(s for s in FAMILIES[family].stages if s is not Stage.SILENT)
    ways = [drill(family, member, stage).rungs[0].plan.strokes[0].direction for member in ("down", "up")]
    assert ways[0].word == "down"
    assert ways[1].word == "up"


def test_rebounding_notes_belong_to_early_bows() -> None:
    """Refused on others, with what to take instead."""
    for key, rig in PRESETS.items():
        ask = DrillAsk("weak-and-strong", "rebounding", Stage.SCALE)
        if rig.hold.name in EARLY_HOLDS:
            assert {s.kind for s in opened(ask, rig).rungs[0].plan.strokes} == {"rebound"}, key
        else:
            with pytest.raises(NotHere, match="early bows"):
                opened(ask, rig)


def test_an_unknown_drill_is_refused() -> None:
    """An unknown family, stage, member or type."""
    rig = PRESETS["violin"]
    for ask in (DrillAsk("juggling"), DrillAsk("angle", stage=Stage.SCALE), DrillAsk("angle", "sideways", Stage.OPEN)):
        with pytest.raises(NotFound):
            drill_of(ask, rig)
    with pytest.raises(NotFound):
        drill_of(DrillAsk("bursts", "", Stage.OPEN, kind="juggling"), rig)


def test_long_tones_give_whole_half_and_quarter_time_their_share_of_the_hair() -> None:
    """As much hair a second everywhere."""
    plan = drill("long-tones", "down", Stage.OPEN).rungs[0].plan
    whole, half, quarter = (plan.strokes[i].length for i in (0, 1, 3))
    assert half == pytest.approx(whole / 2, rel=0.02)
    assert quarter == pytest.approx(whole / 4, rel=0.02)
    assert plan.note[plan.strokes[0].notes[0]].speed == pytest.approx(
        plan.note[plan.strokes[3].notes[0]].speed, rel=0.05
    )


def test_the_slowest_bow_leaves_hair_for_its_neighbour() -> None:
    """A quarter of the hair lies ahead at the end of the long note."""
    plan = drill("slowest-bow", "down", Stage.PITCH).rungs[0].plan
    low, high = plan.rig.usable
    assert high - plan.strokes[0].end >= 0.25 * plan.rig.bow.hair - 0.02
    assert low < high


def test_speed_alone_takes_more_and_more_hair_in_the_same_beat() -> None:
    """The weight does not grow with it as it would for a louder note by weight alone."""
    rungs = drill("speed-alone", "down", Stage.PITCH).rungs[:4]
    lengths = [one.plan.strokes[0].length for one in rungs]
    assert lengths == sorted(lengths)
    assert lengths[3] == pytest.approx(4 * lengths[0], rel=0.05)


def test_place_alone_glides_over_the_lanes_and_back() -> None:
    """In one bow, at one speed; the weight follows the window."""
    there = [n.lane for n in drill("place-alone", "to the bridge", Stage.PITCH).rungs[0].plan.notes]
    back = [n.lane for n in drill("place-alone", "to the board", Stage.PITCH).rungs[0].plan.notes]
    half = len(there) // 4
    assert there[0] < there[half]
    assert back[0] > back[half]


def test_extremes_move_one_thing_and_the_others_follow() -> None:
    """Nearer to the bridge the plan asks for more weight; a faster bow for more hair."""
    near = drill("extremes", "bridge", Stage.PITCH).rungs
    assert near[0].plan.notes[0].force < near[-1].plan.notes[0].force
    fast = drill("extremes", "fast", Stage.PITCH).rungs
    assert fast[0].plan.strokes[0].length < fast[-1].plan.strokes[0].length
    assert fast[-1].plan.notes[0].level_db > fast[0].plan.notes[0].level_db


def test_the_tilt_turns_as_often_as_the_rung_says() -> None:
    """From flat to tilted, and as often back."""
    for one, turns in zip(drill("tilt-turns", "flat first", Stage.PITCH).rungs, (1, 2, 4, 8), strict=False):
        first = one.plan.strokes[0].notes
        tilts = [one.plan.note[id_].tilt for id_ in first]
        assert len(tilts) == 2 * turns
        assert sum(a < b for a, b in itertools.pairwise(tilts)) == turns


def test_parts_of_the_bow_lie_where_they_say() -> None:
    """Lower half, upper half, whole."""
    plan = drill("parts-of-bow", "halves", Stage.PITCH).rungs[0].plan
    low, high = plan.rig.usable
    middle = (low + high) / 2
    assert all(max(s.start, s.end) <= middle + 0.01 for s in plan.strokes[:4])
    assert all(min(s.start, s.end) >= middle - 0.01 for s in plan.strokes[4:8])


def test_turns_are_slower_at_their_end() -> None:
    """The profile spends the hair first."""
    plan = drill("smooth-turns", "down", Stage.OPEN).rungs[0].plan
    assert {stroke.profile for stroke in plan.strokes} == {Profile.SPEND}
    assert plan.notes[0].speed_ends[0] > plan.notes[0].speed_ends[1]


def test_a_short_note_comes_after_a_stop_that_gets_shorter() -> None:
    """The long note ends earlier on the first rungs, and joins on the last."""
    rungs = drill("short-after-long", "down", Stage.PITCH).rungs
    sounding = [one.plan.notes[0].sounding / one.plan.notes[0].duration for one in rungs]
    assert sounding == sorted(sounding)
    assert rungs[0].plan.strokes[0].exit == Exit.STOPPED
    assert rungs[-1].plan.strokes[0].exit == Exit.JOINED


def test_starts_travel_along_the_hair_both_ways() -> None:
    """Towards the tip in one, towards the frog in the other."""
    for member, sign in (("to the tip", 1), ("to the frog", -1)):
        starts = [s.start for s in drill("travelling-starts", member, Stage.PITCH).rungs[-1].plan.strokes]
        assert sign * (starts[-1] - starts[0]) > 0.05


def test_hard_to_soft_goes_down_the_strengths() -> None:
    """Three types, each gentler."""
    rungs = drill("hard-to-soft", "down", Stage.PITCH).rungs
    assert [one.plan.strokes[0].kind for one in rungs] == ["martele", "soft-martele", "short-detache"]


def test_a_staccato_grows_by_light_notes_and_by_rate() -> None:
    """Stopped notes in one bow; the last rung is the quickest."""
    rungs = drill("one-bow-staccato", "up", Stage.OPEN).rungs
    assert {s.kind for one in rungs for s in one.plan.strokes} == {"staccato"}
    assert rungs[0].plan.strokes[0].direction.word == "up"
    assert rungs[-1].rate == max(one.rate for one in rungs)


def test_groups_grow_to_twelve_notes_a_bow() -> None:
    """Legato, portato and staccato alike."""
    for member in FAMILIES["growing-groups"].members:
        counts = [len(one.plan.strokes[0].notes) for one in drill("growing-groups", member, Stage.SCALE).rungs]
        assert counts == [2, 3, 4, 6, 8, 12][: len(counts)]


def test_the_bounce_moves_out_as_it_gets_quicker() -> None:
    """The place follows the rate, the nearer to the tip the quicker."""
    rungs = drill("find-the-bounce", "down", Stage.PITCH).rungs
    middles = [sum(s.start + s.end for s in one.plan.strokes) / (2 * len(one.plan.strokes)) for one in rungs]
    assert middles[0] < middles[-1]


def test_what_changes_the_bounce_changes_alone() -> None:
    """By tilt the tilts differ, by string the strings, and some notes stay down."""
    tilts = {round(one.plan.notes[0].tilt, 2) for one in drill("bounce-by", "tilt", Stage.PITCH).rungs}
    assert len(tilts) == 3
    strings = {one.plan.notes[0].lead.string for one in drill("bounce-by", "string", Stage.PITCH).rungs}
    assert len(strings) == 4
    kept = drill("bounce-by", "some kept down", Stage.PITCH).rungs[0].plan
    assert {stroke.kind for stroke in kept.strokes} == {"detache", "spiccato"}


def test_crossings_go_from_pairs_to_the_outermost_strings() -> None:
    """Low to high and high to low; the outermost rung skips strings."""
    for member, first in (("low to high", "low"), ("high to low", "high")):
        rungs = drill("crossings", member, Stage.OPEN).rungs
        strings = [voice.string for note in rungs[1].plan.notes[:2] for voice in note.voices]
        assert (strings[0] < strings[1]) == (first == "low")
    named = {one.rung.name: one for one in rungs}
    assert max(crossing.skips for crossing in named["the outermost strings"].plan.crossings) == 2
    assert {crossing.skips for crossing in named["one string between"].plan.crossings} >= {1}
    assert len(named["in turn, two a bow"].plan.strokes[0].notes) == 2


def test_two_strings_let_each_voice_lead() -> None:
    """Each alone, both, and then the other one leading."""
    rungs = {one.rung.name: one.plan for one in drill("two-strings", "upper leads", Stage.OPEN).rungs}
    assert all(len(note.voices) == 1 for note in rungs["the leading voice alone"].notes)
    assert rungs["both"].notes[0].lead.string == max(voice.string for voice in rungs["both"].notes[0].voices)
    other = rungs["the other one leads"].notes[0]
    assert other.lead.string == min(voice.string for voice in other.voices)


def test_chords_come_apart_before_they_are_joined() -> None:
    """Pairs of strings first, then three strings in one stroke."""
    rungs = drill("chords", "pairs", Stage.OPEN).rungs
    assert {len(note.voices) for note in rungs[0].plan.bowed} == {2}
    assert rungs[-1].plan.bowed[0].chord is not None


def test_shifts_are_played_one_note_a_bow_before_they_are_slurred() -> None:
    """The slurs of the bars come back later in the ladder."""
    rungs = drill("shifts").rungs
    apart = [one for one in rungs if one.rung.name.startswith("one note a bow")]
    slurred = [one for one in rungs if one.rung.name.startswith("slurred")]
    assert len(apart[0].plan.strokes) > len(slurred[0].plan.strokes)


def test_a_borrowed_manner_goes_back_to_the_own_one() -> None:
    """Neighbours of the bars' stroke type first, the last rung as planned in the piece."""
    ready = drill("borrowed-manner")
    here = {s.kind for s in tune_on("violin").strokes}
    assert {s.kind for s in ready.rungs[-1].plan.strokes} <= here
    first = {s.kind for s in ready.rungs[0].plan.strokes}
    assert len(first) == 1


def test_bars_can_be_begun_on_the_other_bow() -> None:
    """Then as written."""
    ready = drill("other-bow")
    first = ready.rungs[0].plan.strokes[0]
    assert first.direction is tune_on("violin").stroke[first.id].direction.other
    assert ready.rungs[-1].plan.strokes[0].direction is tune_on("violin").stroke[first.id].direction


def test_a_contrast_is_widened() -> None:
    """The step of level between its halves grows."""
    rungs = drill("contrast", "soft first", Stage.SCALE).rungs
    steps = [one.plan.bowed[-1].level_db - one.plan.bowed[0].level_db for one in rungs]
    assert steps == sorted(steps)
    assert steps[0] > 0
    loud_first = drill("contrast", "loud first", Stage.SCALE).rungs
    assert loud_first[0].plan.bowed[-1].level_db < loud_first[0].plan.bowed[0].level_db


def test_a_fault_is_heard_before_it_is_left_out() -> None:
    """Only the first rung has one, and each member another."""
    faults = set()
    for member in FAMILIES["wrong-on-purpose"].members:
        rungs = drill("wrong-on-purpose", member, Stage.PITCH).rungs
        assert [one.rung.fault is not None for one in rungs] == [True, False, False]
        faults.add(rungs[0].rung.fault)
    assert len(faults) == 4


def test_a_drill_for_a_rig_with_a_measured_run_takes_its_rate() -> None:
    """The self-running staccato keeps the player's own rate and stretch, per direction."""
    from dataclasses import replace

    from pathway.core.rig.instrument import OneBow

    violin = PRESETS["violin"]
    own = replace(violin, staccato=(OneBow(10.5, (0.30, 0.48)), OneBow()))
    rung = opened(DrillAsk("self-running", "down", Stage.OPEN), own).rungs[0]
    assert rung.rate == pytest.approx(10.5, rel=0.02)
    assert rung.plan.strokes[0].start == pytest.approx(0.30, abs=0.005)
    assert opened(DrillAsk("self-running", "up", Stage.OPEN), own).rungs[0].rate == pytest.approx(9.0, rel=0.02)
