"""What would be misread in the exports of notation programs, and is not."""

from fractions import Fraction

import pytest

from pathway.core.music import Part
from pathway.core.planning import plan_part
from pathway.core.planning.finding import Severity
from pathway.core.rig import preset
from pathway.errors import ScoreError
from pathway.formats.score import ScoreFile
from tests.helpers import document

HEAD = (
    '<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Violin</part-name></score-part>'
    '<score-part id="P2"><part-name>Viola</part-name></score-part></part-list>'
)
FIRST = (
    "<attributes><divisions>2</divisions><time><beats>4</beats><beat-type>4</beat-type></time>"
    "<clef><sign>G</sign><line>2</line></clef></attributes>"
)


def _note(step: str, duration: int = 2, more: str = "", inside: str = "", attributes: str = "") -> str:
    kind = {1: "eighth", 2: "quarter", 4: "half", 8: "whole"}[duration]
    pitch = f"<pitch><step>{step}</step><octave>4</octave></pitch>"
    value = f"<duration>{duration}</duration>{more}<voice>1</voice><type>{kind}</type>"
    return f"<note {attributes}>{inside}{pitch}{value}</note>"


def _words(text: str, offset: str = "") -> str:
    return f"<direction><direction-type><words>{text}</words></direction-type>{offset}</direction>"


def _mark(bpm: str) -> str:
    metronome = f"<metronome><beat-unit>quarter</beat-unit><per-minute>{bpm}</per-minute></metronome>"
    return f"<direction><direction-type>{metronome}</direction-type></direction>"


def _level(text: str, offset: str = "") -> str:
    dynamics = f"<direction-type><dynamics><{text}/></dynamics></direction-type>"
    return f"<direction>{dynamics}{offset}</direction>"


def _score(*bars: str, other: tuple[str, ...] = ()) -> ScoreFile:
    def part(number: int, inner: tuple[str, ...]) -> str:
        measures = "".join(
            f'<measure number="{n}">{FIRST if n == 1 else ""}{bar}</measure>' for n, bar in enumerate(inner, start=1)
        )
        return f'<part id="P{number}">{measures}</part>'

    rest = "<note><rest/><duration>8</duration></note>"
    document = HEAD + part(1, bars) + part(2, other or tuple(rest for _ in bars)) + "</score-partwise>"
    return ScoreFile(document.encode(), "x.musicxml")


def _part(*bars: str) -> Part:
    return _score(*bars).part(1).part


FOUR = "".join(_note(step) for step in "CDEF")


def test_a_tempo_mark_counts_from_its_place_on() -> None:
    """Before the first number the opening word decides; without one the usual 80 is assumed, and it is told."""
    told = _part(_words("Adagio") + FOUR, FOUR, _mark("120") + FOUR)
    assert (told.tempo.quarters_per_minute, told.tempo.word) == (58, "Adagio")
    assert [(float(mark.onset), mark.quarters_per_minute) for mark in told.tempos] == [(0, 58), (8, 120)]
    silent = _part(FOUR, _mark("120") + FOUR)
    assert (silent.tempo.quarters_per_minute, silent.opening) == (80, ())
    plan = plan_part(silent, preset("violin"))
    assert plan.notes[3].duration == pytest.approx(0.75)
    assert plan.notes[4].duration == pytest.approx(0.5)
    assert "80" in next(notice for notice in plan.notices if "tempo" in notice)
    assert "Adagio" in next(notice for notice in plan_part(told, preset("violin")).notices if "printed" in notice)


def test_a_mark_after_the_pickup_holds_for_it_too() -> None:
    """As printed over the first full bar."""
    pickup = "<note><pitch><step>G</step><octave>4</octave></pitch><duration>2</duration><type>quarter</type></note>"
    part = _part(pickup, _mark("66") + FOUR)
    assert part.measures[0].pickup
    assert part.tempo.quarters_per_minute == 66


def test_the_tempo_of_the_score_is_that_of_every_part() -> None:
    """Numbers, words and rehearsal marks are printed over the highest part only; each has its place in the bar."""
    rehearsal = "<direction><direction-type><rehearsal>A</rehearsal></direction-type></direction>"
    score = _score(
        _mark("72") + FOUR,
        _note("C", 4) + _words("Allegro") + _note("D", 4),
        rehearsal + FOUR,
        other=(FOUR, FOUR, _words("dolce") + FOUR),
    )
    part = score.part(2).part
    assert [(float(m.onset), m.quarters_per_minute) for m in part.tempos] == [(0, 72), (6, 132)]
    assert [float(onset) for onset in part.sections] == [8]
    assert [words.text for words in part.words][1:] == ["Allegro", "dolce"]


@pytest.mark.parametrize(
    ("offset", "onset"),
    [("", 2), ("<offset>3</offset>", 2), ('<offset sound="yes">2</offset>', 3), ("<offset>-4</offset>", 0),
     ("<offset>-3</offset>", 0), ("<offset>1</offset>", 2), ("<offset>-1</offset>", 2),
     ("<offset>nonsense</offset>", 2), ("<offset>-99999999999999</offset>", 2), ("<offset>-900</offset>", 0)],
)  # fmt: skip
def test_a_sign_means_the_note_that_it_stands_at(offset: str, onset: float) -> None:
    """Written behind it and moved back, or moved a little; what says that it is meant to sound there is taken so."""
    part = _part(_note("C", 4) + _level("f", offset) + _words("sul tasto", offset) + _note("D", 4))
    assert [float(dynamic.onset) for dynamic in part.dynamics] == [onset]
    assert [float(words.onset) for words in part.words] == [onset]


