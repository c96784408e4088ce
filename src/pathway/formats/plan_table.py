"""The notes of a plan as a table."""

from pathway.core.music import pitch_name
from pathway.formats.plan_document import NoteDoc, PlanDocument, StrokeDoc
from pathway.formats.tables import csv_text

PLAN_COLUMNS = (
    "id", "measure", "beat", "onset_s", "duration_s", "sounding_s", "pitch", "string_name", "stroke", "direction",
    "type", "start_cm", "end_cm", "length_cm", "speed_cm_s", "contact_cm", "lane", "force_n", "weight_g", "tilt_deg",
    "hair_mm", "level_deg", "hand_torque_nm", "target_db", "level_db", "brightness", "tone",
)  # fmt: skip


def to_csv(document: PlanDocument) -> str:
    """Return the notes of a plan as CSV, a row each."""
    strokes = {stroke.id: stroke for stroke in document.strokes}
    return csv_text(PLAN_COLUMNS, (_row(note, strokes.get(note.stroke or "")) for note in document.notes))


def _row(note: NoteDoc, stroke: StrokeDoc | None) -> dict[str, object]:
    return note.model_dump() | {
        "pitch": " ".join(pitch_name(voice.midi) for voice in note.voices),
        "string_name": " ".join(voice.string_name for voice in note.voices),
        "direction": stroke.direction if stroke else "",
        "type": stroke.type if stroke else "plucked",
    }
