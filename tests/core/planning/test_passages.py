"""Passages and locks: what they change, and which of them cannot be."""

import pytest

from pathway.core.planning import Lock, Passage, Plan, Settings, Style, plan_part, replan
from pathway.core.planning.wishes import Break, Colour, Link, Profile, Relation, Stress
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.errors import OutOfRange, PlanError
from tests.helpers import part_of

VIOLIN = preset("violin")
PART = part_of("[mf] " + " | ".join(["d4:4 e4 f4 g4"] * 4))


def _plan(*passages: Passage, locks: tuple[Lock, ...] = ()) -> Plan:
    return plan_part(PART, VIOLIN, Settings(passages=passages), locks)


def test_a_passage_changes_its_own_notes_only() -> None:
    """Manner, level and colour from the fifth to the eighth note."""
    plan = _plan(Passage("n5", "n8", kind="porte", offset_db=-6.0, colour=Colour.SOFT))
    plain = _plan()
    assert [s.kind for s in plan.strokes] == ["detache"] * 4 + ["porte"] * 4 + ["detache"] * 8
    assert [n.target_db for n in plan.notes[3:9]] == [0.0, *[-6.0] * 4, 0.0]
    assert plan.notes[5].tilt > plain.notes[5].tilt
    place, before = plan.notes[5].lead.place, plain.notes[5].lead.place
    assert place == pytest.approx(before + 0.012 * 6 - 0.12, abs=0.005)  # softer lies higher in its window, soft lower


def test_colour_leads_from_one_to_another() -> None:
    """From soft to focused the tilt falls and the place in the window rises."""
    plan = _plan(Passage("n1", "n16", colour=Colour.SOFT, colour_end=Colour.FOCUSED))
    assert plan.notes[0].tilt > plan.notes[15].tilt_end
    assert plan.notes[0].lead.place < plan.notes[15].lead.place


def test_a_passage_answers_another_by_an_amount() -> None:
    """Less than the first by four decibels, and the third like the second."""
    plan = _plan(
        Passage("n1", "n4", offset_db=3.0),
        Passage("n5", "n8", relation=Relation(1, -4.0)),
        Passage("n9", "n12", relation=Relation(2)),
    )
    assert [plan.notes[i].target_db for i in (0, 4, 8, 12)] == [3.0, -1.0, -1.0, 0.0]


def test_a_relation_names_its_passage_by_id_wherever_that_stands() -> None:
    """The third leans on the one called 7, which stands first; one without a name goes by its place."""
    plan = _plan(
        Passage("n1", "n4", offset_db=3.0, id=7), Passage("n5", "n8", offset_db=1.0),
        Passage("n9", "n12", relation=Relation(7, -4.0)), Passage("n13", "n16", relation=Relation(2)),
    )  # fmt: skip
    assert [plan.notes[i].target_db for i in (0, 4, 8, 12)] == [3.0, 1.0, -1.0, 1.0]


def test_heavy_beats_and_bars_are_ones_own() -> None:
    """Weight on the second beat turns the strong bow there; only every other bar begins heavy."""
    stress = Stress(beats=(2.0,), bars=(1,), group=2)
    segments = _plan(Passage("n1", "n16", stress=stress)).draft.strokes
    assert [s.strength for s in segments[:4]] == [0.25, 1.0, 0.25, 0.25]
    assert segments[5].strength == 0.5


def test_swing_makes_the_first_of_two_longer() -> None:
    """Two to one inside every beat; the beats stay."""
    part = part_of("[mf] d4:8 e4 f4 g4 a4 b4 c5 d5")
    plan = plan_part(part, VIOLIN, Settings(passages=(Passage("n1", "n8", stress=Stress(swing=2.0)),)))
    lengths = [note.duration for note in plan.notes]
    assert lengths[0] / lengths[1] == pytest.approx(2.0)
    assert plan.notes[2].onset == pytest.approx(0.75)


@pytest.mark.parametrize("profile", list(Profile))
def test_profiles_share_the_hair_of_a_slur(profile: Profile) -> None:
    """Saving gives the second half more, spending the first; even and swell share alike."""
    part = part_of("[mf] (d4:4 e4 f4 g4) | a4:1")
    plan = plan_part(part, VIOLIN, Settings(passages=(Passage("n1", "n4", profile=profile),)))
    lengths = [plan.note[f"n{i}"].length for i in (1, 2, 3, 4)]
    first, second = lengths[0] + lengths[1], lengths[2] + lengths[3]
    assert {"even": 0, "swell": 0, "save": -1, "spend": 1}[profile] == (
        0 if abs(first - second) < 1e-9 else 1 if first > second else -1
    )
    assert plan.strokes[0].profile is profile


def test_gaps_and_early_style_belong_to_their_passage() -> None:
    """A quarter of silence after each note; the other bars stay modern."""
    plan = _plan(Passage("n5", "n8", gap=0.25, style=Style.EARLY))
    assert plan.notes[5].sounding / plan.notes[5].duration == pytest.approx(0.75)
    assert [s.early for s in plan.draft.strokes] == [False] * 4 + [True] * 4 + [False] * 8


def test_thin_contrast_is_told_and_a_clear_one_is_not() -> None:
    """Two characters that sound alike, then six decibels apart."""

    def codes(offset: float) -> set[str]:
        one = Passage("n1", "n8", character="calm")
        other = Passage("n9", "n16", character="wild", offset_db=offset)
        return {f.code for f in _plan(one, other).findings}

    assert "contrast-thin" in codes(0.5)
    assert "contrast-thin" not in codes(6.0)


