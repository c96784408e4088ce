"""What speeds strokes can have, and where on the hair they are at home."""

import numpy as np
import pytest

from pathway.core.physics.string import CLOSEST
from pathway.core.planning import Plan
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.rebound import homes_of, rebounds_of
from pathway.core.planning.strokes.speeds import (
    ABOVE_SLOWEST,
    BELOW_FASTEST,
    WHOLE_BOW_SPEED,
    preferred_speed,
    speeds_of,
)
from pathway.core.planning.strokes.zones import zones_of
from pathway.core.planning.wishes import Lock
from pathway.core.rig import preset
from tests.helpers import plan_of

VIOLIN = preset("violin")


def _speeds(plan: Plan) -> list[float]:
    return speeds_of(plan.draft.asked, plan.rig).preferred.tolist()


def test_all_together_are_as_each_alone() -> None:
    """Strokes do not know of each other: one at a time gives the same numbers."""
    plan = plan_of("[mf] (d4:4 e4:8 f4) g4:4! a4:8. b4. | [pp] c5:1 | [ff] (g3:2 d4:2)")
    together = speeds_of(plan.draft.asked, VIOLIN)
    for k, stroke in enumerate(plan.draft.strokes):
        alone = speeds_of(StrokesAsked.of([stroke]), VIOLIN)
        for name in ("level_db", "drive", "slowest", "fastest", "preferred"):
            assert getattr(together, name)[k] == pytest.approx(getattr(alone, name)[0])


def test_a_plain_mezzo_forte_moves_at_27() -> None:
    """.09 of the drive, whatever the string; louder is faster, but less than in proportion."""
    assert _speeds(plan_of("[mf] d4:2 e5:2")) == pytest.approx([0.27, 0.27])
    assert preferred_speed(6.0, 3.0) / preferred_speed(3.0, 3.0) == pytest.approx(2**0.65)


def test_the_habit_keeps_within_what_carries_the_level() -> None:
    """Between a little above the slowest and a little below the fastest."""
    plan = plan_of("[fff] d4:2 a4:2 | [ppp] d4:2 a4:2")
    found = speeds_of(plan.draft.asked, VIOLIN)
    assert (found.preferred >= ABOVE_SLOWEST * found.slowest - 1e-9).all()
    assert (found.preferred <= BELOW_FASTEST * found.fastest + 1e-9).all()
    drive = 3.0 * 10 ** (plan.draft.columns.level[0] / 20)
    assert found.slowest[0] == pytest.approx(CLOSEST * drive / plan.draft.strokes[0].placements[0].lead.heaviness)


def test_types_with_a_length_of_their_own_have_its_speed() -> None:
    """A staccato note takes 1 to 2.5 cm, a grand martelé the whole hair or the fastest arm."""
    locks = [Lock("n1", kind="staccato"), Lock("n5", kind="grand-martele")]
    plan = plan_of("[mf] (d4:8. e4. f4. g4.) a4:2", locks=locks)
    found = speeds_of(plan.draft.asked, VIOLIN)
    hair, moving = plan.draft.strokes[0].kind.hair_a_note, plan.draft.columns.moving
    assert hair is not None
    assert found.preferred[0] * moving[0] == pytest.approx(4 * max(hair))
    assert found.preferred[1] == pytest.approx(min(WHOLE_BOW_SPEED, 0.63 / moving[1]))


@pytest.mark.parametrize(("level", "length"), [("pp", 0.010), ("p", 0.014), ("mf", 0.028), ("f", 0.038)])
def test_a_bouncing_note_takes_the_hair_of_its_level(level: str, length: float) -> None:
    """Sixteenths at 100: one to three centimetres softly, three to six loudly; the level comes out as written."""
    plan = plan_of(f"[{level}] {{spiccato}} " + "d4:16 e4 f4 g4 a4 g4 f4 e4 " * 2, tempo=100)
    note = plan.notes[5]
    assert note.length == pytest.approx(length, abs=0.0015)
    assert note.level_db == pytest.approx(note.target_db, abs=0.5)


def test_zones_follow_words_bounce_type_and_level() -> None:
    """At the tip by word, about the bounce by rate, as the type has it, and nearer the frog when loud."""
    plan = plan_of("[mf] {punta} d4:4 {ordinary} e4:4 f4:2 | [ff] d4:2 e4:2", locks=[Lock("n2", kind="spiccato")])
    draft = plan.draft
    speeds = speeds_of(draft.asked, VIOLIN)
    lengths = speeds.preferred * draft.columns.moving
    zones = zones_of(draft.asked, speeds.level_db, lengths, VIOLIN)
    hair = VIOLIN.bow.hair
    bounced, kind = draft.asked.at([1]), draft.strokes[1].kind
    rebound = rebounds_of(bounced, VIOLIN, speeds.preferred[1])
    assert zones[1].mean() == pytest.approx(homes_of(rebound, [kind], bounced.columns.rate, VIOLIN)[0])
    assert zones[0].mean() > 0.75 * hair
    assert zones[3].mean() < zones[2].mean() < zones[0].mean()
    assert (np.diff(zones) > 0).all()
