"""What the station Music tells of words over the staff."""

from dataclasses import replace
from fractions import Fraction

from pathway.core.guide.speech import PLAIN
from pathway.core.music import Words
from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.formats.staves import NoteSpot, System
from pathway.web.music.bands import Bands
from tests.helpers import part_of


def test_a_line_shows_where_words_hold() -> None:
    """Named where they begin, drawn as far as they hold, over the line they are printed in and the next."""
    said = (Words(Fraction(4), "dolce"), Words(Fraction(12), "espress."))
    part = replace(part_of(" | ".join(["d4:4 e4 f4 g4"] * 5)), words=said)
    spots = {event.id: NoteSpot(100.0 + 30 * (i % 8), 50.0, 40.0) for i, event in enumerate(part.events)}
    ids = list(spots)
    lines = [
        System("", 900.0, 100.0, 60.0, 880.0, 40.0, (), {id_: spots[id_] for id_ in ids[a : a + 8]}) for a in (0, 8, 16)
    ]
    bands = Bands(plan_part(part, preset("violin")), (), PLAIN)
    first, second, third = (bands.drawn(line, (), 1.0) for line in lines)
    assert '>dolce</text><path d="M211 13H319"/>' in first
    assert "dolce goes on" in second
    assert ">dolce</text>" not in second
    assert "dolce" not in third
