"""The player's own changes of tempo."""

import pytest

from pathway.core.planning import Lock, Plan, Settings, glance, plan_part
from pathway.core.planning.wishes import TempoChange
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.errors import OutOfRange, PathwayError
from tests.helpers import broken_rules_of, part_of


def _plan(tempo: float | None = None, *changes: TempoChange) -> Plan:
    return plan_part(part_of("d4:1 | e4:1 | f4:1 | g4:1"), preset("violin"), Settings(tempo, tempi=changes))


def test_a_tempo_holds_from_its_note_on() -> None:
    """Twice as slow from the third bar: what comes before stays, what follows lasts twice as long."""
    plain = _plan()
    slower = _plan(None, TempoChange("n3", plain.draft.tempo_bpm / 2))
    assert [n.duration for n in slower.notes[:2]] == [n.duration for n in plain.notes[:2]]
    assert [n.duration for n in slower.notes[2:]] == pytest.approx([2 * n.duration for n in plain.notes[2:]])


def test_changes_keep_their_proportion_at_another_tempo() -> None:
    """The slider moves the whole piece, its changes with it."""
    change = TempoChange("n3", 40)
    at_80, at_120 = _plan(80, change), _plan(120, change)
    assert [n.duration for n in at_80.notes] == pytest.approx([1.5 * n.duration for n in at_120.notes])


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (TempoChange("n9", 60), "no note 'n9'"),
        (TempoChange("n1", 60), "the piece's own"),
        (TempoChange("n2", 900), "the tempo is 900"),
    ],
)
def test_tempi_that_cannot_be_are_refused(change: TempoChange, said: str) -> None:
    """A note that is not there, the beginning, a number nobody means."""
    with pytest.raises(PathwayError, match=said):
        _plan(None, change)


def test_a_glance_at_another_tempo_obeys_the_rules_and_the_locks() -> None:
    """Nearly the plan of that tempo: as good within a few per cent of its cost; what is locked stays."""
    part = part_of(" | ".join(["[mf] (d4:8 e4 f4 g4) a4:4 d5"] * 8))
    plan = plan_part(part, preset("violin"), Settings(80), [Lock("n7", direction=Direction.UP)])
    for tempo in (48, 66, 112):
        seen, found = glance(plan, tempo), plan_part(part, preset("violin"), Settings(tempo), plan.locks.values())
        assert broken_rules_of(seen) == []
        assert seen.stroke["n7"].direction is Direction.UP
        assert [n.duration for n in seen.notes] == pytest.approx([n.duration for n in found.notes])
        best = found.problem.total(found.path)
        assert found.problem.total(seen.path) < best + 0.05 * abs(best) + 0.5


def test_a_glance_at_some_notes_shows_them_as_one_at_all_of_them_does() -> None:
    """Only the strokes around them are planned: cut, tied and bowed as in the whole, to the centimetre."""
    part = part_of(" | ".join(["[mf] (d4:8 e4 f4 g4) a4:4 d5", "(d4:2. e4:4 | f4:1)", "b4:8 c5 d5 e5 (f5:4 e5)"] * 9))
    plan = plan_part(part, preset("violin"), Settings(80))
    around = [note.id for note in plan.bowed[60:80]]
    for tempo in (40, 60, 100):
        whole, seen = glance(plan, tempo), glance(plan, tempo, around)
        assert len(seen.strokes) < len(whole.strokes) / 2
        for id_ in around:
            one, other = whole.note[id_], seen.note[id_]
            assert (one.stroke, one.onset) == (other.stroke, other.onset)
            assert one.sounding == pytest.approx(other.sounding, abs=0.005)  # a way through the air as long, to a cm
            assert whole.stroke[one.stroke or ""].direction is seen.stroke[other.stroke or ""].direction
            assert one.end == pytest.approx(other.end, abs=0.01)


def test_a_glance_at_one_end_of_a_repeat_says_nothing_of_its_seam() -> None:
    """Where a repeat goes back to is out of sight, and so is whether the bow comes round."""
    part = part_of("|: d4:4 e4 f4 g4 | a4 b4 c5 d5 | e5 f5 g5 | a4 b4 c5 d5 | d4 e4 f4 g4 :|")
    plan = plan_part(part, preset("violin"), Settings(80))
    assert len(plan.draft.company.seams) == 1
    assert glance(plan, 80).draft.company.seams == plan.draft.company.seams
    assert glance(plan, 80, [plan.bowed[0].id]).draft.company.seams == []


@pytest.mark.parametrize("tempo", [0.0, -5.0, 9.9, 401.0, 1e9, float("nan"), float("inf")])
def test_a_tempo_that_no_player_means_is_refused(tempo: float) -> None:
    """Of the whole piece, as of a change in it."""
    with pytest.raises(OutOfRange, match="the tempo is"):
        _plan(tempo)
    with pytest.raises(OutOfRange, match="the tempo is"):
        _plan(None, TempoChange("n3", tempo))
