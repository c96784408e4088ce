"""What a player takes home, or hears."""

import re

from starlette.responses import JSONResponse, Response

from pathway.core.planning.beats import beats_of
from pathway.core.planning.plan import Plan
from pathway.core.sound.spans import spans_of
from pathway.desk.hearing import Clip


def as_sound(clip: Clip) -> Response:
    """Return an answer that the page plays; where it begins, in the time of the plan, is told in a header."""
    headers = {"Begins": f"{clip.begin:.6f}", "Cache-Control": "private, max-age=3600"}
    return Response(clip.data, media_type="audio/wav", headers=headers)


def as_times(plan: Plan, version: int) -> Response:
    """Return when beats and notes of a plan fall, where the bow is, and in which stretches it can be heard."""
    notes = [[n.id, n.onset, n.onset + n.sounding, 100 * n.start, 100 * n.end] for n in plan.notes]
    beats = [[beat.time, beat.first] for beat in beats_of(plan)]
    about = {"hair": 100 * plan.rig.bow.hair, "spans": spans_of(plan), "version": version}
    return JSONResponse({"beats": beats, "notes": notes, **about})


def as_file(content: str | bytes, kind: str, name: str, ending: str) -> Response:
    """Return an answer that the browser keeps as a file.

    Args:
        content: of the file.
        kind: its media type.
        name: as people write it; what not every disk takes becomes a dash.
        ending: of the name, such as "-plan.json".
    """
    stem = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "part"
    ending = re.sub(r"[^A-Za-z0-9.-]+", "", ending)[:40]
    return Response(content, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{stem}{ending}"'})
