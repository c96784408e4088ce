"""Two strings under one bow, held for a while: what the bench has on it, to be heard."""

from pathway.core.physics.attack import slowest_start
from pathway.core.planning import TwoStrings
from pathway.core.planning.note_plan import NotePlan, Onset, Tone, Voice
from pathway.core.planning.plan import StrokePlan
from pathway.core.planning.wishes import Link
from pathway.core.rig.bow import Direction
from pathway.core.sound.playable import Playable
from pathway.core.technique.double_stops import Shared
from pathway.core.technique.endings import Exit

_SECONDS = 1.8
ID = "held"


def held(two: TwoStrings, shared: Shared) -> Playable:
    """Return one bow over two strings, as place and share of the weight make it."""
    contact, instrument = float(shared.contact[0]), two.rig.instrument
    voices = []
    for k, (string, above) in enumerate(zip(two.strings, two.semitones, strict=True)):
        length = instrument.length * 2 ** (-above / 12)
        voices.append(
            Voice(
                midi=instrument.strings[string].midi + above,
                string=string,
                vibrating=length,
                beta=contact / length,
                force=float(shared.force[0, k]),
                window=(float(shared.window.lower[0, k]), float(shared.window.upper[0, k])),
                place=float(shared.place[0, k]),
                level_db=float(shared.level_db[0, k]),
                lead=k == 0,
            )
        )
    whole = sum(voice.force for voice in voices)
    rise = slowest_start(instrument.length)
    note = NotePlan(
        id=ID,
        measure="1",
        beat=1.0,
        onset=0.0,
        duration=_SECONDS,
        sounding=_SECONDS,
        stroke=ID,
        voices=tuple(voices),
        speed=two.speed,
        speed_ends=(two.speed, two.speed),
        contact=contact,
        contact_ends=(contact, contact),
        force_at=(whole, whole, whole),
        tone=Tone.CORE,
        onset_of_tone=Onset(rise, rise, 0.0),
    )
    stroke = StrokePlan(
        ID, Direction.DOWN, "sustained", (ID,), 0.0, 0.0, 0.0, _SECONDS, Link.FIRST, Exit.RINGING, False
    )
    return Playable(two.rig, (stroke,), (note,), {})
