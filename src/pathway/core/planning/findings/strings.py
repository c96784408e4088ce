"""Findings about the way from string to string, double stops and chords."""

import math
from collections.abc import Iterator, Sequence

from pathway.core.physics.geometry import FASTEST_HAND, ROLL_TIME
from pathway.core.planning.findings.scene import Scene
from pathway.core.planning.notes.tone import tone_class
from pathway.core.planning.plan import Crossing, Finding, NotePlan, Severity, Tone, Voice
from pathway.core.technique.double_stops import LOST, OVERRUN
from pathway.core.technique.voicings import trouble_with

HARD_IN_A_ROW = 3  # crossings on the hard way round, one after the other, that are worth a word


def string_findings(scene: Scene) -> Iterator[Finding]:
    """Yield what crossings and several strings bring."""
    event = scene.draft.part.event
    full = [c for c in scene.crossings if not (event[c.from_note].grace or event[c.to_note].grace)]
    yield from _fast(scene, full)  # between full notes: an ornament is brushed in passing
    yield from _hard(scene)
    yield from _skips(scene, full)
    yield from _carried(scene)
    yield from _voices(scene)
    yield from _unplayable(scene)


def _where(scene: Scene, crossing: Crossing) -> tuple[NotePlan, str, str]:
    """Return the note a crossing leads to, its bar, and the two strings' names."""
    note = scene.note[crossing.to_note]
    strings = scene.draft.rig.instrument.strings
    names = f"{strings[crossing.from_string].letter} to {strings[crossing.to_string].letter}"
    return note, f"Bar {note.measure}", names


def _fast(scene: Scene, crossings: Sequence[Crossing]) -> Iterator[Finding]:
    for crossing in crossings:
        if crossing.speed <= FASTEST_HAND:
            continue
        note, bar, names = _where(scene, crossing)
        if note.chord or scene.note[crossing.from_note].chord:
            continue
        text = (
            f"{bar}: from {names} the hand has to travel {100 * crossing.travel:.0f} cm in "
            f"{1000 * crossing.time:.0f} ms. Play it nearer the frog, on one string, or slur it."
        )
        numbers = {"hand_speed_m_s": crossing.speed, "travel_cm": 100 * crossing.travel, "time_s": crossing.time}
        yield Finding("crossing-fast", Severity.MEDIUM, (crossing.from_note, crossing.to_note), text, numbers)


def _hard(scene: Scene) -> Iterator[Finding]:
    """Runs of crossings in which every pair goes the hard way round."""
    run: list[Crossing] = []
    for crossing in (*scene.crossings, None):
        follows = crossing is not None and (not run or run[-1].to_note == crossing.from_note)
        if crossing is not None and follows and crossing.sense == "hard":
            run.append(crossing)
            continue
        if len(run) >= HARD_IN_A_ROW:
            _, bar, names = _where(scene, run[0])
            text = (
                f"{bar}: {len(run)} crossings from {names} and back go the hard way round. Begin on the other bow, "
                "or take one note on another string."
            )
            ids = (run[0].from_note, *(c.to_note for c in run))
            yield Finding("crossing-hard", Severity.MEDIUM, ids, text, {"crossings": len(run)})
        run = [crossing] if crossing is not None and crossing.sense == "hard" else []


def _skips(scene: Scene, crossings: Sequence[Crossing]) -> Iterator[Finding]:
    for crossing in crossings:
        if crossing.skips < 1 or crossing.time >= crossing.skips * ROLL_TIME:
            continue
        _, bar, names = _where(scene, crossing)
        way = "roll over" if crossing.how == "roll" else "lift over"
        over = "the string" if crossing.skips == 1 else f"{crossing.skips} strings"
        text = (
            f"{bar}: from {names} the bow has {1000 * crossing.time:.0f} ms to {way} {over} between. Leave a gap "
            "before it, or play one note on another string."
        )
        numbers = {"time_s": crossing.time, "skips": crossing.skips}
        yield Finding("skip-no-time", Severity.MEDIUM, (crossing.from_note, crossing.to_note), text, numbers)


def _carried(scene: Scene) -> Iterator[Finding]:
    """The crossing after which the old direction of the stick would lead furthest off; one for a piece."""
    worst: tuple[float, Crossing] | None = None
    for crossing in (crossing for crossing in scene.crossings if crossing.drift):
        note = scene.note[crossing.to_note]
        step = note.contact * math.expm1(scene.lane_step(note))
        lanes = abs(crossing.drift) / step
        if lanes > 1 and (worst is None or lanes > worst[0]):
            worst = lanes, crossing
    if worst is not None:
        crossing = worst[1]
        _, bar, names = _where(scene, crossing)
        side = "fingerboard" if crossing.drift > 0 else "bridge"
        text = (
            f"{bar}: from {names} the stick has to turn by {abs(math.degrees(crossing.turn)):.0f}°. Carried over as it "
            f"was, the hair would slide {100 * abs(crossing.drift):.1f} cm towards the {side}."
        )
        numbers = {"turn_deg": math.degrees(crossing.turn), "drift_cm": 100 * crossing.drift}
        yield Finding("angle-carried", Severity.LOW, (crossing.to_note,), text, numbers)


def _voices(scene: Scene) -> Iterator[Finding]:
    """Double stops in which one of the two voices is lost."""
    for note in scene.notes:
        if len(note.voices) != 2:
            continue
        lead, second = note.voices
        if text := _lost(lead, second, scene.draft.rig.instrument.length):
            numbers = {"under_db": lead.level_db - second.level_db, "place": second.place}
            bar = f"Bar {note.measure}"
            yield Finding("voice-lost", Severity.MEDIUM, (note.id,), f"{bar}: {text}", numbers)


def _lost(lead: Voice, second: Voice, open_length: float) -> str:
    under = lead.level_db - second.level_db
    which = "lower" if second.string < lead.string else "upper"
    if tone_class(second.place) is Tone.AIRY:
        return f"the {which} voice has too little weight to speak. Lean the level towards it, or let it lead."
    if under > LOST:
        return f"the {which} voice comes {under:.0f} dB under the other. Let it lead, or go to a place between."
    drone = second.vibrating >= open_length and second.loops == 1  # an open string is expected to ring
    if under < -(LOST if drone else OVERRUN):
        return f"the {which} voice comes {-under:.0f} dB over the one that should lead. Let it lead, or lean away."
    return ""


def _unplayable(scene: Scene) -> Iterator[Finding]:
    """Chords that no bow can play as they stand, with an easier voicing."""
    instrument, event = scene.draft.rig.instrument, scene.draft.part.event
    for i in scene.draft.curtailed:
        note = scene.notes[i]
        heads = event[note.id].heads
        found = trouble_with([head.midi for head in heads], instrument)
        text = f"Bar {note.measure}: {found.why}. {found.easier}"
        numbers = {"notes": len(heads), "planned": len(note.voices)}
        yield Finding("chord-out-of-reach", Severity.HIGH, (note.id,), text, numbers)
