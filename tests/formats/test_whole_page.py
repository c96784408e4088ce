"""Every word and sign on a page: it changes the plan, or it is told with its bar; never neither, never both."""

from collections.abc import Mapping
from dataclasses import dataclass

import pytest

from pathway.core.music import Part
from pathway.core.planning import Plan, plan_part
from pathway.core.rig import preset
from pathway.core.technique.directions import understood
from pathway.formats.score import ScoreFile, at_pitch
from tests.helpers import document

BASE = "[mf] a4:8 b4 c5 d5 e5 d5 c5 b4 | a4:8 b4 c5 d5 e5 d5 c5 b4 | a4:4 c5 e5 a5 | a4:4 e5 d5 c5"
SLURRED = "[mf] (a4:8 b4) (c5 d5) e5:8. d5. c5. b4. | a4:8 b4 c5 d5 e5 d5 c5 b4 | a4:8 b4 c5 d5 e5 d5 c5 b4 | a4:1"
CHORDS = "[mf] e5+g4:4 d5+f4 c5+e4 b4+d4 | e5+g4:4 d5+f4 c5+e4 b4+d4 | e5+g4:4 d5+f4 c5+e4 b4+d4"
SOFT = "[mf] a4:8 b4 c5 d5 e5 d5 c5 b4 | [p] a4:8 b4 c5 d5 e5 d5 c5 b4 | a4:8 b4 c5 d5 e5 d5 c5 b4 | a4:1"


def _said(text: str, bar: int = 2, base: str = BASE) -> Part:
    """Return the base with words over the beginning of a bar."""
    words = f"<direction><direction-type><words>{text}</words></direction-type></direction>"
    return _with(words, bar, base)


def _with(direction: str, bar: int = 2, base: str = BASE, note: str = "", **head: str) -> Part:
    """Return the base with an element before the first note of a bar, or signs in that note."""
    data = document(base, **head).decode()
    before, mark, after = data.partition(f'<measure number="{bar}"')
    at = after.index("<note")
    after = after[:at] + direction + after[at:]
    if note:
        after = after.replace("</note>", f"<notations>{note}</notations></note>", 1)
    return at_pitch(ScoreFile((before + mark + after).encode(), "x.musicxml").part().part, preset("violin"))


def _plan(part: Part) -> Plan:
    return plan_part(part, preset("violin"))


def _acts(part: Part) -> tuple[object, ...]:
    """Return all that words and signs can change of a part and its plan."""
    plan = _plan(part)
    notes = [
        (note.onset, round(note.target_db, 3), note.pulse_db, note.lane, len(note.voices), note.lead.string,
         note.lead.loops, note.lead.finger, round(note.sounding, 4), note.colour) for note in plan.bowed
    ]  # fmt: skip
    strokes = [(stroke.kind, stroke.direction, stroke.notes, round(stroke.start, 4)) for stroke in plan.strokes]
    asks = [(ask.half, ask.muted, ask.where, ask.string) for ask in plan.draft.asks]
    events = [(event.plucked, event.bow) for event in part.events]
    return notes, strokes, asks, events, part.repeats, part.tempos, part.stretches, part.tuning


