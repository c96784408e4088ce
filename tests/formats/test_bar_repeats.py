"""Signs for a bar that is played again: its notes are there, and it is told."""

import pytest

from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.formats.engraver import engraver
from pathway.formats.score import ScoreFile

HEAD = (
    "<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time>"
    "<clef><sign>G</sign><line>2</line></clef></attributes>"
)
REST = '<note><rest measure="yes"/><duration>4</duration><voice>1</voice></note>'


def _note(step: str) -> str:
    pitch = f"<pitch><step>{step}</step><octave>4</octave></pitch>"
    return f"<note>{pitch}<duration>1</duration><voice>1</voice><type>quarter</type></note>"


def _sign(kind: str, bars: str = "") -> str:
    repeat = f'<measure-repeat type="{kind}">{bars}</measure-repeat>'
    return f"<attributes><measure-style>{repeat}</measure-style></attributes>"


def _score(*bars: str) -> ScoreFile:
    inside = "".join(f'<measure number="{n}">{bar}</measure>' for n, bar in enumerate(bars, 1))
    parts = '<part-list><score-part id="P1"><part-name>Violin</part-name></score-part></part-list>'
    document = f'<score-partwise version="4.0">{parts}<part id="P1">{inside}</part></score-partwise>'
    return ScoreFile(document.encode(), "x.musicxml")


FOUR, OTHERS = "".join(map(_note, "CDEF")), "".join(map(_note, "GABC"))
SCORE = _score(HEAD + FOUR, _sign("start", "1") + REST, REST, _sign("stop") + OTHERS)


def test_a_bar_that_is_played_again_has_its_notes() -> None:
    """In MusicXML, one sign after the other; every note has an id of its own, and the whole can be planned."""
    found = SCORE.part()
    part = found.part
    assert [event.top.midi for event in part.events] == [60, 62, 64, 65] * 3 + [67, 69, 71, 60]
    assert [float(event.onset) for event in part.events] == list(range(16))
    assert len({event.id for event in part.events}) == 16
    assert [event.id for event in part.events[-4:]] == [f"n{n}" for n in range(7, 11)]
    assert any("Bars 2, 3: written as a repeat" in notice for notice in part.notices)
    plan = plan_part(part, preset("violin"))
    assert len(plan.notes) == 16
    assert "".join(engraver().draw(found.mei, 900)).count('class="note"') == 16


def test_the_same_in_mei() -> None:
    """With the sign as MEI has it."""
    whole = SCORE.part().mei
    mei = engraver().read(whole, "mei")
    begins = mei.index("<layer", mei.index("<measure", mei.index("<measure") + 1))
    ends = mei.index("</layer>", begins)
    signed = mei[: mei.index(">", begins) + 1] + "<mRpt/>" + mei[ends:]
    part = ScoreFile(signed.encode(), "x.mei").part().part
    assert [event.top.midi for event in part.events][:8] == [60, 62, 64, 65] * 2


@pytest.mark.parametrize("bars", [(HEAD + _sign("start", "1") + REST, FOUR)])
def test_a_sign_without_a_bar_before_it_is_a_rest(bars: tuple[str, ...]) -> None:
    """There is nothing to repeat; what follows is in its place."""
    part = _score(*bars).part().part
    assert [float(event.onset) for event in part.events] == [4, 5, 6, 7]
