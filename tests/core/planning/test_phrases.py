"""Where phrases begin."""

from dataclasses import replace

from pathway.core.planning import Settings, plan_part
from pathway.core.planning.phrases import phrases_of
from pathway.core.planning.wishes import Passage
from pathway.core.rig import preset
from tests.helpers import part_of, plan_of


def test_phrases_begin_after_rests_and_nowhere_else() -> None:
    """The first stroke too; a stroke that follows at once does not."""
    plan = plan_of("d4:4 e4 f4 r | g4 a4 g4 r | d5:1", tempo=60)
    assert [stroke.notes[0] for stroke in phrases_of(plan)] == ["n1", "n5", "n9"]
    joined = plan_of("d4:4 e4 f4 g4 | g4 a4 g4 f4", tempo=60)
    assert [stroke.notes[0] for stroke in phrases_of(joined)] == ["n1"]


def test_phrases_begin_with_passages_and_sections() -> None:
    """Also without a rest."""
    part = part_of("d4:4 e4 f4 g4 | g4 a4 g4 f4 | d4 e4 f4 g4")
    marked = replace(part, sections=(part.measures[2].onset,))
    plan = plan_part(marked, preset("violin"), Settings(passages=(Passage("n5", "n8"),)))
    assert [stroke.notes[0] for stroke in phrases_of(plan)] == ["n1", "n5", "n9"]