# words that change something, by what they are over where the plain base would not show it
ACTS: Mapping[str, str] = {
    **dict.fromkeys((
        "spiccato", "sempre spiccato", "Allegro sempre spiccato", "martelé", "col legno", "c.l.", "pizz.", "gezupft",
        "sul tasto", "sul pont.", "ponticello", "am Steg", "con sord.", "punta d'arco", "am Frosch", "tutto l'arco",
        "ganzer Bogen", "staccato", "sempre stacc.", "marcato", "molto marc.", "sul D", "2a corda", "IIa",
        "sur la corde Ré", "dolce", "sotto voce", "Adagio sostenuto", "Andante legato", "Presto", "nicht schnell",
        "non troppo lento", "più mosso", "meno mosso", "doppio movimento", "♩ = ♩.", "rit.", "rallentando",
        "accel.", "stringendo", "dol.", "cres.", "mancando",
        "cresc.", "dim.", "morendo", "più f", "meno f", "sub. p", "p cresc.", "forte", "pp", "fp", "sfz", "trem.",
        "D.C. al Fine", "D.S. al Coda", "Da Capo", "non legato ma sul G", "flautando", "mit Dämpfer",
    ), BASE),
    "sim.": SLURRED, "simile": SLURRED, "segue": SLURRED,
    "div.": CHORDS, "geteilt": CHORDS, "divisi": CHORDS,
    "poco a poco cresc.": SOFT, "decresc.": SOFT,
    "legato": BASE, "portato": "[mf] (a4:4 b4) (c5 d5) | (a4:4 b4) (c5 d5)", "détaché porté": BASE,
}  # fmt: skip
ENDS = {  # words that end what other words began
    "arco": "pizz.", "Bogen": "pizz.", "tutto l'arco": "pizz.", "ord.": "sul pont.", "naturale": "sul tasto",
    "gewöhnlich": "col legno", "senza sord.": "con sord.", "unis.": "div.", "non div.": "div.", "a tempo": "rit.",
    "Tempo I": "più mosso", "non stacc.": "staccato", "cantabile": "marcato", "non trem.": "trem.",
    "espr.": "dolce", "legato": "staccato", "arco ord.": "col legno",
}  # fmt: skip
TOLD = [
    "con anima", "grazioso", "giocoso", "agitato", "leggiero", "schwungvoll?!", "rubato", "schluchzend",
]  # fmt: skip
PLAIN = [
    "sempre",
    "poco a poco",
    "Var. 3",
    "Minore",
    "solo",
    "tutti",
    "Fine",
    "V.S.",
    "III",
    "A",
    "12",
    "attacca",
    "2nd time",
]  # nothing to plan, nothing to miss


@pytest.mark.parametrize("text", ACTS)
def test_a_word_acts_and_is_not_told(text: str) -> None:
    """The part or its plan is another one than without it."""
    base = ACTS[text]
    part = _said(text, base=base)
    assert _acts(part) != _acts(_with("", base=base))
    assert part.unread == ()


@pytest.mark.parametrize("text", ENDS)
def test_a_word_ends_what_another_began(text: str) -> None:
    """From its place on; what was before stays."""
    began = ENDS[text]
    base = CHORDS if began == "div." else BASE
    first = f"<direction><direction-type><words>{began}</words></direction-type></direction>"
    data = document(base).decode()
    for bar, words in ((1, began), (2, text)):
        before, mark, after = data.partition(f'<measure number="{bar}"')
        at = after.index("<note")
        data = before + mark + after[:at] + first.replace(began, words) + after[at:]
    part = ScoreFile(data.encode(), "x.musicxml").part().part
    assert _acts(part) != _acts(_said(began, 1, base))
    assert part.unread == ()


def test_plucking_goes_on_where_the_place_on_the_string_ends() -> None:
    """Only the bow's own words end it."""
    data = document(BASE).decode()
    for bar, words in ((1, "pizz. sul pont."), (2, "ord.")):
        before, mark, after = data.partition(f'<measure number="{bar}"')
        at = after.index("<note")
        said = f"<direction><direction-type><words>{words}</words></direction-type></direction>"
        data = before + mark + after[:at] + said + after[at:]
    # a last bar under the bow, so that the part is not plucked throughout
    at = data.index("<note", data.index('<measure number="4"'))
    data = f"{data[:at]}<direction><direction-type><words>arco</words></direction-type></direction>{data[at:]}"
    part = ScoreFile(data.encode(), "x.musicxml").part().part
    assert [event.plucked for event in part.events] == [event.measure < 3 for event in part.events]


@pytest.mark.parametrize("text", TOLD)
def test_a_word_that_does_nothing_is_told_with_its_bar(text: str) -> None:
    """In the list and among the notices; the plan is the same."""
    part = _said(text)
    (one,) = part.unread
    assert (one.what, one.bars) == (f"“{text}”", ("2",))
    assert _acts(part) == _acts(_with(""))
    assert _plan(part).notices[-1] == f"On the page and not planned: “{text}” (bar 2)."


