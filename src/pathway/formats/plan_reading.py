"""From plan documents back to values: to be checked, and to be played."""

from pathway.core.planning.validate import problems_in
from pathway.core.says import CM
from pathway.core.sound.playable import Playable
from pathway.formats.plan_document import PlanDocument
from pathway.formats.plan_exchange import BOWED_CHORDS, PLANNED_NOTES, PLANNED_STROKES, PLUCKED_NOTES


def broken_rules(document: PlanDocument) -> list[str]:
    """Return what breaks the rules of plans in a document, with the stroke or note named."""
    strokes = [PLANNED_STROKES.read(stroke) for stroke in document.strokes]
    notes = [PLANNED_NOTES.read(note) for note in document.notes]
    shifts = {crossing.to: crossing.shift_cm / CM.per_si for crossing in document.crossings}
    return problems_in(strokes, notes, document.rig.bow.hair, shifts)


def playable_of(document: PlanDocument) -> Playable:
    """Return what of a plan document is needed to play it."""
    chords = {chord.note: BOWED_CHORDS.read(chord) for chord in document.chords}
    return Playable(
        document.rig,
        tuple(PLANNED_STROKES.read(stroke) for stroke in document.strokes),
        tuple(PLANNED_NOTES.value(note, chord=chords.get(note.id)) for note in document.notes),
        {note.id: tuple(map(PLUCKED_NOTES.read, note.plucked)) for note in document.notes if note.plucked},
        tuple((span.begin_s, span.end_s) for span in document.muted),
    )