def test_the_ends_of_a_hairpin_stand_at_notes_too() -> None:
    """Its end at the end of a note where that is nearer."""

    def wedge(kind: str, offset: int) -> str:
        return (
            f'<direction><direction-type><wedge type="{kind}"/></direction-type><offset>{offset}</offset></direction>'
        )

    rest = "<note><rest/><duration>2</duration><voice>1</voice></note>"
    bar = _note("C") + wedge("crescendo", -2) + _note("D") + rest + wedge("stop", -2) + _note("E")
    assert [(float(pin.start), float(pin.end)) for pin in _part(bar).hairpins] == [(0, 2)]


def test_a_change_inside_a_long_note_stays_there() -> None:
    """On its beat, far from where any note begins."""
    part = _part(_level("p") + _level("f", "<offset>4</offset>") + _note("C", 8))
    assert [(float(mark.onset), mark.level_db) for mark in part.dynamics] == [(0, -9), (2, 4)]


def test_a_note_is_plucked_though_its_word_is_moved() -> None:
    """As most programs export it."""
    part = _part(FOUR, _words("pizz.", "<offset>1</offset>") + FOUR)
    assert [event.plucked for event in part.events] == [False] * 4 + [True] * 4


@pytest.mark.parametrize("around", [True, False])
def test_plucking_that_is_only_sounded_is_plucking(around: bool) -> None:
    """Inside a direction or by itself; where its word is printed it is not said twice."""

    def sound(value: str, more: str = "") -> str:
        told = f'<sound pizzicato="{value}"/>'
        return f"<direction><direction-type>{more or '<words/>'}</direction-type>{told}</direction>" if around else told

    part = _part(FOUR, sound("yes") + FOUR, FOUR, sound("no") + FOUR)
    assert [event.plucked for event in part.events] == [False] * 4 + [True] * 8 + [False] * 4
    if around:
        part = _part(sound("yes", "<words>pizz.</words>") + FOUR)
        assert [words.text for words in part.words] == ["pizz."]


@pytest.mark.parametrize(("text", "quarters"), [("Adagio sostenuto", 58), ("Allegro sempre spiccato", 132)])
def test_a_manner_beside_a_tempo_leaves_the_tempo(text: str, quarters: float) -> None:
    """Both are read."""
    part = _part(_words(text) + FOUR)
    assert [mark.quarters_per_minute for mark in part.tempos] == [quarters]
    assert [words.text for words in part.words] == [text]


def test_hidden_notes_and_cues_are_not_the_players() -> None:
    """What a program plays for a trill, in a voice of its own, and cues: silence, and nothing is shifted."""
    hidden = 'print-object="no"'
    playback = "<backup><duration>8</duration></backup>" + "".join(
        _note(step, 1, attributes=hidden) for step in "CDCDCDCD"
    ).replace("<voice>1</voice>", "<voice>2</voice>")
    part = _part(FOUR + playback, _note("G", 4, inside="<cue/>") + _note("A", 4), _note("B", 8, attributes=hidden))
    assert [event.top.midi for event in part.events] == [60, 62, 64, 65, 69]
    assert float(part.events[-1].onset) == 6
    assert all(len(event.heads) == 1 for event in part.events)
    assert part.notices == () or not any("voices" in notice for notice in part.notices)
    assert len(part.measures) == 3


def test_a_hidden_head_of_a_chord_and_a_hidden_grace_take_no_time() -> None:
    """They are left out; what is seen stays."""
    chord = _note("C", 8) + _note("E", 8, inside="<chord/>", attributes='print-object="no"')
    grace = _note("D", 1, inside="<grace/>", attributes='print-object="no"').replace("<duration>1</duration>", "")
    part = _part(chord, grace + _note("F", 8))
    assert [(event.top.midi, float(event.onset)) for event in part.events] == [(60, 0), (65, 4)]


def test_a_tie_without_its_curve_is_a_tie() -> None:
    """It sounds, whatever is drawn."""
    part = _part(_note("C", 8, '<tie type="start"/>'), _note("C", 8, '<tie type="stop"/>'))
    assert [event.tied for event in part.events] == [False, True]
    assert len(plan_part(part, preset("violin")).strokes) == 1


@pytest.mark.parametrize(
    ("beats", "beat_type"), [("3", "7"), ("4", "1000000"), ("99999999", "4"), ("65", "64"), ("0", "4")]
)
def test_meters_that_cannot_be_counted_are_refused(beats: str, beat_type: str) -> None:
    """With the bar and the value, whatever their size."""
    strange = document("d4:4 e4 f4 g4 | a4 b4 c5 d5").decode()
    at = strange.index("<time>")
    meter = f"<time><beats>{beats}</beats><beat-type>{beat_type}</beat-type></time>"
    score = strange[:at] + meter + strange[strange.index("</time>") + 7 :]
    with pytest.raises(ScoreError, match=r"bar 1") as refused:
        ScoreFile(score.encode(), "x.musicxml").part()
    assert beats[:8] in refused.value.text


