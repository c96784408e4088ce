"""What the station Music tells of words over the staff."""

from dataclasses import replace
from fractions import Fraction

from pathway.core.music import Words
from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.store import StoredPiece
from pathway.web.music.view import MusicView
from tests.helpers import part_of


def test_the_map_shows_where_words_hold() -> None:
    """Named in the bar where they begin, and gone where they end."""
    said = (Words(Fraction(4), "dolce"), Words(Fraction(12), "espress."))
    part = replace(part_of(" | ".join(["d4:4 e4 f4 g4"] * 5)), words=said)
    piece = StoredPiece.__new__(StoredPiece)  # nothing of it is looked at
    cells = MusicView(piece, plan_part(part, preset("violin"))).cells
    assert [[(word.text, word.begins) for word in cell.words] for cell in cells] == [
        [], [("dolce", True)], [("dolce", False)], [], [],
    ]  # fmt: skip
