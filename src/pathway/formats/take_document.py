"""What was heard in a take, as JSON."""

import json

import numpy as np

from pathway.core.takes import Listened
from pathway.core.takes.listening import LIKE
from pathway.core.takes.summary import TakeSummary

_UNHEARD: dict[str, object] = {
    "placed": False,
    "onset_s": None,
    "cents": None,
    "level_db": None,
    "words": [],
    "sure": False,
}


def take_json(heard: Listened, told: TakeSummary) -> str:
    """Return what was heard of every note of the plan, of groups, and the three lines."""
    rows = {
        id_: {
            "placed": bool(row.own >= LIKE),
            "onset_s": round(row.onset, 3),
            "cents": _known(row.cents, 1),
            "level_db": _known(row.off, 1),
            "words": sorted(row.words),
            "sure": row.sure,
        }
        for id_, row in heard.of.items()
    }
    groups = [
        {"kind": g.kind, "name": g.name, "mean_db": round(g.mean, 1), "error_db": round(g.error, 1), "count": g.count}
        | {"told": g.told}
        for g in heard.groups
    ]
    notes = [{"id": note.id, **rows.get(note.id, _UNHEARD)} for note in heard.planned.notes]
    return json.dumps({"notes": notes, "groups": groups, "summary": told.lines}, ensure_ascii=False, indent=1) + "\n"


def _known(value: float, digits: int) -> float | None:
    return round(float(value), digits) if np.isfinite(value) else None