@pytest.mark.parametrize(
    ("passages", "said"),
    [
        ([Passage("n1", "n99")], "Passage 1 lies outside the piece"),
        ([Passage("n5", "n2")], "ends before it begins"),
        ([Passage("n1", "n8"), Passage("n8", "n12")], "Passages 1 and 2 overlap"),
        ([Passage("n9", "n12"), Passage("n1", "n10")], "Passages 2 and 1 overlap"),
        ([Passage("n1", "n2", kind="tickle")], "'tickle' that there is not"),
        ([Passage("n1", "n2", offset_db=40)], "offset of passage 1 is 40"),
        ([Passage("n1", "n2", gap=-0.1)], "gap of passage 1 is -0.1"),
        ([Passage("n1", "n2", string=4)], "string of passage 1 is 4"),
        ([Passage("n1", "n2", stress=Stress(swing=9))], "swing of passage 1 is 9"),
        ([Passage("n1", "n2", stress=Stress(bars=(3,), group=2))], "heavy bars must lie in their group of 2"),
        ([Passage("n1", "n2", relation=Relation(5))], "leans on passage 5"),
        ([Passage("n1", "n2", relation=Relation(1))], "leans on itself"),
    ],
)
def test_passages_that_cannot_be_are_refused(passages: list[Passage], said: str) -> None:
    """With the passage named by its number."""
    with pytest.raises((PlanError, OutOfRange), match=said):
        _plan(*passages)


def test_locked_places_and_links_are_kept() -> None:
    """A start, an end, a hook, a retake: exactly as asked, the rest follows."""
    locks = (
        Lock("n3", start=0.10, end=0.30),
        Lock("n6", link=Link.HOOK),
        Lock("n9", link=Link.RETAKE, direction=Direction.DOWN),
    )
    plan = _plan(locks=locks)
    assert (plan.strokes[2].start, plan.strokes[2].end) == pytest.approx((0.10, 0.30))
    assert (plan.strokes[5].entry, plan.strokes[8].entry) == (Link.HOOK, Link.RETAKE)
    assert plan.strokes[2].locks == ("start", "end")
    assert plan.strokes[8].direction is Direction.DOWN


def test_locked_ends_closer_than_the_grid_are_kept() -> None:
    """A stroke of eight millimetres between two locked ends, joined by a lock."""
    locks = (Lock("n2", end=0.300), Lock("n3", end=0.308, link=Link.CHANGE))
    plan = _plan(locks=locks)
    assert (plan.strokes[1].end, plan.strokes[2].start, plan.strokes[2].end) == pytest.approx((0.300, 0.300, 0.308))


def test_locks_divide_join_and_retype_strokes() -> None:
    """Against the page; taking them back brings the page back."""
    part = part_of("[mf] (d4:4 e4) f4 g4 | a4:1")
    plan = plan_part(part, VIOLIN)
    locks = (Lock("n2", divide=Break.SPLIT), Lock("n4", divide=Break.JOIN), Lock("n5", kind="sustained"))
    changed = replan(plan, locks)
    assert [len(s.notes) for s in changed.strokes] == [1, 1, 2, 1]
    assert changed.strokes[3].kind == "sustained"
    assert [len(s.notes) for s in replan(changed, ()).strokes] == [2, 1, 1, 1]


def test_a_locked_string_holds_its_note() -> None:
    """E5 on the A string instead of the open one; D4 cannot lie on the E string."""
    part = part_of("[mf] e5:4 d4 e5 d4")
    assert plan_part(part, VIOLIN, locks=(Lock("n1", string=2),)).notes[0].lead.string == 2
    with pytest.raises(PlanError, match="locked strings cannot hold"):
        plan_part(part, VIOLIN, locks=(Lock("n2", string=3),))


@pytest.mark.parametrize(
    ("locks", "said"),
    [
        ([Lock("n77")], "no note 'n77'"),
        ([Lock("n1", Direction.DOWN), Lock("n1", end=0.2)], "Two locks on one note.*bar 1, beat 1"),
        ([Lock("n1", Direction.DOWN, start=0.4, end=0.2)], "down-bow cannot go from 40 to 20 cm"),
        ([Lock("n2", Direction.UP, divide=Break.JOIN)], "joined to the bow before.*beat 2"),
        ([Lock("n1", kind="tickle")], "no stroke type 'tickle'"),
        ([Lock("n1", end=0.9)], "locked place on the hair is 90"),
        (
            [Lock("n2", divide=Break.JOIN), Lock("n1", Direction.UP), Lock("n3", Direction.UP, link=Link.CHANGE)],
            "leave no way",
        ),
        ([Lock("n1", Direction.DOWN), Lock("n2", Direction.UP, link=Link.HOOK)], "leave no way.*beat 1.*beat 2"),
    ],
)
def test_locks_that_contradict_each_other_name_their_strokes(locks: list[Lock], said: str) -> None:
    """Nothing is planned silently wrong."""
    with pytest.raises((PlanError, OutOfRange), match=said):
        _plan(locks=tuple(locks))


def test_a_lock_for_a_stroke_stands_at_its_beginning() -> None:
    """In the middle of a slur it means nothing; the message says what to do."""
    part = part_of("[mf] (d4:4 e4) f4 g4")
    with pytest.raises(PlanError, match=r"does not begin with this note.*Divide the slur"):
        plan_part(part, VIOLIN, locks=(Lock("n2", Direction.UP),))


def test_words_against_signs_are_said() -> None:
    """Legato over dots: the dots are planned, and a notice says so."""
    plan = plan_part(part_of("[mf] {legato} (d4:8. e4. f4. g4.) a4:2"), VIOLIN)
    assert plan.strokes[0].kind == "portato"
    assert any("legato is asked for over dots" in notice for notice in plan.notices)
