"""What a part is played on: by names in the languages of scores, by clef and lowest note, or not known."""

import pytest

from pathway.formats.part_names import RigGuess, guessed_rig, named_rig
from pathway.formats.score import ScoreFile
from tests.helpers import document

NAMES = {
    "violin": "Violin|Violin II|Violino I|Violini|Violine|Violinen|Violon|1er Violon|Violons II|Vn.|Vln. 1|Vl. II|VlnI"
    "|Vn1|Vni|Geige|Fiddle|Skrzypce|Скрипка|Скрипки|Скр.|ヴァイオリン|バイオリン|小提琴|바이올린|Housle|Hegedű|Viulu|Fiol"
    "|Vioară|Βιολί|Violín|Viool",
    "viola": "Viola|Viole|Violas|Bratsche|Bratschen|Alto|Altos|Vla.|Va.|Vle|Br.|Altówka|Altówki|Альт|Альты|ヴィオラ"
    "|中提琴|비올라|Brácsa|Altviool|Bratsj",
    "cello": "Violoncello|Violoncelli|Violoncelle|Cello|Celli|Vc.|Vcl.|Vlc.|Wiolonczela|Виолончель|Влч.|チェロ|大提琴"
    "|첼로|Gordonka|Sello|Violoncelli e Bassi|Violonchelo|Cello 2|Solo Cello",
    "bass": "Double Bass|Contrabass|Kontrabass|Contrebasse|Contrabbasso|Contrabasso|Cb.|Kb.|Bassi|Basso|Bass|Basses"
    "|D.B.|DB|Контрабас|コントラバス|低音提琴|콘트라베이스|Nagybőgő|Kontrabas|String Bass|Contrabajo",
    "bass-viol": "Bass Viol|Viola da gamba|Gambe|Basse de viole|Viol|Виола да гамба",
    "treble-viol": "Treble Viol|Dessus de viole|Pardessus de viole",
}
OTHERS = (
    "Flute|Alto Saxophone|Alto Flute|Bass Clarinet|Bassoon|Bass Drum|Bass Guitar|Contralto|Trumpet in Bb|Part 1|Solo"
    "|Piano|Bright|Vocal"
)


EACH = [(rig, name) for rig, names in NAMES.items() for name in names.split("|")]


@pytest.mark.parametrize(("rig", "name"), EACH)
def test_names_in_many_languages(rig: str, name: str) -> None:
    """Whole, in the plural, shortened, with a number."""
    assert named_rig(name) == rig


@pytest.mark.parametrize("name", OTHERS.split("|"))
def test_other_names_are_not_taken_for_a_bowed_instrument(name: str) -> None:
    """Then clef and lowest note decide, and the player is asked."""
    assert named_rig(name) is None


@pytest.mark.parametrize(
    ("clef", "lowest", "rig"),
    [("G", 55, "violin"), ("G", 48, "viola"), ("C", 48, "viola"), ("C", 40, "cello"), ("F", 36, "cello"),
     ("F", 28, "bass"), ("", None, "violin"), ("percussion", None, "violin"), ("G", 20, "violin"),
     ("F", None, "cello")],
)  # fmt: skip
def test_clef_and_lowest_note_tell_where_the_name_does_not(clef: str, lowest: int | None, rig: str) -> None:
    """It is told that they did."""
    assert guessed_rig("Solo", clef, lowest) == RigGuess(rig, named=False)
    assert guessed_rig("Vc.", clef, lowest) == RigGuess("cello", named=True)


def test_a_score_tells_clef_and_lowest_note() -> None:
    """In MusicXML and in other formats."""
    (entry,) = ScoreFile(document("d4:4 g3 e5 b4", part="Solo"), "x.musicxml").parts
    assert (entry.clef, entry.lowest, entry.guess) == ("G", 55, RigGuess("violin", named=False))
    (entry,) = ScoreFile(b"X:1\nT:Low\nM:4/4\nL:1/4\nK:C clef=bass\nC, D, E, F,|\n", "x.abc").parts
    assert (entry.clef, entry.lowest, entry.guess.rig) == ("F", 48, "cello")
