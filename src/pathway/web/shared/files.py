"""What a player takes home."""

import re

from starlette.responses import Response


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
