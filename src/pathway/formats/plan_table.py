"""The notes of a plan as a table."""

import csv
import io

from pathway.core.music import pitch_name
from pathway.formats.plan_document import PlanDocument

PLAN_COLUMNS = (
    "id", "measure", "beat", "onset_s", "duration_s", "sounding_s", "pitch", "string_name", "stroke", "direction",
    "type", "start_cm", "end_cm", "length_cm", "speed_cm_s", "contact_cm", "lane", "force_n", "weight_g", "tilt_deg",
    "hair_mm", "level_deg", "hand_torque_nm", "target_db", "level_db", "brightness", "tone",
)  # fmt: skip


def to_csv(document: PlanDocument) -> str:
    """Return the notes of a plan as CSV, a row each."""
    out = io.StringIO()
    writer = csv.DictWriter(out, PLAN_COLUMNS, extrasaction="ignore", lineterminator="\n")
    writer.writeheader()
    strokes = {stroke.id: stroke for stroke in document.strokes}
    for note in document.notes:
        stroke = strokes.get(note.stroke or "")
        writer.writerow(
            note.model_dump()
            | {
                "pitch": " ".join(pitch_name(voice.midi) for voice in note.voices),
                "string_name": " ".join(voice.string_name for voice in note.voices),
                "direction": stroke.direction if stroke else "",
                "type": stroke.type if stroke else "plucked",
            }
        )
    return out.getvalue()