@pytest.mark.parametrize("text", PLAIN)
def test_a_word_that_has_nothing_to_plan_is_not_told(text: str) -> None:
    """Nobody misses it."""
    assert understood(text)
    part = _said(text)
    assert part.unread == ()
    assert _acts(part) == _acts(_with(""))


@dataclass(frozen=True)
class Sign:
    """A sign of a page, what it is told as where it is told, and the base that shows it."""

    xml: str
    told: str = ""
    base: str = BASE
    note: bool = True  # in the notations of a note, rather than beside the notes


SIGNS = [
    *(Sign(f"<articulations><{name}/></articulations>") for name in (
        "staccato", "tenuto", "accent", "strong-accent", "staccatissimo", "spiccato", "detached-legato",
        "soft-accent")),
    *(Sign(f"<technical><{name}/></technical>") for name in ("snap-pizzicato", "stopped")),
    Sign("<technical><fingering>3</fingering></technical>"), Sign("<technical><string>3</string></technical>"),
    Sign("<technical><open-string/></technical>", base="[mf] (e5:2 c5) | (e5:2 c5)"),
    Sign("<technical><down-bow/></technical>", base="[mf] a4:4 b4 c5 | a4:4 b4 c5"),
    Sign("<technical><up-bow/></technical>", base="[mf] a4:4 b4 c5 d5 | a4:4 b4 c5 d5"),
    Sign("<technical><harmonic><natural/></harmonic></technical>", base="[mf] a4:4 e5 c5 d5 | a5:2 c5"),
    Sign('<ornaments><tremolo type="single">3</tremolo></ornaments>'), Sign("<fermata/>"),
    Sign("<dynamics><f/></dynamics>"),
    Sign("<ornaments><trill-mark/></ornaments>", "trill"), Sign("<ornaments><mordent/></ornaments>", "mordent"),
    Sign("<ornaments><turn/></ornaments>", "turn"), Sign("<ornaments><shake/></ornaments>", "shake"),
    Sign("<articulations><breath-mark/></articulations>", "breath mark"),
    Sign("<articulations><caesura/></articulations>", "caesura"),
    Sign("<articulations><stress/></articulations>", "stress"),
    Sign("<technical><double-tongue/></technical>", "dbltongue"), Sign("<arpeggiate/>", "arpeggio sign"),
    *(Sign(f"<direction><direction-type>{kind}</direction-type></direction>", told, note=False)
      for kind, told in (
        ("<dynamics><sfp/></dynamics>", ""), ('<wedge type="crescendo"/>', ""),
        ("<string-mute type='on'/>", "string mute"),
        ("<damp/>", "damp"), ('<pedal type="start"/>', "pedal"), ("<principal-voice type='start'/>", "principal voice"),
        ("<metronome><beat-unit>quarter</beat-unit><per-minute>60</per-minute></metronome>", ""),
        ("<metronome><beat-unit>quarter</beat-unit><beat-unit-dot/><beat-unit>quarter</beat-unit></metronome>", ""),
        ('<scordatura><accord string="4"><tuning-step>A</tuning-step><tuning-octave>3</tuning-octave></accord>'
         "</scordatura>", ""))),
]  # fmt: skip


@pytest.mark.parametrize("sign", SIGNS, ids=lambda sign: sign.xml[:60])
def test_a_sign_acts_or_is_told(sign: Sign) -> None:
    """Never neither, never both."""
    part = _with("" if sign.note else sign.xml, base=sign.base, note=sign.xml if sign.note else "")
    if 'type="crescendo"' in sign.xml:
        stop = sign.xml.replace("crescendo", "stop")
        data = document(sign.base).decode().replace("</measure>", "", 0)
        at = data.index("<note", data.index('<measure number="2"'))
        end = data.index("</measure>", at)
        part = ScoreFile((data[:at] + sign.xml + data[at:end] + stop + data[end:]).encode(), "x.musicxml").part().part
    told = {one.what: one.bars for one in part.unread}
    if sign.told:
        assert told.get(sign.told) in {("2",), ("1",)}  # one before a note may stand at the end of the bar before
    else:
        assert told == {}
        assert _acts(part) != _acts(_with("", base=sign.base))
