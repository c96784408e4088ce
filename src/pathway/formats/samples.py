"""A few notes of a stroke type on a rig, composed and planned like any music, to be heard."""

from pathway.core.planning import Lock, Settings, plan_part
from pathway.core.planning.plan import Plan
from pathway.core.rig.instrument import Rig
from pathway.core.technique.motion import usual_rate
from pathway.core.technique.stroke_types import Contact, StrokeType
from pathway.formats.patterns import spelled
from pathway.formats.score import ScoreFile
from pathway.formats.shorthand import compose

SAMPLE_NOTES = 8
_STEPS = (0, 2, 4, 5, 7, 5, 4, 2)  # semitones over the lowest note
HIGH = 2  # above an open string [semitones]
_QUICK = 240.0  # tempo up to which the notes are written as quarters [beats a minute]
ROUND_A_BOW = 4  # notes in one bow, of the types that have several


def type_sample(kind: StrokeType, rig: Rig) -> Plan:
    """Return eight notes of a type at its usual rate on the middle strings of a rig."""
    strings = rig.instrument.strings
    low = strings[len(strings) // 2].midi + HIGH
    tempo, value = 60.0 * usual_rate(kind), 4
    while tempo > _QUICK:
        tempo, value = tempo / 2, value * 2
    slurred = kind.stops_inside or kind.key == "legato" or kind.contact is Contact.THROWN
    tokens = []
    for i in range(SAMPLE_NOTES):
        opens, closes = slurred and i % ROUND_A_BOW == 0, slurred and i % ROUND_A_BOW == ROUND_A_BOW - 1
        pitch = spelled(low + _STEPS[i])
        tokens.append(f"{'(' if opens else ''}{pitch}{f':{value}' if i == 0 else ''}{')' if closes else ''}")
    clef = "treble" if low >= 60 else "alto" if low >= 52 else "bass"
    fields = {"title": kind.name, "part": "Sample", "clef": clef, "fifths": 0, "meter": f"{SAMPLE_NOTES}/{value}"}
    head = "".join(f"{key}: {field}\n" for key, field in (fields | {"tempo": round(tempo)}).items())
    text = compose(f"{head}[mf] {' '.join(tokens)}").encode()
    part = ScoreFile(text, "sample.musicxml").part().part
    firsts = [event.id for i, event in enumerate(part.events) if not slurred or i % ROUND_A_BOW == 0]
    return plan_part(part, rig, Settings(), [Lock(id_, kind=kind.key) for id_ in firsts])
