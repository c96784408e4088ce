"""What a player changes in the touch: lane, weight, tilt, which voice leads."""

from collections.abc import Iterator, Sequence

import numpy as np

from pathway.core.physics.hair import DEGREE, MOST_TILT
from pathway.core.physics.string import LANES
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.finding import Code, Finding
from pathway.core.planning.note_plan import NotePlan, Voice
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Lock
from pathway.core.says import range_of
from pathway.core.technique.double_stops import Leading

_STEPS = (1, 2)  # lanes
FACTORS = (1.25, 1.6)  # of weight
TILTS = (10, 20, 30)  # degrees more, or less
MOST_LOCKS = 60  # of one help
_OUT = {Code.AIRY, Code.NO_WINDOW, Code.TOO_LOUD, Code.SPEAKS_LATE, Code.OFF_SQUARE_SENSITIVE}  # lane out first
_LIGHTER = {Code.PRESSED, Code.PRESSED_THROUGH, Code.WOOD_CONTACT, Code.HEAVY_HAND, Code.CHOKED}  # lighter first
_MORE_TILT = {Code.BOUNCE_HEIGHT}


def _notes(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> list[NotePlan]:
    """Return the notes that a touch is changed for: those of the first place that the finding names."""
    if finding.code is Code.STRING_IMBALANCE:
        string, short = plan.note[finding.notes[0]].lead.string, finding.numbers["off_db"]
        off = np.flatnonzero((plan.columns.string == string) & (plan.columns.off * short > 0))
        return [plan.bowed[i] for i in off[:MOST_LOCKS].tolist()]
    return [plan.note[id_] for id_ in finding.place if plan.note[id_].stroke]


def lanes(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Go closer to the bridge, or further out."""
    notes = _notes(plan, finding, strokes)
    out = finding.code in _OUT or (finding.code is Code.STRING_IMBALANCE and finding.numbers["off_db"] > 0)
    for way in (-1, 1) if out else (1, -1):
        for step in _STEPS:
            found = [(note, note.lane + way * step) for note in notes]
            if not all(1 <= lane <= LANES for _, lane in found):
                continue
            locks = tuple(Lock(note.id, lane=lane) for note, lane in found)
            yield Fix(f"lane-{way * step}", "lane-in" if way > 0 else "lane-out", {"lanes": str(step)}, locks)


def weights(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Give more weight, or less."""
    notes = _notes(plan, finding, strokes)
    lighter = finding.code in _LIGHTER
    for more in (not lighter, lighter):
        for factor in FACTORS:
            share = factor if more else 1 / factor
            low, high = range_of(Lock, "force")
            if any(not low <= share * note.force <= high for note in notes):
                continue
            locks = tuple(Lock(note.id, force=round(share * note.force, 4)) for note in notes)
            facts = {"n": f"{abs(share - 1) * notes[0].force}"}
            yield Fix(f"weight-{share:.2f}", "heavier" if more else "lighter", facts, locks)


def tilts(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Tilt further where the bow flies too high; flatten it where the stick comes down."""
    notes = _notes(plan, finding, strokes)
    way = 1 if finding.code in _MORE_TILT else -1
    for degrees in TILTS:
        wanted = [min(max(note.tilt + way * degrees * DEGREE, 0.0), MOST_TILT) for note in notes]
        told = abs(wanted[0] - notes[0].tilt) / DEGREE
        if told <= degrees - TILTS[0] + 1:
            return  # at the end of what can be tilted
        locks = tuple(Lock(note.id, tilt=tilt) for note, tilt in zip(notes, wanted, strict=True))
        yield Fix(f"tilt-{way * degrees}", "tilt" if way > 0 else "flatten", {"degrees": f"{told:.0f}"}, locks)


def leads(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Let another voice of a double stop lead."""
    id_ = finding.notes[0]
    count = len(plan.note[id_].voices)
    now = next(n for n, voice in enumerate(_from_top(plan.note[id_])) if voice.lead)
    for lead in (Leading.TOP, Leading.BOTTOM):
        if lead.of(count) != now:
            yield Fix(f"lead-{lead.value}", "lead", {"voice": lead.value}, (Lock(id_, lead=lead),))


def _from_top(note: NotePlan) -> list[Voice]:
    return sorted(note.voices, key=lambda voice: -voice.string)
