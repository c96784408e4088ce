"""What is written short in a file, or beside its notes: repeats of bars, versions, plucked parts, strings, tempi."""

import re

import pytest

from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.formats.bar_repeats import write_out
from pathway.formats.mei_elements import NS
from pathway.formats.safe_files import parse_xml
from pathway.formats.score import ScoreFile, tuning_for
from tests.helpers import document


def _pitches(data: bytes, name: str = "x.musicxml") -> list[int]:
    return [event.top.midi for event in ScoreFile(data, name).part().part.events]


def test_two_bars_are_repeated_as_two() -> None:
    """Not the last one twice; the copies have ids of their own."""
    data = document("a4:4 b4 c5 d5 | e5:4 f5 g5 a5 | r:1 | r:1 | a4:1").decode()
    sign = '<attributes><measure-style><measure-repeat type="{}"{}>{}</measure-repeat></measure-style></attributes>'
    for bar, kind, more, text in ((3, "start", ' slashes="2"', "2"), (5, "stop", "", "")):
        at = data.index(">", data.index(f'<measure number="{bar}"')) + 1
        data = data[:at] + sign.format(kind, more, text) + data[at:]
    data = data.replace("<note><rest/>", "<note><rest measure='yes'/>")
    part = ScoreFile(data.encode(), "x.musicxml").part().part
    pitches = [event.top.midi for event in part.events]
    assert pitches[8:16] == pitches[:8]
    assert len({event.id for event in part.events}) == len(part.events)
    assert "Bars 3, 4: written as a repeat of those before; written out." in part.notices


@pytest.mark.parametrize(
    ("signs", "bars"),
    [
        (('<mRpt num="2"/>', "<mRpt/>"), (2, 2)),  # the second of several signs, and each for the bar before it
        (("<mRpt2/>", "<space dur='1'/>"), (1, 2)),
        (('<multiRpt num="2"/>', "<space dur='1'/>"), (1, 2)),
        (('<multiRpt num="many"/>', "<space dur='1'/>"), (1, 2)),
        (('<multiRpt num="0"/>', "<space dur='1'/>"), (1, 2)),
    ],
)
def test_signs_of_mei_stand_for_the_bars_that_they_mean(signs: tuple[str, str], bars: tuple[int, int]) -> None:
    """A number over a sign for one bar counts the signs; nonsense is no number."""
    mei = ScoreFile(document("a4:4 b4 c5 d5 | e5:4 f5 g5 a5 | r:1 | r:1"), "x.musicxml").part().mei
    root = parse_xml(mei.encode())
    for layer, sign in zip(list(root.iter(f"{NS}layer"))[2:], signs, strict=True):
        for child in list(layer):
            layer.remove(child)
        layer.append(parse_xml(sign.replace("/>", f' xmlns="{NS[1:-1]}"/>').encode()))
    write_out(root)
    notes = [[note.get("pname") for note in bar.iter(f"{NS}note")] for bar in root.iter(f"{NS}measure")]
    assert [notes[2], notes[3]] == [notes[bar - 1] for bar in bars]


def test_of_two_versions_the_main_one_is_read() -> None:
    """Around the staff or inside it; it is told with the bar, and drawn so."""
    mei = ScoreFile(document("a4:4 b4 c5 d5 | e5:1"), "x.musicxml").part().mei
    staff = re.search(r"<staff\b.*?</staff>", mei, re.DOTALL)
    assert staff is not None
    other = re.sub(r'xml:id="', 'xml:id="o', staff[0]).replace("<staff", "<oStaff").replace("</staff", "</oStaff")
    for ossia in (f"<ossia>{staff[0]}{other}</ossia>", f"{staff[0]}<ossia>{other}</ossia>"):
        found = ScoreFile(mei.replace(staff[0], ossia, 1).encode(), "x.mei").part()
        assert [event.top.midi for event in found.part.events] == [69, 71, 72, 74, 76]
        assert "ossia" not in found.mei
        assert "Bar 1: of two versions (ossia) the main one is planned." in found.part.notices


def test_a_part_that_is_plucked_throughout_opens_as_if_it_were_bowed() -> None:
    """And says so."""
    words = "<direction><direction-type><words>pizz.</words></direction-type></direction>"
    data = document("[mf] a4:4 b4 c5 d5").decode().replace("<note>", f"{words}<note>", 1)
    plan = plan_part(ScoreFile(data.encode(), "x.musicxml").part().part, preset("violin"))
    assert len(plan.bowed) == 4
    assert "The whole part is plucked: it is laid out as if it were bowed." in plan.notices


def _tuned(kind: str, *strings: tuple[int, str, int]) -> bytes:
    data = document("[mf] a4:4 b4 c5 d5").decode()
    if kind == "staff":
        pitch = "<tuning-step>{}</tuning-step><tuning-octave>{}</tuning-octave>"
        rows = "".join(
            f'<staff-tuning line="{n}">{pitch.format(step, octave)}</staff-tuning>' for n, step, octave in strings
        )
        return data.replace("</attributes>", f"<staff-details>{rows}</staff-details></attributes>", 1).encode()
    rows = "".join(
        f'<accord string="{n}"><tuning-step>{step}</tuning-step><tuning-octave>{octave}</tuning-octave></accord>'
        for n, step, octave in strings
    )
    sign = f"<direction><direction-type><scordatura>{rows}</scordatura></direction-type></direction>"
    return data.replace("<note>", f"{sign}<note>", 1).encode()


def test_strings_are_tuned_as_the_file_says() -> None:
    """One of them or all; what they cannot be tuned to, or are already, is left."""
    violin = preset("violin")
    all_four = _tuned("staff", (1, "A", 3), (2, "D", 4), (3, "A", 4), (4, "E", 5))
    for data in (_tuned("accord", (4, "A", 3)), all_four):
        assert tuning_for(ScoreFile(data, "x.musicxml").part().part, violin) == (57, 62, 69, 76)
        assert _pitches(data) == [69, 71, 72, 74]
    for data in (_tuned("accord", (4, "G", 3)), _tuned("accord", (4, "A", 6)), _tuned("accord", (6, "A", 3))):
        assert tuning_for(ScoreFile(data, "x.musicxml").part().part, violin) == ()


def _played_at(quarters: int, words: str, **head: str) -> bytes:
    sound = f'<direction><direction-type><words>{words}</words></direction-type><sound tempo="{quarters}"/></direction>'
    data = document("[mf] a4:4 b4 c5 d5", **head).decode()
    metronome = r"<direction[^>]*>(?:(?!</direction>).)*<metronome.*?</direction>"
    return re.sub(metronome, sound, data, count=1, flags=re.DOTALL).encode()


def test_a_number_that_contradicts_its_word_is_not_taken() -> None:
    """In cut time, counted in halves; it is asked about before the part is read, and told after."""
    data = _played_at(120, "Allegro molto", meter="2/2")
    score = ScoreFile(data, "x.musicxml")
    part = score.part().part
    assert score.tempo_doubt is not None
    word, means, played = score.tempo_doubt
    assert (word, round(played)) == ("Allegro molto", 60)
    assert part.tempo.unit == 2
    assert round(part.tempo.beats_per_minute) == round(means) == 89
    assert "Bar 1: the file is played at 60" in part.notices[0]
    fitting = ScoreFile(_played_at(180, "Allegro molto", meter="2/2"), "x.musicxml")
    assert fitting.tempo_doubt is None
    assert (fitting.part().part.tempo.beats_per_minute, fitting.part().part.tempo.unit) == (90, 2)