@pytest.mark.parametrize(("text", "bpm"), [("ca. 60", 60), ("60-72", 66), ("72.5", 72.5)])
def test_tempi_are_read_from_what_is_printed(text: str, bpm: float) -> None:
    """About so much, or between two numbers."""
    assert _part(_mark(text) + FOUR).tempo.quarters_per_minute == bpm


@pytest.mark.parametrize("bpm", ["0", "4", "401", "-60", "fast", ""])
def test_tempi_that_cannot_be_played_are_refused(bpm: str) -> None:
    """With the bar."""
    with pytest.raises(ScoreError, match=r"tempo of .* \(bar 2\)"):
        _part(FOUR, _mark(bpm) + FOUR)


def test_sections_end_at_double_bars() -> None:
    """Of the engraver's many barlines those that divide the music."""
    double = '<barline location="right"><bar-style>light-light</bar-style></barline>'
    final = '<barline location="right"><bar-style>light-heavy</bar-style></barline>'
    assert _part(FOUR + double, FOUR, FOUR + final).sections == (Fraction(4), Fraction(12))


def _ornament(kind: str, slashes: int, more: str = "") -> str:
    return f'<notations>{more}<ornaments><tremolo type="{kind}">{slashes}</tremolo></ornaments></notations>'


def _repeated(duration: int, slashes: int) -> str:
    kind = {1: "eighth", 2: "quarter", 4: "half", 8: "whole"}[duration]
    pitch = "<pitch><step>D</step><octave>4</octave></pitch>"
    value = f"<duration>{duration}</duration><voice>1</voice><type>{kind}</type>"
    return f"<note>{pitch}{value}{_ornament('single', slashes)}</note>"


def _alternating(step: str, kind: str, slur: str = "") -> str:
    half = "<duration>4</duration><voice>1</voice><type>whole</type>"
    ratio = (
        "<time-modification><actual-notes>2</actual-notes><normal-notes>1</normal-notes></time-modification>"
        + _ornament(kind, 3, f'<slur type="{slur}" number="1"/>' if slur else "")
    )
    return f"<note><pitch><step>{step}</step><octave>4</octave></pitch>{half}{ratio}</note>"


def test_slashes_say_the_value_that_a_note_is_repeated_in() -> None:
    """One to three of them, on a note that has no flag and on one that has one."""
    part = _part(_repeated(4, 1) + _repeated(2, 2) + _repeated(1, 1) + _note("E", 1), _repeated(8, 3))
    values = [Fraction(1, 2), Fraction(1, 4), Fraction(1, 4), None, Fraction(1, 8)]
    assert [event.repeated for event in part.events] == values


def test_a_tremolo_between_two_notes_is_the_bows_unless_it_is_slurred() -> None:
    """Each of the two has half of it; under a slur the fingers alternate."""
    plain = _part(_alternating("C", "start") + _alternating("G", "stop"))
    slurred = _part(_alternating("C", "start", "start") + _alternating("G", "stop", "stop"))
    assert [(event.duration, event.repeated) for event in plain.events] == [(2, Fraction(1, 8))] * 2
    assert [(event.duration, event.repeated) for event in slurred.events] == [(2, None)] * 2
    assert len(plan_part(slurred, preset("violin")).strokes) == 1


@pytest.mark.parametrize("rig", ["violin", "cello", "bass", "bass-viol"])
def test_a_tremolo_is_many_short_strokes_and_none_of_them_slow(rig: str) -> None:
    """Half a bar of it at any dynamic: one to three centimetres a bow, faster than the slowest that speaks."""
    bars = [_level(level) + _repeated(4, 3) + _note("D", 4) for level in ("pp", "mf", "ff")]
    plan = plan_part(_part(*bars), preset(rig))
    trembling = [stroke for stroke in plan.strokes if stroke.kind == "tremolo"]
    assert len(trembling) == 3
    for stroke in trembling:
        assert 0.008 < stroke.length < 0.035
        assert stroke.bows / (stroke.finish - stroke.begin) > 9.5
        note = plan.note[stroke.notes[0]]
        assert note.speed == pytest.approx(note.bows * note.length / note.sounding)
        assert note.speed > 0.08
    assert trembling[0].length < trembling[1].length < trembling[2].length
    bowed = {stroke.notes[0] for stroke in trembling}
    assert not [f for f in plan.findings if f.severity is Severity.HIGH and bowed & {*f.notes}]


def test_an_even_number_of_repeated_notes_leaves_the_bow_where_it_was() -> None:
    """Four eighths and on: the next stroke goes as the first of them went, from where it began."""
    plan = plan_part(_part(_repeated(4, 1) + _note("D", 4)), preset("violin"))
    first, second = plan.strokes
    assert first.bows == 4
    assert second.start == pytest.approx(first.start)
    assert second.direction is first.direction
